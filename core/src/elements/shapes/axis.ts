import { refuse } from '../../diagnosis';
import { type Mat3, type Vec3, apply, norm, sub, triad } from '../../geometry/vector';
import { ref, vector } from '../../model/fields';
import { D } from '../../quantity/dimension';
import type { Drawing } from '../declarations';
import { SHAPE } from './shape';

/** Fields of a shape that stands round the line from one point to another. */
export const ON_AXIS = {
  ...SHAPE,
  from: ref('points', 'From', 'Where its axis begins.'),
  to: ref('points', 'To', 'Where its axis ends.'),
} as const;

/** Fields of a shape that stands round an axis through its middle. */
export const ON_CENTRE = {
  ...SHAPE,
  centre: ref('points', 'Centre', 'Its middle.'),
  axis: vector(D.none, 'Axis', 'Direction of its axis, in the body’s axes.', { direction: true, default: [0, 1, 0] }),
} as const;

/** Axes (z along the axis) of such a shape. */
export const frameOn = (v: { body: string; axis: Vec3 }, drawing: Drawing): Mat3 => triad(apply(drawing.body(v.body).turn, v.axis));

/** Axes (z from point to point), origin and length of such a shape. @throws Refusal when the points are at one place */
export function axisOf(v: { from: string; to: string }, drawing: Drawing, what: string): { frame: Mat3; origin: Vec3; length: number } {
  const origin = drawing.point(v.from),
    along = sub(drawing.point(v.to), origin),
    length = norm(along);
  if (length < 1e-9) refuse({ code: 'shape-flat', message: `The ${what} has no length: “${v.from}” and “${v.to}” are the same place.` });
  return { frame: triad(along), origin, length };
}

/** @throws Refusal */
export function inside(smaller: number, larger: number, what: string, than: string): void {
  if (!(smaller < larger)) refuse({ code: 'shape-sizes', message: `${what} must be smaller than ${than}.` });
}
