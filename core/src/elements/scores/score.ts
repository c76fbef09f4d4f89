import { choice, quantity, ref } from '../../model/fields';
import { D } from '../../quantity/dimension';
import type { Kind } from '../../model/kinds';

const SPAN = {
  from: quantity(D.time, 'From', 'Only what comes after this time counts. Left out: the start.', { optional: true }),
  to: quantity(D.time, 'To', 'Only what comes before this time counts. Left out: the end.', { optional: true }),
} as const;

export const score = {
  family: 'scores',
  kind: 'score',
  label: 'Score',
  help: 'One number from the course of a gauge.',
  fields: {
    gauge: ref('gauges', 'Gauge', 'The gauge it is taken from.'),
    of: choice(
      {
        peak: 'peak (largest size)',
        highest: 'highest',
        lowest: 'lowest',
        range: 'range',
        mean: 'mean',
        rms: 'RMS',
        final: 'final',
        'at-time': 'value at a time',
        crossing: 'time at which it crosses a level',
        'when-other': 'value when another gauge crosses a level',
        rise: 'rise time (10 to 90 %)',
        overshoot: 'overshoot',
        settling: 'settling time (within 2 %)',
        period: 'period',
        frequency: 'frequency',
        damping: 'damping ratio',
        area: 'area',
        change: 'change from first to last',
        'per-cycle': 'change over a cycle of another gauge',
      },
      'Measure',
      'What is made of the course.',
    ),
    time: quantity(D.time, 'Time', 'When it is read.', { default: 0, when: { field: 'of', is: ['at-time'] } }),
    other: ref('gauges', 'Other gauge', 'The gauge whose crossing counts, or whose cycles.', {
      when: { field: 'of', is: ['when-other', 'per-cycle'] },
    }),
    level: quantity(undefined, 'Level', 'The level that is crossed.', {
      default: 0,
      when: { field: 'of', is: ['crossing', 'when-other'] },
    }),
    ...SPAN,
  },
} as const satisfies Kind;
