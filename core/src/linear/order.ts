/**
 * Elimination order for [M Gᵀ; G 0] without pivoting: block minimum degree under one rule. A joint of the
 * spanning tree is eliminated right after its child body; a loop-closing joint after its whole loop; a drive
 * after the joint it acts on. Pivots of bodies are then positive, those of tree joints negative, and a
 * redundant constraint shows up as a zero pivot of a loop-closing row. (docs/architecture.md, "The solver")
 */
export interface Link {
  /** Body indices; `bodies` (one past the last) is the ground. */
  a: number;
  b: number;
  rows: number;
  /** Further bodies it touches. */
  others?: readonly number[];
  /** Indices of the links it must follow: for a drive its joint, for a coupling its joints. */
  after?: readonly number[];
  /** It must also follow its own bodies, being tied to no joint. */
  last?: true;
}

export interface Order {
  /** Blocks in order: a body with the tree links that follow it, or a link alone. */
  blocks: readonly { body: number; links: readonly number[] }[];
  /** Links that close a loop, drives included: only their rows may lose their pivot. */
  closing: readonly boolean[];
  /** For each closing link, the links on its loop (itself included). */
  loops: ReadonlyMap<number, readonly number[]>;
}

/** A body as the order sees it: how many velocities it has, and whether it is placed without any joint, by coordinates of its own. */
export interface Ordered {
  readonly velocities: number;
  readonly placed: boolean;
}

/**
 * The order for bodies and the links between them, the body one past the last being the ground.
 * @param meeting further bodies whose velocities meet in the matrix, as those of bodies between which a load acts
 */
export function eliminationOrder(all: readonly Ordered[], links: readonly Link[], meeting: readonly (readonly number[])[] = []): Order {
  const forest = spanningForest(all, links);
  const { closing } = forest;
  const { loops, waits } = loopsOf(links, forest);
  const graph = blockGraph(all, links, forest, waits, meeting);
  return { blocks: minimumDegree(graph), closing, loops };
}

/** A spanning forest of the bodies, the ground (one past the last) as the first root. */
interface Forest {
  parent: Int32Array;
  depth: Int32Array;
  /** Of each body: the link by which it hangs on its parent; −1 for roots and what is placed. */
  treeLink: Int32Array;
  closing: boolean[];
}

/** Breadth first from the ground and all that is placed in it, then from any body not reached. */
function spanningForest(all: readonly Ordered[], links: readonly Link[]): Forest {
  const bodies = all.length,
    placed = [...all.keys()].filter((b) => all[b]!.placed),
    at: number[][] = Array.from({ length: bodies + 1 }, () => []);
  links.forEach((l, i) => {
    if (l.after !== undefined || l.rows === 0) return;
    at[l.a]!.push(i);
    at[l.b]!.push(i);
  });
  const parent = new Int32Array(bodies + 1).fill(-1);
  const depth = new Int32Array(bodies + 1);
  const treeLink = new Int32Array(bodies + 1).fill(-1);
  const reached = new Uint8Array(bodies + 1);
  const closing = links.map(() => true);
  for (const root of [bodies, ...Array.from({ length: bodies }, (_, i) => i)]) {
    if (reached[root]) continue;
    reached[root] = 1;
    const queue = [root];
    if (root === bodies)
      for (const b of placed) {
        reached[b] = 1;
        parent[b] = bodies;
        depth[b] = 1;
        queue.push(b);
      }
    for (let head = 0; head < queue.length; head++) {
      const body = queue[head]!;
      for (const i of at[body]!) {
        const other = links[i]!.a === body ? links[i]!.b : links[i]!.a;
        if (reached[other]) continue;
        reached[other] = 1;
        parent[other] = body;
        depth[other] = depth[body]! + 1;
        treeLink[other] = i;
        closing[i] = false;
        queue.push(other);
      }
    }
  }
  return { parent, depth, treeLink, closing };
}

/** The loop of each closing link: the two ways up to the common ancestor. And the links that each must wait for. */
function loopsOf(links: readonly Link[], { parent, depth, treeLink, closing }: Forest) {
  const loops = new Map<number, readonly number[]>();
  const waits: number[][] = links.map(() => []);
  links.forEach((l, i) => {
    if (!closing[i]) return;
    if (l.after !== undefined) {
      waits[i]!.push(...l.after);
      return;
    }
    let { a, b } = l;
    const loop = [i];
    while (a !== b) {
      if (depth[a]! < depth[b]!) [a, b] = [b, a];
      if (treeLink[a]! >= 0) loop.push(treeLink[a]!);
      a = parent[a]!;
    }
    loops.set(i, loop);
    waits[i]!.push(...loop.slice(1));
  });
  return { loops, waits };
}

/** Blocks, which of them meet in the matrix, and which must come before which. */
interface BlockGraph {
  blocks: { body: number; links: number[] }[];
  /** Unknowns and rows of each. */
  weight: number[];
  near: Set<number>[];
  before: Set<number>[];
}

function blockGraph(
  all: readonly Ordered[],
  links: readonly Link[],
  { treeLink, closing }: Forest,
  waits: readonly number[][],
  meeting: readonly (readonly number[])[],
): BlockGraph {
  const bodies = all.length,
    blockOfLink = new Int32Array(links.length);
  // a body and its block have the same number; a tree link is in the block of its body
  const blocks: BlockGraph['blocks'] = Array.from({ length: bodies }, (_, i) => ({ body: i, links: [] }));
  for (let b = 0; b < bodies; b++) {
    const i = treeLink[b]!;
    if (i < 0) continue;
    blocks[b]!.links.push(i);
    blockOfLink[i] = b;
  }
  links.forEach((_, i) => {
    if (!closing[i]) return;
    blockOfLink[i] = blocks.length;
    blocks.push({ body: -1, links: [i] });
  });
  const weight = blocks.map((k) => (all[k.body]?.velocities ?? 0) + k.links.reduce((s, i) => s + links[i]!.rows, 0));
  const near: Set<number>[] = blocks.map(() => new Set());
  links.forEach((l, i) => {
    const members = [blockOfLink[i]!, ...[l.a, l.b, ...(l.others ?? [])].filter((b) => b < bodies)];
    for (const x of members) for (const y of members) if (x !== y) near[x]!.add(y);
  });
  for (const members of meeting) for (const x of members) for (const y of members) if (x !== y) near[x]!.add(y);
  const before: Set<number>[] = blocks.map(() => new Set());
  links.forEach((l, i) => {
    const own = blockOfLink[i]!;
    if (l.last) for (const b of [l.a, l.b]) if (b < bodies) before[own]!.add(b);
    for (const w of waits[i]!) if (blockOfLink[w] !== own) before[own]!.add(blockOfLink[w]!);
  });
  return { blocks, weight, near, before };
}

/** Greedy minimum degree; buckets by degree keep it near linear on chains. */
function minimumDegree({ blocks, weight, near, before }: BlockGraph): BlockGraph['blocks'] {
  const degree = (k: number) => [...near[k]!].reduce((s, j) => s + weight[j]!, 0);
  const open = new Set(blocks.keys());
  const ready = new Map<number, number>();
  const heap = new Buckets();
  const offer = (k: number) => {
    const d = degree(k);
    if (ready.get(k) === d) return;
    ready.set(k, d);
    heap.put(k, d);
  };
  for (const k of open) if (before[k]!.size === 0) offer(k);
  const out: BlockGraph['blocks'] = [];
  const follows: number[][] = blocks.map(() => []);
  before.forEach((set, k) => set.forEach((j) => follows[j]!.push(k)));
  while (open.size > 0) {
    const k = heap.take((x, d) => open.has(x) && ready.get(x) === d);
    open.delete(k);
    ready.delete(k);
    out.push(blocks[k]!);
    const around = [...near[k]!];
    for (const x of around) {
      near[x]!.delete(k);
      for (const y of around) if (x !== y) near[x]!.add(y);
    }
    for (const x of [...around, ...follows[k]!]) {
      before[x]!.delete(k);
      if (open.has(x) && before[x]!.size === 0) offer(x);
    }
  }
  return out;
}

/** Candidates by degree; stale entries are skipped on the way out. */
class Buckets {
  private readonly buckets: number[][] = [];
  private lowest = 0;
  put(k: number, d: number): void {
    (this.buckets[d] ??= []).push(k);
    if (d < this.lowest) this.lowest = d;
  }
  take(valid: (k: number, d: number) => boolean): number {
    for (; ; this.lowest++) {
      const bucket = this.buckets[this.lowest];
      while (bucket?.length) {
        const k = bucket.pop()!;
        if (valid(k, this.lowest)) return k;
      }
      if (this.lowest >= this.buckets.length) throw new Error('elimination order: the rules form a circle');
    }
  }
}
