import { direction } from '../../equations/stated/body';
import { type ValueLaw, readAlone, vectorOf } from '../../equations/values';
import { cross, dot, norm } from '../../expressions/vectors';
import { refs, vector } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { gauge } from './gauge';

const between: ValueLaw = {
  name: 'angle between directions',
  bodies: 2,
  numbers: 6,
  of(g, [a, b], n) {
    const [p, q] = [direction(g, a!, vectorOf(n, 0)), direction(g, b!, vectorOf(n, 3))];
    return g.apply('atan2', norm(g, cross(g, p, q)), dot(g, p, q));
  },
};

export const angleGauge = gauge({
  kind: 'angle',
  label: 'Angle between directions',
  help: 'Angle between a direction fixed in one body and a direction fixed in another, from 0 to half a turn.',
  fields: {
    bodies: refs('bodies', 2, 2, 'Bodies', 'The bodies in which the directions are fixed.'),
    first: vector(D.none, 'First direction', 'As drawn, ground axes; fixed in the first body.', { direction: true, default: [1, 0, 0] }),
    second: vector(D.none, 'Second direction', 'As drawn, ground axes; fixed in the second body.', { direction: true, default: [1, 0, 0] }),
  },
  reads: D.angle,
  channel(v, m) {
    const bodies = v.bodies.map((x) => m.index(x)),
      numbers = [...m.direction(v.first, v.bodies[0]!), ...m.direction(v.second, v.bodies[1]!)],
      reading = { law: between, bodies, numbers },
      value = readAlone(reading);
    return {
      positive: 'From 0, the directions alike, to half a turn, opposite.',
      stated: () => reading,
      read: ({ K }) => value(K),
    };
  },
});
