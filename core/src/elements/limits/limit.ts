import { choice, quantity, ref } from '../../model/fields';
import { D } from '../../quantity/dimension';
import type { Kind } from '../../model/kinds';

export const limit = {
  family: 'limits',
  kind: 'limit',
  label: 'Limit',
  help: 'What a gauge must keep to, at all times or over a span. A violation is marked on the timeline, in charts and among the checks.',
  fields: {
    gauge: ref('gauges', 'Gauge', 'The gauge that is watched.'),
    low: quantity(undefined, 'Lower bound', 'Smallest allowed value. Left out: none.', { optional: true, scores: true }),
    high: quantity(undefined, 'Upper bound', 'Largest allowed value. Left out: none.', { optional: true, scores: true }),
    of: choice(
      { value: 'its value', size: 'its size, whatever its sign' },
      'Applies to',
      'A torque of −7 N·m is above a limit of 6 N·m when its size counts.',
    ),
    from: quantity(D.time, 'From', 'It holds from this time on. Left out: from the start.', { optional: true }),
    to: quantity(D.time, 'To', 'It holds up to this time. Left out: to the end.', { optional: true }),
    at: quantity(D.time, 'Only at', 'It counts at this time alone. Left out: at all times between.', { optional: true }),
    then: choice({ tell: 'it is reported', stop: 'the run stops' }, 'When passed', 'What a violation does.'),
  },
} as const satisfies Kind;
