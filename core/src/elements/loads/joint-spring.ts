import { jointSpring as law, onCoordinate } from '../../equations/laws/on-coordinate';
import { column } from '../../geometry/vector';
import { choice, quantity, ref } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { FREEDOMS, byFreedom as by, freedomOf } from '../freedoms';
import { sampled } from '../declarations';
import { load } from './load';

export const jointSpring = load({
  kind: 'joint-spring',
  label: 'Joint spring',
  tells: ['effort', 'deflection', 'rate'],
  help: 'A spring and damper on the coordinate of a joint: a torsion spring on a pin, a spring along a slide. Angles count whole turns.',
  fields: {
    joint: ref('joints', 'Joint', 'The joint it acts on.'),
    freedom: choice(FREEDOMS, 'Coordinate', 'Which coordinate of the joint.'),
    stiffness: quantity(by(D.torsionStiffness, D.stiffness), 'Stiffness', 'Torque per angle, or force per travel.', {
      range: 'not negative',
      default: 0,
    }),
    damping: quantity(by(D.torsionDamping, D.damping), 'Damping', 'Torque per angular speed, or force per speed.', {
      range: 'not negative',
      default: 0,
    }),
    rest: quantity(by(D.angle, D.length), 'Rest value', 'Coordinate at which the spring rests; zero is as drawn.', { default: 0 }),
    preload: quantity(by(D.torque, D.force), 'Preload', 'Torque or force at the rest value, against the positive sense.', { default: 0 }),
  },
  force(v, m) {
    const freedom = freedomOf(m.joint(v.joint), v.freedom, 'for a spring');
    return onCoordinate(m.tracked(freedom), law, [v.stiffness, v.damping, v.rest, v.preload]);
  },
  actsBy: () => ['stiffness', 'damping', 'preload'],
  characteristic(v, m) {
    const turns = freedomOf(m.joint(v.joint), v.freedom, 'for a spring').type === 'rotation';
    const reach = turns ? 3.141592653589793 : 0.1;
    return {
      x: turns ? 'angle' : 'travel',
      y: turns ? 'torque' : 'force',
      dims: turns ? [D.angle, D.torque] : [D.length, D.force],
      points: sampled(v.rest - reach, v.rest + reach, (x) => -v.stiffness * (x - v.rest) - v.preload, 2),
    };
  },
  outline: (v, m) => {
    const joint = m.joint(v.joint),
      { a, b, sa, sb, fa } = joint.sides;
    const turns = freedomOf(joint, v.freedom, 'for a spring').type === 'rotation';
    // a damper alone is no spring to be seen
    if (v.stiffness === 0 && v.preload === 0) return { type: 'none', at: { body: a, at: sa } };
    return { type: 'wound', at: { body: a, at: sa }, to: { body: b, at: sb }, axis: column(fa, 2), carrier: a, turns };
  },
});
