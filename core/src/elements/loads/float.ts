import { buoyancy } from '../../equations/laws/on-body';
import { StatedForce } from '../../equations/laws/stated-force';
import { unit } from '../../geometry/vector';
import { quantity, ref, vector } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { load } from './load';

export const float = load({
  kind: 'float',
  label: 'Float',
  help: 'Buoyancy of a ball fixed in a body: the weight of the liquid it displaces, also when it is only partly under.',
  fields: {
    body: ref('bodies', 'On', 'The body it lifts.'),
    at: ref('points', 'Centre', 'Centre of the ball, fixed in that body.'),
    radius: quantity(D.length, 'Radius', 'Of the ball.', { range: 'positive' }),
    density: quantity(D.density, 'Liquid density', 'Mass per volume of the liquid.', { default: '1000 kg/m^3', range: 'positive' }),
    gravity: quantity(D.acceleration, 'Gravity', 'Acceleration of free fall.', { default: '9.80665 m/s^2', range: 'positive' }),
    up: vector(D.none, 'Up', 'Direction in which it lifts, ground axes.', { direction: true, world: true, default: [0, 0, 1] }),
    level: quantity(D.length, 'Surface level', 'Height of the surface over the ground origin, along up.', { default: 0 }),
  },
  force: (v, m) =>
    new StatedForce(buoyancy, [
      { bodies: [m.index(v.body)], values: [...m.place(v.at, v.body), v.radius, v.density * v.gravity, ...unit(v.up), v.level] },
    ]),
  outline: (v, m) => ({
    type: 'arrow',
    at: { body: m.index(v.body), at: m.place(v.at, v.body) },
    direction: unit(v.up),
    carrier: m.index(m.ground),
  }),
});
