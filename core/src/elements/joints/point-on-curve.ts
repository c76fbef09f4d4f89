import { OnCurve, PathLength } from '../../equations/on-curve';
import { refs } from '../../model/fields';
import { CURVE, curveOf } from './curve';
import { RELEASE, joint } from './joint';
import { POINT_ON_BEND } from '../../model/symbol';

export const pointOnCurve = joint({
  kind: 'point-on-curve',
  label: 'Point on curve',
  needs: 'curves',
  help: 'A point of the second body runs along a smooth curve through points of the first; it may turn as it likes. Its coordinate is the path length from the curve’s first point.',
  fields: {
    bodies: refs('bodies', 2, 2, 'Bodies', 'The body that carries the curve, then the one that carries the point.'),
    at: refs('points', 1, 1, 'Point', 'The point that runs along the curve, fixed in the second body.'),
    ...CURVE,
    ...RELEASE,
  },
  freedoms: ['translation'],
  leaves: 4,
  symbol: POINT_ON_BEND,
  holds: ['distance from the curve', 'distance from the curve, crosswise'],
  equations: (s, v, m) => [new OnCurve(s.a, curveOf(v, m, v.bodies[0]!), s.b, s.sb)],
  measure: (s, v, m, _type, course) => new PathLength(s.a, curveOf(v, m, v.bodies[0]!), s.b, s.sb, course),
});
