/**
 * How a machine itself, not its linear system, answers to an input that swings: runs with A cos(ωt) added to the input, until what gauges read repeats
 * itself from period to period; the first harmonic of that. What formulas of the time would do stands as it is at the start. Each run begins where the
 * linear system would swing, so that little is left to die away.
 */
import { listed, refuse } from '../diagnosis';
import { renameIn } from '../formula/parse';
import { type Model, type RawElement, contentOf } from '../model/document';
import { FAMILIES, type Family } from '../model/families';
import { kindOf } from '../model/kinds';
import { siUnit } from '../quantity/dimension';
import { TWO_PI, cos, sin } from '../quantity/elementary';
import type { LinearSystem, Root } from '../solve/linear-system';
import { swinging } from '../solve/linear-system';
import type { Mechanism } from '../system/mechanism';
import { runModel } from './run-model';

/** Records a period, periods of a run, and runs one after the other, at most. */
const EACH = 64;
const PERIODS = 6;
const MOST = 40;
/** Part of it by which the answer may differ from one period to the next, and count as repeated. */
const ALIKE = 1e-4;

export interface Harmonic {
  /** Hz. */
  readonly frequency: number;
  /** Of each output, per unit of the input: its first harmonic, and the root of the sum of squares of the higher ones beside it. */
  readonly outputs: readonly (Root & { readonly distortion: number })[];
  /** Whether it came to repeat itself; and after how many periods it was given up, or did. */
  readonly settled: boolean;
  readonly periods: number;
}

/** The place of a model at which an input stands. */
interface Place {
  readonly family: 'loads' | 'drives';
  readonly element: RawElement;
  readonly field: string;
}
function placeOf(model: Model, name: string): Place {
  for (const family of ['loads', 'drives'] as const) {
    const element = model[family].find((e) => e.name === name),
      fields =
        element && Object.entries(kindOf(family, element)?.fields ?? {}).filter(([, f]) => f.type === 'quantity' && f.time && !f.optional);
    if (element && fields && fields.length > 0) return { family, element, field: fields.at(-1)![0] };
  }
  return refuse({
    code: 'harmonic-input',
    message: `“${name}” cannot be made to swing in a run.`,
    why: 'Only a drive of the model itself, or a load of it whose magnitude may be a formula of the time, can be.',
    remedy: 'Leave the amplitude out, or choose another input.',
  });
}

/** The model with a swing added to an input. @param amplitude in the SI unit of what the input asks for */
function excited(model: Model, { family, element, field }: Place, unit: string, amplitude: number, omega: number): Model {
  const raw = element[field] ?? 0,
    plain = Number.isFinite(Number(raw)),
    swing = `${amplitude} ${unit}*cos(${omega} rad/s*t)`.replace(' *', '*'),
    text = `${plain ? `${Number(raw)} ${unit}`.trim() : `(${String(raw)})`} + ${swing}`;
  return {
    ...model,
    ...{ scores: [], workings: [], limits: [] },
    [family]: model[family].map((e) => (e === element ? { ...e, [field]: text } : e)),
  };
}

/** The model as it is at its start, whatever its formulas would do in time. */
function held(model: Model): Model {
  const still = (family: Family, e: RawElement): RawElement => {
    const kind = kindOf(family, e),
      changed = Object.entries(kind?.fields ?? {}).flatMap(([key, f]) =>
        f.type === 'quantity' && f.time && typeof e[key] === 'string' ? [[key, renameIn(e[key], 't', '(0 s)')]] : [],
      );
    return { ...e, ...Object.fromEntries(changed), ...(kind?.holdsModel ? { content: held(contentOf(e)) } : {}) } as RawElement;
  };
  return { ...model, ...Object.fromEntries(FAMILIES.map(({ key }) => [key, (model[key] ?? []).map((e) => still(key, e))])) };
}

/** Drives that move at the start: about a motion nothing repeats itself. */
const moving = (m: Mechanism): string[] =>
  m.drives.filter((d) => d.prescribes !== 'position' && d.course.law.at(0).v !== 0).map((d) => d.name);

/** First harmonic of the last period of a course, and what the others come to beside it; of the period before it as well. */
function harmonicOf(values: Float64Array): { last: Root; before: Root; distortion: number } {
  const from = values.length - 1 - EACH,
    of = (k: number, begin: number): Root => {
      let re = 0,
        im = 0;
      for (let i = 0; i < EACH; i++) {
        const a = (TWO_PI * k * i) / EACH,
          y = values[begin + i]!;
        re += y * cos(a);
        im -= y * sin(a);
      }
      return { re: (2 * re) / EACH, im: (2 * im) / EACH };
    };
  const first = of(1, from);
  let rest = 0;
  for (let k = 2; k <= EACH / 4; k++) rest += square(of(k, from));
  return { last: first, before: of(1, from - EACH), distortion: square(first) > 0 ? Math.sqrt(rest / square(first)) : 0 };
}
const square = ({ re, im }: Root): number => re * re + im * im;

/**
 * @param m at the equilibrium about which it swings @param amplitude in the SI unit of what the input asks for
 * @throws Refusal where a run fails
 */
export function* harmonics(
  model: Model,
  m: Mechanism,
  linear: LinearSystem,
  input: number,
  amplitude: number,
  frequencies: readonly number[],
): Generator<number, Harmonic[], void> {
  const drives = moving(m);
  if (drives.length > 0)
    return refuse({
      code: 'harmonic-moving',
      message: `Harmonic runs are made about a posture at rest, and here ${listed(drives)} moves.`,
      why: 'A machine that is driven on does not come to repeat itself.',
      remedy: 'Ask without the drives, or leave the amplitude out.',
    });
  const { name, swings } = linear.inputs[input]!,
    still = held(model),
    place = placeOf(still, name),
    outputs = linear.outputs.map((o) => o.name),
    found: Harmonic[] = [];
  for (const [n, frequency] of frequencies.entries()) {
    const omega = TWO_PI * frequency,
      period = 1 / frequency,
      ask = excited(still, place, siUnit(swings.dim), amplitude, omega);
    let start = swinging(m, linear, input, amplitude, frequency),
      settled = false,
      periods = 0,
      answer: Harmonic['outputs'] = [];
    while (!settled && periods < MOST * PERIODS) {
      const run = runModel(ask, { analysis: 'dynamic', until: PERIODS * period, every: period / EACH, start }),
        { end } = run;
      if (end.status !== 'done')
        return refuse({
          code: 'harmonic-failed',
          message: `The harmonic run at ${frequency.toPrecision(4)} Hz did not come to its end.`,
          why: end.diagnoses[0]?.message ?? 'It was stopped.',
          remedy: 'Choose a smaller amplitude, or other frequencies.',
        });
      periods += PERIODS;
      start = run.state(run.time.length - 1);
      const read = outputs.map((o) => harmonicOf(run.gauge(o)));
      settled = read.every(
        ({ last, before }) => square({ re: last.re - before.re, im: last.im - before.im }) <= ALIKE * ALIKE * square(last),
      );
      answer = read.map(({ last: { re, im }, distortion }) => ({ re: re / amplitude, im: im / amplitude, distortion }));
      yield (n + Math.min(0.9, periods / (MOST * PERIODS))) / frequencies.length;
    }
    found.push({ frequency, outputs: answer, settled, periods });
  }
  return found;
}
