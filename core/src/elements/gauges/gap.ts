import { refuse } from '../../diagnosis';
import { type GapMeter, gapBetween } from '../../geometry/gaps';
import { ref, refs } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { gauge } from './gauge';

export const gapGauge = gauge({
  kind: 'gap',
  label: 'Gap',
  needs: 'surfaces',
  help: 'The smallest distance between the surfaces of two bodies, or of a shape of each; 0 where they cross. Round sides count as 192 flat facets: they lie up to 1.3e-4 of the radius further in.',
  fields: {
    bodies: refs('bodies', 2, 2, 'Bodies', 'The bodies whose surfaces are measured.'),
    first: ref('shapes', 'First shape', 'A shape of the first body. Left out: all of them.', { optional: true }),
    second: ref('shapes', 'Second shape', 'A shape of the second body. Left out: all of them.', { optional: true }),
  },
  channel(v, m, name) {
    const [a, b] = v.bodies.map((x) => m.index(x)) as [number, number];
    if (a === b)
      refuse({
        code: 'gap-same',
        message: 'The gap of a body to itself is none.',
        element: { family: 'gauges', name },
        remedy: 'Choose two bodies.',
      });
    // made when it is first read: checks of the model need none
    let gap: GapMeter | undefined;
    const R = new Float64Array(9),
      p = new Float64Array(3);
    return {
      dim: D.length,
      positive: 'Never negative; 0 where the surfaces cross.',
      sign: { at: { body: a, at: [0, 0, 0] }, to: { body: b, at: [0, 0, 0] }, carrier: a },
      read({ K: { r, A } }) {
        gap ??= gapBetween(m.surface(v.bodies[0]!, v.first), m.surface(v.bodies[1]!, v.second));
        // the pose of the second as the first sees it
        for (let i = 0; i < 3; i++) {
          p[i] = 0;
          for (let k = 0; k < 3; k++) {
            R[3 * i + k] = A[9 * a + i]! * A[9 * b + k]! + A[9 * a + 3 + i]! * A[9 * b + 3 + k]! + A[9 * a + 6 + i]! * A[9 * b + 6 + k]!;
            p[i] = p[i]! + A[9 * a + 3 * k + i]! * (r[3 * b + k]! - r[3 * a + k]!);
          }
        }
        const d = gap.measure(R, p);
        return d === Infinity ? NaN : d;
      },
    };
  },
});
