import { readAlone, vectorOf } from '../../equations/values';
import type { ValueLaw } from '../../equations/values';
import { place, velocity } from '../../equations/stated/body';
import { dot, minus, norm } from '../../expressions/vectors';
import { choice, refs } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { gauge } from './gauge';

/** Of a point of each body. */
const law = (name: string, of: ValueLaw['of']): ValueLaw => ({ name, bodies: 2, numbers: 6, of });
const LAWS = {
  distance: law('distance', (g, [a, b], n) => norm(g, minus(g, place(g, b!, vectorOf(n, 3)), place(g, a!, vectorOf(n, 0))))),
  rate: law('speed of separation', (g, [a, b], n) => {
    const d = minus(g, place(g, b!, vectorOf(n, 3)), place(g, a!, vectorOf(n, 0))),
      v = minus(g, velocity(g, b!, vectorOf(n, 3)), velocity(g, a!, vectorOf(n, 0))),
      length = norm(g, d);
    return g.choose(g.zero, length, g.divide(dot(g, d, v), length), g.zero);
  }),
};

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
    const reading = { law: LAWS[v.of as keyof typeof LAWS], bodies: [a, b], numbers: [...sa, ...sb] },
      value = readAlone(reading);
    return {
      sign: { at: { body: a, at: sa }, to: { body: b, at: sb }, carrier: a },
      positive: v.of === 'distance' ? 'Never negative.' : 'Positive while they move apart.',
      stated: () => reading,
      read: ({ K }) => value(K),
    };
  },
});
