import { add, scale } from '../../geometry/vector';
import { vector } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { COUNT, JOINED, OF_KIT, STANDING, instance, standing } from './instance';

export const row = instance({
  kind: 'row',
  label: 'Row',
  makes: 'many',
  help: 'A kit repeated along a line.',
  fields: {
    ...OF_KIT,
    ...COUNT,
    step: vector(D.length, 'Spacing', 'From one member to the next.', { direction: true, default: ['100 mm', 0, 0] }),
    ...STANDING,
    ...JOINED,
  },
  members(v, count) {
    const first = standing(v);
    return Array.from({ length: count }, (_, i) => ({ turn: first.turn, origin: add(first.origin, scale(v.step, i)) }));
  },
});
