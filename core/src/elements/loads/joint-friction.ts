import { refuse } from '../../diagnosis';
import { Hold, JointFriction } from '../../equations/friction';
import { Reaction } from '../../equations/reaction';
import { column } from '../../geometry/vector';
import { choice, quantity, ref } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { FREEDOMS, byFreedom, freedomOf } from '../freedoms';
import { load } from './load';

export const jointFriction = load({
  kind: 'joint-friction',
  label: 'Joint friction',
  tells: ['effort'],
  help: 'Dry friction in a joint under the load the joint itself carries; it truly sticks at rest. On a pin the load across the axis rubs at the pin’s radius; on a slide the load rubs directly.',
  fields: {
    joint: ref('joints', 'Joint', 'The joint in which it rubs.'),
    freedom: choice(FREEDOMS, 'Coordinate', 'Which coordinate it resists.'),
    static: quantity(D.none, 'Static coefficient', 'Holds at rest up to this.', { default: 0.12, range: 'not negative' }),
    sliding: quantity(D.none, 'Sliding coefficient', 'While it moves; no more than the static one.', {
      default: 0.1,
      range: 'not negative',
    }),
    radius: quantity(D.length, 'Pin radius', 'Where the load across the axis rubs; for turning only.', {
      default: 0,
      range: 'not negative',
    }),
    collar: quantity(D.length, 'Collar radius', 'Where the load along the axis rubs; for turning only.', {
      default: 0,
      range: 'not negative',
    }),
    length: quantity(
      D.length,
      'Bearing length',
      'A moment across the axis presses on two edges this far apart. Left out: moments do not rub.',
      { optional: true, range: 'positive' },
    ),
    preload: quantity(byFreedom(D.torque, D.force), 'Preload', 'Friction that is there without any load: tight seals, clamped plates.', {
      default: 0,
      range: 'not negative',
    }),
  },
  force(v, m, name) {
    const j = m.joint(v.joint);
    const freedom = freedomOf(j, v.freedom, 'to rub');
    if (v.sliding > v.static)
      refuse({
        code: 'friction-order',
        message: 'The sliding coefficient is larger than the static one.',
        why: 'It would stick and slip without end.',
        remedy: 'Exchange them, or make them equal.',
      });
    const hold = new Hold();
    const { a, b, sb, fa } = j.sides;
    const row = j.measure(freedom.type, hold);
    const turns = freedom.type === 'rotation';
    const data = {
      static: v.static,
      sliding: v.sliding,
      radius: turns ? v.radius : 1,
      collar: turns ? v.collar : 0,
      length: v.length ?? 0,
      preload: v.preload,
    };
    return new JointFriction(name, v.joint, freedom, new Reaction(a, b, sb, j.constraints), column(fa, 2), data, row, hold, (on) =>
      m.hold(row, on),
    );
  },
  // on a slide the load rubs directly
  actsBy: (v, m) => (freedomOf(m.joint(v.joint), v.freedom, 'to rub').type === 'rotation' ? ['radius', 'collar', 'preload'] : []),
  outline: (v, m) => {
    const { sides } = m.joint(v.joint);
    return { type: 'none', at: { body: sides.a, at: sides.sa } };
  },
});
