/**
 * A large STEP file in pieces (ISO 10303-21 exchange structure): each has the whole assembly but the solids of some parts alone, and nothing that only
 * the others need. Read one after the other they take a fraction of the memory, and how far it is can be told.
 */

/** Entities that carry the shape of a part. */
const SOLID = /^(MANIFOLD_SOLID_BREP|BREP_WITH_VOIDS|FACETED_BREP|SHELL_BASED_SURFACE_MODEL)$/;
/** Entities in whose list a solid, or what is said of it, may be missing. */
const LISTS = /(_REPRESENTATION|^PRESENTATION_LAYER_ASSIGNMENT)$/;
/** What ties the assembly together must stay. */
const STAYS =
  /^(PRODUCT|NEXT_ASSEMBLY|CONTEXT_DEPENDENT|SHAPE_DEFINITION|SHAPE_REPRESENTATION_RELATIONSHIP|REPRESENTATION_MAP|MAPPED_ITEM|\()/;

const [HASH, QUOTE, SEMICOLON, SLASH, STAR, NINE, ZERO] = [..."#';/*90"].map((c) => c.charCodeAt(0)) as [
  number,
  number,
  number,
  number,
  number,
  number,
  number,
];

/** A list of numbers that grows, without an object for each. */
class Numbers {
  length = 0;
  data = new Uint32Array(1 << 16);
  push(x: number): void {
    if (this.length === this.data.length) {
      const more = new Uint32Array(2 * this.length);
      more.set(this.data);
      this.data = more;
    }
    this.data[this.length++] = x;
  }
}

class Exchange {
  /** Where each entity begins and ends in the file, and where its references begin among all. */
  private readonly starts = new Numbers();
  private readonly ends = new Numbers();
  private readonly firsts = new Numbers();
  /** Entities referred to; −1 where the file has none of that number. */
  private refs!: Int32Array;
  private head!: Uint8Array;
  private tail!: Uint8Array;
  private readonly numbers = new Numbers();
  readonly count: number;

  /** @throws SyntaxError when it is no such file */
  constructor(private readonly bytes: Uint8Array) {
    const raw = new Numbers(),
      indexOf = new Map<number, number>();
    let i = this.find('DATA;', 0) + 5;
    this.head = bytes.subarray(0, i);
    const end = this.find('ENDSEC;', i);
    let number = 0,
      open = false;
    for (; i < end; i++) {
      const c = bytes[i]!;
      if (c === QUOTE) {
        // a quote within a text is written twice, and so ends it and begins it anew
        i = bytes.indexOf(QUOTE, i + 1);
        if (i < 0) throw new SyntaxError('A text is not closed.');
      } else if (c === SLASH && bytes[i + 1] === STAR) {
        i = this.find('*/', i) + 1;
      } else if (c === SEMICOLON) {
        if (open) this.ends.push(i + 1);
        open = false;
      } else if (c === HASH) {
        const from = i;
        for (number = 0; bytes[i + 1]! >= ZERO && bytes[i + 1]! <= NINE; i++) number = 10 * number + bytes[i + 1]! - ZERO;
        if (open) raw.push(number);
        else {
          indexOf.set(number, this.starts.length);
          this.numbers.push(number);
          this.starts.push(from);
          this.firsts.push(raw.length);
          open = true;
        }
      }
    }
    this.count = this.ends.length;
    if (open || this.count === 0) throw new SyntaxError('The data section is cut short.');
    this.firsts.push(raw.length);
    this.refs = Int32Array.from(raw.data.subarray(0, raw.length), (n) => indexOf.get(n) ?? -1);
    this.tail = bytes.subarray(end);
  }

  private find(word: string, from: number): number {
    const first = word.charCodeAt(0);
    for (let i = this.bytes.indexOf(first, from); i >= 0; i = this.bytes.indexOf(first, i + 1)) {
      let k = 1;
      while (k < word.length && this.bytes[i + k] === word.charCodeAt(k)) k++;
      if (k === word.length) return i;
    }
    throw new SyntaxError(`${word} is missing.`);
  }

  text(e: number): string {
    let text = '';
    for (let i = this.starts.data[e]!; i < this.ends.data[e]!; i += 4096)
      text += String.fromCharCode(...this.bytes.subarray(i, Math.min(i + 4096, this.ends.data[e]!)));
    return text;
  }
  /** Its keyword; “(” of one that is several at once. */
  type(e: number): string {
    const begin = this.starts.data[e]!;
    return (
      /=\s*([A-Z0-9_]+|\()/.exec(String.fromCharCode(...this.bytes.subarray(begin, Math.min(begin + 120, this.ends.data[e]!))))?.[1] ?? ''
    );
  }
  size(e: number): number {
    return this.ends.data[e]! - this.starts.data[e]!;
  }
  number(e: number): number {
    return this.numbers.data[e]!;
  }
  /** What it refers to. */
  references(e: number): Int32Array {
    return this.refs.subarray(this.firsts.data[e]!, this.firsts.data[e + 1]!);
  }
  /** How many refer to each. */
  referrers(): Uint32Array {
    const n = new Uint32Array(this.count);
    for (const r of this.refs) if (r >= 0) n[r]!++;
    return n;
  }
  /** A file of some of its entities, a few of them with another text. */
  written(kept: (e: number) => boolean, changed: ReadonlyMap<number, string>): Uint8Array {
    const parts: Uint8Array[] = [this.head, Uint8Array.of(10)];
    for (let e = 0; e < this.count; e++) {
      if (!kept(e)) continue;
      const text = changed.get(e);
      parts.push(
        text === undefined ? this.bytes.subarray(this.starts.data[e]!, this.ends.data[e]!) : Uint8Array.from(text, (c) => c.charCodeAt(0)),
        Uint8Array.of(10),
      );
    }
    parts.push(this.tail);
    const out = new Uint8Array(parts.reduce((n, p) => n + p.length, 0));
    let at = 0;
    for (const p of parts) {
      out.set(p, at);
      at += p.length;
    }
    return out;
  }
}

/**
 * @param most bytes of solids in a piece, more only where one solid has more
 * @returns the pieces, made when they are asked for; undefined when the file is small, has one solid, or cannot be taken apart safely
 */
export function piecesOf(bytes: Uint8Array, most: number): { count: number; piece(i: number): Uint8Array } | undefined {
  if (bytes.length <= most) return undefined;
  let file: Exchange;
  try {
    file = new Exchange(bytes);
  } catch (e) {
    if (e instanceof SyntaxError) return undefined; // the reader will say what is wrong with it
    throw e;
  }
  const types = Array.from({ length: file.count }, (_, e) => file.type(e));
  const solids = types.flatMap((t, e) => (SOLID.test(t) ? [e] : []));
  const groups = grouped(file, solids, most);
  if (groups.length < 2) return undefined;

  // what is said of a solid, and in which lists it stands
  const mentions = new Map<number, number[]>();
  const noticed = new Set(solids);
  for (let more = true; more;) {
    more = false;
    for (let e = 0; e < file.count; e++)
      for (const r of file.references(e)) {
        if (!noticed.has(r) || mentions.get(r)?.includes(e)) continue;
        mentions.set(r, [...(mentions.get(r) ?? []), e]);
        if (LISTS.test(types[e]!) || noticed.has(e)) continue;
        if (STAYS.test(types[e]!)) return undefined;
        noticed.add(e);
        more = true;
      }
  }
  const somewhere = types.indexOf('AXIS2_PLACEMENT_3D'),
    referred = file.referrers();
  if (somewhere < 0) return undefined;

  const piece = (g: number): Uint8Array => {
    const here = new Set(groups[g]),
      gone = new Set<number>(),
      shortened = new Map<number, Set<number>>();
    const drop = (e: number): void => {
      gone.add(e);
      for (const m of mentions.get(e) ?? []) {
        if (LISTS.test(types[m]!)) shortened.set(m, (shortened.get(m) ?? new Set()).add(file.number(e)));
        else if (!gone.has(m)) drop(m);
      }
    };
    for (const s of solids) if (!here.has(s)) drop(s);
    const changed = new Map(
      [...shortened].filter(([e]) => !gone.has(e)).map(([e, out]) => [e, without(file.text(e), out, file.number(somewhere))]),
    );
    const kept = new Uint8Array(file.count),
      waiting: number[] = [somewhere];
    kept[somewhere] = 1;
    for (let e = 0; e < file.count; e++)
      if (referred[e] === 0 && !gone.has(e)) {
        kept[e] = 1;
        waiting.push(e);
      }
    for (let e = waiting.pop(); e !== undefined; e = waiting.pop())
      for (const r of file.references(e))
        if (r >= 0 && !kept[r] && !gone.has(r)) {
          kept[r] = 1;
          waiting.push(r);
        }
    return file.written((e) => kept[e] === 1, changed);
  };
  return { count: groups.length, piece };
}

/** Solids in the order of the file, as many together as `most` bytes describe. */
function grouped(file: Exchange, solids: readonly number[], most: number): number[][] {
  const seen = new Uint8Array(file.count),
    groups: number[][] = [];
  let filled = Infinity;
  for (const s of solids) {
    const waiting = [s];
    let size = 0;
    for (let e = waiting.pop(); e !== undefined; e = waiting.pop()) {
      if (seen[e]) continue;
      seen[e] = 1;
      size += file.size(e);
      for (const r of file.references(e)) if (r >= 0 && !seen[r]) waiting.push(r);
    }
    if (filled + size > most) {
      groups.push([]);
      filled = 0;
    }
    groups.at(-1)!.push(s);
    filled += size;
  }
  return groups;
}

/** An entity without some of its references; a list that would be empty gets a placement. */
function without(text: string, out: ReadonlySet<number>, placement: number): string {
  const parts = text.split(/('(?:[^']|'')*')/); // texts stay as they are
  return parts
    .map((p, i) =>
      i % 2 === 1
        ? p
        : p.replace(/\(\s*#\d+(\s*,\s*#\d+)*\s*\)/g, (list) => {
            const left = [...list.matchAll(/#(\d+)/g)].filter(([, n]) => !out.has(Number(n))).map(([r]) => r);
            return `(${left.length > 0 ? left.join(',') : `#${placement}`})`;
          }),
    )
    .join('');
}
