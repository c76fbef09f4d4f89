import { colour, ref } from '../../model/fields';
import type { Fields } from '../../model/fields';
import type { ShapeKind } from '../declarations';

/** Fields every shape has. */
export const SHAPE = {
  body: ref('bodies', 'Body', 'The body this shape belongs to.'),
  material: ref('materials', 'Material', 'Left out: the material of the body.', { optional: true }),
  colour: colour('Colour', 'Left out: the colour of the body.'),
} as const;

/** Declares a kind of shape. */
export const shape = <const F extends Fields>(k: Omit<ShapeKind<F>, 'family'>): ShapeKind<F> => ({ family: 'shapes', ...k });
