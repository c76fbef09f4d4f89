/** The sparse factorisation against dense elimination, on random trees with closed loops. */
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { Coincide, Perpendicular } from '../src/equations/constraints';
import type { Constraint } from '../src/equations/constraint';
import { Elimination } from '../src/linear/elimination';
import { Ldlt } from '../src/linear/ldlt';

/** Dense solve with partial pivoting, written for the test alone. */
function dense(A: number[][], b: number[]): number[] {
  const n = b.length;
  const M = A.map((row, i) => [...row, b[i]!]);
  for (let k = 0; k < n; k++) {
    let p = k;
    for (let i = k; i < n; i++) if (Math.abs(M[i]![k]!) > Math.abs(M[p]![k]!)) p = i;
    [M[k], M[p]] = [M[p]!, M[k]!];
    for (let i = k + 1; i < n; i++) {
      const f = M[i]![k]! / M[k]![k]!;
      for (let j = k; j <= n; j++) M[i]![j]! -= f * M[k]![j]!;
    }
  }
  const x = new Array<number>(n).fill(0);
  for (let i = n - 1; i >= 0; i--) x[i] = (M[i]![n]! - M[i]!.slice(i + 1, n).reduce((s, a, j) => s + a * x[i + 1 + j]!, 0)) / M[i]![i]!;
  return x;
}

const random = (seed: number) => () => {
  seed = (seed * 1103515245 + 12345) % 2147483648;
  return seed / 1073741824 - 1;
};

it('solves [M Gᵀ; G 0] as dense elimination does', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 7 }), fc.integer({ min: 0, max: 2 }), fc.integer({ min: 1, max: 1e6 }), (n, closing, seed) => {
      const next = random(seed);
      const constraints: Constraint[][] = [];
      // a random tree of ball joints, then loop-closing rows
      for (let b = 0; b < n; b++)
        constraints.push([new Coincide(b === 0 ? n : Math.floor(((next() + 1) / 2) * b), [0, 0, 0], b, [0, 0, 0])]);
      for (let k = 0; k < closing && n > 1; k++)
        constraints.push([new Perpendicular(n, [1, 0, 0], 1 + Math.floor(((next() + 1) / 2) * (n - 1)), [0, 1, 0])]);
      let rows = 0;
      const links = constraints.map((cs) => {
        for (const c of cs) {
          c.row = rows;
          rows += c.rows;
        }
        return { a: cs[0]!.a, b: cs[0]!.b, rows: cs.reduce((s, c) => s + c.rows, 0), constraints: cs };
      });
      const G = new Float64Array(12 * rows);
      for (const c of constraints.flat())
        for (let k = 0; k < c.rows; k++) for (let e = 0; e < 12; e++) if (c.pattern(k, e)) G[12 * (c.row + k) + e] = next();
      const masses = Float64Array.from({ length: n }, () => 1.5 + next());
      const inertias = new Float64Array(9 * n);
      for (let b = 0; b < n; b++) {
        const off = 0.2 * next();
        inertias.set([2 + next(), off, 0, off, 2 + next(), 0, 0, 0, 2 + next()], 9 * b);
      }
      const size = 6 * n + rows;
      const A = Array.from({ length: size }, () => new Array<number>(size).fill(0));
      for (let b = 0; b < n; b++)
        for (let i = 0; i < 3; i++) {
          A[6 * b + i]![6 * b + i] = masses[b]!;
          for (let j = 0; j < 3; j++) A[6 * b + 3 + i]![6 * b + 3 + j] = inertias[9 * b + 3 * i + j]!;
        }
      for (const c of constraints.flat())
        for (let k = 0; k < c.rows; k++)
          for (let e = 0; e < 12; e++) {
            const body = e < 6 ? c.a : c.b;
            if (body === n) continue;
            A[6 * n + c.row + k]![6 * body + (e % 6)]! += G[12 * (c.row + k) + e]!;
            A[6 * body + (e % 6)]![6 * n + c.row + k]! += G[12 * (c.row + k) + e]!;
          }
      const b = Array.from({ length: size }, next);
      const ldlt = new Ldlt(new Elimination(n, rows, links), masses, inertias);
      ldlt.factorise(G);
      const x = Float64Array.from(b);
      ldlt.solve(x);
      if (ldlt.redundant.some((r) => r)) return;
      // compare by residual: it does not depend on the conditioning of a random matrix
      const residual = A.map((row, i) => row.reduce((s, a, j) => s + a * x[j]!, 0) - b[i]!);
      const size1 = Math.max(1, ...x.map(Math.abs));
      for (const r of residual) expect(Math.abs(r)).toBeLessThan(1e-8 * size1);
      const exact = dense(A, b);
      const size2 = Math.max(...exact.map(Math.abs));
      if (size2 < 1e3) exact.forEach((e, i) => expect(Math.abs(e - x[i]!)).toBeLessThan(1e-7 * size2));
    }),
    { numRuns: 150 },
  );
});

it('costs in proportion to the length of a chain', () => {
  const cost = (n: number) => {
    const links = Array.from({ length: n }, (_, b) => {
      const c = new Coincide(b === 0 ? n : b - 1, [0, 0, 0], b, [0, 0, 0]);
      c.row = 3 * b;
      return { a: c.a, b: c.b, rows: 3, constraints: [c] };
    });
    return new Ldlt(new Elimination(n, 3 * n, links), new Float64Array(n).fill(1), new Float64Array(9 * n)).cost.updates;
  };
  expect(cost(400) / cost(40)).toBeLessThan(10.2);
});
