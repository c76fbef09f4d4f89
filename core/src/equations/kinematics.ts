import { type Fold, turningOf } from './fold';
import { StateLayout } from './layout';
import { type KernelMemory, placed } from '../kernel/memory';
import { sharedMemory } from '../kernel/pool';

/** Numbers of each kind that describe the bodies and the ground, and three places for equations that are evaluated one by one. */
const sizesOf = (n: number) => ({ r: 3 * n, q: 4 * n, v: 3 * n, w: 3 * n, A: 9 * n, numbers: 32, course: 3, out: 36 });
/** Places of the numbers of a machine's bodies, relative to the first. */
export type KinematicPlaces = Readonly<Record<keyof ReturnType<typeof sizesOf>, number>>;
/** The same for so many bodies. */
export const kinematicPlaces = (bodies: number): KinematicPlaces => placed(sizesOf(bodies + 1)).at;

/** Numbers that are the same in a state and here: where they stand there, and in memory. Places come first, and of each where its speed is. */
interface Copied {
  readonly state: Int32Array;
  readonly place: Int32Array;
  readonly speed: Int32Array;
}
function copiedOf({ posture, motions, moving, bodies }: StateLayout, at: KinematicPlaces): Copied {
  const places = Array.from(moving.entries()).filter(([, m]) => m % 6 < 3),
    bodyOf = (m: number) => Math.floor(m / 6),
    nth = new Uint8Array(bodies);
  const inPlace = places.map(([, m]) => posture[bodyOf(m)]! + nth[bodyOf(m)]!++);
  const inMotion = (m: number) => (m % 6 < 3 ? at.v + 3 * bodyOf(m) + (m % 6) : at.w + 3 * bodyOf(m) + (m % 6) - 3);
  return {
    state: Int32Array.from([...inPlace, ...Array.from(moving, (_, j) => motions + j)]),
    place: Int32Array.from([...places.map(([, m]) => at.r + 3 * bodyOf(m) + (m % 6)), ...Array.from(moving, inMotion)]),
    speed: Int32Array.from(places, ([, m]) => inMotion(m)),
  };
}

/**
 * Where every body is and how it moves: position of the centre of mass r (ground axes), unit quaternion q,
 * velocity v (ground axes), angular velocity w (body axes). One slot more than there are bodies: the last
 * one is the ground, always at rest, so that elements need no special case.
 */
export class Kinematics {
  /** In which all of this lies, so that compiled equations read it. */
  readonly memory: KernelMemory;
  readonly at: KinematicPlaces;
  /** Counts the states that were taken over, and the moves from them. */
  moved = 0;
  /** Whose numbers lie at `numbers`. */
  told: object | undefined;
  readonly r: Float64Array;
  readonly q: Float64Array;
  readonly v: Float64Array;
  readonly w: Float64Array;
  /** Rotation matrices, row-major: body axes to ground axes. */
  readonly A: Float64Array;
  /** Differential states beyond those of the bodies. */
  readonly z: Float64Array;
  /** How states are laid out; and how they are where everything is told. */
  layout: StateLayout;
  readonly whole: StateLayout;
  /** Quaternions when states were last laid out, and of each body that turns about one axis alone that axis. */
  private readonly still: Float64Array;
  private readonly axis: Uint8Array;
  private copied: Copied;
  private readonly all: Copied;

  constructor(
    /** Number of bodies, ground not counted. */
    readonly bodies: number,
    readonly extra: number,
    /** Numbers for which there is to be room behind it. */
    room = 0,
  ) {
    const sizes = sizesOf(bodies + 1),
      { at, total } = placed(sizes),
      memory = (this.memory = sharedMemory(total + room)),
      from = memory.take(total);
    this.at = Object.fromEntries(Object.entries(at).map(([key, x]) => [key, from + x])) as KinematicPlaces;
    const view = (key: keyof typeof sizes) => memory.numbers.subarray(this.at[key], this.at[key] + sizes[key]);
    this.r = view('r');
    this.q = view('q');
    this.v = view('v');
    this.w = view('w');
    this.A = view('A');
    this.z = new Float64Array(extra);
    this.layout = this.whole = new StateLayout(bodies, extra);
    this.copied = this.all = copiedOf(this.whole, this.at);
    this.still = new Float64Array(this.q.length);
    this.axis = new Uint8Array(bodies);
    this.q[4 * bodies] = 1;
    this.A[9 * bodies] = this.A[9 * bodies + 4] = this.A[9 * bodies + 8] = 1;
  }

  /** Length of the state vector. */
  get size(): number {
    return this.layout.size;
  }

  /** From now on states tell only what can change: all bodies are where they are, for good and at rest where they cannot move. Undefined: everything. */
  lay(fold: Fold | undefined): void {
    const { bodies, whole, q, v, w } = this;
    this.layout = fold ? new StateLayout(bodies, this.extra, fold) : whole;
    this.copied = copiedOf(this.layout, this.at);
    this.still.set(q);
    for (let i = 0; i < bodies; i++) {
      this.axis[i] = (fold && turningOf(fold, i)?.own) ?? 0;
      for (let k = 0; k < 3; k++) {
        if (fold?.moves[6 * i + k] === 0) v[3 * i + k] = 0;
        if (fold?.moves[6 * i + 3 + k] === 0) w[3 * i + k] = 0;
      }
    }
  }

  /** Takes over a state vector; quaternions are normalised on the way. */
  load(y: Float64Array): void {
    this.loadAs(this.layout, this.copied, y);
  }
  /** The same with everything told, as `storeWhole` leaves it. */
  loadWhole(y: Float64Array): void {
    this.loadAs(this.whole, this.all, y);
  }
  private loadAs({ turn, turns, further }: StateLayout, { state, place }: Copied, y: Float64Array): void {
    const { q, z, bodies, memory } = this;
    const { numbers } = memory;
    this.moved++;
    for (let j = 0; j < state.length; j++) numbers[place[j]!] = y[state[j]!]!;
    for (let i = 0; i < bodies; i++) {
      const p = turn[i]!;
      if (turns[i] === 4) {
        const a = y[p]!,
          b = y[p + 1]!,
          c = y[p + 2]!,
          d = y[p + 3]!;
        const k = 1 / Math.sqrt(a * a + b * b + c * c + d * d);
        q[4 * i] = a * k;
        q[4 * i + 1] = b * k;
        q[4 * i + 2] = c * k;
        q[4 * i + 3] = d * k;
      } else if (turns[i] === 2) this.turnTo(i, y[p]!, y[p + 1]!);
    }
    for (let k = 0; k < z.length; k++) z[k] = y[further + k]!;
    this.orient();
  }

  /** Turns a body about its only axis by an angle since states were laid out so. @param c,s cosine and sine of half the angle, up to a factor */
  private turnTo(i: number, c: number, s: number): void {
    const { q, still, axis } = this,
      n = 1 / Math.sqrt(c * c + s * s),
      k = axis[i]!,
      x = 4 * i + 1 + k,
      y = 4 * i + 1 + ((k + 1) % 3),
      z = 4 * i + 1 + ((k + 2) % 3),
      cn = c * n,
      sn = s * n;
    // the quaternion of before times (c, s about the axis)
    q[4 * i] = still[4 * i]! * cn - still[x]! * sn;
    q[x] = still[x]! * cn + still[4 * i]! * sn;
    q[y] = still[y]! * cn + still[z]! * sn;
    q[z] = still[z]! * cn - still[y]! * sn;
  }

  /** Cosine of half the angle about its only axis by which a body has turned since states were laid out so; and the sine. */
  private cosine(i: number): number {
    const { q, still } = this,
      o = 4 * i;
    return still[o]! * q[o]! + still[o + 1]! * q[o + 1]! + still[o + 2]! * q[o + 2]! + still[o + 3]! * q[o + 3]!;
  }
  private sine(i: number): number {
    const { q, still, axis } = this,
      o = 4 * i,
      k = axis[i]!,
      a = o + 1 + k,
      b = o + 1 + ((k + 1) % 3),
      c = o + 1 + ((k + 2) % 3);
    return still[o]! * q[a]! - still[a]! * q[o]! - (still[b]! * q[c]! - still[c]! * q[b]!);
  }

  /** The state as it is laid out. */
  store(y: Float64Array): void {
    this.storeAs(this.layout, this.copied, y);
  }
  /** The state with everything told. */
  storeWhole(y: Float64Array): void {
    this.storeAs(this.whole, this.all, y);
  }
  private storeAs({ turn, turns, further }: StateLayout, { state, place }: Copied, y: Float64Array): void {
    const { q, z, bodies, memory } = this;
    const { numbers } = memory;
    for (let j = 0; j < state.length; j++) y[state[j]!] = numbers[place[j]!]!;
    for (let i = 0; i < bodies; i++) {
      const p = turn[i]!,
        o = 4 * i;
      if (turns[i] === 4) for (let k = 0; k < 4; k++) y[p + k] = q[o + k]!;
      else if (turns[i] === 2) {
        y[p] = this.cosine(i);
        y[p + 1] = this.sine(i);
      }
    }
    for (let k = 0; k < z.length; k++) y[further + k] = z[k]!;
  }

  /** Rotation matrices from the quaternions. */
  orient(): void {
    const { q, A, bodies } = this;
    for (let i = 0, p = 0, m = 0; i < bodies; i++, p += 4, m += 9) {
      const a = q[p]!,
        b = q[p + 1]!,
        c = q[p + 2]!,
        d = q[p + 3]!;
      A[m] = 1 - 2 * (c * c + d * d);
      A[m + 1] = 2 * (b * c - a * d);
      A[m + 2] = 2 * (b * d + a * c);
      A[m + 3] = 2 * (b * c + a * d);
      A[m + 4] = 1 - 2 * (b * b + d * d);
      A[m + 5] = 2 * (c * d - a * b);
      A[m + 6] = 2 * (b * d - a * c);
      A[m + 7] = 2 * (c * d + a * b);
      A[m + 8] = 1 - 2 * (b * b + c * c);
    }
  }

  /** Time derivative of the postures into dy: dr/dt = v and dq/dt = ½ q ∘ (0, w). */
  rates(dy: Float64Array): void {
    const { q, w, bodies, layout, axis, copied, memory } = this;
    const { turn, turns } = layout;
    const { numbers } = memory,
      { state, speed } = copied;
    for (let j = 0; j < speed.length; j++) dy[state[j]!] = numbers[speed[j]!]!;
    for (let i = 0; i < bodies; i++) {
      const j = 3 * i,
        o = 4 * i,
        p = turn[i]!;
      if (turns[i] === 4) {
        const a = q[o]!,
          b = q[o + 1]!,
          c = q[o + 2]!,
          d = q[o + 3]!;
        const wx = w[j]!,
          wy = w[j + 1]!,
          wz = w[j + 2]!;
        dy[p] = 0.5 * (-b * wx - c * wy - d * wz);
        dy[p + 1] = 0.5 * (a * wx + c * wz - d * wy);
        dy[p + 2] = 0.5 * (a * wy - b * wz + d * wx);
        dy[p + 3] = 0.5 * (a * wz + b * wy - c * wx);
      } else if (turns[i] === 2) {
        const half = 0.5 * w[j + axis[i]!]!;
        dy[p] = -half * this.sine(i);
        dy[p + 1] = half * this.cosine(i);
      }
    }
  }
  /** Accelerations, six numbers a body, to where they stand in the derivative of the state. */
  accelerated(acceleration: Float64Array, dy: Float64Array): void {
    const { motions, moving } = this.layout;
    for (let j = 0; j < moving.length; j++) dy[motions + j] = acceleration[moving[j]!]!;
  }

  /**
   * Moves every body by a small displacement (six numbers a body: translation in ground axes, rotation
   * vector in body axes), with the rotation applied exactly as a unit quaternion (Cayley map).
   */
  displace(step: Float64Array, scale: number): void {
    const { r, q, bodies } = this;
    this.moved++;
    for (let i = 0; i < bodies; i++) {
      for (let k = 0; k < 3; k++) r[3 * i + k] = r[3 * i + k]! + scale * step[6 * i + k]!;
      const x = 0.5 * scale * step[6 * i + 3]!,
        y = 0.5 * scale * step[6 * i + 4]!,
        z = 0.5 * scale * step[6 * i + 5]!;
      const n = 1 / Math.sqrt(1 + x * x + y * y + z * z);
      const p = 4 * i;
      const a = q[p]!,
        b = q[p + 1]!,
        c = q[p + 2]!,
        d = q[p + 3]!;
      const qa = (a - b * x - c * y - d * z) * n;
      const qb = (b + a * x + c * z - d * y) * n;
      const qc = (c + a * y - b * z + d * x) * n;
      const qd = (d + a * z + b * y - c * x) * n;
      const m = 1 / Math.sqrt(qa * qa + qb * qb + qc * qc + qd * qd);
      q[p] = qa * m;
      q[p + 1] = qb * m;
      q[p + 2] = qc * m;
      q[p + 3] = qd * m;
    }
    this.orient();
  }
}
