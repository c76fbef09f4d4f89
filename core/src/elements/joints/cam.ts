import { refuse } from '../../diagnosis';
import { CurveOnCurve } from '../../equations/on-curve';
import { curves } from '../../equations/curves/curves';
import type { Curve } from '../../geometry/curve';
import { type Mat3, column } from '../../geometry/vector';
import { quantity, refs } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { CURVE, curveOf } from './curve';
import { AXIS_JOINT, RELEASE, joint } from './joint';
import { POINT_ON_BEND } from '../../model/symbol';

export const cam = joint({
  kind: 'cam',
  label: 'Cam',
  handed: true,
  needs: 'curves',
  help: 'Two plane curves stay in touch: a cam and its roller, flat or curved follower; other joints keep both in the cam’s plane. It also holds when the follower would lift off: a grooved cam, or a spring strong enough; see the sign of its load.',
  fields: {
    bodies: refs('bodies', 2, 2, 'Bodies', 'The cam, then the follower.'),
    ...CURVE,
    at: refs(
      'points',
      1,
      200,
      'Follower',
      'One point: centre of a roller. More: an open curve through them, such as the two ends of a flat face.',
    ),
    radius: quantity(D.length, 'Roller radius', 'Of a roller on one point.', { optional: true, range: 'positive' }),
    axis: AXIS_JOINT.axis,
    axisIn: AXIS_JOINT.axisIn,
    ...RELEASE,
  },
  freedoms: [],
  leaves: 5,
  symbol: POINT_ON_BEND,
  holds: ['the gap between the curves'],
  equations(s, v, m) {
    const axes = (f: Mat3) => [column(f, 0), column(f, 1)] as const,
      touching = (follower: Curve) => [new CurveOnCurve(s.a, curveOf(v, m, v.bodies[0]!), axes(s.fa), s.b, follower, axes(s.fb))];
    if (v.at.length > 1)
      return touching(
        new (curves().Spline)(
          v.at.map((p) => m.place(p, v.bodies[1]!)),
          false,
        ),
      );
    if (v.radius === undefined)
      refuse({
        code: 'cam-follower',
        message: 'A follower of one point needs a roller radius.',
        remedy: 'Give the radius, or use a point-on-curve joint.',
      });
    return touching(new (curves().Circle)(s.sb, ...axes(s.fb), v.radius));
  },
});
