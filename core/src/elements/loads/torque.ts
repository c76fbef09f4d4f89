import { torqueInBody, torqueInGround } from '../../equations/laws/on-body';
import { StatedForce, taken } from '../../equations/laws/stated-force';
import { unit } from '../../geometry/vector';
import { choice, quantity, ref, vector } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { load } from './load';

export const torque = load({
  kind: 'torque',
  label: 'Torque',
  tells: ['effort'],
  help: 'A torque on a body, with its reaction on the ground or another body.',
  fields: {
    body: ref('bodies', 'On', 'The body it turns.'),
    reaction: ref('bodies', 'Reaction on', 'The body that takes the reaction. Left out: the ground.', { optional: true }),
    direction: vector(D.none, 'Axis', 'Axis as drawn, ground axes; positive by the right hand.', {
      direction: true,
      axial: true,
      default: [0, 0, 1],
    }),
    follows: choice({ ground: 'the ground', body: 'the body' }, 'Axis fixed in', 'Whether the axis stays or turns with the body.'),
    magnitude: quantity(D.torque, 'Magnitude', 'A value or a formula of time t; gauges may be used as {Name}.', {
      time: true,
      gauges: true,
    }),
  },
  force: (v, m) => {
    const carrier = v.follows === 'body' ? v.body : m.ground;
    return new StatedForce(
      v.follows === 'body' ? torqueInBody : torqueInGround,
      [{ bodies: [m.index(v.body), m.index(v.reaction ?? m.ground)], values: m.direction(unit(v.direction), carrier) }],
      [taken(m.magnitude(v.magnitude))],
      { readings: { turns: () => true, positive: { effort: 'Positive by the right hand about its axis, on its body.' } } },
    );
  },
  outline: (v, m) => {
    const carrier = v.follows === 'body' ? v.body : m.ground;
    return {
      type: 'arrow',
      at: { body: m.index(v.body), at: [0, 0, 0] },
      direction: m.direction(unit(v.direction), carrier),
      carrier: m.index(carrier),
    };
  },
});
