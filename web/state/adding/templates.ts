/** Machines to begin from. */
import { type Model, complete } from '@vim-pivot/core/page';
import crankAndRocker from '../../../examples/templates/crank-and-rocker.pivot.json';
import crankAndSlide from '../../../examples/templates/crank-and-slide.pivot.json';
import { blank } from '../document/document';

export const TEMPLATES: readonly { model: Model; about: string }[] = [
  { model: blank('Untitled machine'), about: 'Nothing but gravity and steel; z points up.' },
  {
    model: {
      ...blank('Untitled flat machine'),
      up: 'y',
      loads: [{ name: 'Gravity', kind: 'gravity', acceleration: [0, '-9.81 m/s^2', 0] }],
    },
    about: 'For mechanisms drawn in the x-y plane: y points up.',
  },
  ...[crankAndRocker, crankAndSlide].map((m) => ({ model: complete(m), about: m.note })),
];
