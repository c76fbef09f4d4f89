/** From the file's raw values to checked SI values: parameters, then every field of every element. */
import type { Diagnosis, ElementRef } from '../diagnosis';
import { Refusal, jsonPath, refuse } from '../diagnosis';
import { FormulaError, LARGEST, mustBeUsable } from '../formula/parse';
import { type Program, type Scope, compile } from '../formula/program';
import type { Vec3 } from '../geometry/vector';
import type { Dimension } from '../quantity/dimension';
import { D } from '../quantity/dimension';
import { type Model, type RawElement, type RawValue, nameClashes } from './document';
import { FAMILIES, type Family, familyOf, onlyReads } from './families';
import { type Field, type Fields, type GridField, type QuantityField, afterRun } from './fields';
import { type Table } from '../formula/table';
import { type Kind, kindOf } from './kinds';
import { readAssigned } from './assigned';
import { carried, carriedPoint } from './moved-values';
import { expand } from './expand';
import { HERE, type InstanceKind, type Placing, commonTail, inverse, placingsOf, together } from './instances';
import { type Pose } from './layout';
import { type LiveValue, resolveParameters } from './parameters';
import type { Analysis, Method } from './run-settings';
import { applies, askedDimension } from './rules';

export type { LiveValue };

export interface ResolvedElement {
  family: Family;
  index: number;
  name: string;
  kind: Kind;
  /** By field; see ValuesOf. */
  values: Readonly<Record<string, unknown>>;
  /** Of an element of an instance: the motion that puts it in its place. */
  by?: Pose;
  /** Of a point: the motion of where it is as drawn, its body not coming along. */
  moved?: Pose;
}

export interface Resolution {
  /** The model with its instances written out: first what stands in it, at the same places, then what they bring. */
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
  /** A formula with the parameters and tables of the model, of time, and of gauges whose dimensions are given. @throws FormulaError */
  compile(text: string, gauge: (name: string) => Dimension | undefined): Program;
}

const SAMPLES = 121;

/** What only reads or shows stops no run: in error it is left out, and listed. */
export const leftOut = (d: Diagnosis): Diagnosis => ({
  ...d,
  severity: 'warning',
  why: d.why ?? 'It is left out of runs until it is mended; nothing else is affected.',
});
/** A limit that is to stop runs must be there, or a run would go on past it. */
export const stopsRuns = (model: Model, { family, name }: ElementRef): boolean =>
  family === 'limits' && model.limits.some((l) => l.name === name && l.then === 'stop' && !l.off);

export function resolve(given: Model): Resolution {
  const expanded = expand(given);
  const { model } = expanded;
  const diagnoses: Diagnosis[] = [...nameClashes(model), ...expanded.diagnoses];
  const live = new Map<string, LiveValue>();
  const off = findOff(model);
  const parameters = resolveParameters(model, diagnoses, live, off.tables);
  const scope = (time: boolean, gauges = false): Scope => ({
    lookup: parameters.lookup,
    time,
    names: () => [...model.parameters, ...model.tables].map((p) => p.name),
    table: (name) => parameters.tables.get(name)?.asFunction(name),
    ...(gauges ? { gauge: gaugeDimension } : {}),
  });
  function gaugeDimension(name: string): Dimension | undefined {
    const e = model.gauges.find((g) => g.name === name);
    const kind = e && kindOf('gauges', e);
    if (!e || !kind) return undefined;
    if (off.gauges.has(name)) throw new FormulaError('formula-gauge', `The gauge “${name}” is switched off.`, 0, 0);
    const d = askedDimension(kind.reads, kind.fields, e, model);
    if (!d)
      throw new FormulaError(
        'formula-gauge',
        `“${name}” cannot be used in a load: it is known only after the forces are. Use a position, a speed, an angle or a travel.`,
        0,
        0,
      );
    return d;
  }
  const names = Object.fromEntries(FAMILIES.map(({ key }) => [key, new Set(model[key].map((e) => e.name))])) as Record<Family, Set<string>>;
  names.bodies.add(model.ground);

  const fixed = new Map<Dimension | undefined, Map<string | number, Program>>();
  const formula = (
    raw: RawValue,
    path: (string | number)[],
    wanted: Dimension | undefined,
    time: boolean,
    element?: ElementRef,
    gauges = false,
  ): Program | undefined => {
    if (typeof raw !== 'string' && typeof raw !== 'number') {
      diagnoses.push({
        code: 'value-missing',
        severity: 'error',
        message: 'A value is needed here.',
        path,
        ...(element ? { element } : {}),
      });
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
      if (read && Math.abs(p.v) <= LARGEST) read.set(raw, p);
      if (p.inputs.length > 0) return p; // its value is known only while the machine moves
      mustBeUsable(p.v);
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
    if (p)
      diagnoses.push({
        code: 'value-range',
        severity: 'error',
        message: 'This run setting must be greater than zero.',
        path: ['run', key],
      });
    return fallback;
  };
  const run = {
    until: setting('until', D.time, 1),
    every: setting('every', D.time, 1e-3),
    accuracy: setting('accuracy', D.none, 1e-5),
    analysis: (model.run.analysis ?? 'dynamic') as Analysis,
    method: (model.run.method ?? 'auto') as Method,
  };

  const elements = {} as Record<Family, ResolvedElement[]>;
  for (const { key: family, one } of FAMILIES) {
    elements[family] = [];
    model[family].forEach((raw, index) => {
      if (family === 'parameters' || family === 'tables' || off[family].has(raw.name)) return;
      const element = { family, name: raw.name };
      const kind = kindOf(family, raw);
      if (!kind) {
        diagnoses.push({
          code: 'kind-unknown',
          severity: 'error',
          message: `There is no kind of ${one} called “${raw.kind}”.`,
          path: [family, index, 'kind'],
          element,
        });
        return;
      }
      if (kind.standsIn) return;
      const values: Record<string, unknown> = {};
      const before = diagnoses.length;
      for (const [key, f] of Object.entries(kind.fields)) {
        if (!applies(f, kind.fields, raw)) continue;
        values[key] = field(f, raw[key] as RawValue, [family, index, key], raw, element, kind.fields);
      }
      if (!diagnoses.slice(before).some((d) => d.severity === 'error'))
        elements[family].push({ family, index, name: raw.name, kind, values });
    });
  }

  diagnoses.forEach((d, i) => {
    if (d.severity === 'error' && d.element && onlyReads(d.element.family) && !stopsRuns(model, d.element)) diagnoses[i] = leftOut(d);
  });
  carryAll();

  function field(f: Field, raw: RawValue, path: (string | number)[], e: RawElement, element: ElementRef, fields: Fields): unknown {
    const value = raw ?? ('default' in f ? (f.default as RawValue) : undefined);
    if (value === undefined || (value === '' && f.optional)) {
      if (!f.optional) diagnoses.push({ code: 'value-missing', severity: 'error', message: `“${f.label}” is needed.`, path, element });
      return undefined;
    }
    switch (f.type) {
      case 'quantity':
        return afterRun(f, value) ? undefined : quantityValue(f, value, path, askedDimension(f.dim, fields, e, model), element);
      case 'vector':
        return vectorValue(f.dim, !!f.direction, f.label, value, path, element);
      case 'choice': {
        if (String(value) in f.options) return value;
        diagnoses.push({
          code: 'choice-unknown',
          severity: 'error',
          message: `${f.label} can be ${Object.keys(f.options).join(', ')}, not “${String(value)}”.`,
          path,
          element,
        });
        return undefined;
      }
      case 'text':
      case 'colour':
        return String(value);
      case 'assigned': {
        try {
          readAssigned(String(value));
        } catch (fault) {
          if (!(fault instanceof Refusal)) throw fault;
          for (const d of fault.diagnoses) diagnoses.push({ ...d, path, element });
        }
        return value;
      }
      case 'grid':
        return gridValue(f, value, path, element);
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

  function quantityValue(
    f: QuantityField,
    value: RawValue,
    path: (string | number)[],
    wanted: Dimension | undefined,
    element: ElementRef,
  ): number | Program | undefined {
    const p = formula(value, path, wanted, !!f.time, element, !!f.gauges);
    if (!p) return undefined;
    if (f.range && !f.time && (f.range === 'positive' ? !(p.v > 0) : p.v < 0)) {
      diagnoses.push({
        code: 'value-range',
        severity: 'error',
        message: `${f.label} must ${f.range === 'positive' ? 'be greater than zero' : 'not be negative'}.`,
        path,
        element,
      });
      return undefined;
    }
    return f.time ? p : p.v;
  }

  function gridValue(
    f: GridField,
    value: RawValue,
    path: (string | number)[],
    element: ElementRef,
  ): readonly (readonly number[])[] | undefined {
    const rows = value as unknown as readonly (readonly number[])[];
    const good =
      Array.isArray(rows) &&
      rows.every((r) => Array.isArray(r) && r.length === f.columns && r.every((x) => typeof x === 'number' && Math.abs(x) <= LARGEST));
    if (good && rows.length >= f.min && rows.length <= f.max) return rows;
    const count = f.min === f.max ? `${f.min} rows` : `at least ${f.min} rows`;
    diagnoses.push({
      code: 'value-grid',
      severity: 'error',
      message: `${f.label} takes ${count} of ${f.columns} plain numbers.`,
      path,
      element,
    });
    return undefined;
  }

  /** Plain numbers are in SI units; a zero needs no value beside it. */
  function numbers(value: readonly number[], path: readonly (string | number)[], d: Dimension): readonly number[] {
    value.forEach((x, k) => x !== 0 && live.set(`${jsonPath(path)}[${k}]`, { value: x, dim: d, varies: false }));
    return value;
  }

  function vectorValue(
    d: Dimension,
    direction: boolean,
    label: string,
    value: RawValue,
    path: (string | number)[],
    element: ElementRef,
  ): Vec3 | undefined {
    if (!Array.isArray(value) || value.length !== 3) {
      diagnoses.push({ code: 'value-vector', severity: 'error', message: `${label} takes three values: x, y, z.`, path, element });
      return undefined;
    }
    const parts = value.every((x) => typeof x === 'number' && Math.abs(x) <= LARGEST)
      ? numbers(value as number[], path, d)
      : (value as (number | string)[]).map((x, k) => formula(x, [...path, k], d, false, element)?.v);
    if (parts.some((x) => x === undefined)) return undefined;
    if (direction && parts.every((x) => x === 0)) {
      diagnoses.push({
        code: 'direction-zero',
        severity: 'error',
        message: `${label} has no direction: all three parts are zero.`,
        path,
        element,
      });
      return undefined;
    }
    return parts as unknown as Vec3;
  }

  function checkReference(family: Family, name: string, path: (string | number)[], element: ElementRef): void {
    if (names[family].has(name)) return;
    diagnoses.push({
      code: 'reference-missing',
      severity: 'error',
      message: `There is no ${familyOf(family).one} “${name}”.`,
      path,
      element,
      remedy: 'Choose another, or make one of this name.',
    });
  }

  /** Elements of instances are put in their places. */
  function carryAll(): void {
    if (elements.instances.length === 0) return;
    const named = new Map(elements.instances.map((e) => [e.name, e]));
    // coordinates before anything is carried: those of a path are in the axes of its own instance
    const ground = new Map(elements.points.filter((p) => (p.values.body ?? model.ground) === model.ground).map((p) => [p.name, p]));
    const members = new Map<string, readonly Pose[]>();
    const poses = new Map<readonly Placing[], Pose | undefined>();
    const own = ({ instance, member }: Placing): Pose | undefined => {
      const e = named.get(instance);
      if (!e) return undefined;
      if (!members.has(instance)) {
        members.set(instance, []);
        try {
          const scope = placingsOf(model.instances[e.index]!);
          const at = (name: string): Vec3 => {
            const p = ground.get(name);
            return p && placingsOf(model.points[p.index]!) === scope
              ? (p.values.at as Vec3)
              : refuse({
                  code: 'path-point',
                  message: `The point “${name}” of the path is not given in the axes of the path itself.`,
                  remedy: 'Use points in the ground, made beside the path.',
                });
          };
          members.set(instance, (e.kind as unknown as InstanceKind).members(e.values as never, expanded.counts.get(instance) ?? 1, at));
        } catch (fault) {
          if (!(fault instanceof Refusal)) throw fault;
          for (const d of fault.diagnoses)
            diagnoses.push({ path: ['instances', e.index], element: { family: 'instances', name: instance }, ...d });
        }
      }
      return members.get(instance)![member];
    };
    const poseOf = (placings: readonly Placing[]): Pose | undefined => {
      if (!poses.has(placings))
        poses.set(
          placings,
          placings.reduce<Pose | undefined>((inner, p) => {
            const outer = inner && own(p);
            return outer && together(outer, inner);
          }, HERE),
        );
      return poses.get(placings);
    };
    // what carries: the bodies of each whole, so that what is given in their axes is known to come along
    const carriers = new Map(model.bodies.map((b) => [b.name, placingsOf(b)]));
    for (const { key: family } of FAMILIES) {
      if (family === 'instances') continue;
      elements[family] = elements[family].flatMap((e) => {
        const raw = model[family][e.index]!,
          placings = placingsOf(raw);
        if (placings.length === 0) return [e];
        const by = poseOf(placings);
        // its instance has an error of its own
        if (!by) return [];
        const comes = (body: string) => (carriers.get(body)?.length ?? 0) > 0;
        const values: Record<string, unknown> = { ...e.values };
        for (const [key, f] of Object.entries(e.kind.fields)) {
          if (f.type === 'vector' && values[key] !== undefined)
            values[key] = carried(family, e.kind, e.values as never, f, values[key] as Vec3, by, comes);
        }
        if (family !== 'points') return [{ ...e, values, by }];
        const home = (e.values.body ?? model.ground) as string,
          held = carriers.get(home),
          tail = held ? commonTail(placings, held) : placings;
        // fixed in a body that stays behind, it is moved from where it is drawn, within what carries both
        if (tail.length < placings.length) return [{ ...e, by, moved: together(by, inverse(poseOf(tail) ?? HERE)) }];
        values.at = carriedPoint(e.values.at as Vec3, by, home !== model.ground);
        return [{ ...e, values, by }];
      });
    }
  }

  return {
    model,
    diagnoses,
    elements,
    live,
    run,
    off,
    tables: parameters.tables,
    compile: (text, gauge) => compile(text, { ...scope(true), gauge }, undefined),
  };
}

/** Names switched off, and those that refer to something switched off. */
function findOff(model: Model): Record<Family, Set<string>> {
  const off = Object.fromEntries(FAMILIES.map(({ key }) => [key, new Set(model[key].filter((e) => e.off).map((e) => e.name))])) as Record<
    Family,
    Set<string>
  >;
  for (let grown = true; grown;) {
    grown = false;
    for (const { key } of FAMILIES) {
      for (const e of model[key]) {
        if (off[key].has(e.name)) continue;
        const lost = Object.entries(kindOf(key, e)?.fields ?? {}).some(([k, f]) => {
          const v = e[k];
          // what an instance that is off would bring is off as well
          const gone = (n: string) =>
            off[f.type === 'ref' || f.type === 'refs' ? f.family : key].has(n) ||
            (off.instances.size > 0 && off.instances.has(n.slice(0, Math.max(0, n.indexOf('/')))));
          if (f.type === 'ref') return typeof v === 'string' && gone(v);
          return f.type === 'refs' && Array.isArray(v) && v.some((x) => gone(String(x)));
        });
        if (!lost) continue;
        off[key].add(e.name);
        grown = true;
      }
    }
  }
  return off;
}
