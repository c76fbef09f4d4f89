/** A formula as TeX, as one would write it by hand: fractions, powers, roots, upright names and units. */
import { type Node, parse } from './parse';

/** Binding of what a node is written as: sums, products, powers, whole. */
type Level = 1 | 2 | 3 | 4;
interface Tex {
  text: string;
  level: Level;
}

const escaped = (s: string): string =>
  s.replace(/[\\{}$&#^_%~]/g, (c) => ({ '\\': '\\backslash ', '^': '\\char`\\^', '~': '\\sim ' })[c] ?? `\\${c}`);
const upright = (s: string): string => `\\text{${escaped(s.replaceAll('_', ' '))}}`;
const whole = (t: Tex, least: Level): string => (t.level >= least ? t.text : `\\left(${t.text}\\right)`);

/** Letters that are written as such. */
const LETTERS: Readonly<Record<string, string>> = {
  pi: '\\pi',
  alpha: '\\alpha',
  beta: '\\beta',
  gamma: '\\gamma',
  delta: '\\delta',
  omega: '\\omega',
  phi: '\\varphi',
  theta: '\\vartheta',
  rho: '\\varrho',
  mu: '\\mu',
  eta: '\\eta',
};
const FUNCTIONS: readonly string[] = ['sin', 'cos', 'tan', 'exp', 'ln', 'log', 'min', 'max'];

function numberText(v: number): string {
  const [mantissa, exponent] = String(v).split('e');
  return exponent === undefined ? mantissa! : `${mantissa}\\cdot 10^{${Number(exponent)}}`;
}

/** What is no name of the model stands for a unit or a constant. */
type Known = ReadonlySet<string>;

/** A unit, or a power of one. */
const isUnit = (n: Node, names: Known): boolean =>
  (n.kind === 'name' && (n.unit || !(names.has(n.name) || n.name in LETTERS))) ||
  (n.kind === 'call' && n.name === 'power' && isUnit(n.args[0]!, names));
/** A number with its units: `7850 kg/m^3` belongs together. */
const isQuantity = (n: Node, names: Known): boolean =>
  n.kind === 'number' ||
  (n.kind === 'call' && (n.name === 'multiply' || n.name === 'divide') && isQuantity(n.args[0]!, names) && isUnit(n.args[1]!, names));

function write(n: Node, names: Known): Tex {
  switch (n.kind) {
    case 'number':
      return { text: numberText(n.value), level: n.value < 0 || String(n.value).includes('e') ? 2 : 4 };
    case 'name':
      return {
        text:
          (Object.hasOwn(LETTERS, n.name) ? LETTERS[n.name] : undefined) ??
          (n.unit || !names.has(n.name) ? `\\mathrm{${escaped(n.name)}}` : n.name.length === 1 ? n.name : upright(n.name)),
        level: 4,
      };
    case 'gauge':
      return { text: upright(n.name), level: 4 };
    case 'call':
      return call(n.name, n.args, names);
  }
}

function call(name: string, args: readonly Node[], names: Known): Tex {
  const [a, b] = args.map((x) => write(x, names));
  switch (name) {
    case 'add':
      return { text: `${a!.text} + ${whole(b!, 1)}`, level: 1 };
    case 'subtract':
      return { text: `${a!.text} - ${whole(b!, 2)}`, level: 1 };
    case 'negate':
      return { text: `-${whole(a!, 2)}`, level: 1 };
    case 'multiply':
      return {
        text: `${whole(a!, 2)} ${isQuantity(args[0]!, names) && isUnit(args[1]!, names) ? '\\,' : '\\cdot'} ${whole(b!, 2)}`,
        level: 2,
      };
    case 'divide':
      return isQuantity(args[0]!, names) && isUnit(args[1]!, names)
        ? { text: `${a!.text}/${b!.text}`, level: 2 }
        : { text: `\\frac{${a!.text}}{${b!.text}}`, level: 3 };
    case 'power':
      return { text: `${whole(a!, 4)}^{${b!.text}}`, level: 3 };
    case 'sqrt':
      return { text: `\\sqrt{${a!.text}}`, level: 4 };
    case 'abs':
      return { text: `\\left|${a!.text}\\right|`, level: 4 };
    default:
      return {
        text: `${FUNCTIONS.includes(name) ? `\\${name}` : upright(name)}\\left(${args.map((x) => write(x, names).text).join(',\\, ')}\\right)`,
        level: 4,
      };
  }
}

/** @param names of parameters and tables @throws FormulaError with the character range at fault */
export const typeset = (formula: string, names: Known): string => write(parse(formula), names).text;
