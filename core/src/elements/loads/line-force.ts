import { refuse } from '../../diagnosis';
import { lineForce as law } from '../../equations/laws/along-a-line';
import { StatedForce, taken } from '../../equations/laws/stated-force';
import { LINE_READINGS } from '../../equations/load-readings';
import { norm, sub } from '../../geometry/vector';
import { quantity, refs } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { load } from './load';

export const lineForce = load({
  kind: 'line-force',
  label: 'Force along a line',
  tells: ['effort'],
  help: 'A force between two points of two bodies, along the line that joins them: a cylinder, a pushing rod.',
  fields: {
    bodies: refs('bodies', 2, 2, 'Between', 'The two bodies it acts on, with equal and opposite forces.'),
    at: refs('points', 2, 2, 'Ends', 'One point fixed in each body.'),
    magnitude: quantity(D.force, 'Magnitude', 'A value or a formula of time and gauges; positive pulls the points together.', {
      time: true,
      gauges: true,
    }),
  },
  force(v, m) {
    const [a, b] = v.bodies as [string, string],
      [pa, pb] = v.at as [string, string];
    if (norm(sub(m.point(pb), m.point(pa))) < 1e-9)
      refuse({
        code: 'force-no-direction',
        message: `The points “${pa}” and “${pb}” are at the same place, so the force has no direction.`,
      });
    return new StatedForce(
      law,
      [{ bodies: [m.index(a), m.index(b)], values: [...m.place(pa, a), ...m.place(pb, b)] }],
      [taken(m.magnitude(v.magnitude))],
      { readings: LINE_READINGS },
    );
  },
  outline: (v, m) => ({ type: 'line', through: [0, 1].map((k) => ({ body: m.index(v.bodies[k]!), at: m.place(v.at[k]!, v.bodies[k]!) })) }),
});
