/** Inverses of small matrices. */
import { DenseLu } from '../../linear/dense';

/** @param A of n rows, row by row; it stays as it is @returns undefined where it has none */
export function inverse(A: Float64Array, n: number): Float64Array | undefined {
  const lu = new DenseLu(n, A.slice()),
    out = new Float64Array(n * n),
    x = new Float64Array(n);
  if (!lu.factorise()) return undefined;
  for (let k = 0; k < n; k++) {
    x.fill(0);
    x[k] = 1;
    lu.solve(x);
    for (let i = 0; i < n; i++) out[i * n + k] = x[i]!;
  }
  return out.every(Number.isFinite) ? out : undefined;
}
