import { choice, quantity, ref } from '../../model/fields';
import type { Kind } from '../../model/kinds';
import { D } from '../../quantity/dimension';
import { FREEDOMS, byFreedom } from '../freedoms';

const FIELDS = {
  joint: ref('joints', 'Joint', 'The joint whose start is given.'),
  freedom: choice(FREEDOMS, 'Coordinate', 'Which coordinate of the joint.'),
  position: quantity(byFreedom(D.angle, D.length), 'Position', 'Angle or travel at the start. Left out: as the machine assembles.', {
    optional: true,
  }),
  speed: quantity(byFreedom(D.angularSpeed, D.speed), 'Speed', 'At the start. Left out: whatever the rest gives.', { optional: true }),
  kept: choice(
    { strict: 'kept strictly', guess: 'used as a guess' },
    'Kept',
    'Strict: refused when it cannot be met. Guess: a hint for the posture to start from.',
  ),
} as const;

export const start: Kind<typeof FIELDS> = {
  family: 'starts',
  kind: 'start',
  label: 'Start value',
  help: 'Position and speed of a joint at the start of the run.',
  fields: FIELDS,
};
