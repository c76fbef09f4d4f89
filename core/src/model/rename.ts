/** Renaming an element rewrites every reference to it, formulas included. */
import { type Named, renameAll, renameIn } from '../formula/parse';
import { mapAssigned } from './assigned';
import { type Model, type RawElement, type RawValue, contentOf } from './document';
import { FAMILIES, type Family } from './families';
import { takesFormula } from './fields';
import { inFormulas } from './instance-names';
import { kindOf } from './kinds';
import { RUN_FORMULAS } from './run-settings';

/** How an element of a family is named in formulas. */
const NAMED: Partial<Record<Family, Named>> = { parameters: 'name', tables: 'call', gauges: 'gauge' };

/** The model with one element (or the ground body) renamed throughout; the given model is not changed. */
export function rename(model: Model, family: Family, from: string, to: string): Model {
  if (family === 'instances') return renameInstance(model, from, to);
  const what = NAMED[family];
  const measured = family === 'scores' || family === 'workings';
  const formula = (v: RawValue): RawValue =>
    typeof v === 'string' && what ? renameIn(v, from, to, what) : Array.isArray(v) ? (v.map((x) => formula(x as RawValue)) as RawValue) : v;
  const refer = (v: RawValue): RawValue => (Array.isArray(v) ? (v.map((x) => (x === from ? to : x)) as RawValue) : v === from ? to : v);

  const element = (own: Family, e: RawElement): RawElement => {
    const out: RawElement = { ...e };
    if (own === family && e.name === from) out.name = to;
    for (const [key, f] of Object.entries(kindOf(own, e)?.fields ?? {})) {
      const v = e[key] as RawValue;
      if (v === undefined) continue;
      if (f.type === 'ref' || f.type === 'refs') {
        if (f.family === family) out[key] = refer(v);
      } else if (f.type === 'quantity' && f.scores && (measured || family === 'gauges')) {
        // braces there mean what was measured, and not gauges
        if (measured && typeof v === 'string') out[key] = renameIn(v, from, to, 'gauge');
      } else if (what && takesFormula(f)) out[key] = formula(v);
      else if (f.type === 'assigned' && typeof v === 'string')
        out[key] = mapAssigned(
          v,
          (n) => n,
          (x) => (f.to === 'parameters' ? String(formula(x)) : family === 'bodies' && x === from ? to : x),
        );
    }
    // instances within kits name kits too
    if (family === 'kits' && own === 'kits')
      return { ...out, content: rename({ ...contentOf(e), kits: [] }, 'kits', from, to) } as unknown as RawElement;
    return out;
  };
  const changed = Object.fromEntries(FAMILIES.map(({ key }) => [key, model[key].map((e) => element(key, e))]));
  const run = what
    ? { ...model.run, ...Object.fromEntries(RUN_FORMULAS.filter((k) => model.run[k] !== undefined).map((k) => [k, formula(model.run[k])])) }
    : model.run;
  const ground = family === 'bodies' && model.ground === from ? to : model.ground;
  return { ...model, ...changed, run, ground } as Model;
}

/** What an instance brings is named after it: `Left/Arm`, and in formulas `Left.length`. */
function renameInstance(model: Model, from: string, to: string): Model {
  const member = (n: string): string | undefined =>
    n.startsWith(`${from}/`) || (n.startsWith(`${from} `) && /^\d+\//.test(n.slice(from.length + 1)))
      ? to + n.slice(from.length)
      : undefined;
  const [before, after] = [inFormulas(from), inFormulas(to)];
  const formula = (text: string) =>
    renameAll(text, (n, what) =>
      what === 'gauge'
        ? (member(n) ?? n)
        : n.startsWith(`${before}.`) || (n.startsWith(`${before}_`) && /^_\d+\./.test(n.slice(before.length)))
          ? after + n.slice(before.length)
          : n,
    );
  const one = (family: Family, v: string) => (family === 'instances' && v === from ? to : (member(v) ?? v));
  return {
    ...model,
    ...Object.fromEntries(
      FAMILIES.map(({ key }) => [
        key,
        model[key].map((e) => {
          const out: RawElement = key === 'instances' && e.name === from ? { ...e, name: to } : { ...e };
          for (const [field, f] of Object.entries(kindOf(key, e)?.fields ?? {})) {
            const v = out[field] as RawValue;
            if (f.type === 'ref' && typeof v === 'string') out[field] = one(f.family, v);
            else if (f.type === 'refs' && Array.isArray(v)) out[field] = v.map((x) => one(f.family, String(x)));
            else if (takesFormula(f) && typeof v === 'string') out[field] = formula(v);
            else if (f.type === 'vector' && Array.isArray(v))
              out[field] = v.map((x) => (typeof x === 'string' ? formula(x) : x)) as RawValue;
            else if (f.type === 'assigned' && typeof v === 'string')
              out[field] = mapAssigned(
                v,
                (n) => n,
                (x) => (f.to === 'parameters' ? formula(x) : one('bodies', x)),
              );
          }
          return out;
        }),
      ]),
    ),
  } as Model;
}

/** A parameter or mount of a kit gets another name: what instances of the kit give it goes along. @param model with the kit already changed */
export function renameInInstances(model: Model, kit: string, family: Family, from: string, to: string): Model {
  const instances = (list: readonly RawElement[]) =>
    list.map((e): RawElement => {
      if (e.kit !== kit) return e;
      const out = { ...e };
      for (const [field, f] of Object.entries(kindOf('instances', e)?.fields ?? {})) {
        const v = out[field];
        if (f.type === 'assigned' && typeof v === 'string' && (family === 'parameters') === (f.to === 'parameters'))
          out[field] = mapAssigned(
            v,
            (n) => (n === from ? to : n),
            (x) => x,
          );
      }
      return out;
    });
  return {
    ...model,
    instances: instances(model.instances),
    kits: model.kits.map(
      (k) => ({ ...k, content: { ...contentOf(k), instances: instances(contentOf(k).instances) } }) as unknown as RawElement,
    ),
  };
}
