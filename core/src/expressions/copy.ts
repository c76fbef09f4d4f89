/** Expressions of one graph stated in another: what they load stands for something else there, and their numbers may be read instead of known. */
import type { Ex } from './arithmetic';
import { BY_INDEX } from './functions';
import { type Graph, OP, type Outside } from './graph';

const NAMES = BY_INDEX.map((f) => f.name);

/**
 * An expression of `from` in `to`.
 * @param leaf what a load, or a constant, becomes there
 */
export function copied(from: Graph, x: Ex, to: Graph, leaf: (x: Ex) => Ex): Ex {
  const made = new Map<Ex, Ex>(),
    of = (y: Ex) => made.get(y)!;
  for (const y of from.needed([x])) {
    // conditions are made with what they decide on, calls with their outputs
    if (from.op[y] !== OP.less && from.op[y] !== OP.call) made.set(y, copyOf(from, y, to, of, leaf));
  }
  return of(x);
}

function copyOf(from: Graph, x: Ex, to: Graph, of: (y: Ex) => Ex, leaf: (x: Ex) => Ex): Ex {
  const a = from.a[x]!,
    b = from.b[x]!,
    c = from.c[x]!;
  switch (from.op[x]) {
    case OP.constant:
    case OP.load:
      return leaf(x);
    case OP.negate:
      return to.negate(of(a));
    case OP.add:
      return to.add(of(a), of(b));
    case OP.subtract:
      return to.subtract(of(a), of(b));
    case OP.multiply:
      return to.multiply(of(a), of(b));
    case OP.divide:
      return to.divide(of(a), of(b));
    case OP.root:
      return to.root(of(a));
    case OP.size:
      return to.size(of(a));
    case OP.least:
      return to.least(of(a), of(b));
    case OP.most:
      return to.most(of(a), of(b));
    case OP.choose:
      return to.choose(of(from.a[a]!), of(from.b[a]!), of(b), of(c));
    case OP.apply:
      return to.apply(NAMES[c]!, of(a), ...(BY_INDEX[c]!.args === 2 ? [of(b)] : []));
    default: {
      const { outside, args } = from.calls[from.a[a]!]!;
      return to.call(outside, args.map(of))[b]!;
    }
  }
}

const outsides = new WeakMap<Outside, number>();
let outsidesSeen = 0;
/** Outside functions by number. */
function outsideNumber(outside: Outside): number {
  const known = outsides.get(outside) ?? ++outsidesSeen;
  outsides.set(outside, known);
  return known;
}

/** The same for expressions that are the same but for the numbers in them. @param told which constants are such numbers */
export function shapeOf(g: Graph, x: Ex, told: (constant: Ex) => boolean): string {
  const nodes = g.needed([x]),
    place = new Map(nodes.map((y, i) => [y, i]));
  return nodes
    .map((y) => {
      const op = g.op[y]!;
      if (op === OP.constant) return told(y) ? 'n' : `=${g.value[y]}`;
      if (op === OP.load) return `[${g.a[y]},${g.b[y]}]`;
      if (op === OP.call)
        return `c${outsideNumber(g.calls[g.a[y]!]!.outside)}(${g
          .operands(y)
          .map((z) => place.get(z))
          .join()})`;
      const last = op === OP.apply ? `,${g.c[y]}` : op === OP.output ? `,${g.b[y]}` : '';
      return `${op}(${g
        .operands(y)
        .map((z) => place.get(z))
        .join()}${last})`;
    })
    .join(';');
}
