/** Raw values of an element's fields, checked and turned into SI values: formulas compiled, names looked up. */
import type { Diagnosis, ElementRef } from '../diagnosis';
import { Refusal, jsonPath } from '../diagnosis';
import { LARGEST } from '../formula/parse';
import type { Program } from '../formula/program';
import type { Vec3 } from '../geometry/vector';
import { readAssigned } from './assigned';
import type { Model, RawElement, RawValue } from './document';
import { type Family, familyOf } from './families';
import { type Field, type Fields, type GridField, type QuantityField, type RefsField, type VectorField, afterRun } from './fields';
import type { Formulas, Path } from './formula-values';
import { isPattern, matching } from './patterns';
import { applies, askedDimension } from './rules';
import { byFamily } from './switched-off';

/** The place of a value in the file, and the element it belongs to. */
interface Place {
  path: Path;
  element: ElementRef;
}

export class FieldValues {
  private readonly names: Record<Family, Set<string>>;
  constructor(
    model: Model,
    private readonly formulas: Formulas,
    private readonly diagnoses: Diagnosis[],
    private readonly off: Record<Family, Set<string>>,
  ) {
    this.names = byFamily((key) => new Set(model[key].map((e) => e.name)));
    this.names.bodies.add(model.ground);
  }

  /** Values of all fields that apply to an element, by field; what is in error is undefined and noted. */
  of(element: ElementRef & { family: Family }, index: number, fields: Fields, raw: RawElement): Record<string, unknown> {
    const values: Record<string, unknown> = {};
    for (const [key, f] of Object.entries(fields))
      if (applies(f, fields, raw)) values[key] = this.value(f, raw, key, fields, { path: [element.family, index, key], element });
    return values;
  }

  private value(f: Field, e: RawElement, key: string, fields: Fields, at: Place): unknown {
    const value = (e[key] as RawValue) ?? ('default' in f ? (f.default as RawValue) : undefined);
    if (value === undefined || (value === '' && f.optional))
      return f.optional ? undefined : this.fault(at, 'value-missing', `“${f.label}” is needed.`);
    switch (f.type) {
      case 'quantity':
        return afterRun(f, value) ? undefined : this.quantity(f, value, fields, e, at);
      case 'vector':
        return this.vector(f, value, at);
      case 'choice':
        if (String(value) in f.options) return value;
        return this.fault(at, 'choice-unknown', `${f.label} can be ${Object.keys(f.options).join(', ')}, not “${String(value)}”.`);
      case 'text':
      case 'colour':
        return String(value);
      case 'assigned':
        return this.assigned(value, at);
      case 'grid':
        return this.grid(f, value, at);
      case 'ref':
        this.reference(f.family, String(value), at);
        return value;
      case 'refs': {
        if (!Array.isArray(value) || value.length < f.min || value.length > f.max)
          return this.fault(at, 'reference-count', `${f.label} takes ${between(f.min, f.max)} names.`);
        return this.named(f, value as string[], at);
      }
    }
  }

  private quantity(f: QuantityField, value: RawValue, fields: Fields, e: RawElement, at: Place): number | Program | undefined {
    const wanted = askedDimension(f.dim, fields, e, this.formulas.model);
    const p = this.formulas.read(value, wanted, { ...at, time: !!f.time, gauges: !!f.gauges });
    if (!p || f.time) return p;
    if (f.range === 'positive' && !(p.v > 0)) return this.fault(at, 'value-range', `${f.label} must be greater than zero.`);
    if (f.range && p.v < 0) return this.fault(at, 'value-range', `${f.label} must not be negative.`);
    return p.v;
  }

  private vector(f: VectorField, value: RawValue, at: Place): Vec3 | undefined {
    if (!Array.isArray(value) || value.length !== 3) return this.fault(at, 'value-vector', `${f.label} takes three values: x, y, z.`);
    const parts = value.every((x) => typeof x === 'number' && Math.abs(x) <= LARGEST)
      ? this.numbers(value as number[], f, at)
      : (value as (number | string)[]).map((x, k) => this.formulas.read(x, f.dim, { ...at, path: [...at.path, k] })?.v);
    if (parts.some((x) => x === undefined)) return undefined;
    if (f.direction && parts.every((x) => x === 0))
      return this.fault(at, 'direction-zero', `${f.label} has no direction: all three parts are zero.`);
    return parts as unknown as Vec3;
  }

  /** Plain numbers are in SI units; a zero needs no value beside it. */
  private numbers(value: readonly number[], { dim }: VectorField, { path }: Place): readonly number[] {
    const { live } = this.formulas;
    value.forEach((x, k) => x !== 0 && live.set(`${jsonPath(path)}[${k}]`, { value: x, dim, varies: false }));
    return value;
  }

  private grid(f: GridField, value: RawValue, at: Place): readonly (readonly number[])[] | undefined {
    const rows = value as unknown as readonly (readonly number[])[];
    const good =
      Array.isArray(rows) &&
      rows.every((r) => Array.isArray(r) && r.length === f.columns && r.every((x) => typeof x === 'number' && Math.abs(x) <= LARGEST));
    if (good && rows.length >= f.min && rows.length <= f.max) return rows;
    const count = f.min === f.max ? `${f.min} rows` : `at least ${f.min} rows`;
    return this.fault(at, 'value-grid', `${f.label} takes ${count} of ${f.columns} plain numbers.`);
  }

  private assigned(value: RawValue, at: Place): RawValue {
    try {
      readAssigned(String(value));
    } catch (refused) {
      if (!(refused instanceof Refusal)) throw refused;
      for (const d of refused.diagnoses) this.diagnoses.push({ ...d, ...at });
    }
    return value;
  }

  private reference(family: Family, name: string, at: Place): void {
    if (this.names[family].has(name)) return;
    this.fault(at, 'reference-missing', `There is no ${familyOf(family).one} “${name}”.`, 'Choose another, or make one of this name.');
  }

  /** Names one by one; those that patterns stand for as far as they are in use, each once. */
  private named(f: RefsField, list: readonly string[], at: Place): readonly string[] {
    const out = list.flatMap((n, k) => {
      const place = { ...at, path: [...at.path, k] };
      if (!f.patterns || !isPattern(n)) {
        this.reference(f.family, n, place);
        return [n];
      }
      const all = matching(n, this.names[f.family]),
        found = all.filter((x) => !this.off[f.family].has(x));
      if (all.length === 0)
        this.fault(place, 'pattern-empty', `No ${familyOf(f.family).one} is called “${n}”.`, 'An asterisk stands for any text: “Slat *”.');
      return found;
    });
    return f.patterns ? [...new Set(out)] : out;
  }

  private fault(at: Place, code: string, message: string, remedy?: string): undefined {
    this.diagnoses.push({ code, severity: 'error', message, ...at, ...(remedy ? { remedy } : {}) });
  }
}

const between = (min: number, max: number): string => (min === max ? `${min}` : `${min} to ${max}`);
