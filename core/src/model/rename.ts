/** Renaming an element rewrites every reference to it, formulas included. */
import { type Named, renameIn } from '../formula/parse';
import type { Model, RawElement, RawValue } from './document';
import { FAMILIES, type Family } from './families';
import { kindOf } from './kinds';

/** How an element of a family is named in formulas. */
const NAMED: Partial<Record<Family, Named>> = { parameters: 'name', tables: 'call', gauges: 'gauge' };

/** The model with one element (or the ground body) renamed throughout; the given model is not changed. */
export function rename(model: Model, family: Family, from: string, to: string): Model {
  const what = NAMED[family];
  const formula = (v: RawValue): RawValue =>
    typeof v === 'string' && what ? renameIn(v, from, to, what) : Array.isArray(v) ? (v.map((x) => formula(x as RawValue)) as RawValue) : v;
  const refer = (v: RawValue): RawValue =>
    Array.isArray(v) ? (v.map((x) => (x === from ? to : x)) as RawValue) : v === from ? to : v;

  const element = (own: Family, e: RawElement): RawElement => {
    const out: RawElement = { ...e };
    if (own === family && e.name === from) out.name = to;
    for (const [key, f] of Object.entries(kindOf(own, e)?.fields ?? {})) {
      const v = e[key] as RawValue;
      if (v === undefined) continue;
      if (f.type === 'ref' || f.type === 'refs') {
        if (f.family === family) out[key] = refer(v);
      } else if (what && (f.type === 'quantity' || f.type === 'vector')) out[key] = formula(v);
    }
    return out;
  };
  const changed = Object.fromEntries(FAMILIES.map(({ key }) => [key, model[key].map((e) => element(key, e))]));
  const run = what ? { until: formula(model.run.until), every: formula(model.run.every), accuracy: formula(model.run.accuracy) } : model.run;
  const ground = family === 'bodies' && model.ground === from ? to : model.ground;
  return { ...model, ...changed, run, ground } as Model;
}
