/** What pushes a posture back, as statics need it: solved with, and judged. */
import { EigenvalueDecomposition, Matrix } from 'ml-matrix';
import { DenseLu } from '../linear/dense';
import type { Mechanism } from '../system/mechanism';
import { loadScale } from './balance';
import { lowest } from './lowest';
import { combine, freeBasis, freedomCount, linearise, probe } from './reduced';
import { SmallMotions, vanishes } from './small-motions';

export interface Stability {
  readonly unstable: boolean;
  /** Displacements that nothing pulls back. */
  readonly neutral: readonly Float64Array[];
}

export interface Stiffness {
  /** About the posture in K, at rest, with the loads of a time. */
  at(t: number): unknown;
  /** Size of accelerations that are rounding, in the mass metric. */
  readonly noise: number;
  /** As of `SmallMotions`. */
  shift(s: number, symmetric?: boolean): number | undefined;
  solve(f: Float64Array): Float64Array;
  stability(freedoms: number): Stability;
  /** Whether loads are lost in rounding. */
  lost(t: number): boolean;
}

/** That of a machine. */
export const stiffnessOf = (m: Mechanism): Stiffness => (m.system.own.list.length > 0 ? new ByDifferences(m) : new Exact(m));

/** Motions that are looked at first; more where all of them turn out to be neutral. */
const FEW = 12;

/** By exact derivatives, sparse. */
class Exact extends SmallMotions implements Stiffness {
  stability(freedoms: number): Stability {
    if (freedoms === 0) return { unstable: false, neutral: [] };
    for (let count = Math.min(FEW, freedoms); ; count = Math.min(freedoms, 4 * count)) {
      const found = lowest(this, freedoms, count);
      if (count < freedoms && found.every((f) => vanishes(f.square))) continue;
      const symmetric = found.every((a, i) =>
        found.every((b, j) => {
          if (j >= i) return true;
          const [x, y] = [this.form('posture', a.shape, b.shape), this.form('posture', b.shape, a.shape)];
          return vanishes({ value: x.value - y.value, bound: x.bound + y.bound });
        }),
      );
      if (symmetric)
        return {
          unstable: found.some(({ square: { value, bound } }) => value < -bound),
          neutral: found.filter((f) => vanishes(f.square)).map((f) => f.shape),
        };
      // loads that turn with their bodies: K on these motions as it is
      const shapes = found.map((f) => f.shape),
        J = shapes.map((a) => Float64Array.from(shapes, (b) => -this.form('posture', a, b).value)),
        bound = Math.max(...found.map((f) => f.square.bound));
      return judged(shapes, J, bound);
    }
  }
}

/** Of p̈ = J p. @param bound of what is zero */
function judged(shapes: readonly Float64Array[], J: readonly Float64Array[], bound: number): Stability {
  const e = new EigenvalueDecomposition(new Matrix(J.map((r) => [...r]))),
    { realEigenvalues: re, imaginaryEigenvalues: im, eigenvectorMatrix: V } = e,
    free = re.flatMap((x, j) => (Math.abs(x) <= bound && Math.abs(im[j]!) <= bound ? [j] : []));
  return {
    unstable: re.some((x) => x > bound),
    neutral: free.map((j) =>
      combine(
        shapes,
        shapes.map((_, i) => V.get(i, j)),
        new Float64Array(shapes[0]!.length),
      ),
    ),
  };
}

/** By differences along the constraints, in as few coordinates as there are freedoms: for bodies with coordinates of their own. */
class ByDifferences implements Stiffness {
  readonly noise = 0;
  lost(): boolean {
    return false;
  }
  private N: Float64Array[] = [];
  private J: Float64Array[] = [];
  private lu = new DenseLu(0);
  private t = 0;
  constructor(private readonly m: Mechanism) {}
  at(t: number): void {
    const { system } = this.m;
    this.t = t;
    this.N = freeBasis(system, freedomCount(system));
    this.J = this.N.length > 0 ? linearise(this.m, t, this.N, false).stiffness : [];
    system.accelerate(t);
  }
  shift(s: number, symmetric = false): number | undefined {
    const { J } = this,
      n = J.length,
      lu = (this.lu = new DenseLu(n)),
      entry = (i: number, j: number) => (symmetric ? 0.5 * (J[i]![j]! + J[j]![i]!) : J[i]![j]!);
    for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) lu.A[i * n + j] = (i === j ? s : 0) - entry(i, j);
    const rates = n > 0 ? new EigenvalueDecomposition(new Matrix(J.map((r) => [...r]))).realEigenvalues : [];
    return lu.factorise() ? rates.filter((x) => x > s).length : undefined;
  }
  solve(f: Float64Array): Float64Array {
    const { N, lu } = this,
      p = Float64Array.from(N, (x) => x.reduce((s, v, i) => s + v * f[i]!, 0));
    lu.solve(p);
    return combine(N, p, new Float64Array(f.length));
  }
  stability(): Stability {
    const { N, J, m, t } = this;
    if (N.length === 0) return { unstable: false, neutral: [] };
    // what a load that turns with a displacement of the machine's size would give
    const usual = Math.max(0, ...N.map((c) => loadScale(m, t) / (1e4 * probe(m.system, c, m.size))));
    return judged(N, J, 1e-7 * Math.max(1e-12, usual, ...J.flatMap((r) => Array.from(r, Math.abs))));
  }
}
