import { refs, vector } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { atan2 } from '../../quantity/elementary';
import { gauge } from './gauge';

export const angleGauge = gauge({
  kind: 'angle',
  label: 'Angle between directions',
  help: 'Angle between a direction fixed in one body and a direction fixed in another, from 0 to half a turn.',
  fields: {
    bodies: refs('bodies', 2, 2, 'Bodies', 'The bodies in which the directions are fixed.'),
    first: vector(D.none, 'First direction', 'As drawn, ground axes; fixed in the first body.', { direction: true, default: [1, 0, 0] }),
    second: vector(D.none, 'Second direction', 'As drawn, ground axes; fixed in the second body.', { direction: true, default: [1, 0, 0] }),
  },
  reads: D.angle,
  channel(v, m) {
    const [a, b] = v.bodies.map((x) => m.index(x)) as [number, number];
    const [da, db] = [m.direction(v.first, v.bodies[0]!), m.direction(v.second, v.bodies[1]!)];
    const p = new Float64Array(3),
      q = new Float64Array(3);
    return {
      positive: 'From 0, the directions alike, to half a turn, opposite.',
      read({ K }) {
        for (let k = 0; k < 3; k++) {
          const i = 9 * a + 3 * k,
            j = 9 * b + 3 * k;
          p[k] = K.A[i]! * da[0] + K.A[i + 1]! * da[1] + K.A[i + 2]! * da[2];
          q[k] = K.A[j]! * db[0] + K.A[j + 1]! * db[1] + K.A[j + 2]! * db[2];
        }
        const x = p[1]! * q[2]! - p[2]! * q[1]!,
          y = p[2]! * q[0]! - p[0]! * q[2]!,
          z = p[0]! * q[1]! - p[1]! * q[0]!;
        return atan2(Math.sqrt(x * x + y * y + z * z), p[0]! * q[0]! + p[1]! * q[1]! + p[2]! * q[2]!);
      },
    };
  },
});
