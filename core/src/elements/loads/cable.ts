import { refuse } from '../../diagnosis';
import { cable as law } from '../../equations/laws/along-a-line';
import { StatedForce } from '../../equations/laws/stated-force';
import { LINE_READINGS } from '../../equations/load-readings';
import { norm, sub } from '../../geometry/vector';
import { quantity, refs } from '../../model/fields';
import { D } from '../../quantity/dimension';
import type { Assembly } from '../declarations';
import { load } from './load';

const places = (v: { bodies: readonly string[]; at: readonly string[] }, m: Assembly) =>
  v.at.map((p, i) => ({ body: m.index(v.bodies[i]!), at: m.place(p, v.bodies[i]!) }));

export const cable = load({
  kind: 'cable',
  label: 'Cable',
  tells: ['effort', 'deflection', 'rate'],
  help: 'A cable without mass from body to body over small smooth pulleys: it pulls with one tension all along, and hangs slack otherwise.',
  fields: {
    bodies: refs('bodies', 2, 40, 'Bodies', 'From end to end, one for each point.'),
    at: refs('points', 2, 40, 'Over', 'The first end, the pulleys, the last end: one point in each of the bodies.'),
    stiffness: quantity(D.stiffness, 'Stiffness', 'Of the whole length.', { range: 'positive' }),
    damping: quantity(D.damping, 'Damping', 'Of the whole length, while it is taut.', { range: 'not negative', default: 0 }),
    free: quantity(D.length, 'Free length', 'Length at which it is just taut. Left out: as drawn.', { optional: true, range: 'positive' }),
  },
  force(v, m) {
    if (v.bodies.length !== v.at.length)
      refuse({
        code: 'cable-count',
        message: `It names ${v.bodies.length} bodies but ${v.at.length} points.`,
        remedy: 'Give one body for each point, in the same order; a body may be named again.',
      });
    const drawn = v.at.slice(1).reduce((s, p, i) => s + norm(sub(m.point(p), m.point(v.at[i]!))), 0);
    if (drawn < 1e-9) refuse({ code: 'cable-no-length', message: 'All its points are at the same place.' });
    const through = places(v, m);
    return new StatedForce(
      law(through.length),
      [{ bodies: through.map((p) => p.body), values: [v.free ?? drawn, v.stiffness, v.damping, ...through.flatMap((p) => [...p.at])] }],
      [],
      { readings: LINE_READINGS },
    );
  },
  outline: (v, m) => ({ type: 'line', through: places(v, m) }),
});
