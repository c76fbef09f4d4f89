import { placeAt, speedAt } from '../../equations/forces';
import { choice, refs } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { gauge } from './gauge';

export const distanceGauge = gauge({
  kind: 'distance',
  label: 'Distance',
  help: 'Distance between points of two bodies, or the speed at which it grows: a spring’s length, a stroke, a gap between two places.',
  fields: {
    bodies: refs('bodies', 2, 2, 'Bodies', 'The bodies that carry the points.'),
    at: refs('points', 2, 2, 'Points', 'The points, one in each body.'),
    of: choice({ distance: 'distance', rate: 'speed of separation' }, 'Reads', 'Which of the two.'),
  },
  reads: { choose: 'of', cases: { distance: D.length, rate: D.speed } },
  channel(v, m) {
    const [a, b] = v.bodies.map((x) => m.index(x)) as [number, number];
    const [sa, sb] = [m.place(v.at[0]!, v.bodies[0]!), m.place(v.at[1]!, v.bodies[1]!)];
    return {
      sign: { at: { body: a, at: sa }, to: { body: b, at: sb }, carrier: a },
      positive: v.of === 'distance' ? 'Never negative.' : 'Positive while they move apart.',
      read({ K }) {
        let square = 0,
          rate = 0;
        for (let k = 0; k < 3; k++) {
          const d = placeAt(K, b, sb, k) - placeAt(K, a, sa, k);
          square += d * d;
          rate += d * (speedAt(K, b, sb, k) - speedAt(K, a, sa, k));
        }
        const length = Math.sqrt(square);
        return v.of === 'distance' ? length : length > 0 ? rate / length : 0;
      },
    };
  },
});
