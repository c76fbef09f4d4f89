import { OwnBodies } from './coordinates/own';
import { OwnWork, scratchOf } from './coordinates/work';
import { type Fold, turningOf } from './fold';
import { cosine, sine, turn } from './half-turn';
import { StateLayout } from './layout';
import { rotationInto } from './quaternion';
import { type KernelMemory, placed } from '../kernel/memory';
import { sharedMemory } from '../kernel/pool';

/**
 * Numbers of each kind that describe the bodies and the ground, three places for equations that are evaluated one by one, and what bodies have that are
 * told by coordinates of their own: these (x), their speeds (s), and a block to each body. Then quaternions when states were last laid out (`still`), and
 * further states (z).
 */
function sizesOf(own: OwnBodies, extra: number) {
  const { bodies, coordinates, blocks } = own,
    n = bodies + 1,
    scratch = scratchOf(own);
  return {
    r: 3 * n,
    q: 4 * n,
    v: 3 * n,
    w: 3 * n,
    A: 9 * n,
    numbers: 32,
    course: 3,
    out: 36,
    x: coordinates,
    s: coordinates,
    blocks,
    scratch,
    still: 4 * n,
    z: extra,
  };
}
/** Places of the numbers of a machine's bodies, relative to the first. */
export type KinematicPlaces = Readonly<Record<keyof ReturnType<typeof sizesOf>, number>>;
/** The same for some bodies. */
export const kinematicPlaces = (bodies: OwnBodies, extra: number): KinematicPlaces => placed(sizesOf(bodies, extra)).at;

/** Numbers that are the same in a state and here: where they stand there, and in memory. Places come first, and of each where its speed is. */
interface Copied {
  readonly state: Int32Array;
  readonly place: Int32Array;
  readonly speed: Int32Array;
}
function copiedOf({ posture, motions, moving, bodies, coordinate }: StateLayout, at: KinematicPlaces): Copied {
  const entries = Array.from(moving.entries()),
    own = 6 * bodies,
    places = entries.filter(([, m]) => m < own && m % 6 < 3),
    bodyOf = (m: number) => Math.floor(m / 6),
    nth = new Uint8Array(bodies);
  const inPlace = places.map(([, m]) => posture[bodyOf(m)]! + nth[bodyOf(m)]!++),
    inMotion = (m: number) => (m >= own ? at.s + m - own : m % 6 < 3 ? at.v + 3 * bodyOf(m) + (m % 6) : at.w + 3 * bodyOf(m) + (m % 6) - 3);
  return {
    state: Int32Array.from([...inPlace, ...coordinate, ...entries.map(([j]) => motions + j)]),
    place: Int32Array.from([
      ...places.map(([, m]) => at.r + 3 * bodyOf(m) + (m % 6)),
      ...Array.from(coordinate, (_, j) => at.x + j),
      ...Array.from(moving, inMotion),
    ]),
    speed: Int32Array.from([...places.map(([, m]) => inMotion(m)), ...Array.from(coordinate, (_, j) => at.s + j)]),
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
  /** Coordinates that bodies have of their own, and their speeds. */
  readonly x: Float64Array;
  readonly s: Float64Array;
  /** The bodies that have such; left out where there are none. */
  readonly own: OwnWork | undefined;
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

  /** Drives stand where they are asked to be at the time: as statics look at a machine, nothing that they ask for has a rate. */
  standing = false;

  constructor(
    /** Number of bodies, ground not counted. */
    readonly bodies: number,
    readonly extra: number,
    /** Numbers for which there is to be room behind it. */
    room = 0,
    private readonly owning = new OwnBodies(bodies),
  ) {
    const sizes = sizesOf(owning, extra),
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
    this.x = view('x');
    this.s = view('s');
    this.z = view('z');
    this.whole = new StateLayout(bodies, extra, undefined, owning, true);
    this.layout = this.usual;
    this.copied = copiedOf(this.layout, this.at);
    this.all = copiedOf(this.whole, this.at);
    if (owning.list.length > 0) this.own = new OwnWork(owning, memory, this.at);
    this.still = view('still');
    this.axis = new Uint8Array(bodies);
    this.q[4 * bodies] = 1;
    this.A[9 * bodies] = this.A[9 * bodies + 4] = this.A[9 * bodies + 8] = 1;
  }

  /** Length of the state vector. */
  get size(): number {
    return this.layout.size;
  }

  /** States of bodies that move in every way, or by their own coordinates. */
  private get usual(): StateLayout {
    return new StateLayout(this.bodies, this.extra, undefined, this.owning);
  }

  /** From now on states tell only what can change: all bodies are where they are, for good and at rest where they cannot move. Undefined: everything. */
  lay(fold: Fold | undefined): void {
    const { bodies, q, v, w } = this;
    this.layout = fold ? new StateLayout(bodies, this.extra, fold, this.owning) : this.usual;
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

  /** From now on turns about one axis are told from where they are in another machine that is laid out alike, so that states of both can be compared. */
  tellLike({ still }: Kinematics): void {
    const { turns } = this.layout;
    for (let i = 0; i < this.bodies; i++) if (turns[i] === 2) for (let k = 4 * i; k < 4 * i + 4; k++) this.still[k] = still[k]!;
  }

  /** The axis of its own about which a body turns, where states tell its turn by two numbers. */
  axisOf(body: number): number {
    return this.axis[body]!;
  }

  /** Seven numbers a body: its place, and its quaternion when states were last laid out. */
  get origins(): number[] {
    const { r, still, bodies } = this;
    return Array.from({ length: bodies }, (_, i) => [...r.subarray(3 * i, 3 * i + 3), ...still.subarray(4 * i, 4 * i + 4)]).flat();
  }

  /** Takes over a state vector; quaternions are normalised on the way. */
  load(y: Float64Array): void {
    this.loadAs(this.layout, this.copied, y);
  }
  /** The same with everything told, as `storeWhole` leaves it. */
  loadWhole(y: Float64Array): void {
    this.loadAs(this.whole, this.all, y);
  }
  private loadAs({ turn: turnAt, turns, further }: StateLayout, { state, place }: Copied, y: Float64Array): void {
    const { q, z, bodies, memory, still, axis } = this;
    const { numbers } = memory;
    this.moved++;
    for (let j = 0; j < state.length; j++) numbers[place[j]!] = y[state[j]!]!;
    for (let i = 0; i < bodies; i++) {
      const p = turnAt[i]!;
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
      } else if (turns[i] === 2) turn(still, 4 * i, axis[i]!, y[p]!, y[p + 1]!, q, 4 * i);
    }
    for (let k = 0; k < z.length; k++) z[k] = y[further + k]!;
    this.orient();
  }

  /** Cosine of half the angle about its only axis by which a body has turned since states were laid out so. */
  cosine(i: number): number {
    return cosine(this.still, 4 * i, this.q, 4 * i);
  }
  /** The sine of it. */
  sine(i: number): number {
    return sine(this.still, 4 * i, this.q, 4 * i, this.axis[i]!);
  }

  /** The state as it is laid out. */
  store(y: Float64Array): void {
    this.storeAs(this.layout, this.copied, y);
  }
  /** The state with everything told, from a place on. */
  storeWhole(y: Float64Array, from = 0): void {
    this.storeAs(this.whole, this.all, y, from);
  }
  private storeAs({ turn, turns, further }: StateLayout, { state, place }: Copied, y: Float64Array, from = 0): void {
    const { q, z, bodies, memory } = this;
    const { numbers } = memory;
    for (let j = 0; j < state.length; j++) y[from + state[j]!] = numbers[place[j]!]!;
    for (let i = 0; i < bodies; i++) {
      const p = turn[i]!,
        o = 4 * i;
      if (turns[i] === 4) for (let k = 0; k < 4; k++) y[from + p + k] = q[o + k]!;
      else if (turns[i] === 2) {
        y[from + p] = this.cosine(i);
        y[from + p + 1] = this.sine(i);
      }
    }
    for (let k = 0; k < z.length; k++) y[from + further + k] = z[k]!;
  }

  /** Rotation matrices from the quaternions, and all that follows from coordinates of bodies. */
  orient(): void {
    this.turnAxes();
    this.own?.refresh();
  }
  private turnAxes(): void {
    const { q, A, bodies } = this;
    for (let i = 0; i < bodies; i++) rotationInto(A, 9 * i, q, 4 * i);
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
  /** Accelerations, six numbers a body and one a coordinate, to where they stand in the derivative of the state. */
  accelerated(acceleration: Float64Array, dy: Float64Array): void {
    const { motions, moving } = this.layout;
    for (let j = 0; j < moving.length; j++) dy[motions + j] = acceleration[moving[j]!]!;
  }

  /** The motion at hand: six velocities a body, then the speeds of coordinates. */
  motion(out: Float64Array): void {
    const { v, w, s, bodies } = this;
    for (let i = 0; i < bodies; i++)
      for (let k = 0; k < 3; k++) {
        out[6 * i + k] = v[3 * i + k]!;
        out[6 * i + 3 + k] = w[3 * i + k]!;
      }
    out.set(s, 6 * bodies);
  }
  /** Everything stops. */
  rest(): void {
    this.v.fill(0);
    this.w.fill(0);
    this.s.fill(0);
    this.own?.refresh();
  }
  /** Adds to the motion. @param change six velocities a body, then the speeds of coordinates */
  quicken(change: Float64Array, scale: number): void {
    const { v, w, s, bodies } = this;
    this.moved++;
    for (let i = 0; i < bodies; i++)
      for (let k = 0; k < 3; k++) {
        v[3 * i + k] = v[3 * i + k]! + scale * change[6 * i + k]!;
        w[3 * i + k] = w[3 * i + k]! + scale * change[6 * i + 3 + k]!;
      }
    for (let j = 0; j < s.length; j++) s[j] = s[j]! + scale * change[6 * bodies + j]!;
    this.own?.refresh();
  }

  /**
   * Moves every body by a small displacement (six numbers a body: translation in ground axes, rotation vector in body axes; then one a coordinate),
   * with the rotation applied exactly as a unit quaternion (Cayley map).
   */
  displace(step: Float64Array, scale: number): void {
    const { r, q, x: own, bodies } = this;
    this.moved++;
    for (let j = 0; j < own.length; j++) own[j] = own[j]! + scale * step[6 * bodies + j]!;
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
