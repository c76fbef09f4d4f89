/** A curve through points, as joints use it. */
import { refuse } from '../../diagnosis';
import { type Curve, Spline } from '../../geometry/curve';
import { norm, sub } from '../../geometry/vector';
import { choice, refs } from '../../model/fields';
import type { Places } from '../families';

export const CURVE = {
  through: refs('points', 2, 2000, 'Curve through', 'Points of the curve in order, as drawn.'),
  closed: choice({ open: 'open', closed: 'closed' }, 'Curve', 'A closed curve goes on smoothly from its last point to its first.'),
} as const;

export function curveOf(v: { through: readonly string[]; closed: string }, m: Places, body: string): Curve {
  const places = v.through.map((p) => m.place(p, body));
  const closed = v.closed === 'closed';
  if (closed && places.length < 3) refuse({ code: 'curve-points', message: 'A closed curve needs at least three points.' });
  places.forEach((p, i) => {
    const next = i + 1 < places.length ? i + 1 : closed ? 0 : -1;
    if (next >= 0 && norm(sub(p, places[next]!)) < 1e-9) refuse({ code: 'curve-points', message: `“${v.through[i]!}” and “${v.through[next]!}” are at the same place, so the curve has no direction there.`, remedy: 'Leave one of them out.' });
  });
  return new Spline(places, closed);
}
