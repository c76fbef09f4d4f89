import { refuse } from '../../diagnosis';
import { Hold } from '../../equations/friction';
import { ImpactStop } from '../../equations/impact-stop';
import { onCoordinate, stops } from '../../equations/laws/on-coordinate';
import { choice, quantity, ref } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { FREEDOMS, byFreedom, freedomOf } from '../freedoms';
import { sampled } from '../declarations';
import { load } from './load';
import { atMostOne } from './restitution';

/** Height of a bounce that leads nowhere: beside the size of the machine for travel, rad for turning. */
const LEAST = 1e-8;
const SPRING = { when: { field: 'law', is: ['spring'] } } as const;

export const jointStop = load({
  kind: 'joint-stop',
  label: 'Joint stop',
  tells: ['effort', 'deflection', 'rate'],
  help: 'End stops on a joint coordinate: a stiff spring and a damper beyond a limit, or a rigid end that is struck; nothing between the limits.',
  fields: {
    joint: ref('joints', 'Joint', 'The joint it limits.'),
    freedom: choice(FREEDOMS, 'Coordinate', 'Which coordinate of the joint.'),
    lower: quantity(byFreedom(D.angle, D.length), 'Lower end', 'Left out: none.', { optional: true }),
    upper: quantity(byFreedom(D.angle, D.length), 'Upper end', 'Left out: none.', { optional: true }),
    law: choice(
      { spring: 'a spring and damper', impulse: 'an impulse' },
      'Pushes back by',
      'A spring and damper give way. An impulse turns the speed round at once, and a rigid end carries what leans on it; that is for dynamic runs.',
    ),
    restitution: quantity(
      D.none,
      'Restitution',
      'Speed after an impact beside that before it: 0 where it comes to rest, 1 where nothing is lost.',
      { default: 0.5, range: 'not negative', when: { field: 'law', is: ['impulse'] } },
    ),
    stiffness: quantity(byFreedom(D.torsionStiffness, D.stiffness), 'Stiffness', 'Torque or force per depth beyond the end.', {
      range: 'positive',
      ...SPRING,
    }),
    damping: quantity(byFreedom(D.torsionDamping, D.damping), 'Damping', 'Torque or force per speed while pressed; it never pulls.', {
      range: 'not negative',
      default: 0,
      ...SPRING,
    }),
  },
  force(v, m, name) {
    if (v.lower === undefined && v.upper === undefined)
      refuse({ code: 'stop-nowhere', message: 'It has neither a lower nor an upper end.' });
    if (v.lower !== undefined && v.upper !== undefined && !(v.lower < v.upper))
      refuse({ code: 'stop-order', message: 'Its lower end is not below its upper end.' });
    const joint = m.joint(v.joint),
      freedom = freedomOf(joint, v.freedom, 'to stop'),
      limits = [v.lower, v.upper] as const;
    if (v.law === 'spring') {
      const ends = [...(v.lower === undefined ? [] : ['lower']), ...(v.upper === undefined ? [] : ['upper'])];
      return onCoordinate(
        m.tracked(freedom),
        stops(v.lower !== undefined, v.upper !== undefined),
        [v.lower ?? 0, v.upper ?? 0, v.stiffness, v.damping],
        [],
        {
          limits: true,
          passed: (end, side, K) =>
            side < 0
              ? { kind: 'struck', message: `${name} is struck at its ${ends[end]!} end.`, values: { speed: freedom.rate(K) } }
              : undefined,
        },
      );
    }
    atMostOne(v.restitution, name);
    const hold = new Hold(),
      row = joint.measure(freedom.type, hold);
    return new ImpactStop(
      name,
      v.joint,
      m.tracked(freedom),
      limits,
      v.restitution,
      LEAST * (freedom.type === 'rotation' ? 1 : m.size),
      row,
      hold,
      (on) => m.hold(row, on),
    );
  },
  characteristic(v, m) {
    if (v.law === 'impulse') return undefined;
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
