import { choice, ref } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { gauge, jointAxis } from './gauge';

export const driveEffort = gauge({
  kind: 'drive',
  label: 'Drive torque or force',
  noun: { rotation: 'torque', translation: 'force' },
  help: 'Torque or force a drive needs, the power it gives, or the work it has done.',
  fields: {
    drive: ref('drives', 'Drive', 'The drive read.'),
    of: choice(
      { effort: 'torque or force', power: 'power', work: 'work' },
      'Reads',
      'Torque or force, that times the speed, or the energy put in since the start.',
    ),
  },
  channel(v, m) {
    const d = m.drive(v.drive);
    const power = v.of === 'power';
    if (v.of === 'work')
      return {
        dim: D.energy,
        unit: 'J',
        positive: 'Energy put into the machine since the start; falls while it is given back.',
        read: ({ K }) => m.energy.work(v.drive, K),
      };
    return {
      ...(d.joint && !power ? { sign: { ...jointAxis(d.joint), ...(d.type === 'rotation' ? { turning: true as const } : {}) } } : {}),
      dim: power ? D.power : d.type === 'rotation' ? D.torque : D.force,
      positive: power
        ? 'Positive when the drive puts energy into the machine.'
        : `Positive when the drive pushes ${d.bodies[1]} in the positive sense of ${d.joint?.name ?? d.name}.`,
      read({ K, multipliers }) {
        const effort = -multipliers[d.constraint.row]!;
        return power ? effort * d.freedom.rate(K) : effort;
      },
    };
  },
});
