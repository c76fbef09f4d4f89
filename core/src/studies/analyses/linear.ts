import { z } from 'zod';
import { refuse } from '../../diagnosis';
import { siUnit } from '../../quantity/dimension';
import { TWO_PI, atan2, exp, ln } from '../../quantity/elementary';
import { formatNumber, readUnit } from '../../quantity/units';
import { type LinearSystem, type Root, frequencyResponse, inputsOf, linearSystem, poles, zeros } from '../../solve/linear-system';
import { type Curves, type Item, type Table, analysis } from './analysis';

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
      help: 'Drives (by their acceleration), and loads with a magnitude or an effort.',
      names: ({ m }) => inputsOf(m),
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
      .describe('One row to an output, one number to an input.'),
  },
  *work({ m, t, of }) {
    const frequencies = sweep(of.from, of.to, of.points);
    yield 0;
    const s = linearSystem(m, t, of.in, of.out),
      units = (list: LinearSystem['inputs']) => list.map(({ name, dim }) => ({ name, unit: siUnit(dim) })),
      found = poles(s),
      between = s.inputs.flatMap((i, k) => s.outputs.map((o, j) => ({ input: i.name, output: o.name, zeros: zeros(s, k, j) }))),
      response = frequencyResponse(s, frequencies);
    return {
      items: [
        ...matrices(s),
        { label: 'Poles', detail: `${found.map(shown).join(';  ') || 'none'}${found.length > 0 ? ' 1/s' : ''}` },
        ...between.map((b) => ({
          label: `Zeros from ${b.input} to ${b.output}`,
          detail: `${b.zeros.map(shown).join(';  ') || 'none'}${b.zeros.length > 0 ? ' 1/s' : ''}`,
        })),
      ],
      curves: frequencies.length > 0 ? charts(s, frequencies, response) : [],
      table: table(s, frequencies, response),
      data: {
        states: s.states,
        inputs: units(s.inputs),
        outputs: units(s.outputs),
        ...{ A: s.A, B: s.B, C: s.C, D: s.D },
        poles: found,
        zeros: between,
        response: frequencies.map((frequency, n) => ({ frequency, values: response[n] })),
      },
      diagnoses: s.diagnoses,
    };
  },
});

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

const sizeOf = ({ re, im }: Root): number => Math.sqrt(re * re + im * im);
const DEGREES = 360 / TWO_PI;
const phaseOf = ({ re, im }: Root): number => DEGREES * atan2(im, re);

type Response = readonly (readonly (readonly Root[])[])[];
const pairsOf = (s: LinearSystem) =>
  s.outputs.flatMap((o, row) =>
    s.inputs.map((i, column) => ({
      name: `${o.name}/${i.name}`,
      unit: `(${siUnit(o.dim) || '1'})/(${siUnit(i.dim) || '1'})`,
      row,
      column,
    })),
  );

/** Size, and phase without jumps, of each output by each input. */
function charts(s: LinearSystem, frequencies: readonly number[], response: Response): Curves[] {
  const pairs = pairsOf(s),
    x = Float64Array.from(frequencies),
    across = { label: 'Frequency', unit: 'Hz', log: true } as const,
    units = [...new Set(pairs.map((p) => p.unit))];
  return [
    ...units.map((unit): Curves => ({
      title: 'Size',
      x: across,
      y: { unit, log: true },
      traces: pairs
        .filter((p) => p.unit === unit)
        .map((p) => ({ name: p.name, x, y: Float64Array.from(response, (r) => sizeOf(r[p.row]![p.column]!)) })),
    })),
    {
      title: 'Phase',
      x: across,
      y: { unit: 'deg' },
      traces: pairs.map((p) => ({ name: p.name, x, y: unwound(Float64Array.from(response, (r) => phaseOf(r[p.row]![p.column]!))) })),
    },
  ];
}
/** Degrees that go on where they would jump by a turn. */
function unwound(phase: Float64Array): Float64Array {
  for (let i = 1; i < phase.length; i++) phase[i] = phase[i]! - 360 * Math.round((phase[i]! - phase[i - 1]!) / 360);
  return phase;
}

function table(s: LinearSystem, frequencies: readonly number[], response: Response): Table {
  const pairs = pairsOf(s);
  return {
    columns: [
      { name: 'frequency', unit: 'Hz' },
      ...pairs.flatMap(({ name, unit }) => [
        { name: `${name} size`, unit },
        { name: `${name} phase`, unit: 'deg' },
      ]),
    ],
    rows: frequencies.map((f, n) => [
      f,
      ...pairs.flatMap((p) => [response[n]![p.row]![p.column]!].flatMap((r) => [sizeOf(r), phaseOf(r)])),
    ]),
  };
}
