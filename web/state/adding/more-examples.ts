/** All examples; those after the first come when the shelf or the line is opened. */
import fruitDrop from '../../../examples/fruit-drop.pivot.json';
import hoistHook from '../../../examples/hoist-hook.pivot.json';
import shakerHead from '../../../examples/shaker-head.pivot.json';
import slotCam from '../../../examples/slot-cam.pivot.json';
import wingFold from '../../../examples/wing-fold.pivot.json';
import { type Model, complete } from '@vim-pivot/core/page';
import { EXAMPLES } from './examples';

export const ALL_EXAMPLES: readonly Model[] = [
  ...EXAMPLES,
  complete(shakerHead),
  complete(hoistHook),
  complete(wingFold),
  complete(slotCam),
  complete(fruitDrop),
];
