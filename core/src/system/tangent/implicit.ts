/**
 * The matrix that implicit steps solve with, of the states and multipliers of a machine: (γ − J) δy = r, J being the derivative of the state's rates. With
 * δq = P x, x = δu + r_q for displacements, P = (γ + ½ ω×)⁻¹, and u̇, λ as they follow from M δu̇ + Gᵀδλ = ∂r₁, G δu̇ = ∂r₂ (`tangent.ts`), it is
 *   [γM − ∂r₁/∂u − ∂r₁/∂q P   Gᵀ − ∂f/∂λ] [x ]   [M (r_u + γ r_q) − ∂r₁/∂u r_q    ]
 *   [G − (∂r₂/∂u + ∂r₂/∂q P)/γ          0] [δλ] = [(G (r_u + γ r_q) − ∂r₂/∂u r_q)/γ],
 * sparse as the machine is, without any solution for accelerations in between.
 */
import { Chart } from '../../equations/chart';
import { SparseComplexLu, SparseLu } from '../../linear/sparse-lu';
import type { ExtraStates } from '../../equations/states';
import type { System } from '../system';
import { MachineMatrix } from './matrix';
import type { Tangent } from './tangent';

export class ImplicitMatrix {
  readonly chart: Chart;
  private readonly matrix: MachineMatrix;
  private readonly real: SparseLu;
  private readonly complex: SparseComplexLu;
  /** P: 1/γ, then nine numbers to a body. */
  private readonly P: readonly [Float64Array, Float64Array];
  private readonly w: Float64Array;
  /** Further states that follow from the motion, and on which forces hang. */
  private readonly driven: readonly ExtraStates[];
  /** Three right-hand sides: a real one, and a complex one. */
  private readonly displacement: readonly Float64Array[];
  private readonly velocity: readonly Float64Array[];
  private readonly rhs: readonly Float64Array[];
  private readonly lengths: readonly Float64Array[];
  private readonly slower: readonly [Float64Array, Float64Array];
  private readonly x: readonly [Float64Array, Float64Array];
  private readonly du: readonly [Float64Array, Float64Array];
  private readonly dq: readonly [Float64Array, Float64Array];
  /** γ of the last factorisations. */
  private gamma = [0, 0, 0];

  constructor(
    private readonly system: System,
    private readonly tangent: Tangent,
  ) {
    const { K, bodies, rows, motions } = system,
      matrix = (this.matrix = new MachineMatrix(system, tangent));
    this.chart = new Chart(K);
    this.real = new SparseLu(matrix.pattern);
    this.complex = new SparseComplexLu(matrix.pattern);
    this.w = new Float64Array(3 * (bodies + 1));
    this.driven = system.extras.filter((e) => e.along);
    this.P = [new Float64Array(1 + 9 * bodies), new Float64Array(1 + 9 * bodies)];
    const three = (count: number) => [0, 1, 2].map(() => new Float64Array(count)),
      two = (count: number) => [new Float64Array(count), new Float64Array(count)] as const;
    this.displacement = three(motions);
    this.velocity = three(motions);
    this.rhs = three(motions + rows);
    this.lengths = three(this.chart.lengths);
    this.slower = two(this.chart.lengths);
    this.x = two(matrix.size);
    this.du = two(motions);
    this.dq = two(motions);
  }

  /** Takes over the derivatives at a state, as `tangent` has just looked at them. */
  take(y: Float64Array): void {
    this.chart.take(y);
    this.w.set(this.system.K.w);
    for (const { along } of this.driven) along!.take(this.system.K);
    this.matrix.take();
  }

  /** 1/γ and P, for γ = a + ib. */
  private through(a: number, b: number): void {
    const [R, I] = this.P,
      { bodies } = this.system,
      square = a * a + b * b,
      p = a / square,
      q = -b / square;
    R[0] = p;
    I[0] = q;
    for (let i = 0; i < bodies; i++) {
      const x = 0.5 * this.w[3 * i]!,
        y = 0.5 * this.w[3 * i + 1]!,
        z = 0.5 * this.w[3 * i + 2]!,
        at = 1 + 9 * i;
      // (γ + v×)⁻¹ = (γ² + v vᵀ − γ v×)/(γ (γ² + v·v))
      const gr = a * a - b * b,
        gi = 2 * a * b,
        nr = gr + x * x + y * y + z * z,
        // 1/(γ² + v·v), and that by γ
        size = nr * nr + gi * gi,
        kr = nr / size,
        ki = -gi / size,
        sr = kr * p - ki * q,
        si = kr * q + ki * p,
        gsr = gr * sr - gi * si,
        gsi = gr * si + gi * sr;
      const put = (e: number, outer: number, across: number, diagonal: boolean) => {
        R[at + e] = outer * sr - across * kr + (diagonal ? gsr : 0);
        I[at + e] = outer * si - across * ki + (diagonal ? gsi : 0);
      };
      put(0, x * x, 0, true);
      put(1, x * y, -z, false);
      put(2, x * z, y, false);
      put(3, y * x, z, false);
      put(4, y * y, 0, true);
      put(5, y * z, -x, false);
      put(6, z * x, -y, false);
      put(7, z * y, x, false);
      put(8, z * z, 0, true);
    }
  }

  /** Factorises for a real γ and a complex one. @returns whether no pivot vanished */
  factorise(real: number, re: number, im: number): boolean {
    const { matrix, complex, P } = this;
    this.gamma = [real, re, im];
    this.through(real, 0);
    // rows are divided by γ
    matrix.fill({ mass: [real, 0], motion: 1, P, rows: [P[0][0]!, 0] }, this.real.values);
    if (!this.real.factorise()) return false;
    this.through(re, im);
    matrix.fill({ mass: [re, im], motion: 1, P, rows: [P[0][0]!, P[1][0]!] }, complex.re, complex.im);
    return complex.factorise();
  }

  /** Solves (γ − J) x = r for the real γ, in place. @param r,x of the state, further states included */
  solve(r: Float64Array): void {
    this.begin([r], false);
    this.end(r, undefined, 0);
  }
  /** The same for a real and for a complex right-hand side, with the γ of each. */
  solveBoth(r: Float64Array, re: Float64Array, im: Float64Array): void {
    this.begin([r, re, im], true);
    this.end(r, undefined, 0);
    this.end(re, im, 1);
  }
  /** Displacements, velocities and lengths of turns of right-hand sides, and what they come to for the equations of the machine. */
  private begin(parts: readonly Float64Array[], both: boolean): void {
    const { chart, displacement, velocity, lengths, rhs, tangent, matrix } = this,
      { motions } = this.system,
      [real, re, im] = this.gamma as [number, number, number],
      n = parts.length;
    for (let k = 0; k < n; k++) {
      rhs[k]!.fill(0);
      chart.read(parts[k]!, displacement[k]!, velocity[k]!, lengths[k]!);
    }
    // r_u + γ r_q
    const [a, b, c] = displacement as [Float64Array, Float64Array, Float64Array],
      [u, v, w] = velocity as [Float64Array, Float64Array, Float64Array];
    for (let i = 0; i < motions; i++) u[i] = u[i]! + real * a[i]!;
    if (both)
      for (let i = 0; i < motions; i++) {
        v[i] = v[i]! + re * b[i]! - im * c[i]!;
        w[i] = w[i]! + re * c[i]! + im * b[i]!;
      }
    tangent.timesEach('motion', both ? displacement : displacement.slice(0, 1), rhs, -1);
    for (let k = 0; k < n; k++) {
      matrix.massTimes(velocity[k]!, rhs[k]!);
      matrix.rowsTimes(velocity[k]!, rhs[k]!);
      matrix.foldIn(rhs[k]!);
    }
  }
  /** @param at the first of its parts */
  private end(r: Float64Array, i: Float64Array | undefined, at: 0 | 1): void {
    const { chart, P, system, w, x, du, dq, slower, matrix } = this,
      { place } = matrix,
      { motions, rows, K } = system,
      [real, re, im] = this.gamma as [number, number, number],
      [first, second] = [this.rhs[at]!, this.rhs[2]!],
      [qr, qi] = [this.displacement[at]!, this.displacement[2]!],
      [lr, li] = [this.lengths[at]!, this.lengths[2]!];
    this.through(i ? re : real, i ? im : 0);
    const [p, q] = [P[0][0]!, P[1][0]!];
    // rows are divided by γ
    for (let k = motions; k < motions + rows; k++) {
      const a = first[k]!,
        b = i ? second[k]! : 0;
      first[k] = a * p - b * q;
      if (i) second[k] = a * q + b * p;
    }
    matrix.weighRight(first);
    if (i) matrix.weighRight(second);
    for (let k = 0; k < place.length; k++) {
      if (place[k]! < 0) continue;
      x[0][place[k]!] = first[k]!;
      if (i) x[1][place[k]!] = second[k]!;
    }
    if (i) this.complex.solve(x[0], x[1]);
    else this.real.solve(x[0]);
    // δq = P (δu + r_q)
    const [vr, vi] = this.velocity as [Float64Array, Float64Array];
    for (let k = 0; k < motions; k++) {
      const to = place[k]!;
      vr[k] = to < 0 ? qr[k]! : x[0][to]!;
      du[0][k] = vr[k]! - qr[k]!;
      if (!i) continue;
      vi[k] = to < 0 ? qi[k]! : x[1][to]!;
      du[1][k] = vi[k]! - qi[k]!;
    }
    this.apply([vr, vi], dq, i !== undefined);
    chart.lengthening(dq[0], w, slower[0]);
    if (i) chart.lengthening(dq[1], w, slower[1]);
    for (let k = 0; k < lr.length; k++) {
      const a = lr[k]! + slower[0][k]!,
        b = i ? li[k]! + slower[1][k]! : 0;
      lr[k] = a * p - b * q;
      if (i) li[k] = a * q + b * p;
    }
    chart.write(dq[0], du[0], lr, r);
    if (i) chart.write(dq[1], du[1], li, i);
    for (const { along, first } of this.driven) {
      along!.add(du[0], r, K.layout.further + first);
      if (i) along!.add(du[1], i, K.layout.further + first);
    }
    // what steers nothing is integrated
    for (let k = K.layout.further; k < r.length; k++) {
      const a = r[k]!,
        b = i ? i[k]! : 0;
      r[k] = a * p - b * q;
      if (i) i[k] = a * q + b * p;
    }
  }
  /** P times a displacement. */
  private apply(x: readonly [Float64Array, Float64Array], out: readonly [Float64Array, Float64Array], complex: boolean): void {
    const [R, I] = this.P,
      { bodies } = this.system,
      motions = x[0].length,
      p = R[0]!,
      q = I[0]!;
    const [xr, xi] = x,
      [or, oi] = out;
    for (let i = 0; i < motions; i++) {
      or[i] = p * xr[i]! - q * xi[i]!;
      if (complex) oi[i] = p * xi[i]! + q * xr[i]!;
    }
    for (let b = 0; b < bodies; b++)
      for (let j = 0; j < 3; j++) {
        let s = 0,
          t = 0;
        for (let k = 0; k < 3; k++) {
          const r = R[1 + 9 * b + 3 * j + k]!,
            i = I[1 + 9 * b + 3 * j + k]!,
            u = xr[6 * b + 3 + k]!,
            v = complex ? xi[6 * b + 3 + k]! : 0;
          s += r * u - i * v;
          t += r * v + i * u;
        }
        or[6 * b + 3 + j] = s;
        if (complex) oi[6 * b + 3 + j] = t;
      }
  }

  /** The rates of a small change of the state, J x, by the machine's own factors: those of the state that was taken must be at hand. */
  times(x: Float64Array, out: Float64Array): void {
    const { chart, tangent, w, system } = this,
      [displacement, velocity, rhs, length] = [this.displacement[0]!, this.velocity[0]!, this.rhs[0]!, this.lengths[0]!];
    rhs.fill(0);
    chart.read(x, displacement, velocity, length);
    tangent.times('posture', displacement, rhs);
    tangent.times('motion', velocity, rhs);
    system.solve(rhs);
    chart.turning(displacement, w, velocity);
    chart.lengthening(displacement, w, length);
    out.fill(0);
    chart.write(velocity, rhs, length, out);
  }
}
