import { refuse } from '../../diagnosis';
import { type Sense, slackEnergy, spring as law } from '../../equations/laws/along-a-line';
import { linear, tabled } from '../../equations/laws/elastic';
import { StatedForce } from '../../equations/laws/stated-force';
import { LINE_READINGS } from '../../equations/load-readings';
import { asFunction } from '../../expressions/plain';
import { norm, sub } from '../../geometry/vector';
import { choice, quantity, ref, refs } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { sampled } from '../declarations';
import { load } from './load';

export const spring = load({
  kind: 'spring',
  label: 'Spring-damper',
  tells: ['effort', 'deflection', 'rate'],
  help: 'A spring and damper along the line between two points of two bodies.',
  fields: {
    bodies: refs('bodies', 2, 2, 'Between', 'The two bodies it acts between.'),
    at: refs('points', 2, 2, 'Ends', 'Its ends, one fixed in each body.'),
    stiffness: quantity(D.stiffness, 'Stiffness', 'Force per change of length.', { range: 'not negative', default: 0 }),
    damping: quantity(D.damping, 'Damping', 'Force per rate of length.', { range: 'not negative', default: 0 }),
    free: quantity(D.length, 'Free length', 'Length at which the spring pulls nothing. Left out: the drawn length.', {
      optional: true,
      range: 'not negative',
    }),
    preload: quantity(D.force, 'Preload', 'Tension at the free length; negative pushes.', { default: 0 }),
    curve: ref('tables', 'Force curve', 'Table of tension against extension; counts instead of the stiffness.', { optional: true }),
    only: choice(
      { both: 'pulls and pushes', tension: 'pulls only', compression: 'pushes only' },
      'Acts in',
      'A strap only pulls, a bump stop only pushes.',
    ),
  },
  force(v, m) {
    const [a, b] = v.bodies as [string, string];
    const [pa, pb] = v.at as [string, string];
    const drawn = norm(sub(m.point(pb), m.point(pa)));
    if (drawn < 1e-9)
      refuse({ code: 'spring-no-length', message: `The ends “${pa}” and “${pb}” are at the same place, so the spring has no direction.` });
    const curve = v.curve === undefined ? undefined : m.table(v.curve, D.length, D.force),
      slack = slackEnergy(v.stiffness, v.preload, curve !== undefined);
    return new StatedForce(
      law[v.only as Sense](curve),
      [
        {
          bodies: [m.index(a), m.index(b)],
          values: [...m.place(pa, a), ...m.place(pb, b), v.free ?? drawn, v.stiffness, v.preload, v.damping, slack],
        },
      ],
      [],
      { readings: LINE_READINGS },
    );
  },
  actsBy: () => ['stiffness', 'damping', 'preload', 'curve'],
  characteristic(v, m) {
    const [a, b] = [m.point(v.at[0]!), m.point(v.at[1]!)];
    const free = v.free ?? norm(sub(b, a)),
      reach = Math.max(0.5 * free, 1e-3);
    const curve = v.curve === undefined ? undefined : m.table(v.curve, D.length, D.force),
      effort = asFunction((g, x) =>
        (curve ? tabled(curve, g.constant(v.preload)) : linear(g.constant(v.stiffness), g.constant(v.preload))).effort(g, x),
      );
    const one = (f: number) => (v.only === 'tension' ? Math.max(0, f) : v.only === 'compression' ? Math.min(0, f) : f);
    return {
      x: 'length',
      y: 'tension',
      dims: [D.length, D.force],
      points: sampled(Math.max(0, free - reach), free + reach, (l) => one(effort(l - free))),
    };
  },
  outline(v, m) {
    const end = (k: 0 | 1) => ({ body: m.index(v.bodies[k]!), at: m.place(v.at[k]!, v.bodies[k]!) });
    return { type: 'coil', from: end(0), to: end(1) };
  },
});
