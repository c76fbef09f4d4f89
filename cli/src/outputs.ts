/**
 * What each command prints with --json. The reference (docs/command-line.md) and its JSON Schema are written from here, and tests hold the outputs
 * against it.
 */
import { z } from 'zod';
import { RUN_STATUSES } from '@vim-pivot/core';
import { ANALYSES } from '@vim-pivot/core/analyses';

const element = z.strictObject({ family: z.string(), name: z.string() }).describe('Family and name of an element.');
const diagnosis = z
  .looseObject({
    code: z.string().describe('Stable identifier, e.g. `formula-dimension`.'),
    severity: z.enum(['error', 'warning', 'note']),
    message: z.string().max(300).describe('What is so, in one sentence.'),
    path: z.string().optional().describe('Place in the model file, e.g. `$.joints[2].axis[1]`.'),
    element: element.optional(),
    why: z.string().optional(),
    remedy: z.string().optional(),
    time: z.number().optional().describe('Time in the run, s.'),
  })
  .describe('A finding.');
const diagnoses = z.array(diagnosis).describe('Findings, errors first.');
const outcome = <S extends z.ZodRawShape>(shape: S) => z.strictObject({ ...shape, diagnoses });
const happening = z.strictObject({
  t: z.number().describe('s.'),
  kind: z.enum(['sticks', 'slips', 'struck', 'engages', 'releases', 'singular', 'stiff', 'not stiff']),
  element,
  message: z.string(),
  values: z
    .record(z.string(), z.number())
    .optional()
    .describe(
      'Numbers that belong to it, SI: `energy` put in at once (J), `speed` of a strike, `direction` of slip, `step` (s), `ratio` of a pivot to its usual size.',
    ),
});
const measured = { name: z.string(), unit: z.string().optional(), fault: z.string().optional().describe('Why it has no value.') };

const ANALYSED: Readonly<Record<string, z.ZodType>> = Object.fromEntries(ANALYSES.map((a) => [a.name, outcome(a.output).describe(a.help)]));

export const OUTPUTS: Readonly<Record<string, z.ZodType>> = {
  refused: outcome({ status: z.literal('refused') }).describe('Any command that could not begin: exit code 1.'),
  check: outcome({
    mobility: z
      .strictObject({
        joints: z.number().describe('Degrees of freedom the joints leave.'),
        free: z.number().describe('Of these, left free by the drives.'),
        redundant: z.number().describe('Redundant constraints.'),
      })
      .optional(),
  }),
  run: outcome({
    status: z.enum(RUN_STATUSES).describe('`stopped`: a limit ended it.'),
    t: z.number().describe('Time reached, s.'),
    seconds: z.number().describe('Time it took.'),
    statistics: z.looseObject({ steps: z.number(), records: z.number() }),
    happenings: z.array(happening).describe('Events, in order.'),
    gauges: z
      .array(
        z.strictObject({
          gauge: z.string(),
          unit: z.string(),
          min: z.number().nullable(),
          max: z.number().nullable(),
          final: z.number().nullable(),
        }),
      )
      .describe('Range and last value of each gauge in its unit; null where it has none.'),
    scores: z.array(
      z.strictObject({
        ...measured,
        gauge: z.string(),
        of: z.string(),
        value: z.number().optional(),
        at: z.number().optional().describe('s.'),
      }),
    ),
    workings: z.array(
      z.strictObject({
        ...measured,
        value: z.number().optional().describe('By hand.'),
        measured: z.number().optional().describe('The score it is compared with, in the same unit.'),
        difference: z
          .number()
          .nullable()
          .optional()
          .describe('Of the measured value, relative to the one by hand; null where that is zero.'),
        differs: z.boolean().optional().describe('The difference is larger than its tolerance.'),
      }),
    ),
    limits: z.array(
      z.strictObject({
        ...measured,
        gauge: z.string(),
        kept: z.boolean().optional(),
        worst: z.number().optional(),
        at: z.number().optional().describe('s.'),
      }),
    ),
    sensitivities: z
      .array(
        z.strictObject({
          number: z.string(),
          element: z.strictObject({ family: z.string(), name: z.string() }),
          text: z.string().describe('As it stands in the file.'),
          unit: z.string(),
          against: z
            .enum(['itself', 'size', 'column', 'unit'])
            .describe('What its percent are parts of: itself, the size of the machine, the largest of its column, 1 of its unit.'),
          fault: z
            .strictObject({ code: z.string(), message: z.string(), why: z.string().optional() })
            .optional()
            .describe('Why nothing can be said of it.'),
          moves: z
            .array(
              z.strictObject({
                score: z.string(),
                unit: z.string().optional(),
                slope: z.number().optional().describe('Change of the score for a change of the number by 1, each in its unit.'),
                percent: z.number().optional().describe('Percent of the score for a percent of the number.'),
                less: z.number().optional().describe('The slope with less of it, where the score has a kink.'),
                more: z.number().optional().describe('And with more of it.'),
              }),
            )
            .optional(),
        }),
      )
      .optional()
      .describe('With `--sensitivity`: what moves the scores, the largest effect first.'),
  }),
  ...ANALYSED,
};
