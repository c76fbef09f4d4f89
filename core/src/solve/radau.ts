/**
 * One step of the three-stage Radau IIA method of order 5 for stiff systems, with its error estimate and collocation polynomial
 * (Hairer & Wanner, Solving Ordinary Differential Equations II, sec. IV.8; constants as published there). Ledger states, which steer
 * nothing, stand behind the others and are integrated by the method's quadrature.
 */
import { integerPower } from '../quantity/elementary';
import { Vectors } from '../kernel/vectors';
import type { Derivative } from './dop853';
import type { Newton } from './newton';

const S6 = Math.sqrt(6);
const C = [(4 - S6) / 10, (4 + S6) / 10, 1] as const;
const DD = [-(13 + 7 * S6) / 3, (-13 + 7 * S6) / 3, -1 / 3] as const;
const R81 = 4.326748710922225,
  R9 = 2.080083823051904; // cube roots of 81 and 9
const U1 = 30 / (6 + R81 - R9);
const A0 = (12 - R81 + R9) / 60,
  B0 = ((R81 + R9) * Math.sqrt(3)) / 60,
  N0 = A0 * A0 + B0 * B0;
const ALPHA = A0 / N0,
  BETA = B0 / N0;
const T = [
  0.091232394870892942792, -0.14125529502095420843, -0.030029194105147424492, 0.24171793270710701896, 0.20412935229379993199,
  0.38294211275726193779, 0.96604818261509293619,
] as const;
const TI = [
  4.325579890063155351, 0.33919925181580986954, 0.54177053993587487119, -4.1787185915519047273, -0.32768282076106238708,
  0.47662355450055045196, -0.50287263494578687595, 2.5719269498556054292, -0.59603920482822492497,
] as const;
/** What the rates at the three stages give until each of them; the last row are the weights of the quadrature over the step. */
const A = [
  [(88 - 7 * S6) / 360, (296 - 169 * S6) / 1800, (-2 + 3 * S6) / 225],
  [(296 + 169 * S6) / 1800, (88 + 7 * S6) / 360, (-2 - 3 * S6) / 225],
  [(16 - S6) / 36, (16 + S6) / 36, 1 / 9],
] as const;
const MOST = 8;
/** How many times as many where states are nested. */
const NESTED = 3;
/** Difference of two steps' lengths that is rounding. */
const SAME_STEP = 1e-12;
/** A change below this part of what is enough needs no other. */
const NOTHING = 1e-3;

/** Vectors that it shares with the system. */
const RADAU_VECTORS = 7;

/** Sizes of vectors of states against what is allowed: of the estimate of a step's error, and of a change that becomes part of it as it is. */
export interface Norms {
  estimate(error: Float64Array, y: Float64Array): number;
  change(error: Float64Array, y: Float64Array): number;
}
/** Part of what is allowed up to which Newton's iteration is left to end. */
const ENOUGH = 0.05;

export class Radau5 {
  readonly y1: Float64Array;
  /** Derivative at the start of the step; set before `attempt`. */
  readonly f0: Float64Array;
  /** Error of the last attempt against what is allowed; infinite when Newton's iteration failed. */
  error = Infinity;
  iterations = 0;
  jacobians = 0;
  factorisations = 0;
  private readonly Z: readonly [Float64Array, Float64Array, Float64Array];
  private readonly V: readonly [Float64Array, Float64Array, Float64Array];
  private readonly F: readonly [Float64Array, Float64Array, Float64Array];
  private readonly work: Float64Array;
  private readonly stage: Float64Array;
  private readonly cont: readonly [Float64Array, Float64Array, Float64Array];
  private readonly start: Float64Array;
  private t0 = 0;
  private h = 0;
  private factorisedFor = 0;
  private fresh = false;
  private known = false;

  /**
   * @param n number of states, @param free how many of them (the first ones) steer the motion
   */
  constructor(
    private readonly n: number,
    private readonly free: number,
    private readonly f: Derivative,
    private readonly linear: Newton,
    private readonly norms: Norms,
    /** Where states and derivatives lie that the system is asked for. */
    vectors = Vectors.alone(n, RADAU_VECTORS),
  ) {
    const vector = () => new Float64Array(n);
    const three = () => [vector(), vector(), vector()] as const;
    const [y1, f0, work, stage, ...F] = vectors.row(RADAU_VECTORS) as [
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
    ];
    this.y1 = y1;
    this.f0 = f0;
    this.work = work;
    this.stage = stage;
    this.F = F;
    this.Z = three();
    this.V = three();
    this.cont = three();
    this.start = vector();
  }

  /** Forgets Jacobian and extrapolation: after an event. */
  restart(): void {
    this.fresh = this.known = false;
    this.factorisedFor = 0;
  }

  private differentiate(t: number, y: Float64Array): void {
    this.linear.differentiate(t, y, this.f0);
    this.jacobians++;
    this.fresh = true;
    this.factorisedFor = 0;
  }

  private factorise(h: number): boolean {
    this.factorisedFor = h;
    this.factorisations++;
    return this.linear.factorise(U1 / h, ALPHA / h, BETA / h);
  }

  /** Whether the last step's Jacobian serves the next as well. */
  get goesOn(): boolean {
    return this.fresh;
  }

  /** Largest rate of the linearised system, 1/s: tells when an explicit method would do again. */
  rate(): number {
    return this.linear.rate();
  }

  attempt(t: number, y: Float64Array, h: number): void {
    this.error = Infinity;
    const stale = !this.fresh;
    if (stale) this.differentiate(t, y);
    if (Math.abs(this.factorisedFor - h) > SAME_STEP * h && !this.factorise(h)) return;
    if (this.newton(t, y, h)) return;
    if (!stale) {
      // once more with a Jacobian of this place
      this.differentiate(t, y);
      this.known = false;
      if (this.factorise(h)) this.newton(t, y, h);
    }
  }

  /** Whether the step was solved; sets y1 and the error. */
  private newton(t: number, y: Float64Array, h: number): boolean {
    const { free, n, Z, V, F, stage, f, linear, norms, work } = this,
      { turned } = linear;
    if (this.known) {
      const before = this.h,
        end = this.t0 + this.h;
      for (let i = 0; i < 3; i++) {
        const s = (t + C[i as 0] * h - end) / before;
        this.polynomial(s, Z[i as 0]);
        for (let j = 0; j < n; j++) Z[i as 0]![j] = Z[i as 0]![j]! - y[j]!;
      }
    } else for (const z of Z) z.fill(0);
    for (let j = 0; j < free; j++) {
      const [a, b, c] = [Z[0][j]!, Z[1][j]!, Z[2][j]!];
      V[0][j] = TI[0] * a + TI[1] * b + TI[2] * c;
      V[1][j] = TI[3] * a + TI[4] * b + TI[5] * c;
      V[2][j] = TI[6] * a + TI[7] * b + TI[8] * c;
    }
    const u = U1 / h,
      al = ALPHA / h,
      be = BETA / h;
    const most = linear.nested ? NESTED * MOST : MOST;
    let before = 0,
      theta = 1e-3;
    for (let it = 1; it <= most; it++) {
      this.iterations++;
      for (let i = 0; i < 3; i++) {
        stage.set(y);
        for (let j = 0; j < free; j++) stage[j] = y[j]! + Z[i as 0]![j]!;
        f(t + C[i as 0] * h, stage, F[i as 0]!);
        turned?.note(i, stage);
      }
      const [r, p, q] = [this.cont[0], this.cont[1], this.cont[2]];
      // what is off at each stage: its rates less those of the collocation polynomial
      for (let j = 0; j < free; j++) {
        const a = u * V[0][j]!,
          b = al * V[1][j]! - be * V[2][j]!,
          c = al * V[2][j]! + be * V[1][j]!;
        F[0][j] = F[0][j]! - (T[0] * a + T[1] * b + T[2] * c);
        F[1][j] = F[1][j]! - (T[3] * a + T[4] * b + T[5] * c);
        F[2][j] = F[2][j]! - (T[6] * a + b);
      }
      if (turned) for (let i = 0; i < 3; i++) turned.turn(i, F[i as 0], -1);
      for (let j = 0; j < free; j++) {
        const [a, b, c] = [F[0][j]!, F[1][j]!, F[2][j]!];
        r[j] = TI[0] * a + TI[1] * b + TI[2] * c;
        p[j] = TI[3] * a + TI[4] * b + TI[5] * c;
        q[j] = TI[6] * a + TI[7] * b + TI[8] * c;
      }
      linear.solveBoth(r.subarray(0, free), p.subarray(0, free), q.subarray(0, free));
      let size = 0;
      work.fill(0);
      for (let j = 0; j < free; j++) {
        const [a, b, c] = [r[j]!, p[j]!, q[j]!];
        work[j] = Math.max(Math.abs(a), Math.abs(b), Math.abs(c));
        r[j] = T[0] * a + T[1] * b + T[2] * c;
        p[j] = T[3] * a + T[4] * b + T[5] * c;
        q[j] = T[6] * a + b;
      }
      if (turned) for (let i = 0; i < 3; i++) turned.turn(i, this.cont[i as 0], 1);
      for (let j = 0; j < free; j++) {
        const a = (Z[0][j] = Z[0][j]! + r[j]!),
          b = (Z[1][j] = Z[1][j]! + p[j]!),
          c = (Z[2][j] = Z[2][j]! + q[j]!);
        V[0][j] = TI[0] * a + TI[1] * b + TI[2] * c;
        V[1][j] = TI[3] * a + TI[4] * b + TI[5] * c;
        V[2][j] = TI[6] * a + TI[7] * b + TI[8] * c;
      }
      size = norms.change(work, y);
      if (!Number.isFinite(size)) return (this.known = false);
      const nothing = size < NOTHING * ENOUGH;
      // what is nested meets the others only now
      if (it === 2 && linear.nested && !nothing) {
        before = size;
        continue;
      }
      if (it > 1 && !nothing) {
        theta = Math.max(1e-6, size / before);
        if (theta >= 0.99 || (it > 2 && (integerPower(theta, most - it) / (1 - theta)) * size > ENOUGH)) return (this.known = false);
      }
      before = size;
      if (nothing || (it > 1 && (theta / (1 - theta)) * size < ENOUGH)) {
        this.finish(t, y, h);
        this.fresh = theta < 1e-3 ? this.fresh : false;
        return true;
      }
    }
    return (this.known = false);
  }

  private finish(t: number, y: Float64Array, h: number): void {
    const { free, n, Z, F, y1, start, f0, work, stage, linear, f, norms } = this;
    this.t0 = t;
    this.h = h;
    start.set(y);
    for (let j = free; j < n; j++) {
      // quadrature of the ledger states
      const [a, b, c] = [F[0][j]!, F[1][j]!, F[2][j]!];
      for (let i = 0; i < 3; i++) Z[i as 0][j] = h * (A[i as 0][0] * a + A[i as 0][1] * b + A[i as 0][2] * c);
    }
    for (let j = 0; j < n; j++) y1[j] = y[j]! + Z[2][j]!;
    work.fill(0);
    const second = stage;
    for (let j = 0; j < free; j++) {
      second[j] = (DD[0] * Z[0][j]! + DD[1] * Z[1][j]! + DD[2] * Z[2][j]!) / h;
      work[j] = second[j]! + f0[j]!;
    }
    linear.solve(work.subarray(0, free));
    let error = norms.estimate(work, y);
    if (error >= 1) {
      const kept = second.slice(0, free);
      const moved = y.slice();
      for (let j = 0; j < free; j++) moved[j] = y[j]! + work[j]!;
      f(t, moved, work);
      for (let j = 0; j < free; j++) work[j] = work[j]! + kept[j]!;
      for (let j = free; j < n; j++) work[j] = 0;
      linear.solve(work.subarray(0, free));
      error = Math.min(error, norms.estimate(work, y));
    }
    this.error = error;
    const [c2, c3, c4] = this.cont;
    for (let j = 0; j < n; j++) {
      const ak = (Z[0][j]! - Z[1][j]!) / (C[0] - C[1]);
      const first = (ak - Z[0][j]! / C[0]) / C[1];
      c2[j] = (Z[1][j]! - Z[2][j]!) / (C[1] - 1);
      c3[j] = (ak - c2[j]!) / (C[0] - 1);
      c4[j] = c3[j]! - first;
    }
    this.known = true;
  }

  /** The collocation polynomial of the last step; s = 0 is its end, −1 its start. */
  private polynomial(s: number, out: Float64Array): void {
    const [c2, c3, c4] = this.cont;
    for (let j = 0; j < this.n; j++) out[j] = this.y1[j]! + s * (c2[j]! + (s - (C[1] - 1)) * (c3[j]! + (s - (C[0] - 1)) * c4[j]!));
  }

  interpolate(t: number, out: Float64Array): void {
    this.polynomial((t - this.t0) / this.h - 1, out);
  }
}
