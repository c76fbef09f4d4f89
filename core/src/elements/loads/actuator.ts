import { actuator as law, onCoordinate } from '../../equations/laws/on-coordinate';
import { taken } from '../../equations/laws/stated-force';
import { choice, quantity, ref } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { FREEDOMS, byFreedom, freedomOf } from '../freedoms';
import { sampled } from '../declarations';
import { load } from './load';

export const actuator = load({
  kind: 'actuator',
  label: 'Actuator',
  tells: ['effort', 'rate'],
  help: 'A torque or force on a joint coordinate that a real motor or cylinder can give: no more than its limit, and none that would drive it past its top speed.',
  fields: {
    joint: ref('joints', 'Joint', 'The joint it drives.'),
    freedom: choice(FREEDOMS, 'Coordinate', 'Which coordinate of the joint.'),
    effort: quantity(
      byFreedom(D.torque, D.force),
      'Commanded torque or force',
      'A value or a formula of time and gauges, such as `40 N*m - 8 N*m*s*{Arm speed}`.',
      { time: true, gauges: true },
    ),
    limit: quantity(byFreedom(D.torque, D.force), 'Torque or force limit', 'The largest, at standstill. Left out: no limit.', {
      optional: true,
      range: 'positive',
    }),
    topSpeed: quantity(
      byFreedom(D.angularSpeed, D.speed),
      'Top speed',
      'Speed at which the limit has fallen to zero, in a straight line. Left out: the limit does not depend on speed.',
      { optional: true, range: 'positive', when: { field: 'limit' } },
    ),
  },
  force(v, m) {
    const freedom = freedomOf(m.joint(v.joint), v.freedom, 'to drive');
    // it does not matter how often it has turned
    const coordinate = { freedom, value: freedom.value.bind(freedom) };
    return onCoordinate(coordinate, law(v.limit, v.topSpeed), [v.limit ?? 0, v.topSpeed ?? 0], [taken(m.magnitude(v.effort))]);
  },
  characteristic(v, m) {
    const turns = freedomOf(m.joint(v.joint), v.freedom, 'to drive').type === 'rotation';
    const { limit, topSpeed } = v;
    const top = topSpeed ?? 1;
    return {
      x: turns ? 'angular speed' : 'speed',
      y: turns ? 'torque limit' : 'force limit',
      dims: turns ? [D.angularSpeed, D.torque] : [D.speed, D.force],
      points: limit === undefined ? [] : sampled(0, top, (x) => (topSpeed === undefined ? limit : limit * (1 - x / top)), 2),
    };
  },
  outline: (v, m) => {
    const { sides } = m.joint(v.joint);
    return { type: 'none', at: { body: sides.a, at: sides.sa } };
  },
});
