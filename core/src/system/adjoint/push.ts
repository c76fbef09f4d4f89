/** Forward from a change of a state to changes of where bodies are and how they move, and back: what `pull.ts` does to derivatives, for changes. */
import type { Kinematics } from '../../equations/kinematics';
import { type StateLayout, placesIn } from '../../equations/layout';
import type { ByKinematics } from './pull';

/** Adds how the entries of a rotation change when the body turns a little about its own axes: δA = A (δθ ×). */
export function turned(A: ArrayLike<number>, body: number, turn: ArrayLike<number>, at: number, out: Float64Array): void {
  const [x, y, z] = [turn[at]!, turn[at + 1]!, turn[at + 2]!];
  for (let p = 9 * body; p < 9 * body + 9; p += 3) {
    const [a, b, c] = [A[p]!, A[p + 1]!, A[p + 2]!];
    out[p] = out[p]! + b * z - c * y;
    out[p + 1] = out[p + 1]! + c * x - a * z;
    out[p + 2] = out[p + 2]! + a * y - b * x;
  }
}

export class Push {
  private readonly turn = new Float64Array(3);
  /** Six velocities a body. */
  private readonly motion: Float64Array;
  private readonly places: Int32Array;
  private readonly layout: StateLayout;

  constructor(private readonly K: Kinematics) {
    this.layout = K.layout;
    this.places = placesIn(K.layout);
    this.motion = new Float64Array(6 * K.layout.bodies);
  }

  /** Changes of the kinematics with a change s of the state y, which stands in K: those of places and rotations are added. */
  state(s: Float64Array, y: Float64Array, { r, A, v, w, z }: ByKinematics): void {
    const { K, layout, places, turn } = this,
      { motions, moving, further, bodies } = layout;
    for (let j = 0; j < motions; j++) if (places[j]! >= 0) r[places[j]!] = r[places[j]!]! + s[j]!;
    for (let i = 0; i < bodies; i++) {
      if (layout.turns[i] === 0) continue;
      this.turning(i, s, y);
      turned(K.A, i, turn, 0, A);
    }
    for (let j = 0; j < moving.length; j++) {
      const x = moving[j]!,
        at = 3 * Math.floor(x / 6) + (x % 3);
      (x % 6 < 3 ? v : w)[at] = s[motions + j]!;
    }
    for (let k = 0; k < z.length; k++) z[k] = s[further + k]!;
  }
  /** The small turn of a body about its own axes: δθ = 2 q̄ ∘ δq / |q|². */
  private turning(i: number, s: Float64Array, y: Float64Array): void {
    const { turn, layout, K } = this,
      p = layout.turn[i]!;
    if (layout.turns[i] === 2) {
      const [c, d] = [y[p]!, y[p + 1]!];
      turn.fill(0);
      turn[K.axisOf(i)] = (2 * (c * s[p + 1]! - d * s[p]!)) / (c * c + d * d);
      return;
    }
    const [a, b, c, d] = [y[p]!, y[p + 1]!, y[p + 2]!, y[p + 3]!],
      [e, f, g, h] = [s[p]!, s[p + 1]!, s[p + 2]!, s[p + 3]!],
      n = 2 / (a * a + b * b + c * c + d * d);
    turn[0] = n * (-b * e + a * f + d * g - c * h);
    turn[1] = n * (-c * e - d * f + a * g + b * h);
    turn[2] = n * (-d * e + c * f - b * g + a * h);
  }

  /**
   * How the derivative of the state y changes with a change s of it.
   * @param acceleration of accelerations (a motion) @param rate of how further states change
   */
  rates(s: Float64Array, y: Float64Array, acceleration: ArrayLike<number>, rate: ArrayLike<number>, out: Float64Array): void {
    const { layout, places, motion } = this,
      { motions, moving, further, bodies } = layout;
    for (let j = 0; j < moving.length; j++) motion[moving[j]!] = s[motions + j]!;
    for (let j = 0; j < motions; j++) {
      const x = places[j]!;
      if (x >= 0) out[j] = motion[6 * Math.floor(x / 3) + (x % 3)]!;
    }
    for (let i = 0; i < bodies; i++) {
      if (layout.turns[i] === 2) this.planar(i, s, y, out);
      else if (layout.turns[i] === 4) this.spatial(i, s, y, out);
    }
    for (let j = 0; j < moving.length; j++) out[motions + j] = acceleration[moving[j]!]!;
    for (let k = 0; k < rate.length; k++) out[further + k] = rate[k]!;
  }
  /** ċ = −½ω s, ṡ = ½ω c, of length 1. */
  private planar(i: number, by: Float64Array, y: Float64Array, out: Float64Array): void {
    const { K, layout } = this,
      p = layout.turn[i]!,
      axis = K.axisOf(i),
      n = 1 / Math.sqrt(y[p]! * y[p]! + y[p + 1]! * y[p + 1]!),
      [c, s] = [n * y[p]!, n * y[p + 1]!],
      along = c * by[p]! + s * by[p + 1]!,
      [dc, ds] = [n * (by[p]! - c * along), n * (by[p + 1]! - s * along)],
      half = 0.5 * K.w[3 * i + axis]!,
      more = 0.5 * this.motion[6 * i + 3 + axis]!;
    out[p] = -half * ds - more * s;
    out[p + 1] = half * dc + more * c;
  }
  /** q̇ = ½ q ∘ ω, of length 1. */
  private spatial(i: number, by: Float64Array, y: Float64Array, out: Float64Array): void {
    const { K, layout, motion } = this,
      p = layout.turn[i]!,
      n = 1 / Math.sqrt(y[p]! * y[p]! + y[p + 1]! * y[p + 1]! + y[p + 2]! * y[p + 2]! + y[p + 3]! * y[p + 3]!),
      [a, b, c, d] = [n * y[p]!, n * y[p + 1]!, n * y[p + 2]!, n * y[p + 3]!],
      along = a * by[p]! + b * by[p + 1]! + c * by[p + 2]! + d * by[p + 3]!,
      [e, f, g, h] = [n * (by[p]! - a * along), n * (by[p + 1]! - b * along), n * (by[p + 2]! - c * along), n * (by[p + 3]! - d * along)],
      [x, k, l] = [0.5 * K.w[3 * i]!, 0.5 * K.w[3 * i + 1]!, 0.5 * K.w[3 * i + 2]!],
      [u, v, w] = [0.5 * motion[6 * i + 3]!, 0.5 * motion[6 * i + 4]!, 0.5 * motion[6 * i + 5]!];
    out[p] = -(f * x + g * k + h * l) - (b * u + c * v + d * w);
    out[p + 1] = e * x + g * l - h * k + a * u + c * w - d * v;
    out[p + 2] = e * k - f * l + h * x + a * v - b * w + d * u;
    out[p + 3] = e * l + f * k - g * x + a * w + b * v - c * u;
  }

  /** Small displacements and velocities (six a body) of a change s of a state that stands in K. */
  displaced(s: Float64Array, y: Float64Array, displacement: Float64Array, velocity: Float64Array): void {
    const { layout, places, turn } = this;
    displacement.fill(0);
    velocity.fill(0);
    for (let j = 0; j < layout.motions; j++) {
      const x = places[j]!;
      if (x >= 0) displacement[6 * Math.floor(x / 3) + (x % 3)] = s[j]!;
    }
    for (let i = 0; i < layout.bodies; i++) {
      if (layout.turns[i] === 0) continue;
      this.turning(i, s, y);
      displacement.set(turn, 6 * i + 3);
    }
    layout.moving.forEach((x, j) => (velocity[x] = s[layout.motions + j]!));
  }
  /** The change of a state that stands in K with small displacements and velocities, written over it. */
  undisplaced(displacement: Float64Array, velocity: Float64Array, s: Float64Array): void {
    const { layout, places, K } = this,
      { q } = K;
    for (let j = 0; j < layout.motions; j++) {
      const x = places[j]!;
      if (x >= 0) s[j] = displacement[6 * Math.floor(x / 3) + (x % 3)]!;
    }
    for (let i = 0; i < layout.bodies; i++) {
      const p = layout.turn[i]!,
        at = 6 * i + 3;
      if (layout.turns[i] === 2) {
        const half = 0.5 * displacement[at + K.axisOf(i)]!;
        s[p] = -half * K.sine(i);
        s[p + 1] = half * K.cosine(i);
      } else if (layout.turns[i] === 4) {
        const [a, b, c, d] = [q[4 * i]!, q[4 * i + 1]!, q[4 * i + 2]!, q[4 * i + 3]!],
          [x, k, l] = [0.5 * displacement[at]!, 0.5 * displacement[at + 1]!, 0.5 * displacement[at + 2]!];
        s[p] = -b * x - c * k - d * l;
        s[p + 1] = a * x - d * k + c * l;
        s[p + 2] = d * x + a * k - b * l;
        s[p + 3] = -c * x + b * k + a * l;
      }
    }
    layout.moving.forEach((x, j) => (s[layout.motions + j] = velocity[x]!));
  }
}
