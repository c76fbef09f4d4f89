import { refuse } from '../../diagnosis';
import { PointDistance } from '../../equations/constraints';
import { quantity } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { JOINT, joint } from './joint';

export const distance = joint({
  kind: 'distance',
  label: 'Distance',
  help: 'A rod without mass: two points, one in each body, stay a given distance apart.',
  fields: {
    ...JOINT,
    length: quantity(D.length, 'Length', 'Left out: the distance as drawn.', { optional: true, range: 'positive' }),
  },
  freedoms: [],
  leaves: 5,
  holds: ['the distance'],
  equations(s, v) {
    const length = v.length ?? s.drawn;
    if (length < 1e-9)
      refuse({
        code: 'distance-zero',
        message: 'The two points are at the same place, so the rod has no length and no direction.',
        remedy: 'Use a spherical joint, or give two points that lie apart.',
      });
    return [new PointDistance(s.a, s.sa, s.b, s.sb, length)];
  },
});
