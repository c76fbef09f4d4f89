/** Scores, workings and limits of a model, measured in a run that is recorded: what the page and the command line show. All values in SI. */
import { Refusal, refuse } from '../diagnosis';
import { FormulaError } from '../formula/parse';
import type { Resolution } from '../model/resolve';
import { type Dimension, compatible } from '../quantity/dimension';
import { shownUnit } from '../quantity/units';
import { askFaults } from './score-faults';
import { type LimitAsked, type ScoreAsked, type Series, type Violation, scoreOf, violations, worstOf } from './scores';

interface Measured {
  name: string;
  dim?: Dimension;
  /** In which it is shown. */
  unit?: string;
  /** Why it has no value. */
  fault?: string;
}
export interface ScoreMeasured extends Measured {
  gauge: string;
  of: string;
  value?: number;
  /** When it is reached, s. */
  at?: number;
}
/** A value worked out by hand, and the score it is compared with. */
export interface WorkingMeasured extends Measured {
  hand?: number;
  measured?: number;
  /** Relative to the value by hand. */
  difference?: number;
  /** The difference is larger than its tolerance. */
  bad?: boolean;
}
/** How a limit fared. It is kept where nothing passed it and it has no fault. */
export interface LimitMeasured extends Measured {
  gauge: string;
  /** Levels that the gauge must not pass. */
  bounds: number[];
  passed: Violation[];
  /** The passage farthest outside. */
  worst?: Violation;
}

/** What is measured, and where it is read. */
export interface Measuring {
  /** Of the model whose scores, workings and limits are asked. */
  resolution: Resolution;
  /** A gauge over the run. @throws Refusal when it cannot be read */
  series(gauge: string): Series;
  /** The unit in which a gauge is shown, when it has one of its own. */
  unitOf(gauge: string): string | undefined;
}

type Value = { value: number; dim: Dimension };

const given = (v: unknown): boolean => v !== undefined && v !== '';

/** One measuring: rows in the order of the file; scores first, then workings, each of which may use what stands above it, then limits. */
class Measurement {
  /** What formulas in braces may take in. */
  private readonly known = new Map<string, Value>();

  constructor(private readonly asked: Measuring) {}

  /** The values of an element. @param of dimension of the gauge that its levels are of @throws Refusal when it is in error */
  private values(family: 'scores' | 'limits' | 'workings', name: string, of?: Dimension): Readonly<Record<string, unknown>> {
    const { resolution } = this.asked,
      found = resolution.elements[family].find((e) => e.name === name);
    if (!found || (family !== 'workings' && of && askFaults(resolution, family, found, of).length > 0))
      return refuse({ code: 'in-error', message: 'It is in error: see the checks.' });
    return found.values;
  }

  /** A formula of what was measured. @throws FormulaError, Refusal when it has no value */
  private workOut(text: string): Value {
    const p = this.asked.resolution.compile(text, (name) => this.known.get(name)?.dim);
    for (const input of p.inputs) p.set(input, this.known.get(input.gauge)!.value);
    const { v: value } = p.at(0);
    return Number.isFinite(value) ? { value, dim: p.dim } : refuse({ code: 'work-out', message: 'The value is not a finite number.' });
  }

  private unitOf(gauge: string, dim: Dimension, own: Dimension): string {
    return (compatible(dim, own) ? this.asked.unitOf(gauge) : undefined) ?? shownUnit(dim);
  }

  score(name: string, raw: Readonly<Record<string, unknown>>): ScoreMeasured {
    const gauge = String(raw.gauge ?? ''),
      of = String(raw.of ?? 'peak');
    return {
      name,
      gauge,
      of,
      ...attempt(() => {
        const own = this.asked.series(gauge),
          { other: named } = this.values('scores', name) as { other?: string },
          other = named ? this.asked.series(named) : undefined;
        const s = scoreOf(this.values('scores', name, (other ?? own).dim) as unknown as ScoreAsked, own, other);
        this.known.set(name, s);
        return { ...s, unit: this.unitOf(gauge, s.dim, own.dim) };
      }),
    };
  }

  working(name: string, raw: Readonly<Record<string, unknown>>, scores: readonly ScoreMeasured[]): WorkingMeasured {
    return {
      name,
      ...attempt(() => {
        const { tolerance } = this.values('workings', name) as { tolerance?: number };
        const { value: hand, dim } = this.workOut(String(raw.value ?? ''));
        this.known.set(name, { value: hand, dim });
        return {
          hand,
          dim,
          unit: shownUnit(dim),
          ...(given(raw.score) ? compared(hand, dim, tolerance ?? 0.01, String(raw.score), scores) : {}),
        };
      }),
    };
  }

  limit(name: string, raw: Readonly<Record<string, unknown>>): LimitMeasured {
    const gauge = String(raw.gauge ?? '');
    const none = { name, gauge, bounds: [], passed: [] };
    return {
      ...none,
      ...attempt(() => {
        const own = this.asked.series(gauge),
          asked = { ...this.values('limits', name, own.dim) } as LimitAsked;
        for (const key of ['low', 'high'] as const) {
          const text = raw[key];
          if (typeof text !== 'string' || !text.includes('{')) continue;
          const { value, dim } = this.workOut(text);
          // zero is zero of any quantity
          if (value !== 0 && !compatible(dim, own.dim))
            refuse({ code: 'limit-level', message: 'What was measured is another quantity than the gauge.' });
          asked[key] = value;
        }
        const { low, high } = asked,
          passed = violations(asked, own),
          worst = worstOf(passed, asked);
        return {
          dim: own.dim,
          unit: this.unitOf(gauge, own.dim, own.dim),
          bounds: [low, high, asked.of === 'size' && high !== undefined ? -high : undefined].filter((x) => x !== undefined),
          passed,
          ...(worst ? { worst } : {}),
        };
      }),
    };
  }
}

/** A value by hand beside the score it is compared with; in the score's unit. */
function compared(
  hand: number,
  dim: Dimension,
  tolerance: number,
  name: string,
  scores: readonly ScoreMeasured[],
): Omit<WorkingMeasured, 'name'> {
  const score = scores.find((s) => s.name === name);
  if (score?.value === undefined || !score.dim) return { fault: score?.fault ?? `There is no score “${name}”.` };
  if (!compatible(score.dim, dim)) return { fault: 'What was measured is another quantity.' };
  const difference = hand === 0 ? (score.value === 0 ? 0 : Infinity) : score.value / hand - 1;
  return { unit: score.unit!, measured: score.value, difference, bad: Math.abs(difference) > tolerance };
}

/** What is found, or why it is not, in words. */
function attempt<T>(find: () => T): T | { fault: string } {
  try {
    return find();
  } catch (e) {
    if (e instanceof Refusal || e instanceof FormulaError) return { fault: e.message };
    throw e;
  }
}

/** All that a model asks of a run. @throws nothing: what cannot be measured says so */
export function measured(asked: Measuring): { scores: ScoreMeasured[]; workings: WorkingMeasured[]; limits: LimitMeasured[] } {
  const { model, off } = asked.resolution,
    m = new Measurement(asked);
  const rows = (family: 'scores' | 'workings' | 'limits') => model[family].filter((e) => !off[family].has(e.name));
  const scores = rows('scores').map((e) => m.score(e.name, e));
  const workings = rows('workings').map((e) => m.working(e.name, e, scores));
  return { scores, workings, limits: rows('limits').map((e) => m.limit(e.name, e)) };
}
