import { halfSpace } from '../../geometry/half-space';
import { quantity, ref, vector } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { frameOn } from './axis';
import { SHAPE, shape } from './shape';

export const floor = shape({
  kind: 'floor',
  label: 'Floor',
  help: 'A plane without end, solid below: what falls, rolls or stands on it finds it everywhere. It has no mass.',
  fields: {
    ...SHAPE,
    at: ref('points', 'At', 'A point of its face.'),
    axis: vector(D.none, 'Normal', 'Direction in which its face looks, in the body’s axes.', { direction: true, default: [0, 0, 1] }),
    span: quantity(D.length, 'Drawn width', 'It is drawn as a square of this width; gaps to it are measured so far.', {
      range: 'positive',
      default: '2 m',
    }),
  },
  solid: (v, drawing) => halfSpace(drawing.point(v.at), frameOn(v, drawing), v.span),
});
