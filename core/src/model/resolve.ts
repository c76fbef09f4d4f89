/** From the file's raw values to checked SI values: parameters, then every field of every element. */
import { type Diagnosis, type ElementRef, jsonPath } from '../diagnosis';
import type { Program } from '../formula/program';
import type { Table } from '../formula/table';
import { D, type Dimension } from '../quantity/dimension';
import { type Model, type RawElement, nameClashes } from './document';
import { expand } from './expand';
import { FAMILIES, type Family, onlyReads } from './families';
import { FieldValues } from './field-values';
import { Formulas } from './formula-values';
import { kindOf } from './kinds';
import type { LiveValue } from './parameters';
import { placeInstances } from './place-instances';
import type { ResolvedElement } from './resolved-element';
import type { Analysis, Method, Planar, RunFormula } from './run-settings';
import { byFamily, findOff } from './switched-off';

export type { LiveValue, ResolvedElement };

export interface Resolution {
  /** The model with its instances written out: first what stands in it, at the same places, then what they bring. */
  model: Model;
  diagnoses: Diagnosis[];
  /** Elements in use (not switched off, nothing they refer to switched off), without errors of their own. */
  elements: Record<Family, ResolvedElement[]>;
  /** By JSON path. */
  live: Map<string, LiveValue>;
  run: { until: number; every: number; accuracy: number; longest?: number; analysis: Analysis; method: Method; planar: Planar };
  /** Names of elements switched off by hand or because of what they refer to, by family. */
  off: Record<Family, Set<string>>;
  tables: ReadonlyMap<string, Table>;
  /** A formula with the parameters and tables of the model, of time, and of gauges whose dimensions are given. @throws FormulaError */
  compile(text: string, gauge: (name: string) => Dimension | undefined): Program;
}

/** What only reads or shows stops no run: in error it is left out, and listed. */
export const leftOut = (d: Diagnosis): Diagnosis => ({
  ...d,
  severity: 'warning',
  why: d.why ?? 'It is left out of runs until it is mended; nothing else is affected.',
});
/** A limit that is to stop runs must be there, or a run would go on past it. */
export const stopsRuns = (model: Model, { family, name }: ElementRef): boolean =>
  family === 'limits' && model.limits.some((l) => l.name === name && l.then === 'stop' && !l.off);

/**
 * All values of a model, checked, in SI; what is wrong is among the diagnoses. Never throws for a fault of the model.
 * @param like of a model that differs from it in a few values alone: what is the same there is taken over
 */
export function resolve(given: Model, like?: Resolution): Resolution {
  const expanded = expand(given);
  const { model } = expanded;
  const diagnoses: Diagnosis[] = [...nameClashes(model), ...expanded.diagnoses];
  const off = findOff(model);
  const formulas = new Formulas(model, off, diagnoses);
  const run = runSettings(model, formulas, diagnoses);
  formulas.until = run.until;
  const elements = elementsInUse(
    model,
    off,
    new FieldValues(model, formulas, diagnoses, off),
    diagnoses,
    like && sameAs(like, model, formulas),
  );
  diagnoses.forEach((d, i) => {
    if (d.severity === 'error' && d.element && onlyReads(d.element.family) && !stopsRuns(model, d.element)) diagnoses[i] = leftOut(d);
  });
  placeInstances(elements, expanded, diagnoses);
  const { live, tables, compile } = formulas;
  return { model, diagnoses, elements, live, run, off, tables, compile };
}

function runSettings(model: Model, formulas: Formulas, diagnoses: Diagnosis[]): Resolution['run'] {
  const setting = (key: RunFormula, wanted: Dimension, fallback: number): number => {
    const path = ['run', key];
    const p = formulas.read(model.run[key]!, wanted, { path });
    if (p && p.v > 0) return p.v;
    if (p) diagnoses.push({ code: 'value-range', severity: 'error', message: 'This run setting must be greater than zero.', path });
    return fallback;
  };
  return {
    until: setting('until', D.time, 1),
    every: setting('every', D.time, 1e-3),
    accuracy: setting('accuracy', D.none, 1e-6),
    ...(model.run.longest === undefined ? {} : { longest: setting('longest', D.time, Infinity) }),
    analysis: (model.run.analysis ?? 'dynamic') as Analysis,
    method: (model.run.method ?? 'auto') as Method,
    planar: (model.run.planar ?? 'auto') as Planar,
  };
}

/** Elements whose values are those they have in another model, as far as they are the same in both, with all that they name. */
function sameAs(like: Resolution, model: Model, { live }: Formulas): Known {
  const { tables, run, ground, instances } = like.model,
    known = byFamily((key) => new Map(like.elements[key].map((e) => [e.index, e])));
  if (tables !== model.tables || run !== model.run || ground !== model.ground || instances !== model.instances || instances?.length)
    return () => undefined;
  const value = (of: Resolution['live'], i: number) => of.get(jsonPath(['parameters', i, 'value']))?.value,
    others = model.parameters.flatMap(({ name }, i) => (value(live, i) === value(like.live, i) ? [] : [name]));
  return (family, index, raw) => {
    if (raw !== like.model[family][index]) return undefined;
    const text = others.length > 0 ? JSON.stringify(raw) : '';
    return others.some((name) => text.includes(name)) ? undefined : known[family].get(index);
  };
}
type Known = (family: Family, index: number, raw: RawElement) => ResolvedElement | undefined;

function elementsInUse(
  model: Model,
  off: Resolution['off'],
  fieldValues: FieldValues,
  diagnoses: Diagnosis[],
  same?: Known,
): Resolution['elements'] {
  const elements = byFamily((): ResolvedElement[] => []);
  for (const { key: family, one } of FAMILIES) {
    if (family === 'parameters' || family === 'tables') continue;
    model[family].forEach((raw, index) => {
      const { name } = raw;
      if (off[family].has(name)) return;
      const element = { family, name };
      const kind = kindOf(family, raw);
      if (!kind) {
        const message = `There is no kind of ${one} called “${raw.kind}”.`;
        diagnoses.push({ code: 'kind-unknown', severity: 'error', message, path: [family, index, 'kind'], element });
        return;
      }
      if (kind.standsIn) return;
      const known = same?.(family, index, raw);
      if (known) return void elements[family].push(known);
      const before = diagnoses.length;
      const values = fieldValues.of(element, index, kind.fields, raw);
      if (!diagnoses.slice(before).some((d) => d.severity === 'error')) elements[family].push({ family, index, name, kind, values });
    });
  }
  return elements;
}
