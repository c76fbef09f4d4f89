/**
 * Short sentences that add an element: a kind, a name if one is wanted, and what it hangs on, in any order.
 *   point A at 0, 0, 100 mm · link Crank from A to B · revolute between Ground and Crank at A about y · drive Motor on Bearing 60 rpm · arm = 60 mm
 */
import {
  type Dimension,
  FAMILIES,
  type Family,
  type Kind,
  type Model,
  type RawElement,
  applies,
  askedDimension,
  compatible,
  familyOf,
  kindsOf,
  matching,
  readUnit,
} from '@vim-pivot/core/page';
import { namesIn, parse } from '@vim-pivot/core/rename';
import type { Selected } from '../document/document';
import { type Offer, fill } from './offers';

export interface Sentence {
  offer: Offer;
  /** What it would do, in words. */
  preview: string;
}

const JOINING = /^(between|from|to|and|at|on|in|of|with|for|through|along|about|axis|the|a|an|by)$/;
const AXES: Readonly<Record<string, [number, number, number]>> = {
  x: [1, 0, 0],
  y: [0, 1, 0],
  z: [0, 0, 1],
  '-x': [-1, 0, 0],
  '-y': [0, -1, 0],
  '-z': [0, 0, -1],
};
const QUANTITY = /^([-−+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?)(?:\s*([a-zA-Z°µ][a-zA-Z°µ/*^\d·²³]*))?/i;

/** Where a sentence stops being one: the word, and what could stand there. */
export interface Stumble {
  word: string;
  message: string;
}

/** Names of what instances bring, by family. */
export type Brought = Partial<Record<Family, readonly string[]>>;

/** @returns undefined when the text does not begin with a kind of element, or what it names does not fit it */
export const readSentence = (text: string, model: Model, brought: Brought = {}): Sentence | undefined => {
  const read = parsed(text, model, brought);
  return read && 'offer' in read ? read : undefined;
};

/** Why a text that begins like a sentence is none. */
export const stumbleOf = (text: string, model: Model, brought: Brought = {}): Stumble | undefined => {
  const read = parsed(text, model, brought);
  return read && 'word' in read ? read : undefined;
};

function parsed(text: string, model: Model, brought: Brought): Sentence | Stumble | undefined {
  const equation = /^\s*(?:parameter\s+)?([A-Za-z_][A-Za-z_0-9]*)\s*=\s*(.+)$/i.exec(text);
  if (equation) {
    const kind = kindsOf('parameters')[0]!;
    const element = { name: equation[1]!, value: equation[2]!.trim() };
    return { offer: { kind, element, missing: [], effect: kind.help }, preview: `Parameter ${element.name} = ${element.value}` };
  }
  const head = findKind(text);
  if (!head) return undefined;
  const { kind } = head;
  let rest = head.rest.trim();
  const picked: Selected[] = [],
    quantities: string[] = [],
    named = new Map<string, string>();
  let direction: [number, number, number] | undefined;
  // what stands before the first word that leads on to something is its name
  const lead = JOINING.test(/^\S*/.exec(rest)![0])
    ? null
    : /^(.*?)\s+(?=(?:between|from|at|on|in|of|with|for|through|along|about)\s)/.exec(rest);
  let name: string | undefined = lead?.[1] && !formulaAt(lead[1], model) ? lead[1].replace(/^named\s+/i, '').trim() : undefined;
  if (name) rest = rest.slice(lead![0].length);
  let after = '',
    field: string | undefined;
  while (rest !== '') {
    rest = rest.replace(/^[,;\s]+/, '');
    if (rest === '') break;
    const word = /^\S+/.exec(rest)![0];
    if ((after === 'about' || after === 'along' || after === 'axis') && AXES[word.replace('−', '-').toLowerCase()]) {
      direction = AXES[word.replace('−', '-').toLowerCase()];
      after = '';
      rest = rest.slice(word.length);
      continue;
    }
    const label = field === undefined && labelAt(rest, kind);
    if (label) {
      field = label.key;
      rest = rest.slice(label.length).replace(/^\s*=/, '');
      continue;
    }
    const known = field === undefined && nameAt(rest, model, kind, brought);
    if (known) {
      picked.push(known.what);
      rest = rest.slice(known.length);
      after = '';
      continue;
    }
    const formula = formulaAt(rest, model);
    if (formula) {
      if (field === undefined) quantities.push(formula);
      else named.set(field, formula);
      field = undefined;
      rest = rest.slice(formula.length);
      continue;
    }
    if (field !== undefined)
      return {
        word,
        message: `“${word}” is no value for ${kind.fields[field]!.label.toLowerCase()}: write a number with its unit, or a formula.`,
      };
    if (JOINING.test(word)) {
      after = word.toLowerCase();
      rest = rest.slice(word.length);
      continue;
    }
    // anything else is its name, until the next word that joins
    if (name !== undefined || after !== '') {
      const unknown = word.replace(/[,;]+$/, '');
      return { word: unknown, message: `Nothing here is called “${unknown}”. ${wanted(kind, picked, model)}` };
    }
    const words: string[] = [];
    while (rest !== '') {
      const next = /^\S+/.exec(rest)![0];
      if (words.length > 0 && (JOINING.test(next) || formulaAt(rest, model))) break;
      words.push(next.replace(/^named$/i, ''));
      rest = rest.slice(next.length).trimStart();
    }
    name = words.filter(Boolean).join(' ');
  }
  const offer =
    kind.family === 'points' || kind.family === 'bodies' || kind.family === 'materials' ? plain(kind, picked) : fill(kind, model, picked);
  const last = picked.at(-1)?.name ?? text.trim().split(/\s+/).at(-1)!;
  if (!offer) return { word: last, message: `${called(kind, 'A')} cannot be made of just this. ${wanted(kind, picked, model)}` };
  // a shape that makes its body gives it the name, and is called after it
  if (name) (offer.body ?? offer.element).name = name;
  if (direction)
    for (const [key, f] of Object.entries(kind.fields))
      if (f.type === 'vector' && f.direction && offer.element[key] === undefined) {
        offer.element[key] = direction;
        break;
      }
  for (const [key, value] of named) offer.element[key] = value;
  const left = give(offer, quantities, model);
  if (left !== undefined) return { word: left, message: `“${left}” has no place in ${called(kind, 'a')}. ${values(kind)}` };
  return { offer, preview: describe(offer) };
}

/** `a joint (revolute)`, `an instance (row)`, `a drive`. */
function called({ family, label }: Kind, a: 'a' | 'A'): string {
  const { one } = familyOf(family),
    kind = label.toLowerCase();
  return `${a}${/^[aeiou]/.test(one) ? 'n' : ''} ${one}${kind === one ? '' : ` (${kind})`}`;
}

/** What a kind hangs on and has not got yet, with names that would do. */
function wanted(kind: Kind, picked: readonly Selected[], model: Model): string {
  const left = Object.values(kind.fields)
    .flatMap((f) => ((f.type === 'ref' && !f.optional) || f.type === 'refs' ? [f.family] : []))
    .filter((family, i, all) => all.indexOf(family) === i);
  const names = (family: Family) =>
    [...(family === 'bodies' ? [model.ground] : []), ...model[family].map((e) => e.name)].filter(
      (n) => !picked.some((p) => p.family === family && p.name === n),
    );
  const parts = left.map((family) => {
    const list = names(family);
    return `${familyOf(family).one} (${list.length === 0 ? 'there is none yet' : `${list.slice(0, 4).join(', ')}${list.length > 4 ? ', …' : ''}`})`;
  });
  return parts.length === 0 ? values(kind) : `Here can stand a ${parts.join(', a ')}.`;
}
const values = (kind: Kind): string => {
  const labels = Object.values(kind.fields).flatMap((f) => (f.type === 'quantity' ? [f.label.toLowerCase()] : []));
  return labels.length === 0 ? '' : `It takes ${labels.slice(0, 6).join(', ')}: name the one that is meant before its value.`;
};

/** A field of quantities named at the beginning of the text, the longest label first. */
function labelAt(text: string, kind: Kind): { key: string; length: number } | undefined {
  const low = text.toLowerCase();
  const all = Object.entries(kind.fields).flatMap(([key, f]) =>
    f.type === 'quantity'
      ? [
          { key, label: f.label.toLowerCase() },
          { key, label: key.toLowerCase() },
        ]
      : [],
  );
  const found = all
    .filter(({ label }) => low.startsWith(label) && /^\s*=|^\s/.test(low.slice(label.length)))
    .sort((a, b) => b.label.length - a.label.length)[0];
  return found && { key: found.key, length: found.label.length };
}

/** Names that stand for themselves in formulas. */
const OWN = new Set(['t', 'pi', 'e', 'g']);
/** The longest formula at the beginning of a text: numbers with units, parameters, functions; up to a comma or a word that leads on. */
function formulaAt(text: string, model: Model): string | undefined {
  const ends: number[] = [];
  let depth = 0;
  for (let i = 0; i <= text.length; i++) {
    const c = text[i];
    if (c === '(' || c === '{') depth++;
    else if (c === ')' || c === '}') depth--;
    else if (depth === 0 && (c === undefined || /[\s,;]/.test(c))) {
      if (i > 0 && /\S/.test(text[i - 1]!)) ends.push(i);
      if (c === undefined || c === ',' || c === ';') break;
      const next = /^\s+(\S+)/.exec(text.slice(i))?.[1];
      if (next && JOINING.test(next)) break;
    }
  }
  for (const end of ends.reverse()) {
    const part = text.slice(0, end);
    if (isFormula(part, model)) return part;
  }
  return undefined;
}

function isFormula(text: string, model: Model): boolean {
  try {
    const names = new Set<string>();
    namesIn(parse(text.replaceAll('−', '-')), names);
    // a unit or constant alone is a name that happens to be spelled so: point A is no ampere
    if (!/\d/.test(text) && ![...names].some((n) => model.parameters.some((p) => p.name === n) || model.tables.some((p) => p.name === n)))
      return false;
    return [...names].every(
      (n) => OWN.has(n) || !!readUnit(n) || model.parameters.some((p) => p.name === n) || model.tables.some((p) => p.name === n),
    );
  } catch {
    return false;
  }
}

/** What readings are called when one is asked for. */
const READINGS: Readonly<Record<string, string>> = {
  torque: 'drive',
  effort: 'drive',
  power: 'drive',
  load: 'reaction',
  reaction: 'reaction',
  angle: 'joint',
  travel: 'joint',
  position: 'point',
  speed: 'point',
  distance: 'distance',
  energy: 'energy',
};

/** The kind whose label or key begins the text, the longest first. */
function findKind(text: string): { kind: Kind; rest: string } | undefined {
  const gauge = /^\s*gauge\s+(?=\S)/i.exec(text);
  if (gauge) {
    const rest = text.slice(gauge[0].length),
      word = /^\S+/.exec(rest)![0].toLowerCase();
    const own = kindsOf('gauges')
      .flatMap((kind) => [kind.label, kind.kind].map((n) => ({ kind, n: n.toLowerCase() })))
      .filter(({ n }) => rest.toLowerCase().startsWith(n))
      .sort((a, b) => b.n.length - a.n.length)[0];
    const reads = kindsOf('gauges').find((k) => k.kind === READINGS[word]);
    return own ? { kind: own.kind, rest: rest.slice(own.n.length) } : reads && { kind: reads, rest: rest.slice(word.length) };
  }
  const low = text.toLowerCase().trimStart();
  const names = FAMILIES.flatMap((f) =>
    kindsOf(f.key).flatMap((kind) => [kind.label, kind.kind, kind.kind.replaceAll('-', ' ')].map((n) => ({ kind, n: n.toLowerCase() }))),
  );
  const found = names.filter(({ n }) => low === n || low.startsWith(`${n} `)).sort((a, b) => b.n.length - a.n.length)[0];
  if (found) return { kind: found.kind, rest: text.trimStart().slice(found.n.length) };
  // "gauge …" is the reading its elements allow; "bar" and "pin" are what the workshop says
  const said: Readonly<Record<string, [Family, string]>> = {
    pin: ['joints', 'revolute'],
    hinge: ['joints', 'revolute'],
    bearing: ['joints', 'revolute'],
    pivot: ['joints', 'revolute'],
    rotational: ['joints', 'revolute'],
    swivel: ['joints', 'revolute'],
    slide: ['joints', 'prismatic'],
    slider: ['joints', 'prismatic'],
    translational: ['joints', 'prismatic'],
    rail: ['joints', 'prismatic'],
    guide: ['joints', 'prismatic'],
    linear: ['joints', 'prismatic'],
    ball: ['joints', 'spherical'],
    socket: ['joints', 'spherical'],
    cardan: ['joints', 'universal'],
    weld: ['joints', 'fixed'],
    rigid: ['joints', 'fixed'],
    bar: ['shapes', 'link'],
    rod: ['shapes', 'link'],
    block: ['shapes', 'box'],
    cuboid: ['shapes', 'box'],
    disc: ['shapes', 'cylinder'],
    disk: ['shapes', 'cylinder'],
    shaft: ['shapes', 'cylinder'],
    motor: ['drives', 'drive'],
    actuation: ['drives', 'drive'],
  };
  const word = /^\S+/.exec(low)?.[0] ?? '';
  const alias = said[word];
  const kind = alias && kindsOf(alias[0]).find((k) => k.kind === alias[1]);
  return kind && { kind, rest: text.trimStart().slice(word.length) };
}

/**
 * The element whose name stands at the beginning of the text: of the families the kind refers to, the longest name first. “Ground” is the ground
 * whatever it is called.
 */
function nameAt(text: string, model: Model, kind: Kind, brought: Brought): { what: Selected; length: number } | undefined {
  const low = text.toLowerCase();
  const families = new Set(Object.values(kind.fields).flatMap((f) => (f.type === 'ref' || f.type === 'refs' ? [f.family] : [])));
  const all = [...families].flatMap((family) => [
    ...[...(family === 'bodies' ? [model.ground] : []), ...model[family].map((e) => e.name), ...(brought[family] ?? [])].map((name) => ({
      family,
      name,
      said: name,
    })),
    ...(family === 'bodies' && !model.bodies.some((b) => b.name.toLowerCase() === 'ground')
      ? [{ family, name: model.ground, said: 'ground' }]
      : []),
  ]);
  const found = all
    .filter(({ said }) => low.startsWith(said.toLowerCase()) && !/^[\p{L}\p{N}_]/u.test(text.slice(said.length)))
    .sort((a, b) => b.said.length - a.said.length)[0];
  if (found) return { what: { family: found.family, name: found.name }, length: found.said.length };
  // a pattern stands for all that are called so
  const said = /^[^*,;]*\*[^\s,;]*/.exec(text)?.[0];
  if (said === undefined) return undefined;
  for (const f of Object.values(kind.fields))
    if (f.type === 'refs' && f.patterns && all.some((x) => x.family === f.family && matching(said, [x.name]).length > 0))
      return { what: { family: f.family, name: said }, length: said.length };
  return undefined;
}

function plain(kind: Kind, picked: readonly Selected[]): Offer | undefined {
  const element: RawElement = { name: '' };
  for (const p of picked) {
    const field = Object.entries(kind.fields).find(([key, f]) => f.type === 'ref' && f.family === p.family && element[key] === undefined);
    if (!field) return undefined;
    element[field[0]] = p.name;
  }
  return { kind, element, missing: [], effect: kind.help };
}

/** A number with or without a unit; undefined for a formula, whose dimension is known only when it is worked out. */
function plainQuantity(text: string): { value: number; dim: Dimension | undefined } | undefined {
  const m = QUANTITY.exec(text);
  if (!m || m[0].length !== text.length) return undefined;
  return { value: Number(m[1]!.replace('−', '-')), dim: m[2] === undefined ? undefined : readUnit(m[2])?.dim };
}
const fitsIn = (text: string, d: Dimension | undefined): boolean => {
  const q = plainQuantity(text);
  if (!d || !q) return !!d;
  return q.dim ? compatible(q.dim, d) : q.value === 0 || d.every((x) => x === 0);
};

/**
 * Puts quantities where their dimension belongs: three in a row into a vector, single ones into the first field that takes them, what is needed
 * before what may be left out. Where
 * a choice decides what a field asks for, the choice that fits is made: 30 deg is a drive of position.
 * @returns one that has no place
 */
function give(offer: Offer, quantities: readonly string[], model: Model): string | undefined {
  const { kind, element } = offer;
  const open = [...quantities];
  const fields = Object.entries(kind.fields).sort(
    ([, a], [, b]) => Number('optional' in a && !!a.optional) - Number('optional' in b && !!b.optional),
  );
  for (const [key, f] of fields) {
    if (open.length === 0) break;
    if (element[key] !== undefined || !applies(f, kind.fields, element)) continue;
    if (f.type === 'vector' && !f.direction && open.length >= 3) {
      // one unit at the end serves all three
      const three = open.splice(0, 3),
        unit = /[^\d\s.eE+\-−].*$/.exec(three[2]!)?.[0],
        alone = plainQuantity(three[2]!)?.dim !== undefined;
      element[key] = three.map((q) => {
        const p = plainQuantity(q);
        return p && !p.dim ? (p.value === 0 ? 0 : unit && alone ? `${q} ${unit}` : p.value) : q;
      });
    } else if (f.type === 'quantity') {
      const rule = f.dim as { choose?: string } | undefined,
        choice =
          rule && 'choose' in rule && rule.choose !== undefined && element[rule.choose] === undefined
            ? kind.fields[rule.choose]
            : undefined;
      // what takes any quantity takes the first one, where there must be one
      const needed = !f.optional && f.default === undefined;
      const ways = choice?.type === 'choice' ? [undefined, ...Object.keys(choice.options)] : [undefined];
      for (const way of ways) {
        const as = way === undefined ? element : { ...element, [rule!.choose!]: way },
          at = needed && f.dim === undefined ? 0 : open.findIndex((q) => fitsIn(q, askedDimension(f.dim, kind.fields, as, model)));
        if (at < 0) continue;
        if (way !== undefined) element[rule!.choose!] = way;
        element[key] = open.splice(at, 1)[0]!;
        break;
      }
    }
  }
  offer.missing = offer.missing.filter(
    (label) => !Object.entries(kind.fields).some(([key, f]) => f.label === label && element[key] !== undefined),
  );
  return open[0];
}

/** What an offer would add, in words. */
export function describe({ kind, element, body, missing }: Offer): string {
  const parts = Object.entries(kind.fields).flatMap(([key, f]) => {
    const v = element[key];
    return v === undefined ? [] : [`${f.label.toLowerCase()} ${Array.isArray(v) ? v.join(', ') : String(v)}`];
  });
  return `${kind.label}${element.name ? ` “${element.name}”` : ''}${body ? ' with a body of its own' : ''}${parts.length > 0 ? `: ${parts.join('; ')}` : ''}${missing.length > 0 ? `. Still needed: ${missing.join(', ')}` : ''}`;
}
