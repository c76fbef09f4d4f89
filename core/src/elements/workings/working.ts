import { quantity, ref } from '../../model/fields';
import { D } from '../../quantity/dimension';
import type { Kind } from '../../model/kinds';

export const working = {
  family: 'workings',
  kind: 'working',
  label: 'Working',
  help: 'A value worked out by hand, with units, beside what was measured: their difference in per cent, and a check where it is larger than it may be. Say in its note how it comes about.',
  fields: {
    value: quantity(
      undefined,
      'Value by hand',
      'A formula with units, of parameters and of numbers: `0.5 * mass * speed^2`; scores and workings above stand in braces: `{Torque, peak} * {Speed, peak}`.',
      { scores: true },
    ),
    score: ref('scores', 'Compared with', 'The score it is compared with.', { optional: true }),
    tolerance: quantity(D.none, 'Tolerance', 'Relative to the value worked out by hand: 0.01 is one per cent.', {
      default: 0.01,
      range: 'positive',
      when: { field: 'score' },
    }),
  },
} as const satisfies Kind;
