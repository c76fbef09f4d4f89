/** The assembly of a file as rows: a group with all that stands below it, then what stands in it. */
export interface Placed {
  path: readonly string[];
  /** Nodes of the assembly that stand for the names of the path, as far as they have any: two of one name are told apart. */
  nodes: readonly number[];
}
export interface GroupRow {
  group: number;
  label: string;
  depth: number;
  /** All parts below it, by index. */
  parts: number[];
  /** Groups above it, the next one last. */
  above: number[];
}
export interface PartRow {
  part: number;
  depth: number;
  above: number[];
}
export type Row = GroupRow | PartRow;

/** The group of all that a file holds, where it has none of its own. */
export const ALL = -1;

interface Node {
  group?: GroupRow;
  below: (Node | PartRow)[];
  byId: Map<number, Node>;
}

/** @param all what everything together is called */
export function assemblyRows(parts: readonly Placed[], all: string): Row[] {
  const top: Node = { below: [], byId: new Map() };
  parts.forEach((p, i) => {
    let at = top;
    const above: number[] = [];
    p.nodes.slice(0, p.path.length - 1).forEach((id, depth) => {
      let next = at.byId.get(id);
      if (!next) {
        next = { group: { group: id, label: p.path[depth]!, depth, parts: [], above: [...above] }, below: [], byId: new Map() };
        at.byId.set(id, next);
        at.below.push(next);
      }
      next.group!.parts.push(i);
      above.push(id);
      at = next;
    });
    at.below.push({ part: i, depth: above.length, above });
  });
  const out: Row[] = [];
  // several at the top are told together under one
  const shift = top.below.length > 1 ? 1 : 0,
    first = shift ? [ALL] : [];
  if (shift) out.push({ group: ALL, label: all, depth: 0, parts: parts.map((_, i) => i), above: [] });
  const write = (n: Node): void => {
    for (const b of n.below) {
      if ('part' in b) out.push({ ...b, depth: b.depth + shift, above: [...first, ...b.above] });
      else {
        out.push({ ...b.group!, depth: b.group!.depth + shift, above: [...first, ...b.group!.above] });
        write(b);
      }
    }
  };
  write(top);
  return out;
}

/** What becomes of a part: a body of its own, fixed in the ground, left out, or one body with all that a group holds. */
export type Target = 'own' | 'ground' | 'none' | `with ${number}`;

export const groupOf = (t: Target): number | undefined => (t.startsWith('with ') ? Number(t.slice(5)) : undefined);

/** What all parts of a group become, where that is one and the same. */
export const common = (targets: readonly Target[], parts: readonly number[]): Target | undefined =>
  parts.every((i) => targets[i] === targets[parts[0]!]) ? targets[parts[0]!] : undefined;
