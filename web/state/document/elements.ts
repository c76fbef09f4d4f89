/** Editing elements by their declarations: the same for the Ledger, the Card and the scene. */
import {
  FAMILIES,
  type Family,
  type Fix,
  type Field,
  type Kind,
  type LiveValue,
  type Model,
  type RawElement,
  type RawValue,
  type Fields,
  applies,
  askedDimension,
  fits,
  formatQuantity,
  identical,
  D,
  jsonPath,
  kindOf,
  kindsOf,
  kitContent,
  shownUnit,
} from '@vim-pivot/core/page';
import { edit, gesture, select, useDocument } from './document';
import { freeName } from './free-name';
export { freeName } from './free-name';

/** One editable place: a whole field, or one component of a vector. */
export interface Place {
  field: string;
  part?: number;
}

export interface Column extends Place {
  label: string;
  help: string;
  type: Field['type'];
  key: string;
}

const AXES = ['x', 'y', 'z'] as const;

/** Columns of a kind: one per field, three per vector. */
export const columnsOf = (kind: Kind): Column[] =>
  Object.entries(kind.fields).flatMap(([field, f]): Column[] =>
    f.type === 'vector'
      ? AXES.map((axis, part) => ({
          field,
          part,
          label: f.parts?.[part] ?? `${f.label} ${axis}`,
          help: f.help,
          type: f.type,
          key: `${field}.${part}`,
        }))
      : [{ field, label: f.label, help: f.help, type: f.type, key: field }],
  );

/** Columns of a family: those of all its kinds that are in use, each field once. */
export function familyColumns(family: Family, rows: readonly RawElement[]): Column[] {
  const kinds = kindsOf(family).filter(
    (k) => rows.length === 0 || kindsOf(family).length === 1 || rows.some((r) => kindOf(family, r) === k),
  );
  const seen = new Map<string, Column>();
  // a field that is asked for in none of the rows has no column
  const asked = (k: Kind, c: Column) =>
    rows.length === 0 || rows.some((r) => kindOf(family, r) === k && applies(k.fields[c.field]!, k.fields, r));
  for (const k of kinds) for (const c of columnsOf(k)) if (!seen.has(c.key) && asked(k, c)) seen.set(c.key, c);
  return [...seen.values()];
}

export const fieldOf = (family: Family, e: RawElement, field: string): Field | undefined => {
  const fields = kindOf(family, e)?.fields;
  const f = fields?.[field];
  return f && applies(f, fields!, e) ? f : undefined;
};

/** What stands in the file at a place, or its default. */
export function rawAt(family: Family, e: RawElement, { field, part }: Place): { value: RawValue; isDefault: boolean } {
  const f = fieldOf(family, e, field);
  const raw = e[field] as RawValue;
  const fallback = f && 'default' in f ? (f.default as RawValue) : undefined;
  const whole = raw ?? fallback;
  return {
    value: part === undefined ? whole : Array.isArray(whole) ? (whole[part] as number | string) : undefined,
    isDefault: raw === undefined,
  };
}

export const textOf = (v: RawValue): string => (v === undefined ? '' : Array.isArray(v) ? v.join(', ') : String(v));

/** A cell with three decimals of a long number is enough to recognise it; editing shows all. */
export const shortText = (v: RawValue): string =>
  typeof v === 'number' && !Number.isInteger(v) ? String(Number(v.toPrecision(6))) : textOf(v);

export const pathOf = (family: Family, index: number, { field, part }: Place): string =>
  jsonPath(part === undefined ? [family, index, field] : [family, index, field, part]);

/** The value at a place in SI units: a plain number is one, a text has its live value. */
export function siAt(family: Family, index: number, e: RawElement, place: Place, live: ReadonlyMap<string, LiveValue>): number {
  const { value } = rawAt(family, e, place);
  return typeof value === 'number' ? value : (live.get(pathOf(family, index, place))?.value ?? 0);
}

/** Live value beside a formula, in words; nothing beside a plain number with a unit. */
export function liveText(live: LiveValue | undefined): string {
  if (!live) return '';
  const unit = shownUnit(live.dim);
  if (live.samples) {
    const lo = Math.min(...live.samples),
      hi = Math.max(...live.samples);
    return lo === hi
      ? formatQuantity(lo, live.dim, unit)
      : `${formatQuantity(lo, live.dim, unit).replace(` ${unit}`, '')} … ${formatQuantity(hi, live.dim, unit)}`;
  }
  return formatQuantity(live.value, live.dim, unit);
}

const PLAIN = /^\s*[-−+]?(\d+\.?\d*|\.\d+)(e[-+]?\d+)?\s*$/i;
/** A number and what stands behind it: its unit, or nothing. */
const NUMBER = /^\s*([-−+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?)(\s*[a-zA-Z°µ/*^\d·]*)\s*$/i;
export function numberOf(text: string): { value: number; unit: string } | undefined {
  const m = NUMBER.exec(text);
  return m ? { value: Number(m[1]!.replace('−', '-')), unit: m[2]! } : undefined;
}
const LITERAL = /^\s*[-−+]?[\d.]+(e[-+]?\d+)?\s*[a-zA-Z°µ/*^\d·]*\s*$/;
/** Whether a value explains itself without a live value beside it. */
export const isLiteral = (text: string): boolean => LITERAL.test(text);

/** What is stored for a text typed into a place: a plain number takes the unit that stood there, or that in which the place is shown. */
function stored(f: Field, fields: Fields, text: string, before: RawValue, e: RawElement, model: Model): number | string {
  if (f.type !== 'quantity' && f.type !== 'vector') return text.trim();
  if (!PLAIN.test(text)) return text.trim();
  const d = askedDimension(f.dim, fields, e, model);
  const number = text.trim().replace('−', '-');
  const old =
    typeof before === 'string' ? /^\s*[-−+]?[\d.]+(?:e[-+]?\d+)?\s*([a-zA-Z°µ][a-zA-Z°µ/*^\d·]*)\s*$/.exec(before)?.[1] : undefined;
  if (old) return Number(number) === 0 && d ? 0 : `${number} ${old}`;
  if (!d || identical(d, D.none)) return Number(number);
  const unit = shownUnit(d).replaceAll('·', '*').replaceAll('²', '^2').replaceAll('³', '^3');
  return Number(number) === 0 ? 0 : `${number} ${unit}`;
}

const splitNames = (text: string): string[] =>
  text
    .split(',')
    .map((s) => s.trim())
    .filter(Boolean);

/**
 * Writes a text into a place of an element of a draft. Empty text leaves the field out.
 * @param rest what the other components of a vector become that was left out
 */
export function write(
  family: Family,
  target: RawElement,
  { field, part }: Place,
  text: string,
  model: Model,
  rest: readonly (number | string)[] = [0, 0, 0],
): void {
  const f = fieldOf(family, target, field);
  const fields = kindOf(family, target)?.fields;
  if (!f || !fields) return;
  if (text.trim() === '' && part === undefined) target[field] = undefined;
  else if (f.type === 'refs') target[field] = splitNames(text);
  else if (part === undefined) target[field] = stored(f, fields, text, target[field] as RawValue, target, model);
  else {
    const before = rawAt(family, target, { field }).value;
    // a vector that may be left out is left out as a whole
    if (text.trim() === '' && f.optional) return void (target[field] = undefined);
    const next = Array.isArray(before) ? [...(before as (number | string)[])] : [...rest];
    next[part] = text.trim() === '' ? 0 : stored(f, fields, text, next[part] as RawValue, target, model);
    target[field] = next;
  }
}

/** The model as it would be with a text in a place, and where that place is; for trying a formula while it is typed. */
export function wouldBe(
  model: Model,
  family: Family,
  name: string,
  place: Place,
  text: string,
): { model: Model; path: string } | undefined {
  const index = model[family].findIndex((e) => e.name === name);
  if (index < 0) return undefined;
  const target: RawElement = { ...model[family][index]! };
  write(family, target, place, text, model);
  return { model: { ...model, [family]: model[family].map((e, i) => (i === index ? target : e)) }, path: pathOf(family, index, place) };
}

/** Writes a text into a place as one undo step; when the element is one of several of its family that are picked, into all of them. */
export function setText(family: Family, name: string, place: Place, text: string, rest?: readonly (number | string)[]): void {
  const { model, picked } = useDocument.getState();
  const e = model?.[family].find((x) => x.name === name);
  const f = e && fieldOf(family, e, place.field);
  if (!model || !e || !f) return;
  if (textOf(rawAt(family, e, place).value) === text) return;
  const mates = picked.filter((p) => p.family === family).map((p) => p.name);
  const names = mates.length > 1 && mates.includes(name) ? mates : [name];
  edit(`${f.label} of ${names.join(', ')}`, (m) => {
    for (const target of m[family]) if (names.includes(target.name)) write(family, target, place, text, m, rest);
  });
}

/** The same again and again while a hand moves, as one undo step. */
export function textGesture(family: Family, name: string, place: Place): { set(text: string): void; cancel(): void } {
  const hand = gesture(),
    label = kindOf(family, useDocument.getState().model?.[family].find((x) => x.name === name) ?? {})?.fields[place.field]?.label ?? '';
  return {
    set: (text) =>
      hand.set(`${label} of ${name}`, (m) => {
        const target = m[family].find((x) => x.name === name);
        if (target) write(family, target, place, text, m);
      }),
    cancel: hand.cancel,
  };
}

/** Writes rows of numbers typed or pasted as lines, as one undo step; what is no number is kept as it is typed and marked by the check. */
export function setRows(family: Family, name: string, field: string, text: string): void {
  const rows = text
    .split('\n')
    .map((l) => l.trim())
    .filter(Boolean)
    .map((l) => l.split(/[\t;]|,\s*|\s+/).map((x) => Number(x.replace('−', '-'))));
  edit(`${field} of ${name}`, (m) => {
    const e = m[family].find((x) => x.name === name);
    if (e && JSON.stringify(e[field]) !== JSON.stringify(rows)) e[field] = rows as never;
  });
}

/** Writes the names of a field that refers to several elements, as one undo step. */
export function setNames(family: Family, name: string, field: string, names: string[]): void {
  edit(`${field} of ${name}`, (m) => {
    const e = m[family].find((x) => x.name === name);
    if (e) e[field] = names;
  });
}

/** Gives an element another name throughout. @returns why not, when it cannot */
export function renameElement(family: Family, from: string, to: string): string | undefined {
  const { model } = useDocument.getState();
  const name = to.trim();
  if (!model || name === from) return undefined;
  if (name === '') return 'A name is needed.';
  if (name.length > 80 || /[\p{C}<>"“”]/u.test(name)) return 'A name has at most 80 characters, no quotes or angle brackets.';
  if (family === 'instances' && /[/;=]/.test(name)) return 'The name of an instance has no /, ; or =.';
  if (model[family].some((e) => e.name === name) || (family === 'bodies' && name === model.ground)) return `There is already ${name}.`;
  // what rewrites formulas comes when something is renamed
  void import('./renaming').then((r) => r.renameNow(family, from, name));
  return undefined;
}

/** Adds an element of a kind with its defaults, and selects it. */
export function addElement(family: Family, kind: Kind): void {
  const { model } = useDocument.getState();
  if (!model) return;
  const base = family === 'parameters' ? 'parameter' : kind.label;
  const name = freeName(family, base, model);
  edit(`Add ${name}`, (m) => {
    const e: RawElement = { name, ...(kindsOf(family).length > 1 ? { kind: kind.kind } : {}), ...kind.fresh };
    if (family === 'parameters') e.value = 0;
    if (kind.holdsModel) e.content = kitContent(name, {}) as never;
    m[family].push(e);
  });
  select({ family, name });
}

/** Carries out what a finding proposes, as one undo step. */
export function applyFix({ label, changes, up }: Fix): void {
  edit(label, (m) => {
    if (up) m.up = up;
    for (const c of changes) {
      const list = m[c.family as Family];
      if (c.add && !list.some((e) => e.name === c.name)) list.push(c.add as RawElement);
      const at = list.findIndex((e) => e.name === c.name);
      if (at < 0) continue;
      if (c.remove) list.splice(at, 1);
      else if (c.field) list[at]![c.field] = c.value as RawValue;
    }
  });
}

export function setNote(family: Family, name: string, note: string): void {
  edit(`Note on ${name}`, (m) => {
    const e = m[family].find((x) => x.name === name);
    if (!e || (e.note ?? '') === note) return;
    if (note) e.note = note;
    else delete e.note;
  });
}

export function removeElement(family: Family, name: string): void {
  edit(`Delete ${name}`, (m) => {
    m[family] = m[family].filter((e) => e.name !== name);
  });
  select(undefined);
}

export function toggleOff(family: Family, name: string): void {
  edit(`Switch ${name}`, (m) => {
    const e = m[family].find((x) => x.name === name);
    if (!e) return;
    if (e.off) delete e.off;
    else e.off = true;
  });
}

/** Names that may stand in a reference field. */
export const choicesFor = (f: Field, model: Model): { value: string; label: string }[] =>
  f.type === 'choice'
    ? Object.entries(f.options).map(([value, label]) => ({ value, label }))
    : f.type === 'ref' || f.type === 'refs'
      ? [
          ...(f.family === 'bodies' ? [model.ground] : []),
          ...model[f.family].filter((e) => f.type !== 'ref' || !f.that || fits(f, model, e.name)).map((e) => e.name),
          ...(useDocument.getState().brought[f.family] ?? []),
        ].map((value) => ({ value, label: value }))
      : [];

export const familyLabel = (family: Family): string => FAMILIES.find((x) => x.key === family)!.label;
