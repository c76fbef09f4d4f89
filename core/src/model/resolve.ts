/** From the file's raw values to checked SI values: parameters, then every field of every element. */
import type { Diagnosis, ElementRef } from '../diagnosis';
import { jsonPath } from '../diagnosis';
import { FUNCTIONS, CONSTANTS } from '../formula/functions';
import { FormulaError } from '../formula/parse';
import { type Binding, type Program, type Scope, compile } from '../formula/program';
import type { Vec3 } from '../geometry/vector';
import type { Dimension } from '../quantity/dimension';
import { D } from '../quantity/dimension';
import { unitOf } from '../quantity/units';
import { type Model, type RawElement, type RawValue, nameClashes } from './document';
import { FAMILIES, type Family, familyOf } from './families';
import type { Field, Fields, GridField, QuantityField } from './fields';
import { type Table } from '../formula/table';
import { type Kind, kindOf } from './kinds';
import { readTables } from './tables';
import type { Analysis, Method } from './run-settings';
import { applies, askedDimension } from './rules';

/** The value a cell shows beside its formula. */
export interface LiveValue {
  value: number;
  dim: Dimension;
  /** A formula of time; the value is that at t = 0. */
  varies: boolean;
  /** For a formula of time: its values over the run, evenly spaced from 0 to the end. */
  samples?: number[];
}

export interface ResolvedElement {
  family: Family;
  index: number;
  name: string;
  kind: Kind;
  /** By field; see ValuesOf. */
  values: Readonly<Record<string, unknown>>;
}

export interface Resolution {
  model: Model;
  diagnoses: Diagnosis[];
  /** Elements in use (not switched off, nothing they refer to switched off), without errors of their own. */
  elements: Record<Family, ResolvedElement[]>;
  /** By JSON path. */
  live: Map<string, LiveValue>;
  run: { until: number; every: number; accuracy: number; analysis: Analysis; method: Method };
  /** Names of elements switched off by hand or because of what they refer to, by family. */
  off: Record<Family, Set<string>>;
  tables: ReadonlyMap<string, Table>;
}

const SAMPLES = 121;
const IDENTIFIER = /^[A-Za-z_][A-Za-z_0-9]*$/;

export function resolve(model: Model): Resolution {
  const diagnoses: Diagnosis[] = nameClashes(model);
  const live = new Map<string, LiveValue>();
  const off = findOff(model);
  const parameters = resolveParameters(model, diagnoses, live, off.tables);
  const scope = (time: boolean, gauges = false): Scope => ({
    lookup: parameters.lookup, time, names: () => [...model.parameters, ...model.tables].map((p) => p.name),
    table: (name) => parameters.tables.get(name)?.asFunction(name),
    ...(gauges ? { gauge: gaugeDimension } : {}),
  });
  function gaugeDimension(name: string): Dimension | undefined {
    const e = model.gauges.find((g) => g.name === name);
    const kind = e && kindOf('gauges', e);
    if (!e || !kind) return undefined;
    if (off.gauges.has(name)) throw new FormulaError('formula-gauge', `The gauge “${name}” is switched off.`, 0, 0);
    const d = askedDimension(kind.reads, kind.fields, e, model);
    if (!d) throw new FormulaError('formula-gauge', `“${name}” cannot be used in a load: it is known only after the forces are. Use a position, a speed, an angle or a travel.`, 0, 0);
    return d;
  }
  const names = Object.fromEntries(FAMILIES.map(({ key }) => [key, new Set(model[key].map((e) => e.name))])) as Record<Family, Set<string>>;
  names.bodies.add(model.ground);

  const fixed = new Map<Dimension | undefined, Map<string | number, Program>>();
  const formula = (raw: RawValue, path: (string | number)[], wanted: Dimension | undefined, time: boolean, element?: ElementRef, gauges = false): Program | undefined => {
    if (typeof raw !== 'string' && typeof raw !== 'number') {
      diagnoses.push({ code: 'value-missing', severity: 'error', message: 'A value is needed here.', path, ...(element ? { element } : {}) });
      return undefined;
    }
    // fixed values are the same wherever they stand: what is written alike is read once
    const read = time || gauges ? undefined : (fixed.get(wanted) ?? fixed.set(wanted, new Map()).get(wanted)!);
    const known = read?.get(raw);
    if (known) {
      live.set(jsonPath(path), { value: known.v, dim: known.dim, varies: false });
      return known;
    }
    try {
      const p = compile(raw, scope(time, gauges), wanted);
      p.at(0);
      if (read && Number.isFinite(p.v)) read.set(raw, p);
      if (p.inputs.length > 0) return p; // its value is known only while the machine moves
      if (!Number.isFinite(p.v)) throw new FormulaError('formula-not-finite', 'The value is not a finite number.', 0, 0);
      const start = p.v;
      const samples = p.varies ? Array.from({ length: SAMPLES }, (_, i) => p.at((run.until * i) / (SAMPLES - 1)).v) : undefined;
      live.set(jsonPath(path), { value: start, dim: p.dim, varies: p.varies, ...(samples ? { samples } : {}) });
      p.at(0);
      return p;
    } catch (e) {
      if (!(e instanceof FormulaError)) throw e;
      diagnoses.push({ code: e.code, severity: 'error', message: e.message, path, ...(element ? { element } : {}) });
      return undefined;
    }
  };

  const setting = (key: 'until' | 'every' | 'accuracy', wanted: Dimension, fallback: number): number => {
    const p = formula(model.run[key], ['run', key], wanted, false);
    if (p && p.v > 0) return p.v;
    if (p) diagnoses.push({ code: 'value-range', severity: 'error', message: 'This run setting must be greater than zero.', path: ['run', key] });
    return fallback;
  };
  const run = { until: setting('until', D.time, 1), every: setting('every', D.time, 1e-3), accuracy: setting('accuracy', D.none, 1e-5), analysis: (model.run.analysis ?? 'dynamic') as Analysis, method: (model.run.method ?? 'auto') as Method };

  const elements = {} as Record<Family, ResolvedElement[]>;
  for (const { key: family, one } of FAMILIES) {
    elements[family] = [];
    model[family].forEach((raw, index) => {
      if (family === 'parameters' || family === 'tables' || off[family].has(raw.name)) return;
      const element = { family, name: raw.name };
      const kind = kindOf(family, raw);
      if (!kind) {
        diagnoses.push({ code: 'kind-unknown', severity: 'error', message: `There is no kind of ${one} called “${raw.kind}”.`, path: [family, index, 'kind'], element });
        return;
      }
      const values: Record<string, unknown> = {};
      const before = diagnoses.length;
      for (const [key, f] of Object.entries(kind.fields)) {
        if (!applies(f, kind.fields, raw)) continue;
        values[key] = field(f, raw[key] as RawValue, [family, index, key], raw, element, kind.fields);
      }
      if (!diagnoses.slice(before).some((d) => d.severity === 'error')) elements[family].push({ family, index, name: raw.name, kind, values });
    });
  }

  function field(f: Field, raw: RawValue, path: (string | number)[], e: RawElement, element: ElementRef, fields: Fields): unknown {
    const value = raw ?? ('default' in f ? (f.default as RawValue) : undefined);
    if (value === undefined || (value === '' && f.optional)) {
      if (!f.optional) diagnoses.push({ code: 'value-missing', severity: 'error', message: `“${f.label}” is needed.`, path, element });
      return undefined;
    }
    switch (f.type) {
      case 'quantity': return quantityValue(f, value, path, askedDimension(f.dim, fields, e, model), element);
      case 'vector': return vectorValue(f.dim, !!f.direction, f.label, value, path, element);
      case 'choice': {
        if (String(value) in f.options) return value;
        diagnoses.push({ code: 'choice-unknown', severity: 'error', message: `${f.label} can be ${Object.keys(f.options).join(', ')}, not “${String(value)}”.`, path, element });
        return undefined;
      }
      case 'text':
      case 'colour': return String(value);
      case 'grid': return gridValue(f, value, path, element);
      case 'ref': {
        checkReference(f.family, String(value), path, element);
        return value;
      }
      case 'refs': {
        const list = value as readonly string[];
        if (!Array.isArray(list) || list.length < f.min || list.length > f.max) {
          const count = f.min === f.max ? `${f.min}` : `${f.min} to ${f.max}`;
          diagnoses.push({ code: 'reference-count', severity: 'error', message: `${f.label} takes ${count} names.`, path, element });
          return undefined;
        }
        list.forEach((n, k) => checkReference(f.family, n, [...path, k], element));
        return value;
      }
    }
  }

  function quantityValue(f: QuantityField, value: RawValue, path: (string | number)[], wanted: Dimension | undefined, element: ElementRef): number | Program | undefined {
    const p = formula(value, path, wanted, !!f.time, element, !!f.gauges);
    if (!p) return undefined;
    if (f.range && !f.time && (f.range === 'positive' ? !(p.v > 0) : p.v < 0)) {
      diagnoses.push({ code: 'value-range', severity: 'error', message: `${f.label} must ${f.range === 'positive' ? 'be greater than zero' : 'not be negative'}.`, path, element });
      return undefined;
    }
    return f.time ? p : p.v;
  }

  function gridValue(f: GridField, value: RawValue, path: (string | number)[], element: ElementRef): readonly (readonly number[])[] | undefined {
    const rows = value as unknown as readonly (readonly number[])[];
    const good = Array.isArray(rows) && rows.every((r) => Array.isArray(r) && r.length === f.columns && r.every((x) => typeof x === 'number' && Number.isFinite(x)));
    if (good && rows.length >= f.min && rows.length <= f.max) return rows;
    const count = f.min === f.max ? `${f.min} rows` : `at least ${f.min} rows`;
    diagnoses.push({ code: 'value-grid', severity: 'error', message: `${f.label} takes ${count} of ${f.columns} plain numbers.`, path, element });
    return undefined;
  }

  /** Plain numbers are in SI units; a zero needs no value beside it. */
  function numbers(value: readonly number[], path: readonly (string | number)[], d: Dimension): readonly number[] {
    value.forEach((x, k) => x !== 0 && live.set(`${jsonPath(path)}[${k}]`, { value: x, dim: d, varies: false }));
    return value;
  }

  function vectorValue(d: Dimension, direction: boolean, label: string, value: RawValue, path: (string | number)[], element: ElementRef): Vec3 | undefined {
    if (!Array.isArray(value) || value.length !== 3) {
      diagnoses.push({ code: 'value-vector', severity: 'error', message: `${label} takes three values: x, y, z.`, path, element });
      return undefined;
    }
    const parts = value.every((x) => typeof x === 'number' && Number.isFinite(x)) ? numbers(value as number[], path, d) : (value as (number | string)[]).map((x, k) => formula(x, [...path, k], d, false, element)?.v);
    if (parts.some((x) => x === undefined)) return undefined;
    if (direction && parts.every((x) => x === 0)) {
      diagnoses.push({ code: 'direction-zero', severity: 'error', message: `${label} has no direction: all three parts are zero.`, path, element });
      return undefined;
    }
    return parts as unknown as Vec3;
  }

  function checkReference(family: Family, name: string, path: (string | number)[], element: ElementRef): void {
    if (names[family].has(name)) return;
    diagnoses.push({ code: 'reference-missing', severity: 'error', message: `There is no ${familyOf(family).one} “${name}”.`, path, element, remedy: 'Choose another, or make one of this name.' });
  }

  return { model, diagnoses, elements, live, run, off, tables: parameters.tables };
}

/** Names switched off, and those that refer to something switched off. */
function findOff(model: Model): Record<Family, Set<string>> {
  const off = Object.fromEntries(FAMILIES.map(({ key }) => [key, new Set(model[key].filter((e) => e.off).map((e) => e.name))])) as Record<Family, Set<string>>;
  for (let grown = true; grown; ) {
    grown = false;
    for (const { key } of FAMILIES) {
      for (const e of model[key]) {
        if (off[key].has(e.name)) continue;
        const lost = Object.entries(kindOf(key, e)?.fields ?? {}).some(([k, f]) => {
          const v = e[k];
          if (f.type === 'ref') return typeof v === 'string' && off[f.family].has(v);
          return f.type === 'refs' && Array.isArray(v) && v.some((x) => off[f.family].has(String(x)));
        });
        if (!lost) continue;
        off[key].add(e.name);
        grown = true;
      }
    }
  }
  return off;
}

function resolveParameters(model: Model, diagnoses: Diagnosis[], live: Map<string, LiveValue>, off: ReadonlySet<string>) {
  const tables = readTables(model, diagnoses, off);
  const byName = new Map(model.parameters.map((p, i) => [p.name, i]));
  const done = new Map<string, Binding | undefined>();
  const stack: string[] = [];

  function evaluate(name: string): Binding | undefined {
    if (done.has(name)) return done.get(name);
    const index = byName.get(name);
    if (index === undefined) return undefined;
    const loop = stack.indexOf(name);
    if (loop >= 0) {
      const circle = [...stack.slice(loop), name].join(' → ');
      throw new FormulaError('formula-cycle', `The formula refers back to itself: ${circle}.`, 0, 0);
    }
    stack.push(name);
    const path = ['parameters', index, 'value'];
    const element: ElementRef = { family: 'parameters', name };
    let result: Binding | undefined;
    try {
      const p = compile((model.parameters[index]!.value ?? '') as string | number, { lookup, time: false, names: () => byName.keys(), table: (n) => tables.get(n)?.asFunction(n) });
      result = { value: p.at(0).v, dim: p.dim };
      if (!Number.isFinite(result.value)) throw new FormulaError('formula-not-finite', 'The value is not a finite number.', 0, 0);
      live.set(jsonPath(path), { ...result, varies: false });
    } catch (e) {
      if (!(e instanceof FormulaError)) throw e;
      result = undefined;
      diagnoses.push({ code: e.code, severity: 'error', message: e.message, path, element });
    }
    stack.pop();
    done.set(name, result);
    return result;
  }

  function lookup(name: string): Binding | undefined {
    if (!byName.has(name)) return undefined;
    const found = evaluate(name);
    if (!found) throw new FormulaError('formula-depends', `It depends on ${name}, which is in error.`, 0, 0);
    return found;
  }

  for (const family of ['parameters', 'tables'] as const) for (const [i, p] of model[family].entries()) {
    const taken = p.name === 't' ? 'time' : unitOf(p.name) ? `the unit ${unitOf(p.name)!.label}` : FUNCTIONS[p.name] ? 'a function' : CONSTANTS[p.name] ? 'a constant' : undefined;
    const element = { family, name: p.name };
    if (taken) diagnoses.push({ code: 'name-reserved', severity: 'error', message: `“${p.name}” is already the name of ${taken}.`, path: [family, i, 'name'], element, remedy: 'Choose another name.' });
    else if (!IDENTIFIER.test(p.name)) diagnoses.push({ code: 'name-identifier', severity: 'error', message: `The name of a ${familyOf(family).one} is used in formulas: letters, digits and _ only, not starting with a digit.`, path: [family, i, 'name'], element });
  }
  for (const p of model.parameters) evaluate(p.name);
  return { lookup, tables };
}
