/**
 * Short sentences that add an element: a kind, a name if one is wanted, and what it hangs on, in any order.
 *   point A at 0, 0, 100 mm · link Crank from A to B · revolute between Ground and Crank at A about y · drive Motor on Bearing 60 rpm · arm = 60 mm
 */
import { FAMILIES, type Family, type Kind, type Model, type RawElement, applies, askedDimension, compatible, kindsOf, readUnit } from '@vim-pivot/core/page';
import type { Selected } from './document';
import { type Offer, fill } from './offers';

export interface Sentence {
  offer: Offer;
  /** What it would do, in words. */
  preview: string;
}

const JOINING = /^(between|from|to|and|at|on|in|of|with|for|through|along|about|axis|the|a|an|by)$/;
const AXES: Readonly<Record<string, [number, number, number]>> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1], '-x': [-1, 0, 0], '-y': [0, -1, 0], '-z': [0, 0, -1] };
const QUANTITY = /^([-−+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?)(?:\s*([a-zA-Z°µ][a-zA-Z°µ/*^\d·²³]*))?/i;

/** @returns undefined when the text does not begin with a kind of element, or what it names does not fit it */
export function readSentence(text: string, model: Model): Sentence | undefined {
  const equation = /^\s*([A-Za-z_][A-Za-z_0-9]*)\s*=\s*(.+)$/.exec(text);
  if (equation) {
    const kind = kindsOf('parameters')[0]!;
    const element = { name: equation[1]!, value: equation[2]!.trim() };
    return { offer: { kind, element, missing: [], effect: kind.help }, preview: `Parameter ${element.name} = ${element.value}` };
  }
  const head = findKind(text);
  if (!head) return undefined;
  const { kind } = head;
  let rest = head.rest.trim();
  const picked: Selected[] = [];
  const quantities: string[] = [];
  let direction: [number, number, number] | undefined;
  // what stands before the first word that leads on to something is its name
  const lead = JOINING.test(/^\S*/.exec(rest)![0]) ? null : /^(.*?)\s+(?=(?:between|from|at|on|in|of|with|for|through|along|about)\s)/.exec(rest);
  let name: string | undefined = lead?.[1] && !QUANTITY.test(lead[1]) ? lead[1].replace(/^named\s+/i, '').trim() : undefined;
  if (name) rest = rest.slice(lead![0].length);
  let after = '';
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
    const known = nameAt(rest, model, kind);
    if (known) {
      picked.push(known);
      rest = rest.slice(known.name.length);
      after = '';
      continue;
    }
    const number = QUANTITY.exec(rest);
    if (number) {
      const unit = number[2] && readUnit(number[2]) ? number[2] : undefined;
      quantities.push(unit ? `${number[1]!} ${unit}` : number[1]!);
      rest = rest.slice(unit ? number[0].length : number[1]!.length);
      continue;
    }
    if (JOINING.test(word)) {
      after = word.toLowerCase();
      rest = rest.slice(word.length);
      continue;
    }
    // anything else is its name, until the next word that joins
    if (name !== undefined) return undefined;
    const words: string[] = [];
    while (rest !== '') {
      const next = /^\S+/.exec(rest)![0];
      if (words.length > 0 && (JOINING.test(next) || QUANTITY.test(next))) break;
      words.push(next.replace(/^named$/i, ''));
      rest = rest.slice(next.length).trimStart();
    }
    name = words.filter(Boolean).join(' ');
  }
  const offer = kind.family === 'points' || kind.family === 'bodies' || kind.family === 'materials' ? plain(kind, picked) : fill(kind, model, picked);
  if (!offer) return undefined;
  if (name) offer.element.name = name;
  if (offer.body && name) offer.body.name = name;
  if (direction) for (const [key, f] of Object.entries(kind.fields)) if (f.type === 'vector' && f.direction && offer.element[key] === undefined) {
    offer.element[key] = direction;
    break;
  }
  if (!give(offer, quantities, model)) return undefined;
  return { offer, preview: describe(offer) };
}

/** The kind whose label or key begins the text, the longest first. */
function findKind(text: string): { kind: Kind; rest: string } | undefined {
  const low = text.toLowerCase().trimStart();
  const names = FAMILIES.flatMap((f) => kindsOf(f.key).flatMap((kind) => [kind.label, kind.kind, kind.kind.replaceAll('-', ' ')].map((n) => ({ kind, n: n.toLowerCase() }))));
  const found = names.filter(({ n }) => low === n || low.startsWith(`${n} `)).sort((a, b) => b.n.length - a.n.length)[0];
  if (found) return { kind: found.kind, rest: text.trimStart().slice(found.n.length) };
  // "gauge …" is the reading its elements allow; "bar" and "pin" are what the workshop says
  const said: Readonly<Record<string, [Family, string]>> = { pin: ['joints', 'revolute'], slide: ['joints', 'prismatic'], ball: ['joints', 'spherical'], weld: ['joints', 'fixed'], bar: ['shapes', 'link'], motor: ['drives', 'drive'] };
  const word = /^\S+/.exec(low)?.[0] ?? '';
  const alias = said[word];
  const kind = alias && kindsOf(alias[0]).find((k) => k.kind === alias[1]);
  return kind && { kind, rest: text.trimStart().slice(word.length) };
}

/** The element whose name stands at the beginning of the text: of the families the kind refers to, the longest name first. */
function nameAt(text: string, model: Model, kind: Kind): Selected | undefined {
  const low = text.toLowerCase();
  const families = new Set(Object.values(kind.fields).flatMap((f) => (f.type === 'ref' || f.type === 'refs' ? [f.family] : [])));
  const all = [...families].flatMap((family) => [...(family === 'bodies' ? [model.ground] : []), ...model[family].map((e) => e.name)].map((name) => ({ family, name })));
  return all.filter(({ name }) => low.startsWith(name.toLowerCase()) && !/^[\p{L}\p{N}_]/u.test(text.slice(name.length))).sort((a, b) => b.name.length - a.name.length)[0];
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

/** Puts quantities where their dimension belongs: three in a row into a vector, single ones into the first field that takes them. */
function give(offer: Offer, quantities: string[], model: Model): boolean {
  const { kind, element } = offer;
  const open = [...quantities];
  for (const [key, f] of Object.entries(kind.fields)) {
    if (open.length === 0) break;
    if (element[key] !== undefined || !applies(f, kind.fields, element)) continue;
    if (f.type === 'vector' && !f.direction && open.length >= 3) {
      // one unit at the end serves all three
      const three = open.splice(0, 3), unit = /[^\d\s.eE+\-−].*$/.exec(three[2]!)?.[0];
      element[key] = three.map((q) => (/^[-−+]?[\d.]+(e[-+]?\d+)?$/i.test(q) ? (Number(q) === 0 ? 0 : unit ? `${q} ${unit}` : Number(q)) : q));
    } else if (f.type === 'quantity') {
      const d = askedDimension(f.dim, kind.fields, element, model);
      const at = open.findIndex((q) => {
        const unit = q.split(' ')[1];
        const u = unit ? readUnit(unit) : undefined;
        return d && (u ? compatible(u.dim, d) : Number(q) === 0 || d.every((x) => x === 0));
      });
      if (at >= 0) element[key] = open.splice(at, 1)[0]!;
    }
  }
  offer.missing = offer.missing.filter((label) => !Object.entries(kind.fields).some(([key, f]) => f.label === label && element[key] !== undefined));
  return open.length === 0;
}

/** What an offer would add, in words. */
export function describe({ kind, element, body, missing }: Offer): string {
  const parts = Object.entries(kind.fields).flatMap(([key, f]) => {
    const v = element[key];
    return v === undefined ? [] : [`${f.label.toLowerCase()} ${Array.isArray(v) ? v.join(', ') : String(v)}`];
  });
  return `${kind.label}${element.name ? ` “${element.name}”` : ''}${body ? ' with a body of its own' : ''}${parts.length > 0 ? `: ${parts.join('; ')}` : ''}${missing.length > 0 ? `. Still needed: ${missing.join(', ')}` : ''}`;
}
