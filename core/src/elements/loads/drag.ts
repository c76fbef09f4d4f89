import { Drag } from '../../equations/forces';
import { quantity, ref } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { load } from './load';

export const drag = load({
  kind: 'drag', label: 'Drag',
  help: 'Resistance of still air or water against the motion of a point: a part in proportion to speed and a part to its square.',
  fields: {
    body: ref('bodies', 'On', 'The body it slows.'),
    at: ref('points', 'At', 'Where it acts, fixed in that body.'),
    linear: quantity(D.damping, 'Linear', 'Force per speed.', { range: 'not negative', default: 0 }),
    quadratic: quantity(D.quadraticDrag, 'Quadratic', 'Force per speed squared: half the density times drag coefficient times area.', { range: 'not negative', default: 0 }),
  },
  force: (v, m) => new Drag(m.index(v.body), m.place(v.at, v.body), v.linear, v.quadratic),
  outline: (v, m) => ({ type: 'none', at: { body: m.index(v.body), at: m.place(v.at, v.body) } }),
});
