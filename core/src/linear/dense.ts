/** Dense LU with partial pivoting, real and complex (Golub & Van Loan, Matrix Computations, alg. 3.4.1). Matrices are row-major and overwritten. */

export class DenseLu {
  private readonly pivot: Int32Array;
  constructor(
    private readonly n: number,
    readonly A: Float64Array = new Float64Array(n * n),
  ) {
    this.pivot = new Int32Array(n);
  }
  /** @returns whether no pivot vanished */
  factorise(): boolean {
    const { n, A, pivot } = this;
    for (let k = 0; k < n; k++) {
      let p = k,
        most = Math.abs(A[k * n + k]!);
      for (let i = k + 1; i < n; i++) {
        const v = Math.abs(A[i * n + k]!);
        if (v > most) {
          most = v;
          p = i;
        }
      }
      pivot[k] = p;
      if (!(most > 0)) return false;
      if (p !== k)
        for (let j = 0; j < n; j++) {
          const s = A[k * n + j]!;
          A[k * n + j] = A[p * n + j]!;
          A[p * n + j] = s;
        }
      const inv = 1 / A[k * n + k]!;
      for (let i = k + 1; i < n; i++) {
        const l = A[i * n + k]! * inv;
        A[i * n + k] = l;
        if (l === 0) continue;
        for (let j = k + 1, a = i * n + k + 1, b = k * n + k + 1; j < n; j++, a++, b++) A[a] = A[a]! - l * A[b]!;
      }
    }
    return true;
  }
  solve(x: Float64Array): void {
    const { n, A, pivot } = this;
    for (let k = 0; k < n; k++) {
      const p = pivot[k]!;
      if (p !== k) {
        const s = x[k]!;
        x[k] = x[p]!;
        x[p] = s;
      }
    }
    for (let i = 1; i < n; i++) {
      let s = x[i]!;
      for (let j = 0, a = i * n; j < i; j++, a++) s -= A[a]! * x[j]!;
      x[i] = s;
    }
    for (let i = n - 1; i >= 0; i--) {
      let s = x[i]!;
      for (let j = i + 1, a = i * n + i + 1; j < n; j++, a++) s -= A[a]! * x[j]!;
      x[i] = s / A[i * n + i]!;
    }
  }
}

export class ComplexLu {
  private readonly pivot: Int32Array;
  readonly R: Float64Array;
  readonly I: Float64Array;
  constructor(private readonly n: number) {
    this.pivot = new Int32Array(n);
    this.R = new Float64Array(n * n);
    this.I = new Float64Array(n * n);
  }
  factorise(): boolean {
    const { n, R, I, pivot } = this;
    for (let k = 0; k < n; k++) {
      let p = k,
        most = -1;
      for (let i = k; i < n; i++) {
        const v = Math.abs(R[i * n + k]!) + Math.abs(I[i * n + k]!);
        if (v > most) {
          most = v;
          p = i;
        }
      }
      pivot[k] = p;
      if (!(most > 0)) return false;
      if (p !== k)
        for (let j = 0; j < n; j++)
          for (const M of [R, I]) {
            const s = M[k * n + j]!;
            M[k * n + j] = M[p * n + j]!;
            M[p * n + j] = s;
          }
      const a = R[k * n + k]!,
        b = I[k * n + k]!,
        d = 1 / (a * a + b * b),
        ir = a * d,
        ii = -b * d;
      for (let i = k + 1; i < n; i++) {
        const x = R[i * n + k]!,
          y = I[i * n + k]!;
        if (x === 0 && y === 0) continue;
        const lr = x * ir - y * ii,
          li = x * ii + y * ir;
        R[i * n + k] = lr;
        I[i * n + k] = li;
        for (let j = k + 1, u = i * n + k + 1, v = k * n + k + 1; j < n; j++, u++, v++) {
          R[u] = R[u]! - (lr * R[v]! - li * I[v]!);
          I[u] = I[u]! - (lr * I[v]! + li * R[v]!);
        }
      }
    }
    return true;
  }
  solve(x: Float64Array, y: Float64Array): void {
    const { n, R, I, pivot } = this;
    for (let k = 0; k < n; k++) {
      const p = pivot[k]!;
      if (p !== k)
        for (const v of [x, y]) {
          const s = v[k]!;
          v[k] = v[p]!;
          v[p] = s;
        }
    }
    for (let i = 0; i < n; i++) {
      let s = x[i]!,
        t = y[i]!;
      for (let j = 0, a = i * n; j < i; j++, a++) {
        s -= R[a]! * x[j]! - I[a]! * y[j]!;
        t -= R[a]! * y[j]! + I[a]! * x[j]!;
      }
      x[i] = s;
      y[i] = t;
    }
    for (let i = n - 1; i >= 0; i--) {
      let s = x[i]!,
        t = y[i]!;
      for (let j = i + 1, a = i * n + i + 1; j < n; j++, a++) {
        s -= R[a]! * x[j]! - I[a]! * y[j]!;
        t -= R[a]! * y[j]! + I[a]! * x[j]!;
      }
      const a = R[i * n + i]!,
        b = I[i * n + i]!,
        d = 1 / (a * a + b * b);
      x[i] = (s * a + t * b) * d;
      y[i] = (t * a - s * b) * d;
    }
  }
}
