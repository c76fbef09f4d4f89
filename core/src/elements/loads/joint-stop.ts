import { refuse } from '../../diagnosis';
import { Stops } from '../../equations/stop';
import { choice, quantity, ref } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { FREEDOMS, byFreedom, freedomOf } from '../freedoms';
import { sampled } from '../declarations';
import { load } from './load';

export const jointStop = load({
  kind: 'joint-stop',
  label: 'Joint stop',
  tells: ['effort', 'deflection', 'rate'],
  help: 'End stops on a joint coordinate: a stiff spring and a damper beyond a limit, nothing between the limits.',
  fields: {
    joint: ref('joints', 'Joint', 'The joint it limits.'),
    freedom: choice(FREEDOMS, 'Coordinate', 'Which coordinate of the joint.'),
    lower: quantity(byFreedom(D.angle, D.length), 'Lower end', 'Left out: none.', { optional: true }),
    upper: quantity(byFreedom(D.angle, D.length), 'Upper end', 'Left out: none.', { optional: true }),
    stiffness: quantity(byFreedom(D.torsionStiffness, D.stiffness), 'Stiffness', 'Torque or force per depth beyond the end.', {
      range: 'positive',
    }),
    damping: quantity(byFreedom(D.torsionDamping, D.damping), 'Damping', 'Torque or force per speed while pressed; it never pulls.', {
      range: 'not negative',
      default: 0,
    }),
  },
  force(v, m, name) {
    if (v.lower === undefined && v.upper === undefined)
      refuse({ code: 'stop-nowhere', message: 'It has neither a lower nor an upper end.' });
    if (v.lower !== undefined && v.upper !== undefined && !(v.lower < v.upper))
      refuse({ code: 'stop-order', message: 'Its lower end is not below its upper end.' });
    return new Stops(name, m.tracked(freedomOf(m.joint(v.joint), v.freedom, 'to stop')), [v.lower, v.upper], v.stiffness, v.damping);
  },
  characteristic(v, m) {
    const turns = freedomOf(m.joint(v.joint), v.freedom, 'to stop').type === 'rotation';
    const lo = v.lower ?? v.upper ?? 0,
      hi = v.upper ?? lo,
      margin = 0.2 * (hi - lo) || (turns ? 0.5 : 0.02);
    const push = (x: number) =>
      v.lower !== undefined && x < v.lower
        ? v.stiffness * (v.lower - x)
        : v.upper !== undefined && x > v.upper
          ? v.stiffness * (v.upper - x)
          : 0;
    return {
      x: turns ? 'angle' : 'travel',
      y: turns ? 'torque' : 'force',
      dims: turns ? [D.angle, D.torque] : [D.length, D.force],
      points: sampled(lo - margin, hi + margin, push),
    };
  },
  outline: (v, m) => {
    const { sides } = m.joint(v.joint);
    return { type: 'none', at: { body: sides.a, at: sides.sa } };
  },
});
