import { add, apply, mul, sub } from '../../geometry/vector';
import { choice, quantity, vector } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { TWO_PI } from '../../quantity/elementary';
import { COUNT, JOINED, OF_KIT, STANDING, instance, standing, turnAbout } from './instance';

export const ring = instance({
  kind: 'ring',
  label: 'Ring',
  makes: 'many',
  help: 'A kit repeated round an axis.',
  fields: {
    ...OF_KIT,
    ...COUNT,
    axis: vector(D.none, 'Axis', 'Direction of the axis; turned by the right hand.', { direction: true, default: [0, 0, 1] }),
    about: vector(D.length, 'Axis through', 'A place on the axis.', { default: [0, 0, 0] }),
    angle: quantity(D.angle, 'Spacing', 'Angle from one member to the next. Left out: evenly all round.', { optional: true }),
    ...STANDING,
    ...JOINED,
    ends: choice(
      { open: 'are not joined', closed: 'are joined' },
      'Last and first',
      'Whether the last member is joined to the first as well.',
      { when: { field: 'joined', is: ['revolute', 'spherical', 'universal', 'fixed'] } },
    ),
  },
  members(v, count) {
    const first = standing(v),
      step = v.angle ?? TWO_PI / count;
    return Array.from({ length: count }, (_, i) => {
      const round = turnAbout(v.axis, i * step);
      return { origin: add(v.about, apply(round, sub(first.origin, v.about))), turn: mul(round, first.turn) };
    });
  },
});
