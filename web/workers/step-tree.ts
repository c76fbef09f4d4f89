/**
 * The assembly tree of a STEP file (ISO 10303-21, products as in ISO 10303-44): which product is used where. The reader of its surfaces tells the
 * parts in the same order, but not the assemblies deeper than the second level.
 */

/** A part where it occurs: names of the products from the top down to it, and a number for each place in the tree. */
export interface Leaf {
  path: string[];
  nodes: number[];
}

/** More places than parts are read anyway. */
const MOST = 50_000;
const DEEPEST = 200;
const ENTITY = /#(\d+)\s*=\s*(PRODUCT_DEFINITION_FORMATION\w*|PRODUCT_DEFINITION|PRODUCT|NEXT_ASSEMBLY_USAGE_OCCURRENCE)\s*\(/g;

/** @returns undefined where the file has no assembly that can be followed */
export function stepLeaves(bytes: Uint8Array): Leaf[] | undefined {
  const text = new TextDecoder('latin1').decode(bytes);
  const products = new Map<string, string>(),
    formations = new Map<string, string>(),
    definitions = new Map<string, string>();
  const uses = new Map<string, { of: string; name: string }[]>(),
    used = new Set<string>();
  for (const m of text.matchAll(ENTITY)) {
    const args = argumentsAt(text, m.index + m[0].length),
      id = m[1]!;
    if (!args) continue;
    if (m[2] === 'PRODUCT') products.set(id, words(args[1] || args[0] || ''));
    else if (m[2] === 'PRODUCT_DEFINITION') definitions.set(id, args[2]?.slice(1) ?? '');
    else if (m[2] === 'NEXT_ASSEMBLY_USAGE_OCCURRENCE') {
      const [, name = '', , whole = '', part = ''] = args;
      uses.set(whole.slice(1), [...(uses.get(whole.slice(1)) ?? []), { of: part.slice(1), name: words(name) }]);
      used.add(part.slice(1));
    } else formations.set(id, args[2]?.slice(1) ?? '');
  }
  const nameOf = (definition: string): string => products.get(formations.get(definitions.get(definition) ?? '') ?? '') ?? '';
  const leaves: Leaf[] = [];
  let count = 0;
  const visit = (definition: string, label: string, path: string[], nodes: number[]): boolean => {
    const below = uses.get(definition),
      id = count++;
    if (count > MOST || path.length > DEEPEST) return false;
    if (!below) return leaves.push({ path: [...path, nameOf(definition)], nodes: [...nodes, id] }) > 0;
    return below.every((u) => {
      const product = nameOf(u.of),
        several = below.filter((x) => x.of === u.of).length > 1;
      return visit(u.of, several && u.name && u.name !== product ? `${product} (${u.name})` : product, [...path, label], [...nodes, id]);
    });
  };
  const tops = [...definitions.keys()].filter((d) => uses.has(d) && !used.has(d));
  return tops.length > 0 && tops.every((t) => visit(t, nameOf(t), [], [])) ? leaves : undefined;
}

/** Arguments of an entity, its texts without their quotes; undefined where it is not closed. */
function argumentsAt(text: string, from: number): string[] | undefined {
  const out: string[] = [];
  let depth = 0,
    at = from;
  for (let i = from; i < text.length; i++) {
    const c = text[i];
    if (c === "'") {
      i = text.indexOf("'", i + 1);
      if (i < 0) return undefined;
    } else if (c === '(') depth++;
    else if ((c === ',' && depth === 0) || (c === ')' && depth-- === 0)) {
      const raw = text.slice(at, i).trim();
      out.push(raw.startsWith("'") ? raw.slice(1, -1) : raw);
      at = i + 1;
      if (c === ')') return out;
    }
  }
  return undefined;
}

/** A text as it is meant: quotes are doubled, letters beyond ASCII coded (ISO 10303-21, 6.4.3). */
const words = (raw: string): string =>
  raw === '$'
    ? ''
    : raw
        .replaceAll("''", "'")
        .replace(/\\X2\\((?:[0-9A-F]{4})+)\\X0\\/g, (_, hex: string) =>
          hex
            .match(/.{4}/g)!
            .map((h) => String.fromCharCode(Number.parseInt(h, 16)))
            .join(''),
        )
        .replace(/\\X\\([0-9A-F]{2})/g, (_, hex: string) => String.fromCharCode(Number.parseInt(hex, 16)))
        .replace(/\\S\\(.)/g, (_, c: string) => String.fromCharCode(c.charCodeAt(0) + 128))
        .replaceAll('\\\\', '\\')
        .trim();

/**
 * Puts parts in their places in the tree. `raw` holds the surfaces of all parts, or of some products alone, in the order of the tree; where its names do
 * not follow the tree's one by one, it is left as it is.
 */
export function place(raw: { path: string[]; nodes?: number[] }[], leaves: readonly Leaf[] | undefined): void {
  const name = (path: readonly string[]): string => path.at(-1) ?? '';
  const counted = (list: readonly { path: readonly string[] }[]): Map<string, number> =>
    list.reduce((m, x) => m.set(name(x.path), (m.get(name(x.path)) ?? 0) + 1), new Map<string, number>());
  const surfaces = counted(raw),
    places = counted(leaves ?? []);
  // a part of several solids has as many surfaces wherever it occurs
  const fitting = (leaves ?? []).flatMap((l) =>
    new Array<Leaf>(Math.floor((surfaces.get(name(l.path)) ?? 0) / places.get(name(l.path))!)).fill(l),
  );
  if (fitting.length !== raw.length || raw.some((r, i) => name(r.path) !== name(fitting[i]!.path))) return;
  raw.forEach((r, i) => {
    r.path = [...fitting[i]!.path];
    r.nodes = [...fitting[i]!.nodes];
  });
}
