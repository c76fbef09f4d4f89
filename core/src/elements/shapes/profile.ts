import { refuse } from '../../diagnosis';
import { type Vec2, moment, polygon } from '../../geometry/outline';
import { type Mat3, type Vec3, apply, cross, dot, fromColumns, norm, scale, sub, unit } from '../../geometry/vector';
import { grid, ref, text, vector } from '../../model/fields';
import { D, identical } from '../../quantity/dimension';
import { readUnit } from '../../quantity/units';
import type { Drawing } from '../declarations';
import { SHAPE } from './shape';

/** Fields of a shape swept from an outline that is drawn, or pasted as coordinates. */
export const PROFILE = {
  ...SHAPE,
  at: ref('points', 'At', 'Origin of the outline’s plane.'),
  corners: grid(2, 3, 5000, 'Outline', 'Corners in order, x and y.', {
    outline: true,
    default: [
      [-30, -20],
      [30, -20],
      [30, 20],
      [-30, 20],
    ],
  }),
  unit: text('Unit', 'Unit of the corners.', { default: 'mm' }),
  x: vector(D.none, 'x direction', 'Direction of the outline’s x, in the body’s axes.', { direction: true, default: [1, 0, 0] }),
  normal: vector(D.none, 'Normal', 'Direction square to the outline’s plane, in the body’s axes.', {
    direction: true,
    axial: true,
    default: [0, 1, 0],
  }),
} as const;

interface Drawn {
  body: string;
  at: string;
  corners: readonly (readonly number[])[];
  unit: string;
  x: Vec3;
  normal: Vec3;
}

/** The corners, m. @throws Refusal when they enclose nothing, or the unit is none of length */
export function cornersOf(v: Drawn): Vec2[] {
  const unitOf = readUnit(v.unit);
  if (!unitOf || !identical(unitOf.dim, D.length)) refuse({ code: 'profile-unit', message: `“${v.unit}” is not a unit of length.` });
  const corners = v.corners.map(([x, y]): Vec2 => [x! * unitOf.factor, y! * unitOf.factor]);
  const size = Math.max(...corners.map(([x, y]) => Math.abs(x - corners[0]![0]) + Math.abs(y - corners[0]![1])));
  if (!(Math.abs(moment(polygon(corners), 0, 0)) > 1e-9 * size * size))
    refuse({ code: 'shape-flat', message: 'The outline encloses no area.' });
  const crossing = firstCrossing(corners);
  if (crossing)
    refuse({
      code: 'profile-crosses',
      message: `The outline crosses itself: its sides ${crossing[0] + 1} and ${crossing[1] + 1} meet.`,
      why: 'What is inside would be counted twice or not at all.',
    });
  return corners;
}

/** Two sides that cross, other than at a shared corner. */
function firstCrossing(c: readonly Vec2[]): [number, number] | undefined {
  if (c.length > 600) return undefined;
  const side = (a: Vec2, b: Vec2, p: Vec2) => (b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0]);
  for (let i = 0; i < c.length; i++) {
    for (let j = i + 2; j < c.length; j++) {
      if (i === 0 && j === c.length - 1) continue;
      const [a, b, p, q] = [c[i]!, c[(i + 1) % c.length]!, c[j]!, c[(j + 1) % c.length]!];
      if (side(a, b, p) * side(a, b, q) < 0 && side(p, q, a) * side(p, q, b) < 0) return [i, j];
    }
  }
  return undefined;
}

/** Axes of the outline's plane: x, y, normal. */
export function frameOf(v: Drawn, drawing: Drawing): Mat3 {
  const { turn } = drawing.body(v.body);
  const z = unit(apply(turn, v.normal)),
    along = apply(turn, v.x),
    x = sub(along, scale(z, dot(along, z)));
  if (norm(x) < 1e-9 * norm(along))
    refuse({
      code: 'profile-axes',
      message: 'The x direction is square to the plane of the outline.',
      remedy: 'Choose one that lies in it.',
    });
  const u = unit(x);
  return fromColumns(u, cross(z, u), z);
}
