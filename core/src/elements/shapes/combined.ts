import { combined as combinedSolid } from '../../geometry/combine';
import { quantity, refs } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { SHAPE, shape } from './shape';

export const combined = shape({
  kind: 'combined',
  label: 'Joined and cut',
  needs: 'solids',
  help: 'Shapes joined to one solid, where they overlap counted once, less others that are cut away. The shapes it is made of count in it alone. Round sides are faceted: its mass is that of its facets.',
  fields: {
    ...SHAPE,
    of: refs('shapes', 1, 100, 'Joined', 'The shapes it is made of.'),
    less: refs('shapes', 0, 100, 'Cut away', 'Shapes that are taken away from them.', { optional: true }),
    round: quantity(D.none, 'Facets of a turn', 'More are closer to the round: 96 give its mass to about a thousandth.', {
      default: 96,
      range: 'positive',
    }),
  },
  solid: (v, drawing) =>
    combinedSolid(v.of.map(drawing.solid), (v.less ?? []).map(drawing.solid), Math.max(8, Math.min(1000, Math.round(v.round)))),
});
