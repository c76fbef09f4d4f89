/** Places of the Map's nodes: laid out once, then kept; what is new is put beside its neighbours, so that a small edit moves nothing. */
import dagre from '@dagrejs/dagre';

export interface Spot {
  x: number;
  y: number;
}

export const NODE = { width: 132, height: 40 } as const;
const GAP = 24;

/**
 * @param known places of an earlier layout
 * @returns a place for every node, those known unchanged
 */
export function layOut(
  nodes: readonly string[],
  edges: readonly (readonly [string, string])[],
  known: ReadonlyMap<string, Spot>,
): Map<string, Spot> {
  const kept = nodes.filter((n) => known.has(n));
  if (kept.length === 0) return arranged(nodes, edges);
  const out = new Map(kept.map((n) => [n, known.get(n)!]));
  for (const n of nodes) {
    if (out.has(n)) continue;
    const near = edges.flatMap(([a, b]) => (a === n ? [b] : b === n ? [a] : [])).flatMap((o) => out.get(o) ?? []);
    const middle =
      near.length > 0
        ? { x: near.reduce((s, p) => s + p.x, 0) / near.length + NODE.width + GAP, y: near.reduce((s, p) => s + p.y, 0) / near.length }
        : { x: 0, y: Math.max(...[...out.values()].map((p) => p.y)) + 2 * NODE.height };
    out.set(n, freeSpot(middle, [...out.values()]));
  }
  return out;
}

/** The nearest place to the right or below that overlaps nothing. */
function freeSpot(wanted: Spot, taken: readonly Spot[]): Spot {
  const clear = (p: Spot) =>
    taken.every((q) => Math.abs(p.x - q.x) >= NODE.width + GAP / 2 || Math.abs(p.y - q.y) >= NODE.height + GAP / 2);
  for (let ring = 0; ring < 60; ring++) {
    for (let k = 0; k <= ring; k++) {
      const p = { x: wanted.x + (ring - k) * (NODE.width + GAP), y: wanted.y + k * (NODE.height + GAP) };
      if (clear(p)) return p;
    }
  }
  return wanted;
}

/** Layered layout of the whole graph by distance from the first node (the ground), so that loops fold instead of stretching. */
export function arranged(nodes: readonly string[], edges: readonly (readonly [string, string])[]): Map<string, Spot> {
  const depth = distances(nodes, edges);
  const g = new dagre.graphlib.Graph({ multigraph: true })
    .setGraph({ rankdir: 'LR', nodesep: 56, ranksep: 120, ranker: 'longest-path' })
    .setDefaultEdgeLabel(() => ({}));
  for (const n of nodes) g.setNode(n, { ...NODE });
  edges.forEach(([a, b], i) => {
    const [p, q] = [depth.get(a) ?? 0, depth.get(b) ?? 0];
    if (p !== q) g.setEdge(p < q ? a : b, p < q ? b : a, {}, String(i));
  });
  dagre.layout(g);
  return new Map(nodes.map((n) => [n, { x: g.node(n).x, y: g.node(n).y }]));
}

/** Number of edges from the first node; nodes out of reach count as at its side. */
function distances(nodes: readonly string[], edges: readonly (readonly [string, string])[]): Map<string, number> {
  const depth = new Map<string, number>(nodes.length > 0 ? [[nodes[0]!, 0]] : []);
  for (const n of depth.keys()) {
    // a Map goes on over what is added while it is walked
    for (const [a, b] of edges)
      for (const [from, to] of [
        [a, b],
        [b, a],
      ] as const)
        if (from === n && !depth.has(to)) depth.set(to, depth.get(n)! + 1);
  }
  return depth;
}
