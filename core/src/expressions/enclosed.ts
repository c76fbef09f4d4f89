/**
 * What expressions can come to while all that they read lies in intervals (natural interval extension; Moore, Kearfott & Cloud, Introduction to Interval
 * Analysis, ch. 5): bounds that hold whatever is read there, and are the nearer the less that varies.
 */
import { OUT, SMOOTH, type Side, above, atan2, below, over, root, square, times, wrap } from '../quantity/interval';
import type { Ex } from './arithmetic';
import { BY_INDEX } from './functions';
import { type Graph, OP, type Outside, outputsOf } from './graph';

/** Jumps by whole turns of which all combinations are looked at. */
const CHOICES = 3;
/** Part by which two bounds are one. */
const SAME = 1e-9;

/** Ends of intervals, one after the other. */
export interface Ends {
  readonly lo: Float64Array;
  readonly hi: Float64Array;
}
/** Bounds of what code writes that is no expression, while its arguments lie between bounds. */
export type Within = (args: Ends, out: Ends) => void;
/** A call of an outside function with room of its own. */
interface BoundedCall {
  readonly from: Int32Array;
  readonly within: Within | undefined;
  readonly ends: Ends;
  readonly made: Ends;
}

export class Enclosed {
  readonly lo: Float64Array;
  readonly hi: Float64Array;
  /** Whether something of it may jump within the intervals. */
  jumps = false;
  private readonly place: Int32Array;
  private readonly op: Int32Array;
  private readonly a: Int32Array;
  private readonly b: Int32Array;
  private readonly c: Int32Array;
  private readonly calls: readonly BoundedCall[];
  /** Jumps by whole turns met on the way, and which side of each is taken. */
  private turns = 0;
  private sides = 0;

  /** @param known bounds of such code, where there are any */
  constructor(
    g: Graph,
    private readonly of: readonly Ex[],
    known?: (outside: Outside) => Within | undefined,
  ) {
    const nodes = g.needed(of),
      place = (this.place = new Int32Array(g.nodes).fill(-1)),
      at = (x: Ex) => (x < 0 ? 0 : place[x]!);
    nodes.forEach((x, i) => (place[x] = i));
    this.op = Int32Array.from(nodes, (x) => g.op[x]!);
    const plain = (x: Ex) => g.op[x] === OP.load || g.op[x] === OP.call;
    this.a = Int32Array.from(nodes, (x) => (plain(x) ? g.a[x]! : g.op[x] === OP.output ? g.a[g.a[x]!]! : at(g.a[x]!)));
    this.b = Int32Array.from(nodes, (x) => (plain(x) || g.op[x] === OP.output ? g.b[x]! : at(g.b[x]!)));
    this.calls = g.calls.map(({ outside, args }) => {
      const [ends, made] = [args.length, outputsOf(outside)].map((n) => ({ lo: new Float64Array(n), hi: new Float64Array(n) })) as [
        Ends,
        Ends,
      ];
      return { from: Int32Array.from(args, (x) => place[x]!), within: known?.(outside), ends, made };
    });
    this.c = Int32Array.from(nodes, (x) => (g.op[x] === OP.apply ? g.c[x]! : at(g.c[x]!)));
    // constants stay
    this.lo = Float64Array.from(nodes, (x) => (g.op[x] === OP.constant ? g.value[x]! : 0));
    this.hi = this.lo.slice();
  }

  /** How much there is to work out. */
  get size(): number {
    return this.op.length;
  }
  /** Where the bounds of an expression stand, after `evaluate`. */
  at(x: Ex): number {
    return this.place[x]!;
  }

  /** @param low,high ends of all intervals in a memory @param bases places in it to which loads refer */
  evaluate(low: Float64Array, high: Float64Array, bases: ArrayLike<number>): void {
    const { lo, hi, of, place } = this;
    this.jumps = false;
    this.sides = 0;
    this.once(low, high, bases);
    const { turns } = this;
    if (turns === 0) return;
    if (turns > CHOICES) {
      this.jumps = true;
      for (const x of of) [lo[place[x]!], hi[place[x]!]] = [-Infinity, Infinity];
      return;
    }
    // what counts whole turns does not depend on which side is taken; all else lies between what both give
    const least = of.map((x) => lo[place[x]!]!),
      most = of.map((x) => hi[place[x]!]!);
    for (let s = 1; s < 1 << turns; s++) {
      this.sides = s;
      this.once(low, high, bases);
      of.forEach((x, k) => {
        const [p, q] = [lo[place[x]!]!, hi[place[x]!]!],
          size = SAME * (Math.abs(p) + Math.abs(q) + Math.abs(most[k]! - least[k]!));
        if (Math.abs(p - least[k]!) > size || Math.abs(q - most[k]!) > size) this.jumps = true;
        least[k] = Math.min(least[k]!, p);
        most[k] = Math.max(most[k]!, q);
      });
    }
    of.forEach((x, k) => {
      lo[place[x]!] = least[k]!;
      hi[place[x]!] = most[k]!;
    });
  }

  private side(): Side {
    return (this.sides >> this.turns) & 1 ? 'lower' : 'upper';
  }

  private once(low: Float64Array, high: Float64Array, bases: ArrayLike<number>): void {
    const { lo, hi, op, a, b, c } = this;
    this.turns = 0;
    for (let i = 0; i < op.length; i++) {
      const j = a[i]!,
        k = b[i]!;
      switch (op[i]) {
        case OP.constant:
        case OP.less:
          continue;
        case OP.load: {
          const at = bases[j]! + k;
          lo[i] = low[at]!;
          hi[i] = high[at]!;
          continue;
        }
        case OP.negate: {
          lo[i] = -hi[j]!;
          hi[i] = -lo[j]!;
          continue;
        }
        case OP.add:
          lo[i] = below(lo[j]! + lo[k]!);
          hi[i] = above(hi[j]! + hi[k]!);
          break;
        case OP.subtract:
          lo[i] = below(lo[j]! - hi[k]!);
          hi[i] = above(hi[j]! - lo[k]!);
          break;
        case OP.multiply:
          if (j === k) square(lo[j]!, hi[j]!);
          else times(lo[j]!, hi[j]!, lo[k]!, hi[k]!);
          this.put(i);
          continue;
        case OP.divide:
          over(lo[j]!, hi[j]!, lo[k]!, hi[k]!);
          this.put(i);
          continue;
        case OP.root:
          root(lo[j]!, hi[j]!);
          this.put(i);
          continue;
        case OP.size:
          lo[i] = lo[j]! > 0 ? lo[j]! : hi[j]! < 0 ? -hi[j]! : 0;
          hi[i] = Math.max(-lo[j]!, hi[j]!);
          continue;
        case OP.least:
          lo[i] = Math.min(lo[j]!, lo[k]!);
          hi[i] = Math.min(hi[j]!, hi[k]!);
          continue;
        case OP.most:
          lo[i] = Math.max(lo[j]!, lo[k]!);
          hi[i] = Math.max(hi[j]!, hi[k]!);
          continue;
        case OP.choose:
          this.choose(i, j, k, c[i]!);
          continue;
        case OP.apply:
          this.apply(i, c[i]!, j, k);
          continue;
        case OP.call:
          this.call(this.calls[j]!);
          continue;
        default: {
          const { made } = this.calls[j]!;
          lo[i] = made.lo[k]!;
          hi[i] = made.hi[k]!;
          break;
        }
      }
      if (!(lo[i]! <= hi[i]!)) [lo[i], hi[i]] = [-Infinity, Infinity];
    }
  }
  /** Of code that is no expression nothing is known, unless it says so. */
  private call({ from, within, ends, made }: BoundedCall): void {
    from.forEach((place, k) => {
      ends.lo[k] = this.lo[place]!;
      ends.hi[k] = this.hi[place]!;
    });
    made.lo.fill(-Infinity);
    made.hi.fill(Infinity);
    if (within) within(ends, made);
    else this.jumps = true;
  }
  private put(i: number): void {
    this.lo[i] = OUT[0]!;
    this.hi[i] = OUT[1]!;
  }
  /** @param test the place of its condition */
  private choose(i: number, test: number, yes: number, no: number): void {
    const { lo, hi, a, b } = this,
      [p, q] = [a[test]!, b[test]!];
    if (hi[p]! < lo[q]!) [lo[i], hi[i]] = [lo[yes]!, hi[yes]!];
    else if (lo[p]! >= hi[q]!) [lo[i], hi[i]] = [lo[no]!, hi[no]!];
    else {
      [lo[i], hi[i]] = [Math.min(lo[yes]!, lo[no]!), Math.max(hi[yes]!, hi[no]!)];
      this.jumps = true;
    }
  }
  private apply(i: number, which: number, j: number, k: number): void {
    const { lo, hi } = this,
      { name, at } = BY_INDEX[which]!,
      smooth = SMOOTH[name],
      [p, q] = [lo[j]!, hi[j]!];
    if (smooth) {
      smooth(p, q, lo[k]!, hi[k]!);
      return this.put(i);
    }
    if (name === 'wrap' || name === 'atan2') {
      const side = this.side();
      if (name === 'wrap' ? wrap(p, q, side) : atan2(p, q, lo[k]!, hi[k]!, side)) this.turns++;
      return this.put(i);
    }
    // steps: sign, floor
    [lo[i], hi[i]] = [at(p, 0), at(q, 0)];
    if (!(lo[i] === hi[i])) this.jumps = true;
    if (!(lo[i]! <= hi[i]!)) [lo[i], hi[i]] = [-Infinity, Infinity];
  }
}
