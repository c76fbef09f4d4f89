/** Scores, workings and limits of a model, measured in a finished run. */
import { Refusal } from '../diagnosis';
import { FormulaError } from '../formula/parse';
import { type Dimension, compatible } from '../quantity/dimension';
import { readUnit, shownUnit } from '../quantity/units';
import type { Mechanism } from '../system/mechanism';
import { type LimitAsked, type ScoreAsked, type Series, scoreOf, violations, worstOf } from './scores';

export interface Measured {
  name: string;
  /** In `unit`; left out where it has none, for the reason in `fault`. */
  value?: number;
  unit?: string;
  fault?: string;
}
export interface ScoreMeasured extends Measured {
  gauge: string;
  of: string;
  /** When it is reached, s. */
  at?: number;
}
export interface LimitMeasured {
  name: string;
  gauge: string;
  /** Left out where that cannot be told, for the reason in `fault`. */
  kept?: boolean;
  /** The value farthest outside, in `unit`, and when, s. */
  worst?: number;
  unit?: string;
  at?: number;
  fault?: string;
}

/** What formulas in braces may take in: numbers in SI. */
type Known = Map<string, { value: number; dim: Dimension }>;

/** @param series a gauge over the run @throws nothing: what cannot be measured says so */
export function measured(
  m: Mechanism,
  series: (gauge: string) => Series,
): { scores: ScoreMeasured[]; workings: Measured[]; limits: LimitMeasured[] } {
  const { elements, model } = m.resolution,
    known: Known = new Map();
  const worded = <T>(act: () => T): T | { fault: string } => {
    try {
      return act();
    } catch (e) {
      if (e instanceof Refusal || e instanceof FormulaError) return { fault: e.message };
      throw e;
    }
  };
  const unitOf = (gauge: string, dim: Dimension) => {
    const c = m.channel(gauge);
    return c.unit !== undefined && compatible(c.dim, dim) ? c.unit : shownUnit(dim);
  };
  /** A formula of what was measured. */
  const workOut = (text: string): { value: number; dim: Dimension } => {
    const p = m.resolution.compile(text, (name) => known.get(name)?.dim);
    for (const input of p.inputs) p.set(input, known.get(input.gauge)!.value);
    return { value: p.at(0).v, dim: p.dim };
  };
  const shown = (value: number, unit: string) => ({ value: value / (readUnit(unit)?.factor ?? 1), unit });

  const scores = elements.scores.map(({ name, values }): ScoreMeasured => {
    const { gauge, other, of } = values as { gauge: string; other?: string; of: string };
    return {
      name,
      gauge,
      of,
      ...worded(() => {
        const s = scoreOf(values as unknown as ScoreAsked, series(gauge), other ? series(other) : undefined);
        known.set(name, { value: s.value, dim: s.dim });
        return { ...shown(s.value, unitOf(gauge, s.dim)), ...(s.at === undefined ? {} : { at: s.at }) };
      }),
    };
  });
  const workings = elements.workings.map(({ name, index }): Measured => ({
    name,
    ...worded(() => {
      const own = workOut(String(model.workings[index]!.value ?? ''));
      known.set(name, own);
      return shown(own.value, shownUnit(own.dim));
    }),
  }));
  const limits = elements.limits.map(({ name, values, index }): LimitMeasured => {
    const { gauge } = values as { gauge: string };
    return {
      name,
      gauge,
      ...worded(() => {
        const own = series(gauge),
          raw = model.limits[index]!,
          asked: Record<string, unknown> = { ...values };
        for (const key of ['low', 'high'])
          if (typeof raw[key] === 'string' && raw[key].includes('{')) {
            const { value, dim } = workOut(raw[key]);
            // zero is zero of any quantity
            if (value !== 0 && !compatible(dim, own.dim)) return { fault: 'What was measured is another quantity than the gauge.' };
            asked[key] = value;
          }
        const worst = worstOf(violations(asked as LimitAsked, own), asked as LimitAsked),
          unit = unitOf(gauge, own.dim);
        return worst ? { kept: false, worst: shown(worst.worst, unit).value, unit, at: worst.at } : { kept: true };
      }),
    };
  });
  return { scores, workings, limits };
}
