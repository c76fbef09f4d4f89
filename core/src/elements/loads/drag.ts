import { drag as law } from '../../equations/laws/on-body';
import { StatedForce, constantly, taken } from '../../equations/laws/stated-force';
import { unit } from '../../geometry/vector';
import { quantity, ref, vector } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { load } from './load';

export const drag = load({
  kind: 'drag',
  label: 'Drag',
  help: 'Resistance of air or water, still or moving, against the motion of a point: a part in proportion to the relative speed and a part to its square.',
  fields: {
    body: ref('bodies', 'On', 'The body it slows.'),
    at: ref('points', 'At', 'Where it acts, fixed in that body.'),
    linear: quantity(D.damping, 'Linear', 'Force per speed.', { range: 'not negative', default: 0 }),
    quadratic: quantity(D.quadraticDrag, 'Quadratic', 'Force per speed squared: half the density times drag coefficient times area.', {
      range: 'not negative',
      default: 0,
    }),
    wind: quantity(D.speed, 'Wind', 'Speed of the air or water: a value or a formula of time and gauges. Left out: still.', {
      time: true,
      gauges: true,
      optional: true,
    }),
    towards: vector(D.none, 'Wind direction', 'Direction of the wind, ground axes.', {
      direction: true,
      world: true,
      default: [1, 0, 0],
      when: { field: 'wind' },
    }),
  },
  force: (v, m) =>
    new StatedForce(
      law,
      [
        {
          bodies: [m.index(v.body)],
          values: [...m.place(v.at, v.body), v.linear, v.quadratic, ...(v.wind ? unit(v.towards) : ([0, 0, 0] as const))],
        },
      ],
      [v.wind ? taken(m.magnitude(v.wind)) : constantly(0)],
    ),
  actsBy: () => ['linear', 'quadratic'],
  outline: (v, m) => ({ type: 'none', at: { body: m.index(v.body), at: m.place(v.at, v.body) } }),
});
