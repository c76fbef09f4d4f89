/** A curve through points, as joints use it. */
import { refuse } from '../../diagnosis';
import { curves } from '../../equations/curves/curves';
import type { Curve } from '../../geometry/curve';
import { norm, sub } from '../../geometry/vector';
import { choice, grid, quantity, refs } from '../../model/fields';
import { D } from '../../quantity/dimension';
import type { Places } from '../declarations';

export const CURVE = {
  through: refs('points', 2, 2000, 'Curve through', 'Points of the curve in order, as drawn.'),
  closed: choice({ open: 'open', closed: 'closed' }, 'Curve', 'A closed curve goes on smoothly from its last point to its first.'),
  course: choice(
    { smooth: 'smooth, through all points', rounded: 'straight lines, corners rounded' },
    'Course',
    'How it goes from point to point.',
  ),
  corner: quantity(D.length, 'Corner radius', 'Radius of the arc at each corner.', {
    range: 'positive',
    default: '20 mm',
    when: { field: 'course', is: ['rounded'] },
  }),
  corners: grid(1, 0, 2000, 'Corner radii, mm', 'One for each point in order, instead of the one radius.', {
    optional: true,
    when: { field: 'course', is: ['rounded'] },
  }),
} as const;

/** Radii at so many points, m: those listed in millimetres, or one for all. */
export function radiiAt(count: number, one: number, listed: readonly (readonly number[])[] | undefined): number[] {
  if (!listed || listed.length === 0) return Array.from({ length: count }, () => one);
  if (listed.length !== count)
    refuse({
      code: 'curve-radii',
      message: `There are ${listed.length} radii for ${count} points.`,
      remedy: 'Give one for each point, or none.',
    });
  return listed.map(([r]) => r! / 1000);
}

/** The curve through points of a body, relative to its centre of mass in its axes, m. @throws Refusal when it is no curve */
export function curveOf(
  v: { through: readonly string[]; closed: string; course?: string; corner?: number; corners?: readonly (readonly number[])[] },
  m: Places,
  body: string,
): Curve {
  const places = v.through.map((p) => m.place(p, body));
  const closed = v.closed === 'closed';
  if (closed && places.length < 3) refuse({ code: 'curve-points', message: 'A closed curve needs at least three points.' });
  places.forEach((p, i) => {
    const next = i + 1 < places.length ? i + 1 : closed ? 0 : -1;
    if (next >= 0 && norm(sub(p, places[next]!)) < 1e-9)
      refuse({
        code: 'curve-points',
        message: `“${v.through[i]!}” and “${v.through[next]!}” are at the same place, so the curve has no direction there.`,
        remedy: 'Leave one of them out.',
      });
  });
  if (v.course === 'rounded') return curves().rounded(places, radiiAt(places.length, v.corner ?? 0, v.corners), closed, v.through);
  return new (curves().Spline)(places, closed);
}
