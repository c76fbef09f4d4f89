/**
 * Bodies that pass through one another in a run, though nothing holds them apart: found afterwards along the recorded motion, which is followed no further at a
 * time than both are apart (conservative advancement: B. Mirtich, Impulse-based Dynamic Simulation of Rigid Body Systems, 1996), so that what is small and
 * fast is found as well.
 */
import type { Channel } from '../elements/declarations';
import { rotationInto } from '../equations/quaternion';
import { Gap, Surface } from '../geometry/gap';
import { areaAndVolume, inset } from '../geometry/inset';
import { D } from '../quantity/dimension';
import type { Mechanism } from '../system/mechanism';

/** Two bodies that were apart at the start, and the first time at which they overlap. */
export interface Passing {
  readonly bodies: readonly [string, string];
  /** s. */
  readonly time: number;
}

/** Facets of a full turn. */
const ROUND = 16;
/** What solids may overlap and still only touch, in parts of twice their volume over their surface: 5 % of the thickness of a plate. */
const SKIN = 0.05;
/** Numbers of a pose: where the centre of mass is, and a quaternion. */
const POSE = 3 + 4;
/** Poses of bodies that are kept of a run at most. */
const MOST = 400_000;
/** Part of the thickness of a body by which what is very near is followed: nothing goes through it in that. */
const STEP = 1 / 4;
/** Distances that are measured at most: enough for some hundred bodies that come near one another. */
const ENOUGH = 10_000;
/** How often the time at which two overlap is told twice as well. */
const HALVED = 8;
/** How much longer a way may be than straight from pose to pose. */
const BENT = 1.1;

/** A body as a surface drawn in by its skin, about its centre of mass, and how far it reaches. */
interface Solid {
  readonly surface: Surface;
  readonly reach: number;
  /** Of the thinnest of its shapes: twice volume over surface. */
  readonly thick: number;
}

export class Passings {
  private readonly solids: readonly (Solid | undefined)[];
  private readonly names: readonly string[];
  private readonly poses: Float64Array[] = [];
  private readonly times: number[] = [];
  private readonly standing = new Standing();
  private every = 1;
  private seen = 0;
  /** Distances that were measured; and whether that was all there was to be looked at. */
  measured = 0;
  complete = true;

  constructor(private readonly m: Mechanism) {
    this.names = [...m.bodies.map((b) => b.name), m.model.ground];
    this.solids = this.names.map((name) => solidOf(m, name));
  }

  /** Read over the records of a run, it keeps where all bodies are. */
  readonly channel: Channel = {
    dim: D.none,
    positive: '',
    read: ({ t, K }) => {
      if (this.seen++ % this.every !== 0) return 0;
      const n = this.names.length,
        pose = new Float64Array(POSE * n);
      for (let b = 0; b < n; b++) {
        for (let k = 0; k < 3; k++) pose[POSE * b + k] = K.r[3 * b + k]!;
        for (let k = 0; k < 4; k++) pose[POSE * b + 3 + k] = K.q[4 * b + k]!;
      }
      this.times.push(t);
      this.poses.push(pose);
      if (this.poses.length * n > MOST) this.thin();
      return 0;
    },
  };
  /** Every other one goes. */
  private thin(): void {
    this.every *= 2;
    for (const list of [this.times, this.poses] as unknown[][]) {
      const kept = list.filter((_, i) => i % 2 === 0);
      list.splice(0, list.length, ...kept);
    }
  }

  /** @returns what passed through what, the earliest first; gives way with each body, and before each pair that comes near */
  *look(): Generator<undefined, Passing[], undefined> {
    const { solids, names } = this,
      apart = this.notHeld(),
      ways = names.map((_, b) => this.wayOf(b)),
      out: Passing[] = [];
    for (let a = 0; a < names.length; a++) {
      const one = solids[a];
      if (!one) continue;
      yield;
      for (let b = a + 1; b < names.length; b++) {
        const other = solids[b];
        if (!other || !apart(names[a]!, names[b]!)) continue;
        if (this.measured > ENOUGH) {
          this.complete = false;
          return inOrder(out);
        }
        const pair = new Pair(this.poses, [a, b], [one, other], [ways[a]!, ways[b]!], this.standing);
        const at = yield* pair.meets();
        this.measured += pair.measured;
        if (at !== undefined) {
          const k = Math.min(this.times.length - 2, Math.floor(at)),
            time = this.times[k]! + (at - k) * (this.times[k + 1]! - this.times[k]!);
          out.push({ bodies: [names[a]!, names[b]!], time });
        }
      }
    }
    return inOrder(out);
  }
  /** Whether nothing holds two bodies together or apart: no joint, no coupling, no contact. */
  private notHeld(): (one: string, other: string) => boolean {
    const { assembly, couplings, joints } = this.m,
      held = new Set<string>(),
      hold = (a: string, b: string) => held.add([a, b].sort().join('\n'));
    for (const j of joints) hold(...j.bodies);
    for (const { terms } of couplings) {
      const moved = terms.flatMap(({ joint }) => [...(joints.find((j) => j.name === joint)?.bodies ?? [])]);
      for (const a of moved) for (const b of moved) hold(a, b);
    }
    for (const { force } of assembly.forces) for (const [a, b] of force.touches?.pairs ?? []) hold(this.names[a]!, this.names[b]!);
    return (a, b) => !held.has([a, b].sort().join('\n'));
  }
  /** How far any point of a body has come at most, from the start to each pose, m. */
  private wayOf(b: number): Float64Array {
    const { poses } = this,
      reach = this.solids[b]?.reach ?? 0,
      out = new Float64Array(poses.length);
    for (let k = 1; k < poses.length; k++) out[k] = out[k - 1]! + BENT * between(poses[k - 1]!, poses[k]!, b, reach);
    return out;
  }
}

/** The earliest first. */
const inOrder = (list: readonly Passing[]): Passing[] => [...list].sort((x, y) => x.time - y.time);

/** How far points within a reach of the centre of mass come, straight from one pose to another. */
function between(from: Float64Array, to: Float64Array, b: number, reach: number): number {
  let [way, same, p] = [0, 0, POSE * b];
  for (const end = p + 3; p < end; p++) way += (to[p]! - from[p]!) * (to[p]! - from[p]!);
  for (const end = p + 4; p < end; p++) same += to[p]! * from[p]!;
  // the arc is longer than the chord by no more than a half
  return Math.sqrt(way) + Math.PI * Math.sqrt(Math.max(0, 2 - 2 * Math.abs(same))) * reach;
}

function solidOf(m: Mechanism, body: string): Solid | undefined {
  const corners: number[] = [],
    indices: number[] = [];
  let thick = Infinity;
  for (const s of m.shapes) {
    if (s.body !== body) continue;
    const own = m.assembly.surface(body, s.name, ROUND),
      { area, volume } = areaAndVolume(own),
      of = area > 0 ? (2 * Math.abs(volume)) / area : 0,
      drawn = inset(own, SKIN * of),
      first = corners.length / 3;
    thick = Math.min(thick, of);
    for (let i = 0; i < drawn.corners.length; i++) corners.push(drawn.corners[i]!);
    for (let i = 0; i < drawn.indices.length; i++) indices.push(first + drawn.indices[i]!);
  }
  if (indices.length === 0 || !(thick > 0)) return undefined;
  let reach = 0;
  for (let i = 0; i < corners.length; i += 3)
    reach = Math.max(reach, Math.sqrt(corners[i]! * corners[i]! + corners[i + 1]! * corners[i + 1]! + corners[i + 2]! * corners[i + 2]!));
  return { surface: new Surface(corners, indices), reach, thick };
}

/** Poses of two bodies at a time, their axes, and that of the second as the first sees it: one for all pairs, which are looked at one after the other. */
class Standing {
  readonly a = new Float64Array(POSE);
  readonly b = new Float64Array(POSE);
  readonly A = new Float64Array(9);
  readonly B = new Float64Array(9);
  readonly R = new Float64Array(9);
  readonly p = new Float64Array(3);
}

/** Two bodies on their ways. Times count in poses. */
class Pair {
  measured = 0;
  private gap: Gap | undefined;

  constructor(
    private readonly poses: readonly Float64Array[],
    private readonly bodies: readonly [number, number],
    private readonly solids: readonly [Solid, Solid],
    private readonly ways: readonly [Float64Array, Float64Array],
    private readonly standing: Standing,
  ) {}

  /** @returns when they first overlap; undefined where they never do, or do from the start */
  *meets(): Generator<undefined, number | undefined, undefined> {
    const last = this.poses.length - 1;
    for (let at = 0, before = 0; at < last;) {
      let room = this.room(at);
      if (room < NEAR * this.reach) {
        yield;
        room = this.distance();
        if (room === 0) return at === 0 ? undefined : this.first(before, at);
      }
      before = at;
      at = this.after(at, Math.max(room, STEP * Math.min(this.solids[0].thick, this.solids[1].thick)));
    }
    return undefined;
  }
  /** Between a time at which they are apart and one at which they overlap, by halving. */
  private first(apart: number, over: number): number {
    for (let i = 0; i < HALVED; i++) {
      const middle = (apart + over) / 2;
      this.room(middle);
      if (this.distance() > 0) apart = middle;
      else over = middle;
    }
    return over;
  }
  private get reach(): number {
    return this.solids[0].reach + this.solids[1].reach;
  }
  /** When both may have come nearer by so much. */
  private after(at: number, room: number): number {
    const last = this.poses.length - 1,
      k = Math.floor(at),
      whole = this.way(k, k + 1),
      left = room - (k + 1 - at) * whole;
    if (left < 0) return at + room / whole;
    // the last pose before which they have not come so far, found by halving
    let lo = k + 1,
      hi = last;
    while (lo < hi) {
      const middle = (lo + hi + 1) >> 1;
      if (this.way(k + 1, middle) <= left) lo = middle;
      else hi = middle - 1;
    }
    return lo;
  }
  private way(from: number, to: number): number {
    const [a, b] = this.ways;
    return a[to]! - a[from]! + b[to]! - b[from]!;
  }
  /** How far they are apart at least, by the balls in which they lie; takes over where they are. */
  private room(at: number): number {
    const [i, j] = this.bodies,
      { a, b } = this.standing;
    this.stand(at, i, a);
    this.stand(at, j, b);
    let far = 0;
    for (let k = 0; k < 3; k++) far += (a[k]! - b[k]!) * (a[k]! - b[k]!);
    return Math.sqrt(far) - this.reach;
  }
  private stand(at: number, body: number, out: Float64Array): void {
    const k = Math.min(this.poses.length - 2, Math.floor(at)),
      f = at - k,
      from = this.poses[k]!,
      to = this.poses[k + 1]!,
      p = POSE * body;
    let same = 0;
    for (let i = 3; i < POSE; i++) same += from[p + i]! * to[p + i]!;
    for (let i = 0; i < POSE; i++) out[i] = (1 - f) * from[p + i]! + f * (i >= 3 && same < 0 ? -to[p + i]! : to[p + i]!);
    const long = Math.sqrt(out[3]! * out[3]! + out[4]! * out[4]! + out[5]! * out[5]! + out[6]! * out[6]!);
    for (let i = 3; i < POSE; i++) out[i] = out[i]! / long;
  }
  /** Of their surfaces, as they were taken over last. */
  private distance(): number {
    const { solids } = this,
      { A, B, R, p, a, b } = this.standing;
    this.measured++;
    this.gap ??= new Gap(solids[0].surface, solids[1].surface);
    rotationInto(A, 0, a, 3);
    rotationInto(B, 0, b, 3);
    for (let i = 0; i < 3; i++) {
      p[i] = 0;
      for (let k = 0; k < 3; k++) {
        R[3 * i + k] = A[i]! * B[k]! + A[3 + i]! * B[3 + k]! + A[6 + i]! * B[6 + k]!;
        p[i] = p[i]! + A[3 * k + i]! * (b[k]! - a[k]!);
      }
    }
    return this.gap.measure(R, p, ABOUT);
  }
}
/** Part of a distance by which it may be told too small. */
const ABOUT = 0.5;
/** Balls this near, in parts of their sizes, say too little. */
const NEAR = 0.05;
