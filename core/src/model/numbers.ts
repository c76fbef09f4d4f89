/** The numbers of a model, one by one, wherever they stand: in fields, in formulas, in rows of tables; each can be changed a little. */
import type { ElementRef } from '../diagnosis';
import { FormulaError, type Node, parse } from '../formula/parse';
import { D, type Dimension, identical, siUnit } from '../quantity/dimension';
import { readUnit } from '../quantity/units';
import { type Model, type RawElement, type RawValue, contentOf } from './document';
import { FAMILIES, type Family, onlyReads } from './families';
import { type Field, takesFormula } from './fields';
import { kindOf } from './kinds';

export interface ModelNumber {
  /** Where it stands in the file. */
  readonly path: readonly (string | number)[];
  /** Of one in a text: its characters. */
  readonly part?: readonly [at: number, end: number];
  readonly element: ElementRef & { family: Family };
  /** What it is called: “speed”, “Spring, stiffness”. */
  readonly name: string;
  /** As it is written, with its unit. */
  readonly text: string;
  /** As it is written, without its unit; and the unit behind it, nothing where there is none. */
  readonly value: number;
  readonly unit: string;
  /**
   * What a change of it is measured against: itself; the size of the machine, of a coordinate, which has its zero anywhere; the largest of its column, in rows;
   * or 1 of its unit, where it is 0.
   */
  readonly against: 'itself' | 'size' | 'column' | 'unit';
  /** It is a part of a direction: most joints of a machine hold theirs as they are. */
  readonly direction?: true;
  /** What that comes to as it is written; where it is the size of the machine, a metre in the unit it is written in. */
  readonly scale: number;
}

/** Numbers of a formula that can be changed: no exponents. */
function literals(node: Node): Extract<Node, { kind: 'number' }>[] {
  if (node.kind === 'number') return [node];
  if (node.kind !== 'call') return [];
  return (node.name === 'power' ? node.args.slice(0, 1) : node.args).flatMap(literals);
}

/** The unit behind a number that is all of a text; undefined where it is a formula. */
function alone(text: string): { unit: string; sign: 1 | -1 } | undefined {
  const [, sign, unit] = /^\s*([-−+]?)\s*[\d.]+(?:[eE][+-]?\d+)?\s*(.*?)\s*$/.exec(text) ?? [];
  return unit !== undefined && readUnit(unit) ? { unit, sign: sign === '-' || sign === '−' ? -1 : 1 } : undefined;
}

type Found = Omit<ModelNumber, 'element' | 'name' | 'path'> & { nth?: number };

const againstItself = (value: number): Pick<ModelNumber, 'against' | 'scale'> =>
  value === 0 ? { against: 'unit', scale: 1 } : { against: 'itself', scale: value };

/** @param coordinate whether the text gives one @param from where it begins in a longer text */
function inText(text: string, coordinate: boolean, from = 0): Found[] {
  let root: Node;
  try {
    root = parse(text);
  } catch (e) {
    if (e instanceof FormulaError) return [];
    throw e;
  }
  const whole = alone(text),
    list = literals(root);
  return list.map((n, i): Found => {
    const unit = whole?.unit ?? (/^\s*[A-Za-z°µ][^\s,;()+*/-]*/.exec(text.slice(n.end))?.[0] ?? '').trim();
    return {
      part: [from + n.at, from + n.end],
      value: n.value,
      unit: unit !== '' && readUnit(unit) ? unit : '',
      text: `${text.slice(n.at, n.end)}${unit === '' ? '' : ` ${unit}`}`,
      ...(coordinate && whole ? { against: 'size', scale: whole.sign / readUnit(whole.unit)!.factor } : againstItself(n.value)),
      ...(list.length > 1 ? { nth: i + 1 } : {}),
    };
  });
}

/** @param coordinate whether it is one where it is all that stands there @param dim what is asked for: a plain number is in its SI unit */
function inValue(v: RawValue, coordinate: boolean, dim?: Dimension): Found[] {
  const unit = dim ? siUnit(dim) : '';
  if (typeof v === 'number')
    return [{ value: v, unit, text: String(v), ...(coordinate ? { against: 'size', scale: 1 } : againstItself(v)) }];
  if (typeof v !== 'string') return [];
  return inText(v, coordinate).map((x) => (x.unit === '' && x.nth === undefined && Number.isFinite(Number(v)) ? { ...x, unit } : x));
}

/** Numbers of a field, each with what it is called beside the label, and its path within the field. */
function inField(f: Field, v: RawValue): { found: Found; called: string; path: (string | number)[] }[] {
  if (f.type === 'vector' && Array.isArray(v)) {
    const names = f.parts ?? ['x', 'y', 'z'],
      direction = f.direction || f.axial;
    return (v as (number | string)[]).flatMap((x, k) =>
      inValue(x, !direction && identical(f.dim, D.length), f.dim).map((found) => ({
        found: direction ? { ...found, direction } : found,
        called: ` ${names[k]!}`,
        path: [k],
      })),
    );
  }
  if (f.type === 'grid' && Array.isArray(v)) {
    const rows = v as readonly (readonly number[])[],
      largest = rows[0]!.map((_, c) => rows.reduce((most, row) => Math.max(most, Math.abs(row[c]!)), 0));
    return rows.flatMap((row, r) =>
      row.map((value, c) => ({
        found: { value, unit: '', text: String(value), against: 'column' as const, scale: largest[c]! || 1 },
        called: `, row ${r + 1}, column ${c + 1}`,
        path: [r, c],
      })),
    );
  }
  if (f.type === 'assigned' && f.to === 'parameters' && typeof v === 'string')
    return [...v.matchAll(/([^;=]+)=([^;]*)/g)].flatMap((m) =>
      inText(m[2]!, false, m.index + m[1]!.length + 1).map((found) => ({ found, called: `, ${m[1]!.trim()}`, path: [] })),
    );
  const dim = f.type === 'quantity' && Array.isArray(f.dim) ? (f.dim as Dimension) : undefined;
  return takesFormula(f) ? inValue(v, false, dim).map((found) => ({ found, called: '', path: [] })) : [];
}

/** All of them that bear on the motion, in the order of the file. Elements that only read a run, or are switched off, have none. */
export function numbersOf(model: Model): ModelNumber[] {
  return FAMILIES.flatMap(({ key }) => {
    if (onlyReads(key)) return [];
    return (model[key] ?? []).flatMap((e, index) => (e.off ? [] : inElement(key, e, index)));
  });
}

function inElement(family: Family, e: RawElement, index: number): ModelNumber[] {
  const kind = kindOf(family, e);
  if (kind?.holdsModel)
    return numbersOf(contentOf(e)).map((n) => ({
      ...n,
      element: { family, name: e.name },
      name: `${e.name}: ${n.name}`,
      path: [family, index, 'content', ...n.path],
    }));
  return Object.entries(kind?.fields ?? {}).flatMap(([field, f]) => {
    const v = e[field] as RawValue;
    if (v === undefined || v === '') return [];
    return inField(f, v).map(({ found: { nth, ...found }, called, path }): ModelNumber => {
      const own = family === 'parameters' || family === 'points' ? '' : f.type === 'vector' && f.parts ? ',' : `, ${inSentence(f.label)}`;
      return {
        ...found,
        element: { family, name: e.name },
        name: `${e.name}${own}${called}${nth === undefined ? '' : `, number ${nth}`}`,
        path: [family, index, field, ...path],
      };
    });
  });
}

/** A unit that belongs to a number before it. */
const UNIT = /^\s*[A-Za-z°µ][A-Za-z_0-9µ]*(?:\^\d+|[²³])?(?![A-Za-z_0-9µ.(])/;

/** What a change by 1 comes to in a number, as it is written. @param size of the machine, m */
export const wholeOf = ({ against, scale }: ModelNumber, size: number): number => (against === 'size' ? size * scale : scale);

/** A label within a sentence: symbols stay what they are. */
const inSentence = (label: string): string => label.replace(/\b\p{Lu}(?=\p{Ll})/gu, (c) => c.toLowerCase());

/** The model with one number changed by a part of what it is measured against. The given model is not changed. @param size of the machine, m */
export function withChanged(model: Model, number: ModelNumber, part: number, size: number): Model {
  const value = number.value + part * wholeOf(number, size);
  const put = (at: unknown, path: readonly (string | number)[]): unknown => {
    if (path.length === 0) {
      if (!number.part) return value;
      const [from, end] = number.part,
        text = String(at),
        unit = UNIT.exec(text.slice(end))?.[0] ?? '',
        now = value < 0 ? `(-(${-value}${unit}))` : `${value}${unit}`;
      return text.slice(0, from) + now + text.slice(end + unit.length);
    }
    const [key, ...rest] = path as [string | number, ...(string | number)[]];
    if (Array.isArray(at)) return (at as unknown[]).map((x, i) => (i === key ? put(x, rest) : x));
    return { ...(at as object), [key]: put((at as Record<string, unknown>)[key], rest) };
  };
  return put(model, number.path) as Model;
}

/** In which order families are asked where not all numbers are. */
const FIRST: readonly Family[] = ['parameters', 'loads', 'drives', 'starts', 'couplings', 'joints', 'bodies', 'points', 'shapes'];

/** So many of them: what an engineer would turn first comes first. */
export function mostTelling(numbers: readonly ModelNumber[], most: number): ModelNumber[] {
  const last = FIRST.length,
    place = ({ element: { family }, direction }: ModelNumber) => (direction ? last + 1 : (FIRST.indexOf(family) + last + 1) % (last + 1));
  return [...numbers].sort((a, b) => place(a) - place(b)).slice(0, most);
}
