/** What a declaration's rules come to for an element as it stands in the model. */
import { type Dimension, divide } from '../quantity/dimension';
import type { Model, RawElement } from './document';
import type { Asked, Field, Fields, RefField } from './fields';
import { kindOf } from './kinds';

export type FreedomType = 'rotation' | 'translation';

/** Which freedom of a joint is meant: the one named, or the first; undefined while the joint is not chosen. */
export function freedomNamed(model: Model, joint: unknown, named: unknown): FreedomType | undefined {
  const raw = model.joints.find((j) => j.name === joint);
  const freedoms = (raw && kindOf('joints', raw)?.freedoms) ?? [];
  return freedoms.find((f) => f === named) ?? freedoms[0];
}

const standing = (fields: Fields, e: RawElement, key: string): unknown => {
  const f = fields[key];
  return e[key] ?? (f && 'default' in f ? f.default : undefined);
};

/** Whether a field is asked for. */
export function applies(f: Field, fields: Fields, e: RawElement): boolean {
  if (!f.when) return true;
  const value = standing(fields, e, f.when.field);
  return f.when.is ? f.when.is.includes(String(value)) : value !== undefined && value !== '';
}

/** Whether an element is of a kind that a reference means. */
export function fits(f: RefField, model: Model, name: string): boolean {
  const e = f.that && model[f.family].find((x) => x.name === name);
  return !e || !!kindOf(f.family, e)?.[f.that!];
}

const isRule = (a: Asked): a is Exclude<Asked, Dimension | undefined> => a !== undefined && !Array.isArray(a);

/** The dimension a field asks for; undefined accepts any. */
export function askedDimension(a: Asked, fields: Fields, e: RawElement, model: Model): Dimension | undefined {
  if (!isRule(a)) return a;
  if ('choose' in a) {
    const chosen = String(standing(fields, e, a.choose));
    return Object.hasOwn(a.cases, chosen) ? askedDimension(a.cases[chosen], fields, e, model) : undefined;
  }
  if ('joint' in a) {
    const type = freedomNamed(model, e[a.joint], e[a.freedom]);
    return type && a[type];
  }
  const [over, under] = a.quotient.map((x) => askedDimension(x, fields, e, model));
  return over && under && divide(over, under);
}
