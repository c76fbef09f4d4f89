/** What a table, its slope and its curvature come to between two arguments: of each of its cubics at the ends, and where it turns between them. */
import type { Ends, Within } from '../expressions/enclosed';
import type { Outside } from '../expressions/graph';
import { Table } from './table';

/** A cubic c₀ + c₁ d + c₂ d² + c₃ d³ from a place on, for d up to a width; also one without end. */
interface Cubic {
  readonly from: number;
  readonly to: number;
  /** Where d is 0. */
  readonly at: number;
  readonly c: readonly [number, number, number, number];
}
/** Roundings that go into a number of a cubic. */
const ROUNDING = 16 * 2.220446049250313e-16;
const LEAST = 64 * Number.MIN_VALUE;

/** Widens bounds by those of a cubic between two arguments within it. */
function take({ at, c: [a, b, c, e] }: Cubic, lo: number, hi: number, { lo: low, hi: high }: Ends): void {
  const put = (k: 0 | 1 | 2, d: number) => {
    const parts = k === 0 ? [a, b * d, c * d * d, e * d * d * d] : k === 1 ? [b, 2 * c * d, 3 * e * d * d] : [2 * c, 6 * e * d],
      value = parts.reduce((s, x) => s + x, 0),
      off =
        LEAST +
        ROUNDING * parts.reduce((s, x) => s + Math.abs(x), Math.abs(at) * (k === 0 ? Math.abs(b) : k === 1 ? Math.abs(c) : Math.abs(e)));
    low[k] = Math.min(low[k]!, value - off);
    high[k] = Math.max(high[k]!, value + off);
  };
  const [p, q] = [lo - at, hi - at],
    within = (d: number) => d > p && d < q;
  for (const d of [p, q]) for (const k of [0, 1, 2] as const) put(k, d);
  // where the slope turns, and where it vanishes
  const turn = -c / (3 * e),
    root = Math.sqrt(Math.max(0, c * c - 3 * e * b)),
    flat = e === 0 ? [-b / (2 * c)] : [(-c - root) / (3 * e), (-c + root) / (3 * e)];
  if (e !== 0 && within(turn)) put(1, turn);
  for (const d of flat) if (within(d)) put(0, d);
}

const known = new WeakMap<Table, readonly Cubic[]>();
/** The cubics of a table, with those beyond its ends. */
function cubicsOf(table: Table): readonly Cubic[] {
  const found = known.get(table);
  if (found) return found;
  const { x, y, between, beyond, slope, length: n } = table,
    pieces = Array.from({ length: n - 1 }, (_, i): Cubic => {
      const w = x[i + 1]! - x[i]!,
        rise = (y[i + 1]! - y[i]!) / w,
        [a, b] = [slope[i]!, slope[i + 1]!],
        c =
          between === 'linear'
            ? ([y[i]!, rise, 0, 0] as const)
            : ([y[i]!, a, (3 * rise - 2 * a - b) / w, (a + b - 2 * rise) / (w * w)] as const);
      return { from: x[i]!, to: x[i + 1]!, at: x[i]!, c };
    }),
    end = (i: number, from: number, to: number, rise: number): Cubic => ({
      from,
      to,
      at: x[i]!,
      c: [y[i]!, beyond === 'hold' ? 0 : rise, 0, 0],
    }),
    [first, last] = [0, n - 1].map((i) => (between === 'linear' ? pieces[Math.min(i, n - 2)]!.c[1] : slope[i]!)) as [number, number],
    made = beyond === 'repeat' ? pieces : [end(0, -Infinity, x[0]!, first), ...pieces, end(n - 1, x[n - 1]!, Infinity, last)];
  known.set(table, made);
  return made;
}

/** @param out value, slope and curvature */
export function boundsOf(table: Table, lo: number, hi: number, out: Ends): void {
  const cubics = cubicsOf(table),
    span = table.beyond === 'repeat' ? table.x[table.length - 1]! - table.x[0]! : undefined;
  out.lo.fill(Infinity, 0, 3);
  out.hi.fill(-Infinity, 0, 3);
  if (!(lo <= hi) || !(hi - lo < Infinity)) {
    out.lo.fill(-Infinity, 0, 3);
    out.hi.fill(Infinity, 0, 3);
    return;
  }
  const first = cubics[0]!.from,
    turns = span === undefined ? 0 : Math.floor((lo - first) / span),
    // beside the end of a period what follows counts too
    shifts = span === undefined ? [0] : [turns - 1, turns, turns + 1].map((k) => k * span),
    slack = span === undefined ? 0 : 4e-16 * (Math.abs(lo) + Math.abs(hi)),
    whole = span !== undefined && hi - lo >= span;
  for (const shift of whole ? [0] : shifts)
    for (const c of cubics) {
      const [p, q] = whole ? [c.from, c.to] : [Math.max(lo - shift - slack, c.from), Math.min(hi - shift + slack, c.to)];
      if (p <= q) take(c, p, q, out);
    }
}

/** Bounds of code that reads a table. */
export function tableWithin({ table }: Outside): Within | undefined {
  if (!(table?.of instanceof Table)) return undefined;
  const { of, order } = table;
  return ({ lo, hi }, out) => {
    boundsOf(of, lo[0]!, hi[0]!, out);
    if (order === 0) return;
    // of its integral the slopes are asked for: value and slope of the table
    out.lo.copyWithin(1, 0, 2);
    out.hi.copyWithin(1, 0, 2);
    [out.lo[0], out.hi[0]] = [-Infinity, Infinity];
  };
}
