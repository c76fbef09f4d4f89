/**
 * Whether the modes of a machine that moves are those of an instant only. With ẋ = A(t) x and A V = V Λ, the coordinates of the modes follow
 * ż = (Λ − V⁻¹V̇) z, (V⁻¹V̇)ᵢⱼ = (V⁻¹ȦV)ᵢⱼ/(λⱼ − λᵢ): to second order that moves λᵢ by Σⱼ (V⁻¹V̇)ᵢⱼ (V⁻¹V̇)ⱼᵢ/(λᵢ − λⱼ), besides that λᵢ itself changes by
 * (V⁻¹ȦV)ᵢᵢ in a second (Kato, Perturbation Theory for Linear Operators, ch. II). In axes that turn with the machine nothing may change at all.
 */
import { Matrix, inverse } from 'ml-matrix';
import type { Mechanism } from '../system/mechanism';
import { Leading } from './leading';
import { type FreeMotion, freeMotions } from './motions';
import { extent } from './reduced';

/** How far the machine moves on meanwhile, in parts of its size or rad. */
const STEP = 1e-5;
/** Part of an eigenvalue by which it may move. */
const HOLDS = 0.01;
/** Eigenvalues nearer to each other than this part are one, whose motions may mix. */
const ONE = 1e-3;

/** ẋ = A x of displacements and rates of leaders. */
export function firstOrder({
  stiffness,
  damping,
}: {
  stiffness: readonly Float64Array[];
  damping: readonly Float64Array[];
}): Float64Array[] {
  const d = stiffness.length;
  return Array.from({ length: 2 * d }, (_, i) => {
    const row = new Float64Array(2 * d);
    if (i < d) row[d + i] = 1;
    else {
      row.set(stiffness[i - d]!);
      row.set(damping[i - d]!, d);
    }
    return row;
  });
}

/** dA/dt along the motion in K, which is left as it is; undefined where the machine rests, or other coordinates lead a moment later. */
export function changing(m: Mechanism, t: number, leaders: readonly FreeMotion[], A: readonly Float64Array[]): Matrix | undefined {
  const { system } = m,
    { K } = system,
    y = new Float64Array(K.whole.size),
    u = new Float64Array(system.motions);
  K.motion(u);
  const far = extent(system, u, m.size);
  if (!(far > 0)) return undefined;
  const dt = STEP / far;
  system.accelerate(t);
  const du = system.acceleration.slice();
  K.storeWhole(y);
  K.displace(u, dt);
  K.quicken(du, dt);
  system.linearise();
  system.projectPositions(t + dt);
  system.linearise();
  system.projectVelocities(t + dt);
  const found = freeMotions(m),
    same = leaders.flatMap((l) => found.find((f) => f.name === l.name) ?? []),
    next = same.length === leaders.length ? firstOrder(new Leading(m, t + dt, same).linear) : undefined;
  K.loadWhole(y);
  system.linearise();
  return next && new Matrix(next.map((row, i) => Array.from(row, (x, j) => (x - A[i]![j]!) / dt)));
}

/** A pair of conjugates, or a real eigenvalue: its columns, and the upper of the two. */
interface Part {
  readonly at: number;
  readonly size: 1 | 2;
  readonly re: number;
  readonly im: number;
}
const sizeOf = ([a, b]: Complex): number => Math.sqrt(a * a + b * b);
type Complex = readonly [re: number, im: number];
const times = ([a, b]: Complex, [c, d]: Complex): Complex => [a * c - b * d, a * d + b * c];
const over = (x: Complex, [c, d]: Complex): Complex => {
  const n = c * c + d * d;
  return times(x, [c / n, -d / n]);
};

/**
 * Which eigenvalues hold for an instant only.
 * @param V real and imaginary parts of the eigenvectors as columns @param change dA/dt
 * @returns by the columns of V, as pairs have them
 */
export function passing(V: Matrix, re: readonly number[], im: readonly number[], change: Matrix): boolean[] {
  const n = re.length,
    W = inverse(V).mmul(change).mmul(V),
    parts: Part[] = [];
  for (let k = 0; k < n; k += parts.at(-1)!.size) parts.push({ at: k, size: im[k] === 0 ? 1 : 2, re: re[k]!, im: im[k]! });
  /** Of conjugate ways through columns (a, b): the basis of a pair is u ± iw, its rows (1 ∓ i)/2. */
  const entry = (i: Part, up: 1 | -1, j: Part, to: 1 | -1): Complex => {
    // columns of j: a + i·to·b; rows of i: (a − i·up·b)/2
    let [x, y] = [0, 0];
    const right: Complex[] = j.size === 1 ? [[1, 0]] : [[1, 0], [0, to]], // prettier-ignore
      left: Complex[] = i.size === 1 ? [[1, 0]] : [[0.5, 0], [0, -0.5 * up]]; // prettier-ignore
    left.forEach((l, r) =>
      right.forEach((c, s) => {
        const [p, q] = times(l, c),
          w = W.get(i.at + r, j.at + s);
        x += p * w;
        y += q * w;
      }),
    );
    return [x, y];
  };
  const out = new Array<boolean>(n).fill(false);
  for (const i of parts) {
    const size = sizeOf([i.re, i.im]);
    let [x, y] = [0, 0];
    for (const j of parts)
      for (const to of j.size === 1 ? ([1] as const) : ([1, -1] as const)) {
        const gap: Complex = [i.re - j.re, i.im - to * j.im],
          far = sizeOf(gap);
        if (!(far > ONE * Math.max(size, sizeOf([j.re, j.im])))) continue;
        const both = times(entry(i, 1, j, to), entry(j, to, i, 1)),
          [p, q] = over(over(over(both, gap), gap), gap);
        x -= p;
        y -= q;
      }
    const [p, q] = entry(i, 1, i, 1),
      doubtful = !(sizeOf([x, y]) <= HOLDS * size && sizeOf([p, q]) <= HOLDS * size * size);
    for (let k = 0; k < i.size; k++) out[i.at + k] = doubtful && size > 0;
  }
  return out;
}
