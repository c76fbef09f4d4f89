import { z } from 'zod';
import { type Diagnosis, listed, refuse } from '../../diagnosis';
import type { Model } from '../../model/document';
import { type Dimension, siUnit } from '../../quantity/dimension';
import { TWO_PI, atan2, exp, ln } from '../../quantity/elementary';
import { formatNumber, readUnit, shownUnit } from '../../quantity/units';
import {
  type LinearInput,
  type LinearSystem,
  type Root,
  frequencyResponse,
  inputsOf,
  linearSystem,
  poles,
  zeros,
} from '../../solve/linear-system';
import type { Mechanism } from '../../system/mechanism';
import { type Harmonic, harmonics } from '../harmonic';
import { type About, type Curves, type Item, type Table, analysis } from './analysis';
import { positive } from './settings';

const root = z.strictObject({ re: z.number(), im: z.number() });
const matrix = z.array(z.array(z.number())).describe('Row by row.');
const signal = z.strictObject({ name: z.string(), unit: z.string() });
const FREQUENCY = readUnit('Hz')!.dim;

export const linear = analysis({
  name: 'linear',
  label: 'Linear system',
  ask: 'Work out',
  help: 'The machine as a linear system A, B, C, D between inputs and gauges, with its poles, zeros and frequency response.',
  settings: {
    in: {
      type: 'name',
      several: true,
      label: 'Inputs',
      help: 'Drives (by their acceleration), loads with a magnitude or an effort, and numbers of the model.',
      names: ({ m, model }) => inputsOf(m, model),
    },
    out: {
      type: 'name',
      several: true,
      label: 'Outputs',
      help: 'Gauges.',
      names: ({ m }) => m.gauges.filter((g) => !m.channel(g).after),
    },
    from: { type: 'quantity', label: 'Response from', help: 'Lowest frequency of the response.', dim: FREQUENCY, example: '0.1 Hz' },
    to: { type: 'quantity', label: 'Response to', help: 'Highest frequency of the response.', dim: FREQUENCY, example: '100 Hz' },
    amplitude: {
      type: 'amount',
      label: 'Amplitude',
      help: 'With it the machine itself, not its linear system, is run with the first input swinging so far, at some of the frequencies.',
      example: '2 N',
    },
    runs: {
      type: 'count',
      label: 'Harmonic runs',
      help: 'At so many frequencies, where an amplitude is given.',
      default: 8,
      least: 1,
      most: 1000,
    },
    points: { type: 'count', label: 'Frequencies', help: 'In even steps of their logarithm.', default: 200, least: 2, most: 100_000 },
  },
  about: 'equilibrium',
  output: {
    states: z.array(z.string()).describe('Displacements, then their rates in the same order.'),
    inputs: z.array(signal),
    outputs: z.array(signal),
    ...{ A: matrix, B: matrix, C: matrix, D: matrix },
    poles: z.array(root),
    zeros: z.array(z.strictObject({ input: z.string(), output: z.string(), zeros: z.array(root) })),
    response: z
      .array(z.strictObject({ frequency: z.number().describe('Hz.'), values: z.array(z.array(root)) }))
      .describe('One row to an output, one number to an input; of a drive, to what it prescribes.'),
    harmonic: z
      .array(
        z.strictObject({
          frequency: z.number().describe('Hz.'),
          settled: z.boolean().describe('It came to repeat itself from period to period.'),
          periods: z.number(),
          outputs: z.array(
            root.extend({ distortion: z.number().describe('Root of the sum of squares of the higher harmonics beside the first.') }),
          ),
        }),
      )
      .describe('What runs of the machine itself answer to the first input: first harmonics by its unit.'),
  },
  *work({ m, model, t, about, of }) {
    const frequencies = sweep(of.from, of.to, of.points);
    yield 0;
    const s = linearSystem(m, t, of.in, of.out, model),
      units = (list: readonly Pick<LinearInput, 'name' | 'dim'>[]) => list.map(({ name, dim }) => ({ name, unit: siUnit(dim) })),
      found = poles(s),
      between = s.inputs.flatMap((i, k) => s.outputs.map((o, j) => ({ input: i.name, output: o.name, zeros: zeros(s, k, j) }))),
      response = frequencyResponse(s, frequencies),
      runs = of.amplitude === undefined ? [] : yield* itself(model, m, s, about, of.amplitude, sweep(of.from, of.to, of.runs));
    return {
      items: [
        ...matrices(s),
        { label: 'Poles', detail: `${found.map(shown).join(';  ') || 'none'}${found.length > 0 ? ' 1/s' : ''}` },
        ...between.map((b) => ({
          label: `Zeros from ${b.input} to ${b.output}`,
          detail: `${b.zeros.map(shown).join(';  ') || 'none'}${b.zeros.length > 0 ? ' 1/s' : ''}`,
        })),
      ],
      curves: frequencies.length > 0 ? charts(pairsOf(m, s), frequencies, response, runs) : [],
      table: table(pairsOf(m, s), frequencies, response, runs),
      data: {
        states: s.states,
        inputs: units(s.inputs),
        outputs: units(s.outputs),
        ...{ A: s.A, B: s.B, C: s.C, D: s.D },
        poles: found,
        zeros: between,
        response: frequencies.map((frequency, n) => ({ frequency, values: response[n] })),
        harmonic: runs,
      },
      diagnoses: [...s.diagnoses, ...restless(runs)],
    };
  },
});

/** Runs of the machine itself, its first input swinging. @throws Refusal */
function* itself(
  model: Model,
  m: Mechanism,
  s: LinearSystem,
  about: About,
  typed: string,
  frequencies: readonly number[],
): Generator<number, Harmonic[], void> {
  const remedy = 'Leave the amplitude out, or give it with the rest.';
  if (frequencies.length === 0) return refuse({ code: 'setting', message: 'An amplitude needs frequencies: from and to.', remedy });
  if (about === 'time' || s.diagnoses.some((d) => d.code === 'linear-unbalanced'))
    return refuse({
      code: 'harmonic-moving',
      message: 'Harmonic runs are made about a posture at rest: an equilibrium.',
      why: 'A machine that moves already does not come to repeat itself.',
      remedy: 'Ask about the static equilibrium, or leave the amplitude out.',
    });
  return yield* harmonics(model, m, s, 0, positive('Amplitude', typed, s.inputs[0]!.swings.dim), frequencies);
}

/** Runs that did not settle. */
function restless(runs: readonly Harmonic[]): Diagnosis[] {
  const some = runs.filter((r) => !r.settled).map((r) => `${formatNumber(r.frequency, 4)} Hz`);
  return some.length === 0
    ? []
    : [
        {
          code: 'harmonic-restless',
          severity: 'warning',
          message: `The machine does not repeat itself from period to period at ${listed(some)}.`,
          why: 'What it answers there is of the last period alone: little damps its own swings, or it answers in another rhythm.',
          remedy: 'Choose a smaller amplitude, or add damping.',
        },
      ];
}

/** Frequencies in even steps of their logarithm, Hz; none where none are asked for. @param from 1/s, as quantities are @throws Refusal */
function sweep(from: number | undefined, to: number | undefined, n: number): number[] {
  if (from === undefined && to === undefined) return [];
  if (from === undefined || to === undefined)
    return refuse({
      code: 'setting',
      message: 'Frequencies go from one to another: one of the two is missing.',
      remedy: 'Give both, or none.',
    });
  const hertz = readUnit('Hz')!.factor,
    [lo, hi] = [from / hertz, to / hertz];
  if (!(hi > lo)) refuse({ code: 'setting', message: 'The highest frequency must be larger than the lowest.' });
  return Array.from({ length: n }, (_, i) => lo * exp((ln(hi / lo) * i) / (n - 1)));
}

const shown = ({ re, im }: Root): string =>
  im === 0 ? formatNumber(re, 6) : `${formatNumber(re, 6)} ${im < 0 ? '−' : '+'} ${formatNumber(Math.abs(im), 6)} i`;

function matrices(s: LinearSystem): Item[] {
  const named = (name: string, M: readonly (readonly number[])[], rows: readonly string[], columns: readonly string[]): Item => ({
    label: name,
    detail: `${M.length} × ${columns.length}`,
    lists: M.map((r, i) => ({ title: rows[i]!, rows: r.map((x, j) => [columns[j]!, formatNumber(x, 8)] as const) })),
  });
  const inputs = s.inputs.map((i) => i.name),
    outputs = s.outputs.map((o) => o.name),
    rates = s.states.map((x) => `rate of ${x}`);
  return [
    { label: 'States', detail: s.states.join('; ') },
    ...[
      named('A', s.A, rates, s.states),
      named('B', s.B, rates, inputs),
      named('C', s.C, outputs, s.states),
      named('D', s.D, outputs, inputs),
    ],
  ];
}

const sizeOf = ({ re, im }: Root, { factor }: Pair): number => Math.sqrt(re * re + im * im) / factor;
const DEGREES = 360 / TWO_PI;
const phaseOf = ({ re, im }: Root): number => DEGREES * atan2(im, re);

type Response = readonly (readonly (readonly Root[])[])[];
interface Pair {
  readonly name: string;
  /** In which its sizes are shown, and what that is in SI. */
  readonly unit: string;
  readonly factor: number;
  readonly row: number;
  readonly column: number;
}
const shownAs = (dim: Dimension, unit = shownUnit(dim)) => ({ unit: unit || '1', factor: readUnit(unit)?.factor ?? 1 });
const pairsOf = (m: Mechanism, s: LinearSystem): Pair[] =>
  s.outputs.flatMap((o, row) =>
    s.inputs.map((i, column) => {
      const [out, into] = [shownAs(o.dim, m.channel(o.name).unit), shownAs(i.swings.dim)];
      return { name: `${o.name}/${i.name}`, unit: `${out.unit} per ${into.unit}`, factor: out.factor / into.factor, row, column };
    }),
  );

/** Magnitude, and phase without jumps, of each output by each input. */
function charts(pairs: readonly Pair[], frequencies: readonly number[], response: Response, runs: readonly Harmonic[]): Curves[] {
  const x = Float64Array.from(frequencies),
    across = { label: 'Frequency', unit: 'Hz', log: true } as const,
    units = [...new Set(pairs.map((p) => p.unit))];
  const sizes = (p: Pair) => Float64Array.from(response, (r) => sizeOf(r[p.row]![p.column]!, p)),
    phases = (p: Pair) => unwound(Float64Array.from(response, (r) => phaseOf(r[p.row]![p.column]!))),
    at = Float64Array.from(runs, (r) => r.frequency),
    // what runs gave stands beside the line
    beside = (p: Pair) => {
      const line = phases(p);
      return Float64Array.from(runs, (r) => {
        const k = frequencies.findIndex((f) => f >= r.frequency * (1 - 1e-9));
        return nextTo(phaseOf(r.outputs[p.row]!), line[k]!);
      });
    },
    traces = (of: readonly Pair[], lines: (p: Pair) => Float64Array, marks: (p: Pair) => Float64Array) => [
      ...of.map((p) => ({ name: p.name, x, y: lines(p) })),
      ...of.filter((p) => p.column === 0 && runs.length > 0).map((p) => ({ name: p.name, x: at, y: marks(p), marks: true as const })),
    ],
    ran = (p: Pair) => Float64Array.from(runs, (r) => sizeOf(r.outputs[p.row]!, p));
  return [
    ...units.map((unit): Curves => ({
      title: 'Magnitude',
      x: across,
      y: { unit, log: true },
      traces: traces(
        pairs.filter((p) => p.unit === unit),
        sizes,
        ran,
      ),
    })),
    { title: 'Phase', x: across, y: { unit: 'deg' }, traces: traces(pairs, phases, beside) },
  ];
}
/** Degrees that go on where they would jump by a turn. */
function unwound(phase: Float64Array): Float64Array {
  for (let i = 1; i < phase.length; i++) phase[i] = nextTo(phase[i]!, phase[i - 1]!);
  return phase;
}
/** So many turns more or less that it is next to another. */
const nextTo = (phase: number, other: number): number => phase - 360 * Math.round((phase - other) / 360);

/** Of each frequency the linear response, and what runs gave at theirs. */
function table(pairs: readonly Pair[], frequencies: readonly number[], response: Response, runs: readonly Harmonic[]): Table {
  const run = runs.length > 0 ? pairs.filter((p) => p.column === 0) : [],
    both = (p: Pair, r: Root) => [sizeOf(r, p), phaseOf(r)],
    none = (list: readonly Pair[]) => list.flatMap(() => ['', '']);
  return {
    columns: [
      { name: 'frequency', unit: 'Hz' },
      ...[...pairs, ...run].flatMap(({ name, unit }, i) => {
        const called = i < pairs.length ? name : `${name}, runs`;
        return [
          { name: `${called} magnitude`, unit },
          { name: `${called} phase`, unit: 'deg' },
        ];
      }),
    ],
    rows: [
      ...frequencies.map((f, n) => [f, ...pairs.flatMap((p) => both(p, response[n]![p.row]![p.column]!)), ...none(run)]),
      ...runs.map((r) => [r.frequency, ...none(pairs), ...run.flatMap((p) => both(p, r.outputs[p.row]!))]),
    ],
  };
}
