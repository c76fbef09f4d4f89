import { choice, ref } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { gauge } from './gauge';

export const driveEffort = gauge({
  kind: 'drive', label: 'Drive effort',
  help: 'Torque or force a drive needs, or the power it gives.',
  fields: {
    drive: ref('drives', 'Drive', 'The drive read.'),
    of: choice({ effort: 'torque or force', power: 'power' }, 'Reads', 'Effort, or effort times speed.'),
  },
  channel(v, m) {
    const d = m.drive(v.drive);
    const power = v.of === 'power';
    return {
      dim: power ? D.power : d.type === 'rotation' ? D.torque : D.force,
      positive: power
        ? 'Positive when the drive puts energy into the machine.'
        : `Positive when the drive pushes ${d.joint.bodies[1]} in the positive sense of ${d.joint.name}.`,
      read({ K, multipliers }) {
        const effort = -multipliers[d.constraint.row]!;
        return power ? effort * d.freedom.rate(K) : effort;
      },
    };
  },
});
