/**
 * Derivatives of one expression by all that it reads, in a single sweep back from it (reverse mode; Griewank & Walther, Evaluating Derivatives, ch. 3.2):
 * however much that is, they take about as long as three or four of the expression. They are expressions of the same graph.
 */
import type { Ex } from './arithmetic';
import { BY_INDEX } from './functions';
import { type Graph, OP } from './graph';

export class Gradient {
  private readonly known = new Map<Ex, Ex>();

  /**
   * Where a length vanishes it has no derivative; 0 is taken for it there, the middle of what it has round about.
   * @throws RangeError where the second derivative of an outside function is read
   */
  constructor(
    private readonly g: Graph,
    of: Ex,
  ) {
    const { known } = this;
    known.set(of, g.one);
    // operands have smaller numbers: when a node is met, all that is made of it has been
    for (const x of g.needed([of]).reverse()) {
      const by = known.get(x);
      if (by !== undefined && by !== g.zero) this.spread(x, by);
    }
  }

  /** The derivative by something that is read. */
  by(x: Ex): Ex {
    return this.known.get(x) ?? this.g.zero;
  }

  private add(x: Ex, by: Ex): void {
    const { g, known } = this;
    if (by !== g.zero) known.set(x, both(g, known.get(x) ?? g.zero, by));
  }

  private spread(x: Ex, by: Ex): void {
    const { g } = this,
      [a, b] = [g.a[x]!, g.b[x]!],
      times = (f: Ex) => within(g, by, (y) => g.multiply(y, f)),
      over = (f: Ex) => within(g, by, (y) => g.divide(y, f)),
      where = (p: Ex, q: Ex, yes: boolean) => (yes ? g.choose(p, q, by, g.zero) : g.choose(p, q, g.zero, by));
    switch (g.op[x]) {
      case OP.constant:
      case OP.load:
        return;
      case OP.negate:
        return this.add(a, g.negate(by));
      case OP.add:
        this.add(a, by);
        return this.add(b, by);
      case OP.subtract:
        this.add(a, by);
        return this.add(b, g.negate(by));
      case OP.multiply:
        this.add(a, times(b));
        return this.add(b, times(a));
      case OP.divide:
        this.add(a, over(b));
        return this.add(b, g.known(b) === undefined ? g.negate(within(g, by, (y) => g.divide(g.multiply(y, x), b))) : g.zero);
      case OP.root:
        return this.add(a, g.choose(g.zero, x, over(g.multiply(g.constant(2), x)), g.zero));
      case OP.size:
        this.add(a, where(a, g.zero, false));
        return this.add(a, g.negate(where(a, g.zero, true)));
      case OP.least:
        this.add(a, where(b, a, false));
        return this.add(b, where(b, a, true));
      case OP.most:
        this.add(a, where(a, b, false));
        return this.add(b, where(a, b, true));
      case OP.choose: {
        const [p, q] = g.operands(a) as [Ex, Ex];
        this.add(b, where(p, q, true));
        return this.add(g.c[x]!, where(p, q, false));
      }
      case OP.apply:
        return BY_INDEX[g.c[x]!]!.by(g, a, b, x).forEach((f, k) => {
          const of = k === 0 ? a : b;
          if (g.known(of) === undefined) this.add(of, times(f));
        });
      case OP.output:
        return this.outside(x, by);
      default:
        return;
    }
  }

  /** Values lead on to their gradients, and these to their Hessians. */
  private outside(x: Ex, by: Ex): void {
    const { g } = this,
      { outside, args } = g.calls[g.a[g.a[x]!]!]!,
      n = args.length,
      at = g.b[x]! % (1 + n + n * n),
      first = g.b[x]! - at;
    if (at > n) throw new RangeError(`${outside.name} has no third derivative.`);
    const outputs = g.call(outside, args);
    args.forEach((y, k) => {
      const f = outputs[at === 0 ? first + 1 + k : first + 1 + n + (at - 1) * n + k]!;
      this.add(
        y,
        within(g, by, (z) => g.multiply(z, f)),
      );
    });
  }
}

/** Whether it is something in one case and nothing in all others. */
const isCase = (g: Graph, x: Ex): boolean => g.op[x] === OP.choose && (g.b[x] === g.zero || g.c[x] === g.zero);

/** What becomes of an expression, case by case: what is nothing in a case stays so, though what it is multiplied by may be no number there. */
function within(g: Graph, x: Ex, f: (x: Ex) => Ex): Ex {
  if (x === g.zero) return x;
  if (g.op[x] === OP.negate && holdsCases(g, g.a[x]!)) return g.negate(within(g, g.a[x]!, f));
  if (isCase(g, x)) {
    const [p, q] = g.operands(g.a[x]!) as [Ex, Ex];
    return g.choose(p, q, within(g, g.b[x]!, f), within(g, g.c[x]!, f));
  }
  if (!holdsCases(g, x)) return f(x);
  const [a, b] = [within(g, g.a[x]!, f), within(g, g.b[x]!, f)];
  return g.op[x] === OP.add ? g.add(a, b) : g.subtract(a, b);
}
const holdsCases = (g: Graph, x: Ex): boolean =>
  isCase(g, x) || ((g.op[x] === OP.add || g.op[x] === OP.subtract) && (holdsCases(g, g.a[x]!) || holdsCases(g, g.b[x]!)));

/** The sum of two; of the same case, within it. */
function both(g: Graph, x: Ex, y: Ex): Ex {
  if (!isCase(g, x) || !isCase(g, y) || g.a[x] !== g.a[y]) return g.add(x, y);
  const [p, q] = g.operands(g.a[x]!) as [Ex, Ex];
  return g.choose(p, q, both(g, g.b[x]!, g.b[y]!), both(g, g.c[x]!, g.c[y]!));
}
