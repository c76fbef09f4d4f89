/**
 * Formula text to syntax tree: ordinary mathematics with units (`40 mm + 2*clearance`), by precedence
 * climbing. A number directly followed by a name is a quantity: it binds tighter than `*` and `/`,
 * so `1/2 s` is 1/(2 s).
 */
export type Node =
  | { kind: 'number'; value: number; at: number; end: number }
  | { kind: 'name'; name: string; unit: boolean; at: number; end: number }
  /** A gauge, written `{Name}`. */
  | { kind: 'gauge'; name: string; at: number; end: number }
  | { kind: 'call'; name: string; args: Node[]; at: number; end: number };

/** Largest size of a value, SI: beyond it products of values would leave the range of double precision. */
export const LARGEST = 1e40;

/** @throws FormulaError when a value is no number to compute with */
export function mustBeUsable(x: number): void {
  if (!Number.isFinite(x)) throw new FormulaError('formula-not-finite', 'The value is not a finite number.', 0, 0);
  if (Math.abs(x) > LARGEST)
    throw new FormulaError(
      'value-extreme',
      `The value is larger than ${LARGEST.toExponential().replace('e+', 'e')} in SI units: no machine has such a quantity, and nothing can be computed with it.`,
      0,
      0,
    );
}

export class FormulaError extends Error {
  constructor(
    readonly code: string,
    message: string,
    /** Character range in the formula text. */
    readonly at: number,
    readonly end: number,
  ) {
    super(message);
    this.name = 'FormulaError';
  }
}

interface Token {
  type: 'number' | 'name' | 'gauge' | 'op' | 'end';
  text: string;
  at: number;
  end: number;
}

const PATTERN =
  /\s*(?:((?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)|([A-Za-z_µ°][A-Za-z_0-9µ]*(?:\.[A-Za-z_][A-Za-z_0-9]*)*)|([-+*/^(),·×−²³])|(\{[^{}]*\}))/y;
const SAME: ReadonlyMap<string, string> = new Map([
  ['·', '*'],
  ['×', '*'],
  ['−', '-'],
]);
const LONGEST = 2000;
const DEEPEST = 100;

function tokens(text: string): Token[] {
  const out: Token[] = [];
  PATTERN.lastIndex = 0;
  while (PATTERN.lastIndex < text.length) {
    const from = PATTERN.lastIndex;
    const m = PATTERN.exec(text);
    if (!m) {
      const at = from + (/\S/.exec(text.slice(from))?.index ?? text.length - from);
      if (at >= text.length) break;
      throw new FormulaError('formula-character', `“${text[at]}” has no meaning in a formula.`, at, at + 1);
    }
    const end = PATTERN.lastIndex;
    const found = m[1] ?? m[2] ?? m[3] ?? m[4]!;
    const at = end - found.length;
    if (found === '²' || found === '³') {
      out.push({ type: 'op', text: '^', at, end }, { type: 'number', text: found === '²' ? '2' : '3', at, end });
    } else {
      out.push({ type: m[1] ? 'number' : m[2] ? 'name' : m[4] ? 'gauge' : 'op', text: SAME.get(found) ?? found, at, end });
    }
  }
  out.push({ type: 'end', text: '', at: text.length, end: text.length });
  return out;
}

const BINARY: ReadonlyMap<string, { level: number; call: string }> = new Map([
  ['+', { level: 1, call: 'add' }],
  ['-', { level: 1, call: 'subtract' }],
  ['*', { level: 2, call: 'multiply' }],
  ['/', { level: 2, call: 'divide' }],
]);

/** @throws FormulaError with the character range at fault */
export function parse(text: string): Node {
  if (text.length > LONGEST) throw new FormulaError('formula-long', `A formula has at most ${LONGEST} characters.`, LONGEST, text.length);
  const list = tokens(text);
  let next = 0;
  let depth = 0;
  const peek = () => list[next]!;
  const take = () => list[next++]!;
  const fail = (t: Token, wanted: string): never => {
    throw new FormulaError(
      'formula-syntax',
      t.type === 'end' ? `The formula ends where ${wanted} is expected.` : `“${t.text}” stands where ${wanted} is expected.`,
      t.at,
      Math.max(t.end, t.at + 1),
    );
  };
  const expect = (text: string) => (peek().text === text ? take() : fail(peek(), `“${text}”`));

  function sum(level: number): Node {
    if (++depth > DEEPEST) throw new FormulaError('formula-deep', 'The formula is nested too deeply.', peek().at, peek().end);
    let left = signed();
    for (;;) {
      const op = BINARY.get(peek().text);
      if (!op || peek().type !== 'op' || op.level < level) break;
      take();
      const right = sum(op.level + 1);
      left = { kind: 'call', name: op.call, args: [left, right], at: left.at, end: right.end };
    }
    depth--;
    return left;
  }

  function signed(): Node {
    const t = peek();
    if (t.type === 'op' && (t.text === '-' || t.text === '+')) {
      take();
      if (++depth > DEEPEST) throw new FormulaError('formula-deep', 'The formula is nested too deeply.', t.at, t.end);
      const arg = signed();
      depth--;
      return t.text === '+' ? arg : { kind: 'call', name: 'negate', args: [arg], at: t.at, end: arg.end };
    }
    return quantity();
  }

  /** A power, or a number with the unit written behind it. */
  function quantity(): Node {
    const first = powered();
    const t = peek();
    if (t.type !== 'name' || list[next - 1]!.type !== 'number') return first;
    if (first.kind !== 'number') return fail(t, 'an operator');
    const unit = powered(true);
    return { kind: 'call', name: 'multiply', args: [first, unit], at: first.at, end: unit.end };
  }

  function powered(unit = false): Node {
    const base = atom(unit);
    if (peek().text !== '^') return base;
    take();
    const sign = peek();
    let exponent: Node;
    if (sign.text === '-') {
      take();
      const inner = powered();
      exponent = { kind: 'call', name: 'negate', args: [inner], at: sign.at, end: inner.end };
    } else exponent = powered();
    return { kind: 'call', name: 'power', args: [base, exponent], at: base.at, end: exponent.end };
  }

  function atom(unit: boolean): Node {
    const t = take();
    if (t.type === 'number') return { kind: 'number', value: Number(t.text), at: t.at, end: t.end };
    if (t.type === 'gauge') return { kind: 'gauge', name: t.text.slice(1, -1).trim(), at: t.at, end: t.end };
    if (t.type === 'name') {
      if (peek().text !== '(' || unit) return { kind: 'name', name: t.text, unit, at: t.at, end: t.end };
      take();
      const args: Node[] = [];
      if (peek().text !== ')') {
        do args.push(sum(1));
        while (peek().text === ',' && take());
      }
      const close = expect(')');
      return { kind: 'call', name: t.text, args, at: t.at, end: close.end };
    }
    if (t.text === '(') {
      const inner = sum(1);
      expect(')');
      return inner;
    }
    return fail(t, 'a number, a name or “(”');
  }

  if (peek().type === 'end') throw new FormulaError('formula-empty', 'The formula is empty.', 0, 0);
  const root = sum(1);
  if (peek().type !== 'end') fail(peek(), 'an operator');
  return root;
}

/** The names used in a tree (functions not included). */
export function namesIn(node: Node, found = new Set<string>()): Set<string> {
  if (node.kind === 'name') found.add(node.name);
  else if (node.kind === 'call') for (const a of node.args) namesIn(a, found);
  return found;
}

/** What a name in a formula can stand for. */
export type Named = 'name' | 'call' | 'gauge';

/** The formula text with every use of a name (of a parameter, a table, a gauge) replaced, everything else kept to the letter. */
export const renameIn = (text: string, from: string, to: string, what: Named = 'name'): string =>
  renameAll(text, (name, w) => (w === what && name === from ? to : name));

/** The same for all names at once; a text that is no formula stays as it is. */
export function renameAll(text: string, named: (name: string, what: Named) => string): string {
  let root: Node;
  try {
    root = parse(text);
  } catch {
    return text;
  }
  const places: { at: number; end: number; to: string }[] = [];
  const collect = (n: Node) => {
    if (n.kind !== 'number' && !(n.kind === 'name' && n.unit)) {
      const to = named(n.name, n.kind);
      if (to !== n.name) {
        const at = n.kind === 'gauge' ? text.indexOf(n.name, n.at) : n.at;
        places.push({ at, end: at + n.name.length, to });
      }
    }
    if (n.kind === 'call') n.args.forEach(collect);
  };
  collect(root);
  return places.sort((a, b) => b.at - a.at).reduce((s, n) => s.slice(0, n.at) + n.to + s.slice(n.end), text);
}
