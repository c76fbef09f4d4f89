import { refuse } from '../../diagnosis';
import type { LoadReadings } from '../../equations/load-readings';
import { column } from '../../geometry/vector';
import type { Outline, Sign } from '../declarations';
import { choice, ref } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { square } from '../../quantity/elementary';
import { usable } from '../usable';
import { gauge } from './gauge';

const PARTS = {
  own: 'along its line or joint',
  x: 'along x',
  y: 'along y',
  z: 'along z',
  'about-x': 'about x',
  'about-y': 'about y',
  'about-z': 'about z',
};
const WORDS = { effort: 'force or torque', deflection: 'deflection', rate: 'rate of deflection' };
const DIMS = { effort: [D.force, D.torque], deflection: [D.length, D.angle], rate: [D.speed, D.angularSpeed] } as const;

/** Where it is drawn: along the line of the load, or the axes of the bushing. */
function signOf({ axes }: LoadReadings, part: number, outline: Outline): Sign | undefined {
  if (axes)
    return {
      at: { body: axes.body, at: axes.at },
      carrier: axes.body,
      ...(part < 0 ? {} : { direction: column(axes.frame, (part % 3) as 0 | 1 | 2) }),
      ...(part >= 3 ? { turning: true as const } : {}),
    };
  switch (outline.type) {
    case 'coil':
    case 'bent':
      return { at: outline.from, to: outline.to, carrier: outline.from.body };
    case 'line':
      return { at: outline.through[0]!, to: outline.through.at(-1)!, carrier: outline.through[0]!.body };
    case 'arrow':
      return { at: outline.at, direction: outline.direction, carrier: outline.carrier };
    case 'wound':
      return { at: outline.at, direction: outline.axis, carrier: outline.carrier, ...(outline.turns ? { turning: true } : {}) };
    default:
      return undefined;
  }
}

export const loadReading = gauge({
  kind: 'load',
  label: 'Force and deflection',
  help: 'What a spring, bushing, cable, stop or actuator feels and gives along its own line, joint or axes: deflection, its rate, force or torque.',
  fields: {
    load: ref('loads', 'Load', 'The load read.', { that: 'tells' }),
    of: choice(WORDS, 'Reads', 'Force or torque with the damping in it; deflection from where it is slack or at rest.'),
    component: choice(
      PARTS,
      'Along',
      'A spring has one direction, a bushing six: along and about its own axes. Of a bushing “along its line” is the size of all three along x, y, z.',
    ),
  },
  channel(v, m) {
    const of = v.of as keyof typeof WORDS;
    const { readings: own, react } = usable(m.forces, v.load, 'loads').force;
    const read = own?.[of]?.bind(own);
    if (!own || !read)
      return refuse({
        code: 'gauge-nothing',
        message: `“${v.load}” has no ${WORDS[of]} of its own.`,
        remedy: 'Read its force on a body, or choose another load.',
      });
    const part = Object.keys(PARTS).indexOf(v.component) - 1;
    if (own.parts === 1 && part >= 0)
      refuse({ code: 'gauge-part', message: `“${v.load}” has one direction only.`, remedy: 'Choose “along its line or joint”.' });
    const size = own.parts === 6 && part < 0,
      turns = own.turns(Math.max(0, part));
    const sign = signOf(own, part, m.outline(v.load));
    return {
      ...(sign ? { sign } : {}),
      dim: DIMS[of][turns ? 1 : 0],
      positive: size
        ? 'Length of the vector, never negative.'
        : of === 'effort'
          ? own.positive.effort
          : of === 'deflection'
            ? own.positive.deflection!
            : 'Positive while the deflection grows.',
      ...(react ? { loads: true as const } : {}),
      read: (s) => {
        const one = (k: number) => read(s.K, s.t, k, s);
        return size ? Math.sqrt(square(one(0)) + square(one(1)) + square(one(2))) : one(Math.max(0, part));
      },
    };
  },
});
