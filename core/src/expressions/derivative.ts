/**
 * Derivatives of expressions in one direction: Σ ∂x/∂l · l̇ over all that varies (forward mode; Griewank & Walther, Evaluating Derivatives, ch. 3).
 * The derivative is an expression of the same graph, so that it can be taken again.
 */
import type { Ex } from './arithmetic';
import { BY_INDEX } from './functions';
import { type Graph, OP } from './graph';

export class Direction {
  private readonly known: Map<Ex, Ex>;

  /**
   * @param rates of what varies: loads, or expressions that stand for themselves, as they are or negated; all else is constant. A constant varies with nothing
   * @param everywhere where a length vanishes it has no derivative; 0 is taken for it there, the middle of what it has round about
   */
  constructor(
    private readonly g: Graph,
    rates: ReadonlyMap<Ex, Ex>,
    private readonly everywhere = false,
  ) {
    this.known = new Map();
    for (const [x, rate] of rates) if (g.op[x] !== OP.constant) this.known.set(x, rate);
    // what an expression becomes where it stands with the other sign
    for (const [x, rate] of rates) {
      if (g.op[x] === OP.constant || g.op[x] === OP.load) continue;
      const negated = g.negate(x);
      if (!this.known.has(negated)) this.known.set(negated, g.negate(rate));
    }
  }

  /** @throws RangeError beyond the second derivative of an outside function */
  of(x: Ex): Ex {
    const { g, known } = this,
      stack = [x];
    // operands first; expressions can be deeper than calls may nest
    while (stack.length > 0) {
      const top = stack.at(-1)!;
      const open = known.has(top) ? [] : this.through(top).filter((y) => !known.has(y));
      if (open.length > 0) {
        stack.push(...open);
        continue;
      }
      if (!known.has(top)) known.set(top, this.rate(top));
      stack.pop();
    }
    return known.get(x) ?? g.zero;
  }

  /** What the derivative of a node is made of. */
  private through(x: Ex): readonly Ex[] {
    const { g } = this;
    if (g.op[x] === OP.choose) return [g.b[x]!, g.c[x]!];
    return g.op[x] === OP.output ? g.operands(g.a[x]!) : g.operands(x);
  }

  private rate(x: Ex): Ex {
    const { g } = this,
      a = g.a[x]!,
      b = g.b[x]!,
      da = this.known.get(a) ?? g.zero,
      db = this.known.get(b) ?? g.zero;
    switch (g.op[x]) {
      case OP.constant:
      case OP.load:
        return g.zero;
      case OP.negate:
        return g.negate(da);
      case OP.add:
        return g.add(da, db);
      case OP.subtract:
        return g.subtract(da, db);
      case OP.multiply:
        return g.add(g.multiply(da, b), g.multiply(a, db));
      case OP.divide: // (ȧ − x ḃ)/b
        return this.over(g.subtract(da, g.multiply(x, db)), b);
      case OP.root:
        return this.ofRoot(da, x);
      case OP.size:
        return g.choose(a, g.zero, g.negate(da), da);
      case OP.least:
        return g.choose(b, a, db, da);
      case OP.most:
        return g.choose(a, b, db, da);
      case OP.choose: {
        const [p, q] = g.operands(a);
        return g.choose(p!, q!, db, this.known.get(g.c[x]!) ?? g.zero);
      }
      case OP.apply:
        return BY_INDEX[g.c[x]!]!.by(g, a, b, x).reduce((sum, by, k) => g.add(sum, this.times(by, k === 0 ? da : db)), g.zero);
      case OP.output:
        return this.outside(x);
      default:
        throw new RangeError('A condition has no derivative.');
    }
  }

  private ofRoot(rate: Ex, x: Ex): Ex {
    const { g } = this,
      by = this.over(rate, g.multiply(g.constant(2), x));
    return this.everywhere && by !== g.zero ? g.choose(g.zero, x, by, g.zero) : by;
  }

  /** What stands still does so whatever it is divided by. */
  private over(rate: Ex, by: Ex): Ex {
    return rate === this.g.zero ? rate : this.g.divide(rate, by);
  }

  /** The derivative by an argument is not even looked at where the argument stands still: it may be none there. */
  private times(by: Ex, rate: Ex): Ex {
    return rate === this.g.zero ? rate : this.g.multiply(by, rate);
  }

  /** Values lead on to their gradients, and these to their Hessians. */
  private outside(x: Ex): Ex {
    const { g } = this,
      call = g.calls[g.a[g.a[x]!]!]!,
      n = call.args.length,
      each = 1 + n + n * n,
      at = g.b[x]! % each,
      first = g.b[x]! - at;
    if (call.args.every((y) => (this.known.get(y) ?? g.zero) === g.zero)) return g.zero;
    if (at > n) throw new RangeError(`${call.outside.name} has no third derivative.`);
    const by = (k: number) => (at === 0 ? first + 1 + k : first + 1 + n + (at - 1) * n + k);
    const outputs = g.call(call.outside, call.args);
    return call.args.reduce((sum, y, k) => g.add(sum, this.times(outputs[by(k)]!, this.known.get(y) ?? g.zero)), g.zero);
  }
}
