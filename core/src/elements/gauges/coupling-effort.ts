import { refuse } from '../../diagnosis';
import { choice, quantity, ref } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { gauge } from './gauge';

const ORDER = { first: 'its first joint', second: 'its second joint', third: 'its third joint' } as const;

export const couplingEffort = gauge({
  kind: 'coupling',
  label: 'Coupling torque or force',
  help: 'Torque or force that a belt, gears, a rack or any coupling gives to one of its joints; over a pitch radius, the force in the belt or tangential to the teeth.',
  fields: {
    coupling: ref('couplings', 'Coupling', 'The coupling read.'),
    on: choice(ORDER, 'Acts on', 'Which of its joints.'),
    radius: quantity(D.length, 'Pitch radius', 'Torque is divided by it: the tangential force. Left out: torque.', {
      optional: true,
      range: 'positive',
    }),
  },
  channel(v, m) {
    const c = m.coupling(v.coupling),
      at = Object.keys(ORDER).indexOf(v.on);
    const term =
      c.terms[at] ??
      refuse({
        code: 'gauge-part',
        message: `“${v.coupling}” has no ${ORDER[v.on as 'third'].replace('its ', '')}.`,
        remedy: 'Choose another of its joints.',
      });
    const turns = term.freedom.type === 'rotation',
      { factor } = term,
      per = turns && v.radius !== undefined ? v.radius : 1;
    return {
      loads: true,
      dim: turns && v.radius === undefined ? D.torque : D.force,
      positive: `Positive when the coupling pushes ${term.joint} in its positive sense.`,
      read: ({ multipliers }) => (-multipliers[c.constraint.row]! * factor) / per,
    };
  },
});
