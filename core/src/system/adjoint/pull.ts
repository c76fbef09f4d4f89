/**
 * Back from where bodies are and how they move to the numbers of a state. What stands on the left is the derivative of one number by all that stands on the
 * right; so that it goes the other way than changes do: δs = (∂s/∂y) δy, and so ȳ = (∂s/∂y)ᵀ s̄.
 */
import type { Kinematics } from '../../equations/kinematics';
import { type StateLayout, placesIn } from '../../equations/layout';

/** Derivatives by the kinematics, laid out as these are: by place, entries of the rotation, velocity, spin; and by further states. */
export interface ByKinematics {
  readonly r: Float64Array;
  readonly A: Float64Array;
  readonly v: Float64Array;
  readonly w: Float64Array;
  readonly z: Float64Array;
}

/** By a small turn of a body about its own axes, from those by the entries of its rotation: δA = A (δθ ×). */
export function byTurn(A: ArrayLike<number>, by: ArrayLike<number>, body: number, out: Float64Array, at: number): void {
  let [x, y, z] = [0, 0, 0];
  for (let p = 9 * body; p < 9 * body + 9; p += 3) {
    const [a, b, c] = [A[p]!, A[p + 1]!, A[p + 2]!],
      [i, j, k] = [by[p]!, by[p + 1]!, by[p + 2]!];
    x += j * c - k * b;
    y += k * a - i * c;
    z += i * b - j * a;
  }
  out[at] = x;
  out[at + 1] = y;
  out[at + 2] = z;
}

export class Pull {
  private readonly turn = new Float64Array(3);
  /** Which numbers of a state are places: of which entry of r. */
  private readonly places: Int32Array;
  private readonly layout: StateLayout;

  constructor(private readonly K: Kinematics) {
    this.layout = K.layout;
    this.places = placesIn(K.layout);
  }

  /** Adds derivatives by the state y, which stands in K, from those by what it says. */
  state({ r, A, v, w, z }: ByKinematics, y: Float64Array, out: Float64Array): void {
    const { K, layout, places, turn } = this,
      { motions, moving, further, bodies } = layout;
    for (let j = 0; j < motions; j++) if (places[j]! >= 0) out[j] = out[j]! + r[places[j]!]!;
    for (let i = 0; i < bodies; i++) {
      if (layout.turns[i] === 0) continue;
      byTurn(K.A, A, i, turn, 0);
      this.turned(i, y, out);
    }
    for (let j = 0; j < moving.length; j++) {
      const x = moving[j]!,
        at = 3 * Math.floor(x / 6) + (x % 3);
      out[motions + j] = out[motions + j]! + (x % 6 < 3 ? v : w)[at]!;
    }
    for (let k = 0; k < z.length; k++) out[further + k] = out[further + k]! + z[k]!;
  }
  /** By the numbers that tell the turn of a body, from those by small turns about its axes: δθ = 2 q̄ ∘ δq / |q|². */
  private turned(i: number, y: Float64Array, out: Float64Array): void {
    const { turn, layout, K } = this,
      p = layout.turn[i]!,
      [x, k, l] = [turn[0]!, turn[1]!, turn[2]!];
    if (layout.turns[i] === 2) {
      const c = y[p]!,
        s = y[p + 1]!,
        by = (2 * turn[K.axisOf(i)]!) / (c * c + s * s);
      out[p] = out[p]! - s * by;
      out[p + 1] = out[p + 1]! + c * by;
      return;
    }
    const [a, b, c, d] = [y[p]!, y[p + 1]!, y[p + 2]!, y[p + 3]!],
      n = 2 / (a * a + b * b + c * c + d * d);
    out[p] = out[p]! - n * (b * x + c * k + d * l);
    out[p + 1] = out[p + 1]! + n * (a * x - d * k + c * l);
    out[p + 2] = out[p + 2]! + n * (d * x + a * k - b * l);
    out[p + 3] = out[p + 3]! + n * (-c * x + b * k + a * l);
  }

  /**
   * Of the derivative of a state: adds derivatives by the velocities, and by the turns that stand in the state y, from those by how places and turns change.
   * @param by those by the numbers of the derivative
   */
  rates(by: Float64Array, y: Float64Array, { v, w }: ByKinematics, out: Float64Array): void {
    const { K, layout, places } = this;
    for (let j = 0; j < layout.motions; j++) if (places[j]! >= 0) v[places[j]!] = v[places[j]!]! + by[j]!;
    for (let i = 0; i < layout.bodies; i++) {
      const p = layout.turn[i]!;
      if (layout.turns[i] === 2) this.planar(p, 3 * i + K.axisOf(i), by, y, w, out);
      else if (layout.turns[i] === 4) this.spatial(p, 3 * i, by, y, w, out);
    }
  }
  /** ċ = −½ω s, ṡ = ½ω c, of length 1. */
  private planar(p: number, at: number, by: Float64Array, y: Float64Array, w: Float64Array, out: Float64Array): void {
    const n = 1 / Math.sqrt(y[p]! * y[p]! + y[p + 1]! * y[p + 1]!),
      c = n * y[p]!,
      s = n * y[p + 1]!,
      half = 0.5 * this.K.w[at]!,
      [f, g] = [by[p]!, by[p + 1]!];
    w[at] = w[at]! + 0.5 * (c * g - s * f);
    const byC = half * g,
      byS = -half * f,
      along = c * byC + s * byS;
    out[p] = out[p]! + n * (byC - c * along);
    out[p + 1] = out[p + 1]! + n * (byS - s * along);
  }
  /** q̇ = ½ q ∘ ω, of length 1. */
  private spatial(p: number, at: number, by: Float64Array, y: Float64Array, w: Float64Array, out: Float64Array): void {
    const { w: spin } = this.K,
      [x, k, l] = [spin[at]!, spin[at + 1]!, spin[at + 2]!],
      n = 1 / Math.sqrt(y[p]! * y[p]! + y[p + 1]! * y[p + 1]! + y[p + 2]! * y[p + 2]! + y[p + 3]! * y[p + 3]!),
      [a, b, c, d] = [n * y[p]!, n * y[p + 1]!, n * y[p + 2]!, n * y[p + 3]!],
      [e, f, g, h] = [0.5 * by[p]!, 0.5 * by[p + 1]!, 0.5 * by[p + 2]!, 0.5 * by[p + 3]!];
    w[at] = w[at]! - b * e + a * f + d * g - c * h;
    w[at + 1] = w[at + 1]! - c * e - d * f + a * g + b * h;
    w[at + 2] = w[at + 2]! - d * e + c * f - b * g + a * h;
    const byA = x * f + k * g + l * h,
      byB = -x * e - l * g + k * h,
      byC = -k * e + l * f - x * h,
      byD = -l * e - k * f + x * g,
      along = a * byA + b * byB + c * byC + d * byD;
    out[p] = out[p]! + n * (byA - a * along);
    out[p + 1] = out[p + 1]! + n * (byB - b * along);
    out[p + 2] = out[p + 2]! + n * (byC - c * along);
    out[p + 3] = out[p + 3]! + n * (byD - d * along);
  }

  /** Derivatives by small displacements and by velocities (six a body), from those by a state that stands in K. */
  displaced(by: Float64Array, displacement: Float64Array, velocity: Float64Array): void {
    const { K, layout, places } = this,
      { q } = K;
    displacement.fill(0);
    velocity.fill(0);
    for (let j = 0; j < layout.motions; j++) {
      const x = places[j]!;
      if (x >= 0) displacement[6 * Math.floor(x / 3) + (x % 3)] = by[j]!;
    }
    for (let i = 0; i < layout.bodies; i++) {
      const p = layout.turn[i]!,
        at = 6 * i + 3;
      if (layout.turns[i] === 2) {
        displacement[at + K.axisOf(i)] = 0.5 * (K.cosine(i) * by[p + 1]! - K.sine(i) * by[p]!);
      } else if (layout.turns[i] === 4) {
        const [a, b, c, d] = [q[4 * i]!, q[4 * i + 1]!, q[4 * i + 2]!, q[4 * i + 3]!],
          [e, f, g, h] = [0.5 * by[p]!, 0.5 * by[p + 1]!, 0.5 * by[p + 2]!, 0.5 * by[p + 3]!];
        displacement[at] = -b * e + a * f + d * g - c * h;
        displacement[at + 1] = -c * e - d * f + a * g + b * h;
        displacement[at + 2] = -d * e + c * f - b * g + a * h;
      }
    }
    layout.moving.forEach((x, j) => (velocity[x] = by[layout.motions + j]!));
  }
  /** The other way: derivatives by a state y, which stands in K, from those by small displacements and by velocities. */
  undisplaced(displacement: Float64Array, velocity: Float64Array, y: Float64Array, out: Float64Array): void {
    const { layout, places, turn } = this;
    for (let j = 0; j < layout.motions; j++) {
      const x = places[j]!;
      if (x >= 0) out[j] = displacement[6 * Math.floor(x / 3) + (x % 3)]!;
    }
    for (let i = 0; i < layout.bodies; i++) {
      if (layout.turns[i] === 0) continue;
      for (let k = 0; k < 3; k++) turn[k] = displacement[6 * i + 3 + k]!;
      out.fill(0, layout.turn[i], layout.turn[i]! + layout.turns[i]!);
      this.turned(i, y, out);
    }
    layout.moving.forEach((x, j) => (out[layout.motions + j] = velocity[x]!));
  }
}
