/**
 * Rows and columns of a matrix scaled by powers of two until each is as large as the other (Parlett & Reinsch, Numer. Math. 13, 1969): its eigenvalues
 * stay, and are known to the size of what remains.
 * @param A overwritten
 * @returns by what the entries of its eigenvectors are to be multiplied
 */
export function balanceMatrix(A: readonly Float64Array[]): Float64Array {
  const n = A.length,
    D = new Float64Array(n).fill(1);
  for (let changed = true, round = 0; changed && round < 100; round++) {
    changed = false;
    for (let i = 0; i < n; i++) {
      let row = 0,
        column = 0;
      for (let j = 0; j < n; j++) {
        if (j === i) continue;
        row += Math.abs(A[i]![j]!);
        column += Math.abs(A[j]![i]!);
      }
      if (row === 0 || column === 0) continue;
      let f = 1;
      const both = row + column;
      while (column < row / 2) {
        f *= 2;
        column *= 4;
      }
      while (column >= row * 2) {
        f /= 2;
        column /= 4;
      }
      if ((column + row) / f >= 0.95 * both) continue;
      changed = true;
      D[i] = D[i]! * f;
      for (let j = 0; j < n; j++) A[i]![j] = A[i]![j]! / f;
      for (let j = 0; j < n; j++) A[j]![i] = A[j]![i]! * f;
    }
  }
  return D;
}
