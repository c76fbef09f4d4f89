/**
 * Small changes of a state as what the bodies do: displacements (translation in ground axes, rotation in body axes, coordinates of their own), six to a body,
 * and changes of their velocities. A turn is told by four numbers of length 1, or by two: what changes their length moves nothing and is kept apart.
 */
import type { Kinematics } from './kinematics';

/** A turn in the state: where it stands, how many numbers tell it, the axis of the body about which it turns if it is two. */
interface Turn {
  readonly at: number;
  readonly body: number;
  readonly axis: number;
  /** The numbers themselves, at the state that was taken. */
  readonly q: Float64Array;
}

export class Chart {
  /** Entries of a motion that a displacement can have. */
  readonly displaced: readonly number[];
  private readonly placeAt: Int32Array;
  private readonly placed: Int32Array;
  private readonly velocityAt: number;
  private readonly moving: Int32Array;
  private readonly turns: readonly Turn[];

  constructor(K: Kinematics) {
    const { layout, bodies } = K,
      { posture, turn, turns, moving, motions, coordinate } = layout,
      at: number[] = [],
      placed: number[] = [],
      nth = new Uint8Array(bodies);
    for (const m of moving) {
      const b = Math.floor(m / 6);
      if (b < bodies && m % 6 < 3) {
        at.push(posture[b]! + nth[b]!++);
        placed.push(m);
      } else if (b >= bodies) {
        at.push(coordinate[m - 6 * bodies]!);
        placed.push(m);
      }
    }
    this.placeAt = Int32Array.from(at);
    this.placed = Int32Array.from(placed);
    this.velocityAt = motions;
    this.moving = moving;
    this.turns = Array.from({ length: bodies }, (_, body) => body).flatMap((body): Turn[] =>
      turns[body] === 0 ? [] : [{ at: turn[body]!, body, axis: K.axisOf(body), q: new Float64Array(turns[body]!) }],
    );
    this.displaced = [
      ...placed,
      ...this.turns.flatMap(({ body, axis, q }) => (q.length === 2 ? [6 * body + 3 + axis] : [0, 1, 2].map((k) => 6 * body + 3 + k))),
    ];
  }

  /** Numbers that tell a turn's length: one to a turn. */
  get lengths(): number {
    return this.turns.length;
  }

  /** From now on changes are those of this state. */
  take(y: Float64Array): void {
    for (const { at, q } of this.turns) {
      let n = 0;
      for (let k = 0; k < q.length; k++) n += y[at + k]! * y[at + k]!;
      const by = 1 / Math.sqrt(n);
      for (let k = 0; k < q.length; k++) q[k] = y[at + k]! * by;
    }
  }

  /** @param change of the state @param displacement,velocity motions that take it @param length of the turns */
  read(change: Float64Array, displacement: Float64Array, velocity: Float64Array, length: Float64Array): void {
    const { placeAt, placed, velocityAt, moving, turns } = this;
    for (let i = 0; i < placed.length; i++) displacement[placed[i]!] = change[placeAt[i]!]!;
    for (let i = 0; i < moving.length; i++) velocity[moving[i]!] = change[velocityAt + i]!;
    for (let i = 0; i < turns.length; i++) {
      const { at, body, axis, q } = turns[i]!,
        to = 6 * body + 3;
      if (q.length === 2) {
        const c = change[at]!,
          s = change[at + 1]!;
        displacement[to + axis] = 2 * (q[0]! * s - q[1]! * c);
        length[i] = q[0]! * c + q[1]! * s;
        continue;
      }
      const [a, b, c, d] = q as unknown as [number, number, number, number],
        e = change[at]!,
        f = change[at + 1]!,
        g = change[at + 2]!,
        h = change[at + 3]!;
      // twice the vector part of q̄ ∘ change
      displacement[to] = 2 * (a * f - b * e - c * h + d * g);
      displacement[to + 1] = 2 * (a * g - c * e - d * f + b * h);
      displacement[to + 2] = 2 * (a * h - d * e - b * g + c * f);
      length[i] = a * e + b * f + c * g + d * h;
    }
  }

  /** The change of the state for such motions. */
  write(displacement: Float64Array, velocity: Float64Array, length: Float64Array, change: Float64Array): void {
    const { placeAt, placed, velocityAt, moving, turns } = this;
    for (let i = 0; i < placed.length; i++) change[placeAt[i]!] = displacement[placed[i]!]!;
    for (let i = 0; i < moving.length; i++) change[velocityAt + i] = velocity[moving[i]!]!;
    for (let i = 0; i < turns.length; i++) {
      const { at, body, axis, q } = turns[i]!,
        from = 6 * body + 3,
        l = length[i]!;
      if (q.length === 2) {
        const half = 0.5 * displacement[from + axis]!;
        change[at] = l * q[0]! - half * q[1]!;
        change[at + 1] = l * q[1]! + half * q[0]!;
        continue;
      }
      const [a, b, c, d] = q as unknown as [number, number, number, number],
        x = 0.5 * displacement[from]!,
        y = 0.5 * displacement[from + 1]!,
        z = 0.5 * displacement[from + 2]!;
      change[at] = l * a - b * x - c * y - d * z;
      change[at + 1] = l * b + a * x + c * z - d * y;
      change[at + 2] = l * c + a * y - b * z + d * x;
      change[at + 3] = l * d + a * z + b * y - c * x;
    }
  }

  /** How turns change by where they are and how bodies spin: adds ½ θ × ω of each. @param w spins of all bodies, three each */
  turning(displacement: Float64Array, w: Float64Array, out: Float64Array): void {
    for (let i = 0; i < this.turns.length; i++) {
      const { body, q } = this.turns[i]!,
        d = 6 * body + 3,
        s = 3 * body;
      if (q.length === 2) continue;
      const x = displacement[d]!,
        y = displacement[d + 1]!,
        z = displacement[d + 2]!,
        p = w[s]!,
        r = w[s + 1]!,
        t = w[s + 2]!;
      out[d] = out[d]! + 0.5 * (y * t - z * r);
      out[d + 1] = out[d + 1]! + 0.5 * (z * p - x * t);
      out[d + 2] = out[d + 2]! + 0.5 * (x * r - y * p);
    }
  }
  /** How their lengths do: −¼ θ · ω. */
  lengthening(displacement: Float64Array, w: Float64Array, length: Float64Array): void {
    for (let i = 0; i < this.turns.length; i++) {
      const { body, axis, q } = this.turns[i]!,
        d = 6 * body + 3,
        s = 3 * body;
      length[i] =
        -0.25 *
        (q.length === 2
          ? displacement[d + axis]! * w[s + axis]!
          : displacement[d]! * w[s]! + displacement[d + 1]! * w[s + 1]! + displacement[d + 2]! * w[s + 2]!);
    }
  }
}
