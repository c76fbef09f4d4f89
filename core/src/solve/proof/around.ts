/** Numbers within bounds, told by their middle and how far they go to each side (Rump, Acta Numerica 19, 2010, § 9). */

/** One rounding. */
export const EPSILON = 2.220446049250313e-16;

/** So many numbers. */
export interface Around {
  readonly mid: Float64Array;
  readonly rad: Float64Array;
}
/** So many zeros. */
export const around = (n: number): Around => ({ mid: new Float64Array(n), rad: new Float64Array(n) });

/** A number between two others. */
export interface Between {
  readonly lo: number;
  readonly hi: number;
}
/** The bounds of one of them. */
export const between = ({ mid, rad }: Around, i: number): Between => ({ lo: mid[i]! - rad[i]!, hi: mid[i]! + rad[i]! });
/** Its sign; 0 where it may be zero. */
export const sign = ({ lo, hi }: Between): -1 | 0 | 1 => (lo > 0 ? 1 : hi < 0 ? -1 : 0);

/** Rounds in which bounds are looked for; by how much more than seems needed they are tried; and steps that become smaller too slowly for any. */
const ROUNDS = 12;
const MORE = 1.2;
const NEARLY = 0.97;

/**
 * Bounds of x where x = d + Q x and Q is small; undefined where it is not.
 * @param Q of n rows @param turned whether its transpose is meant
 */
export function solved(d: Around, Q: Around, turned: boolean): Around | undefined {
  const n = d.mid.length,
    size = (i: number, j: number) => {
      const at = turned ? j * n + i : i * n + j;
      return Math.abs(Q.mid[at]!) + Q.rad[at]!;
    },
    times = (x: Float64Array, first: Float64Array) =>
      first.map((f, i) => {
        let s = f;
        for (let j = 0; j < n; j++) s += size(i, j) * x[j]!;
        return s * (1 + 2 * n * EPSILON);
      }),
    first = d.mid.map((x, i) => Math.abs(x) + d.rad[i]!),
    most = (x: Float64Array) => x.reduce((s, v) => Math.max(s, v), 0),
    // where all that it is made of is zero there is none of it
    least = Math.max(most(first), Number.MIN_VALUE) * EPSILON;
  let [x, before] = [first, most(first)];
  for (let k = 0; k < ROUNDS; k++) {
    const next = times(x, first),
      step = next.map((v, i) => v - x[i]!),
      far = most(step),
      // as steps become smaller they come to so much more
      more = far < before ? (MORE * far) / (before - far) : 0,
      bound = next.map((v, i) => v + more * step[i]! + MORE * least),
      within = times(bound, first);
    if (within.every((v, i) => v <= bound[i]!)) {
      const nearer = times(within, first);
      return { mid: d.mid, rad: times(nearer, d.rad) };
    }
    if (!(far < NEARLY * before) && k > 1) return undefined;
    [x, before] = [next, far];
  }
  return undefined;
}

/** u with N u = N₀ w, where E = I − N₀⁻¹ N: u = w + E u; undefined where it is not known. */
export function corrected(w: Float64Array, E: Around): Around | undefined {
  const n = w.length,
    d = around(n);
  for (let i = 0; i < n; i++) {
    let [x, r] = [0, n * EPSILON * Math.abs(w[i]!)];
    for (let j = 0, at = i * n; j < n; j++, at++) {
      x += E.mid[at]! * w[j]!;
      r += E.rad[at]! * Math.abs(w[j]!) + n * EPSILON * Math.abs(E.mid[at]! * w[j]!);
    }
    d.mid[i] = x;
    d.rad[i] = r;
  }
  const off = solved(d, E, false);
  return off && { mid: off.mid.map((x, i) => w[i]! + x), rad: off.rad.map((x, i) => x + EPSILON * Math.abs(w[i]!)) };
}

/** A matrix of n rows of plain numbers, or its transpose, times something. */
export function product(B: Float64Array, { mid, rad }: Around, turned = false): Around {
  const n = mid.length,
    out = around(n);
  for (let i = 0; i < n; i++)
    for (let k = 0; k < n; k++) {
      const b = B[i * n + k]!;
      if (b === 0) continue;
      const [to, from] = turned ? [k, i] : [i, k],
        x = b * mid[from]!;
      out.mid[to] = out.mid[to]! + x;
      out.rad[to] = out.rad[to]! + Math.abs(b) * rad[from]! * (1 + n * EPSILON) + n * EPSILON * Math.abs(x);
    }
  return out;
}
