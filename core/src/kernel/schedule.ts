/**
 * The order in which expressions are computed, and how they are cut into functions. What several others use is computed once and kept; the rest is
 * written where it is used. One function with tens of thousands of locals is slow, so the kept ones are cut, in their order of making, into functions
 * of some hundred; what a later function needs goes through memory.
 */
import type { Ex } from '../expressions/arithmetic';
import { type Graph, OP } from '../expressions/graph';
import type { Store } from '../expressions/plain';

/** Kept expressions in one function: measured, 100 to 400 are equally good. */
const PART = 300;
/** Expressions written within each other: deeper ones are kept. */
const DEEP = 40;

export interface Schedule {
  /** Kept expressions of each function; the last function has none and only writes the results. */
  parts: readonly (readonly Ex[])[];
  /** Function of each kept expression; −1 for those that are written where they are used. */
  part: Int32Array;
  /** Place in the scratch of what crosses from one function to another; −1 for the others. */
  slot: Int32Array;
  slots: number;
}

/** What is kept, where it is computed, and what crosses between functions. */
export function schedule(g: Graph, stores: readonly Store[]): Schedule {
  const nodes = g.needed(stores.map((s) => s.x)),
    uses = new Int32Array(g.nodes),
    depth = new Int32Array(g.nodes),
    part = new Int32Array(g.nodes).fill(-1),
    slot = new Int32Array(g.nodes).fill(-1);
  const use = (y: Ex) => void (uses[y] = uses[y]! + 1);
  for (const x of nodes) g.eachOperand(x, use);
  for (const { x } of stores) use(x);

  // what is read where something is written is read before
  const written = new Set(stores.map(({ base, offset }) => placeIn(base, offset))),
    overwritten = (x: Ex) => g.op[x] === OP.load && written.has(placeIn(g.a[x]!, g.b[x]!));
  let deepest = 0;
  const deepen = (y: Ex) => void (deepest = Math.max(deepest, depth[y]!));
  const kept = nodes.filter((x) => {
    deepest = 0;
    g.eachOperand(x, deepen);
    const keep = overwritten(x) || isKept(g, x, uses[x]!, deepest + 1);
    depth[x] = keep ? 0 : deepest + 1;
    return keep;
  });
  kept.forEach((x, i) => (part[x] = Math.floor(i / PART)));
  const count = Math.ceil(kept.length / PART);

  let slots = 0;
  /** Gives a slot to every kept expression of another function that an expression is made of. */
  let own = 0;
  const give = (y: Ex): void => {
    if (g.op[y] === OP.call) return; // their outputs are in memory
    if (part[y]! < 0) g.eachOperand(y, give);
    else if (part[y] !== own && slot[y]! < 0) slot[y] = slots++;
  };
  const crossing = (x: Ex, of: number): void => {
    own = of;
    g.eachOperand(x, give);
  };
  for (const x of kept) crossing(x, part[x]!);
  for (const { x } of stores) {
    if (part[x]! < 0) crossing(x, count);
    else if (slot[x]! < 0) slot[x] = slots++;
  }
  const parts = Array.from({ length: count }, (_, p) => kept.slice(p * PART, (p + 1) * PART));
  return { parts: [...parts, []], part, slot, slots };
}

/** More than any offset. */
const OFFSETS = 0x10000000000;
/** An offset from a base as one number. */
const placeIn = (base: number, offset: number): number => base * OFFSETS + offset;

function isKept(g: Graph, x: Ex, uses: number, depth: number): boolean {
  switch (g.op[x]) {
    case OP.constant:
    case OP.load:
    case OP.less:
    case OP.output:
      return false;
    case OP.call:
      return true;
    default:
      return uses > 1 || depth > DEEP;
  }
}
