/**
 * Contact of some solids with others. Where a gap closes is an event: from then on that place is pressed (`law.ts`) and rubs, until it opens again. While it
 * sticks, a spring along the surface, stretched by what both have slid since, holds it; that carries no more than the static coefficient times what presses,
 * and a place that slides is held back by the sliding coefficient, until its sliding turns round (P. A. Cundall, O. D. L. Strack, Géotechnique 29, 1979).
 */
import { refuse } from '../../diagnosis';
import type { Vec3 } from '../../geometry/vector';
import type { Force } from '../forces';
import type { ContactReading, Touches } from './touches';
import type { Kinematics } from '../kinematics';
import type { LoadReadings } from '../load-readings';
import type { Memory } from '../memory';
import type { ExtraStates } from '../states';
import type { Fired, Settled, Watch } from '../watch';
import { Beside, Following } from './linear';
import type { Normal } from './law';
import type { Meeting } from './meeting';
import type { MovedMass } from './moved-mass';
import { Rolling, type TurningLaw } from './rolling';

export interface FrictionLaw extends TurningLaw {
  readonly static: number;
  readonly sliding: number;
  /** Bodies of which the surface runs, as a belt does: how fast, m/s, in their own axes. */
  readonly runs?: { readonly bodies: readonly number[]; readonly speed: Vec3 };
}

/** What a place does. */
const FREE = 0;
const STICKS = 1;
const SLIDES = 2;

/** Stiffness along a surface beside that across it: 2 (1 − ν)/(2 − ν) with ν = 0.3 (R. D. Mindlin, J. Appl. Mech. 16, 1949). */
const ALONG = 0.82;
/** Static friction is so much more than that of sliding, at least: what has come to rest does not slide again at once. */
const APART = 1.001;
/** A gap, in parts of the machine's size, that is none; and a speed, in as much a second. */
const NONE = 1e-12;
const SLOW = 1e-9;
/** By how much edges may have passed the end of one another, in parts of their lengths, before they part. */
const MARGIN = 1e-9;
/** Times that speed at which what slides comes to rest. */
const STOPS = 1e5;
/** A depth in the same, of which the force is as good as none: places are known to rounding. */
const LITTLE = 1e-10;
/** Numbers kept of each place: which it is, what it does, the speed at which it met, which way it slides, whether it has been quick, and how deep it began. */
const KEPT = 8;

/** Cosine between the normals of a place before a step and after it, from which on down it was pushed through. */
const THROUGH = -0.5;

/** Places at which two bodies may touch at a time, on the average, and all of them together: each has states, and is kept with every record. */
const PLACES = 12;
const MOST = 512;

/** Places that touch at a time: each is one of the probes. */
export class ContactForce implements Force, Watch, Memory, ExtraStates {
  readonly bodies: readonly number[];
  readonly extras: readonly ExtraStates[];
  readonly watches: readonly Watch[] = [this];
  readonly memory: Memory = this;
  readonly readings: LoadReadings;
  /** Of each place what it has slid since it sticks: three numbers, ground axes. */
  readonly states: number;
  readonly cells: number;
  first = 0;

  /** Of each probe, counted through all meetings: its meeting, its number there, and the place that it has; −1 for none. */
  private readonly meetingOf: Int32Array;
  private readonly probeOf: Int32Array;
  private readonly placeOf: Int32Array;
  /** Of each place: its probe, −1 where it has none; what it does; at which speed it met; which way it slides. */
  private readonly probe: Int32Array;
  private readonly does: Uint8Array;
  private readonly met: Float64Array;
  private readonly way: Float64Array;
  private readonly quick: Uint8Array;
  /** How deep it was when it began to touch, m: edges may come to cross where both solids overlap, held by others; what presses begins with nothing. */
  private readonly from: Float64Array;
  /** What was found of each at a state, and of which: depth and its rate, what presses, the velocity along the surface, and the mass that is met. */
  private readonly depth: Float64Array;
  private readonly rate: Float64Array;
  private readonly presses: Float64Array;
  private readonly slip: Float64Array;
  private readonly mass: Float64Array;
  /** Its normal there, and as it was at the end of the last step. */
  private readonly normals: Float64Array;
  private readonly before: Float64Array;
  /** One that has gone through what it met. */
  private through = -1;
  /** How fast what would hold it is stretched, at the last look for events; by the accelerations there. */
  private readonly yields: Float64Array;
  private acceleration: Float64Array | undefined;
  private stamp = -1;
  /** Of each meeting how far it is apart, and of each probe its gap where that is near; of which state. */
  private readonly apart: Float64Array;
  private readonly gaps: Float64Array;
  private gathered: Kinematics | undefined;
  private gatheredAt = -1;
  private seen: Kinematics | undefined;
  private readonly friction: FrictionLaw;
  /** What resists turning, where anything does. */
  private readonly rolling: Rolling | undefined;
  /** Of each body whether its surface runs. */
  private readonly runs: Uint8Array;
  private readonly belt = new Float64Array(3);
  /** Of one place: what sticking or sliding does, N. */
  private readonly rub = new Float64Array(3);
  private readonly moves = new Float64Array(2);
  /** While it is looked at next to a state: what of that is needed. */
  private beside: Beside | undefined;
  readonly along: NonNullable<ExtraStates['along']>;
  readonly differenced: NonNullable<Force['differenced']>;
  /** A force that is none, N. */
  private readonly little: number;
  private readonly none: number;
  private readonly slow: number;

  /** @param extent of the machine, m */
  constructor(
    private readonly name: string,
    private readonly meetings: readonly Meeting[],
    private readonly normal: Normal,
    friction: FrictionLaw,
    private readonly moved: MovedMass,
    extent: number,
  ) {
    const all = meetings.flatMap((m, i) => m.probes.map((_, k) => [i, k] as const)),
      pairs = new Set(meetings.map(({ a, b }) => [Math.min(a, b), Math.max(a, b)].join())),
      count = Math.min(PLACES * pairs.size, MOST, all.length);
    this.parts.count = all.length;
    this.friction = { ...friction, static: Math.max(friction.static, APART * friction.sliding) };
    this.bodies = [...new Set(meetings.flatMap((m) => [m.a, m.b]))];
    this.meetingOf = Int32Array.from(all, ([i]) => i);
    this.probeOf = Int32Array.from(all, ([, k]) => k);
    this.placeOf = new Int32Array(all.length).fill(-1);
    this.apart = new Float64Array(meetings.length);
    this.gaps = new Float64Array(all.length);
    this.probe = new Int32Array(count).fill(-1);
    this.does = new Uint8Array(count);
    this.met = new Float64Array(count);
    this.way = new Float64Array(3 * count);
    this.quick = new Uint8Array(count);
    this.from = new Float64Array(count);
    this.depth = new Float64Array(count);
    this.rate = new Float64Array(count);
    this.presses = new Float64Array(count);
    this.slip = new Float64Array(3 * count);
    this.mass = new Float64Array(count);
    this.yields = new Float64Array(count);
    this.normals = new Float64Array(3 * count);
    this.before = new Float64Array(3 * count);
    this.states = 3 * count;
    this.rolling =
      friction.rolling > 0 || friction.spinning > 0
        ? new Rolling(count, friction, (K, tell) => {
            this.look(K);
            for (let i = 0; i < count; i++) if (this.does[i] !== FREE) tell(i, this.lookAt(K, i), this.presses[i]!);
          })
        : undefined;
    this.extras = this.rolling ? [this, this.rolling] : [this];
    this.runs = new Uint8Array(Math.max(...this.bodies) + 1);
    for (const body of friction.runs?.bodies ?? []) this.runs[body] = 1;
    this.cells = KEPT * count;
    const following = new Following(count);
    this.along = {
      take: (K) => {
        this.look(K);
        following.clear();
        for (let i = 0; i < count; i++) if (this.rubs && this.does[i] === STICKS) following.take(K, i, this.lookAt(K, i));
      },
      add: (motion, rates, at) => following.add(motion, rates, at),
    };
    const beside = new Beside(count);
    this.differenced = {
      begin: (K) => {
        beside.begin(extent);
        for (let i = 0; i < count; i++) {
          if (this.does[i] === FREE) continue;
          const m = this.lookAt(K, i);
          beside.take(K, i, m, this.depth[i]!, Math.sqrt(this.normal.elastic(this.depth[i]!) * (this.depth[i]! / this.mass[i]!)));
        }
        this.beside = beside;
      },
      end: () => (this.beside = undefined),
      get displacement() {
        return beside.displacement;
      },
      get speed() {
        return beside.speed;
      },
    };
    this.none = NONE * extent;
    this.little = normal.elastic(LITTLE * extent);
    this.slow = SLOW * extent;
    this.readings = {
      parts: 1,
      turns: () => false,
      effort: (K) => Math.max(0, this.sum(K, this.presses)),
      deflection: (K) => Math.max(0, this.sum(K, this.depth, true)),
      positive: { effort: 'What presses at all places together, never negative.', deflection: 'The deepest place; never negative.' },
    };
  }

  readonly touches: Touches = {
    read: (K, of, body) => {
      this.look(K);
      let out = 0;
      for (let i = 0; i < this.does.length; i++) {
        if (this.does[i] === FREE) continue;
        const m = this.meetings[this.meetingOf[this.probe[i]!]!]!;
        if (body !== undefined && m.a !== body && m.b !== body) continue;
        const x = this.readAt(K, i, of);
        out = of === 'depth' || of === 'slip' ? Math.max(out, x) : out + x;
      }
      return out;
    },
    overlaps: (K) => {
      let p = 0;
      return this.meetings.flatMap((m) => {
        m.stand(K);
        let [depth, speed] = [0, 0];
        for (let k = 0; k < m.probes.length; k++, p++) {
          const now = -m.look(k);
          if (!(now > depth)) continue;
          depth = now;
          speed = Math.sqrt((2 * this.normal.energy(now)) / this.massOf(K, m));
        }
        return depth > 0 ? [{ shapes: [m.bones.shape, m.surface.shape] as const, depth, speed }] : [];
      });
    },
    places: (K) =>
      Array.from(this.does.keys()).flatMap((i) => {
        if (this.does[i] === FREE) return [];
        const m = this.lookAt(K, i);
        this.pushing(K, i, m);
        return [{ a: m.a, b: m.b, at: [...m.x] as unknown as Vec3, force: [...this.rub] as unknown as Vec3 }];
      }),
  };
  private readAt(K: Kinematics, i: number, of: ContactReading): number {
    const { slip, rub } = this;
    if (of === 'places') return 1;
    if (of === 'depth') return Math.max(0, this.depth[i]!);
    if (of === 'normal') return Math.max(0, this.presses[i]!);
    if (of === 'slip') return size(slip, 3 * i);
    if (!this.rubs) return 0;
    this.rubbing(K, i, this.lookAt(K, i).n);
    return size(rub, 0);
  }
  private sum(K: Kinematics, of: Float64Array, most = false): number {
    this.look(K);
    let out = 0;
    for (let i = 0; i < of.length; i++) if (this.does[i] !== FREE) out = most ? Math.max(out, of[i]!) : out + of[i]!;
    return out;
  }
  /** What a push at a place that was looked at meets, kg. */
  private massOf(K: Kinematics, { a, b, x, n }: Meeting): number {
    return 1 / (this.moved.yields(K, a, x, n) + this.moved.yields(K, b, x, n));
  }

  /** Rate at which a gap that was looked at closes, m/s; the velocity along the surface into `to`. */
  private closing(K: Kinematics, m: Meeting, to: Float64Array, at: number): number {
    const { x, n } = m;
    let along = 0;
    for (let k = 0; k < 3; k++) {
      const v = velocityAt(K, m.a, x, k) - velocityAt(K, m.b, x, k);
      to[at + k] = v;
      along += v * n[k]!;
    }
    const across = this.running(K, m, to, at) + along;
    for (let k = 0; k < 3; k++) to[at + k] = to[at + k]! - across * n[k]!;
    return -along;
  }
  /** Adds how fast surfaces run past one another that are driven round their bodies. @returns that along the normal, m/s */
  private running({ A }: Kinematics, { a, b, n }: Meeting, to: Float64Array, at: number): number {
    const { runs, belt, friction } = this;
    if (!friction.runs || runs[a] === runs[b]) return 0;
    const [x, y, z] = friction.runs.speed,
      body = runs[a] === 1 ? a : b,
      sign = body === a ? 1 : -1;
    let along = 0;
    for (let k = 0; k < 3; k++) {
      const p = 9 * body + 3 * k;
      belt[k] = sign * (A[p]! * x + A[p + 1]! * y + A[p + 2]! * z);
      to[at + k] = to[at + k]! + belt[k]!;
      along += belt[k]! * n[k]!;
    }
    return along;
  }

  /** Finds out about all places that touch at the state in K, once. */
  private look(K: Kinematics): void {
    if (this.seen === K && this.stamp === K.moved) return;
    this.seen = K;
    this.stamp = K.moved;
    for (let i = 0; i < this.does.length; i++) if (this.does[i] !== FREE) this.lookAt(K, i);
  }
  /** @returns its meeting, with the place in it */
  private lookAt(K: Kinematics, i: number): Meeting {
    const { probe, depth, presses, slip, met, mass } = this,
      m = this.meetings[this.meetingOf[probe[i]!]!]!;
    m.stand(K, false);
    depth[i] = -m.look(this.probeOf[probe[i]!]!, true) - this.from[i]!;
    for (let k = 0; k < 3; k++) this.normals[3 * i + k] = m.n[k]!;
    const rate = (this.rate[i] = this.closing(K, m, slip, 3 * i));
    mass[i] = this.massOf(K, m);
    presses[i] = this.normal.force(depth[i]!, rate, met[i]!, mass[i]!);
    return m;
  }
  /**
   * What holds a place along the surface, on the body that touches it: into `rub`. What sticks swings about where it is held, a little damped as far as
   * friction allows. @returns what it carries without that, N
   */
  private rubbing(K: Kinematics, i: number, n: Float64Array): number {
    const { rub, slip, first, friction, normal, does } = this,
      at = first + 3 * i;
    if (does[i] === SLIDES) {
      const speed = this.head(i),
        held = speed > 0 ? -(friction.sliding * this.presses[i]!) / speed : 0;
      for (let k = 0; k < 3; k++) rub[k] = held * rub[k]!;
      return friction.sliding * this.presses[i]!;
    }
    const stiffness = ALONG * normal.slope(this.depth[i]!),
      damping = 2 * normal.damped * Math.sqrt(stiffness * this.mass[i]!);
    let across = 0,
      carried = 0,
      all = 0;
    for (let k = 0; k < 3; k++) {
      rub[k] = K.z[at + k]! + (this.beside ? this.beside.slid(K, i, k) : 0);
      across += rub[k]! * n[k]!;
    }
    for (let k = 0; k < 3; k++) {
      const held = -stiffness * (rub[k]! - across * n[k]!);
      carried += held * held;
      rub[k] = held - damping * slip[3 * i + k]!;
      all += rub[k]! * rub[k]!;
    }
    const most = friction.static * this.presses[i]!;
    if (all > most * most) for (let k = 0; k < 3; k++) rub[k] = (rub[k]! * most) / Math.sqrt(all);
    return Math.sqrt(carried);
  }
  /**
   * Where what slides is heading, into `rub`: where its slip leads; but on the way that it slid where the spring that would hold it, which is pressed less,
   * gives way faster than it slips, or springs back. @returns how fast, m/s
   */
  private head(i: number): number {
    const { rub, slip, way } = this,
      onward = this.onward(i),
      gives = this.gives(i),
      on = Math.max(2 * this.slow, Math.sqrt(onward * onward + gives * gives)) - onward;
    for (let k = 0; k < 3; k++) rub[k] = slip[3 * i + k]! + on * way[3 * i + k]!;
    return size(rub, 0);
  }
  /** As far as it counts beside the slip: all of it below its own speed, nothing from twice that on. */
  private gives(i: number): number {
    const gives = -this.yielding(i);
    if (!(gives > 0)) return 0;
    const x = Math.min(1, Math.max(0, size(this.slip, 3 * i) / gives - 1));
    return gives * (1 - x * x * (3 - 2 * x));
  }
  /** How fast that spring is stretched by friction that grows, m/s; as far as that is known without accelerations. */
  private yielding(i: number): number {
    return (this.friction.sliding * this.rate[i]!) / (ALONG * this.normal.exponent);
  }
  /** The same at a place that was looked at, with the accelerations at hand there. */
  private yieldingAt(K: Kinematics, i: number, { a, b, x, n }: Meeting): number {
    const { normal, acceleration } = this;
    if (!acceleration || !normal.damps) return this.yielding(i);
    let deeper = 0;
    for (let k = 0; k < 3; k++) deeper += n[k]! * (accelerationAt(K, b, x, k, acceleration) - accelerationAt(K, a, x, k, acceleration));
    return (this.friction.sliding / ALONG) * normal.grows(this.depth[i]!, this.rate[i]!, deeper, this.met[i]!, this.mass[i]!);
  }
  private get rubs(): boolean {
    return this.friction.static > 0 || this.friction.sliding > 0;
  }

  apply(K: Kinematics, _t: number, F: Float64Array): void {
    this.seen = K;
    this.stamp = K.moved;
    const { does, rub } = this;
    for (let i = 0; i < does.length; i++) {
      if (does[i] === FREE) continue;
      const m = this.lookAt(K, i);
      this.pushing(K, i, m);
      push(K, m.a, m.x, rub, 1, F);
      push(K, m.b, m.x, rub, -1, F);
      if (this.rolling) this.resist(K, i, m, this.rolling, F);
    }
  }
  /** What resists the turning of a place that was looked at. */
  private resist(K: Kinematics, i: number, m: Meeting, rolling: Rolling, F: Float64Array): void {
    const { normal, moved } = this,
      turns = moved.turns(K, m.a, m.x) + moved.turns(K, m.b, m.x);
    rolling.resist(K, i, m, this.presses[i]!, turns > 0 ? normal.damped / Math.sqrt(turns) : 0);
    turn(K, m.a, rolling.moment, 1, F);
    turn(K, m.b, rolling.moment, -1, F);
  }
  /** All that a place that was looked at does to the body that touches, into `rub`. */
  private pushing(K: Kinematics, i: number, { n }: Meeting): void {
    const { rub, presses } = this;
    if (this.rubs) this.rubbing(K, i, n);
    else rub.fill(0);
    for (let k = 0; k < 3; k++) rub[k] = rub[k]! + presses[i]! * n[k]!;
  }
  energy(K: Kinematics): number {
    this.look(K);
    const { does, depth, normal, friction, first } = this;
    let e = 0;
    for (let i = 0; i < does.length; i++) {
      if (does[i] === FREE) continue;
      e += normal.energy(depth[i]!);
      const stiffness = ALONG * normal.slope(depth[i]!);
      if (!this.rubs || !(stiffness > 0)) continue;
      if (does[i] === SLIDES) {
        const held = friction.sliding * this.presses[i]!;
        e += (held * held) / (2 * stiffness);
        continue;
      }
      for (let k = 0; k < 3; k++) e += 0.5 * stiffness * K.z[first + 3 * i + k]! * K.z[first + 3 * i + k]!;
    }
    return e;
  }

  begin(K: Kinematics): void {
    this.clear();
    K.z.fill(0, this.first, this.first + this.states);
    // several are asked to begin: as a force, and as states of its own
    this.gatheredAt = -1;
    this.around(
      K,
      () => undefined,
      (p, m) => {
        if (this.gaps[p]! > this.none) return;
        m.look(this.probeOf[p]!);
        this.touch(K, p, m, 0);
      },
    );
  }
  private clear(): void {
    this.placeOf.fill(-1);
    this.probe.fill(-1);
    this.does.fill(FREE);
    this.before.fill(0);
    this.through = -1;
    this.stamp = -1;
  }
  rates(K: Kinematics, _t: number, dz: Float64Array, at: number): void {
    this.look(K);
    const { does, slip, first } = this;
    for (let i = 0; i < does.length; i++)
      for (let k = 0; k < 3; k++) dz[at + first + 3 * i + k] = does[i] === STICKS && this.rubs ? slip[3 * i + k]! : 0;
  }

  /** Where what slides is pressed less, though it goes deeper, is told by accelerations. */
  get carried(): boolean {
    return this.rubs && this.normal.damps && this.does.includes(SLIDES);
  }
  /** What comes first: a gap closes, a place opens, no longer sticks, or no longer slides as it did. */
  value(K: Kinematics, _t: number, { acceleration }: Settled): number {
    const { probe } = this;
    this.acceleration = acceleration;
    if (this.through >= 0) return -1;
    let least = Infinity;
    for (let i = 0; i < probe.length; i++) if (probe[i]! >= 0) least = Math.min(least, this.holds(K, i));
    this.around(
      K,
      (apart) => (least = Math.min(least, apart)),
      (p, m) => (least = Math.min(least, this.comes(K, p, m))),
    );
    return least === Infinity ? NaN : least;
  }
  /** The gap of a probe that does not touch; where both overlap there, and part, how deep: it begins to touch when they no longer do. */
  private comes(K: Kinematics, p: number, m: Meeting): number {
    const gap = this.gaps[p]!;
    if (!(gap < 0)) return gap;
    m.stand(K, false);
    m.look(this.probeOf[p]!);
    return this.closing(K, m, this.rub, 0) >= 0 ? gap : -gap;
  }
  /** Of all that does not touch at the state in K: how far meetings are apart whose bodies cannot touch; and the probes of the others. */
  private around(K: Kinematics, far: (apart: number, m: Meeting) => void, near: (probe: number, m: Meeting) => void): void {
    this.gather(K);
    const { meetings, placeOf, apart } = this;
    for (let i = 0, p = 0; i < meetings.length; i++) {
      const m = meetings[i]!,
        { length } = m.probes;
      if (apart[i]! > 0) far(apart[i]!, m);
      else for (let k = 0; k < length; k++) if (placeOf[p + k]! < 0) near(p + k, m);
      p += length;
    }
  }
  /** Finds all gaps at the state in K, once. */
  private gather(K: Kinematics): void {
    if (this.gathered === K && this.gatheredAt === K.moved) return;
    this.gathered = K;
    this.gatheredAt = K.moved;
    const { meetings, gaps, apart } = this;
    for (let i = 0, p = 0; i < meetings.length; i++) {
      const m = meetings[i]!,
        { length } = m.probes;
      m.stand(K);
      apart[i] = m.apart;
      if (apart[i]! <= 0) for (let k = 0; k < length; k++) gaps[p + k] = m.gap(k);
      p += length;
    }
  }
  /** Gaps, and how fast they open. */
  readonly parts = {
    count: 0,
    look: (K: Kinematics, values: Float64Array, rates: Float64Array, at: number): void => {
      values.fill(Infinity, at, at + this.parts.count);
      this.around(
        K,
        () => undefined,
        (p, m) => {
          if ((values[at + p] = this.gaps[p]!) === Infinity) return;
          m.look(this.probeOf[p]!);
          rates[at + p] = -this.closing(K, m, this.rub, 0);
        },
      );
    },
  };
  /** Nothing goes through anything unseen: no gap is passed by more than part of what has to go through. */
  lasts(K: Kinematics, acceleration: Float64Array): number {
    const { moves } = this;
    let least = Infinity;
    const within = (room: number, m: Meeting, rate?: number) => {
      m.motion(K, acceleration, moves);
      const [V, A] = [rate ?? moves[0]!, moves[1]!],
        way = room + m.through;
      // V t + A t²/2 = way
      least = Math.min(least, (2 * way) / (V + Math.sqrt(V * V + 2 * A * way)));
    };
    // what touches is not through before it is pressed
    for (let i = 0; i < this.does.length; i++) {
      if (this.does[i] === FREE) continue;
      const m = this.lookAt(K, i);
      within(0, m, Math.abs(this.rate[i]!));
    }
    let last: Meeting | undefined,
      gap = Infinity;
    const end = () => last && within(Math.max(0, gap), last);
    this.around(K, within, (p, m) => {
      if (m !== last) {
        end();
        last = m;
        gap = Infinity;
      }
      gap = Math.min(gap, this.gaps[p]!);
    });
    end();
    return least;
  }
  /** Positive as long as a place goes on as it does. */
  private holds(K: Kinematics, i: number): number {
    const m = this.lookAt(K, i),
      open = this.stays(i, m);
    if (!this.rubs || open < 0) return open;
    const carried = this.rubbing(K, i, m.n);
    if (this.does[i] === STICKS) return Math.min(open, this.friction.static * this.presses[i]! - carried + this.little);
    this.yields[i] = this.yieldingAt(K, i, m);
    return Math.min(open, this.slides(i));
  }
  /** Positive as long as a place that was looked at touches. */
  private stays(i: number, { probes }: Meeting): number {
    return Math.min(this.depth[i]! + this.none, (probes[this.probeOf[this.probe[i]!]!]!.margin ?? Infinity) + MARGIN);
  }
  /** How fast a place still slides, m/s, and not just follows the spring that would hold it: that is stretched by as much as friction carries. */
  private slides(i: number): number {
    const { slip, quick } = this,
      on = this.onward(i) - this.yields[i]! + this.slow;
    // as it comes to rest its direction is lost: what was quick, and is so no longer, is caught before
    return quick[i] ? Math.min(on, size(slip, 3 * i) - STOPS * this.slow) : on;
  }
  /** How fast a place moves on the way it slid, m/s. */
  private onward(i: number): number {
    const { slip, way } = this;
    return slip[3 * i]! * way[3 * i]! + slip[3 * i + 1]! * way[3 * i + 1]! + slip[3 * i + 2]! * way[3 * i + 2]!;
  }

  fire(K: Kinematics): Fired | undefined {
    if (this.through >= 0) this.goneThrough(this.through);
    const met: { speed: number; m: Meeting }[] = [],
      held = this.placeOf.slice();
    let changed = false;
    for (const place of held) if (place >= 0) changed = this.change(K, place) || changed;
    this.around(
      K,
      () => undefined,
      (p, m) => {
        // what has just parted does not touch again at once
        if (held[p]! >= 0) return;
        const gap = this.comes(K, p, m);
        if (gap < 0) met.push({ speed: this.touch(K, p, m, -gap), m });
      },
    );
    if (!changed && met.length === 0) this.next(K, met);
    this.stamp = -1;
    const [first] = [...met].sort((x, y) => y.speed - x.speed);
    if (!first) return undefined;
    const { bones, surface } = first.m;
    return {
      kind: 'struck',
      message:
        met.length === 1
          ? `${this.name}: ${bones.shape} meets ${surface.shape}.`
          : `${this.name}: ${bones.shape} meets ${surface.shape}, at ${met.length} places.`,
      values: { speed: first.speed },
    };
  }
  /** What would come first comes now: it was there by the polynomial of a step that was made anew, and ends a little before. */
  private next(K: Kinematics, met: { speed: number; m: Meeting }[]): void {
    let least = Infinity,
      place = -1,
      probe = -1;
    for (let i = 0; i < this.probe.length; i++) {
      const holds = this.probe[i]! >= 0 ? this.holds(K, i) : Infinity;
      if (!(holds < least)) continue;
      least = holds;
      place = i;
    }
    this.around(
      K,
      () => undefined,
      (p) => {
        if (!(this.gaps[p]! >= 0 && this.gaps[p]! < least)) return;
        least = this.gaps[p]!;
        probe = p;
      },
    );
    if (probe >= 0) {
      const m = this.meetings[this.meetingOf[probe]!]!;
      m.stand(K);
      m.look(this.probeOf[probe]!);
      met.push({ speed: this.touch(K, probe, m, 0), m });
    } else if (place >= 0) this.change(K, place, least);
  }
  /** @param within what is no more than that counts as passed @returns whether anything changes */
  private change(K: Kinematics, i: number, within = -Infinity): boolean {
    const { does, way, first, friction, normal } = this,
      m = this.lookAt(K, i);
    const passed = (x: number) => x < 0 || x <= within;
    if (passed(this.stays(i, m))) {
      this.placeOf[this.probe[i]!] = -1;
      this.probe[i] = -1;
      does[i] = FREE;
      K.z.fill(0, first + 3 * i, first + 3 * i + 3);
      this.rolling?.clear(K, i);
      return true;
    }
    if (!this.rubs) return false;
    const carried = this.rubbing(K, i, m.n);
    if (does[i] === STICKS) {
      if (!passed(friction.static * this.presses[i]! - carried + this.little)) return false;
      does[i] = SLIDES;
      this.quick[i] = 0;
      // it goes on the way it has been stretched
      this.turn(i, K.z, first + 3 * i);
      K.z.fill(0, first + 3 * i, first + 3 * i + 3);
      return true;
    }
    if (!passed(this.slides(i))) return false;
    does[i] = STICKS;
    const stiffness = ALONG * normal.slope(this.depth[i]!);
    for (let k = 0; k < 3; k++)
      K.z[first + 3 * i + k] = stiffness > 0 ? (friction.sliding * this.presses[i]! * way[3 * i + k]!) / stiffness : 0;
    return true;
  }
  /** A place begins to touch, as it was just looked at. @param from see there @returns the speed at which both met, m/s */
  private touch(K: Kinematics, p: number, m: Meeting, from: number): number {
    const i = this.probe.indexOf(-1);
    if (i < 0)
      return refuse({
        code: 'contact-crowded',
        message: `${this.name} touches at more than ${this.probe.length} places at once.`,
        element: { family: 'loads', name: this.name },
        remedy: 'Part it into several contacts of fewer bodies.',
      });
    this.probe[i] = p;
    this.placeOf[p] = i;
    this.from[i] = from;
    this.before.fill(0, 3 * i, 3 * i + 3);
    const speed = Math.max(0, this.closing(K, m, this.slip, 3 * i));
    this.met[i] = speed;
    let along = 0;
    for (let k = 0; k < 3; k++) along += this.slip[3 * i + k]! * this.slip[3 * i + k]!;
    along = Math.sqrt(along);
    // it sticks where the spring that would hold it is stretched more slowly than friction grows
    this.does[i] = ALONG * this.normal.exponent * along > this.friction.static * speed ? SLIDES : STICKS;
    this.turn(i, this.slip, 3 * i);
    this.quick[i] = along > 2 * STOPS * this.slow ? 1 : 0;
    K.z.fill(0, this.first + 3 * i, this.first + 3 * i + 3);
    this.rolling?.clear(K, i);
    return speed;
  }

  keep(out: Float64Array, at: number): void {
    const { probe, does, met, way } = this;
    for (let i = 0; i < probe.length; i++) {
      const p = at + KEPT * i;
      out[p] = probe[i]!;
      out[p + 1] = does[i]!;
      out[p + 2] = met[i]!;
      for (let k = 0; k < 3; k++) out[p + 3 + k] = way[3 * i + k]!;
      out[p + 6] = this.quick[i]!;
      out[p + 7] = this.from[i]!;
    }
  }
  recall(from: Float64Array, at: number): void {
    const { probe, does, met, way, placeOf } = this;
    this.clear();
    for (let i = 0; i < probe.length; i++) {
      const p = at + KEPT * i;
      probe[i] = from[p]!;
      does[i] = from[p + 1]!;
      met[i] = from[p + 2]!;
      for (let k = 0; k < 3; k++) way[3 * i + k] = from[p + 3 + k]!;
      this.quick[i] = from[p + 6]!;
      this.from[i] = from[p + 7]!;
      if (probe[i]! >= 0) placeOf[probe[i]!] = i;
    }
  }
  /** What slides may turn on its way. */
  follow(K: Kinematics): void {
    this.look(K);
    const { does, slip } = this;
    for (let i = 0; i < does.length; i++) {
      if (does[i] !== SLIDES) continue;
      const speed = size(slip, 3 * i);
      if (speed > this.slow && this.onward(i) > 0 && this.gives(i) === 0) this.turn(i, slip, 3 * i);
      if (speed > 2 * STOPS * this.slow) this.quick[i] = 1;
    }
    for (let i = 0; i < does.length; i++) this.notThrough(i);
  }
  /** Whether a place has gone through what it was pressed against, and is pushed out on its far side: no run goes on from there. */
  private notThrough(i: number): void {
    const { normals, before, does } = this;
    let along = 0;
    for (let k = 3 * i; k < 3 * i + 3; k++) {
      along += normals[k]! * before[k]!;
      before[k] = does[i] === FREE ? 0 : normals[k]!;
    }
    if (does[i] !== FREE && along < THROUGH) this.through = i;
  }
  private goneThrough(i: number): never {
    const { bones, surface } = this.meetings[this.meetingOf[this.probe[i]!]!]!;
    return refuse({
      code: 'contact-through',
      message: `“${bones.shape}” has gone through “${surface.shape}”.`,
      element: { family: 'loads', name: this.name },
      why: 'It came nearer to the far side than to the one that it met, and would be pushed out there.',
      remedy: 'Give this contact more stiffness.',
    });
  }
  /** From now on a place slides along a vector. */
  private turn(i: number, along: Float64Array, at: number): void {
    const length = size(along, at);
    for (let k = 0; k < 3; k++) this.way[3 * i + k] = length > 0 ? along[at + k]! / length : 0;
  }
}

const size = (x: Float64Array, at: number): number => Math.sqrt(x[at]! * x[at]! + x[at + 1]! * x[at + 1]! + x[at + 2]! * x[at + 2]!);

/** Component k (ground axes) of the velocity of a body at a place, ground axes. */
function velocityAt({ r, A, v, w }: Kinematics, i: number, x: Float64Array, k: number): number {
  const p = 9 * i,
    q = 3 * i;
  const wx = A[p]! * w[q]! + A[p + 1]! * w[q + 1]! + A[p + 2]! * w[q + 2]!,
    wy = A[p + 3]! * w[q]! + A[p + 4]! * w[q + 1]! + A[p + 5]! * w[q + 2]!,
    wz = A[p + 6]! * w[q]! + A[p + 7]! * w[q + 1]! + A[p + 8]! * w[q + 2]!,
    dx = x[0]! - r[q]!,
    dy = x[1]! - r[q + 1]!,
    dz = x[2]! - r[q + 2]!;
  return v[q + k]! + (k === 0 ? wy * dz - wz * dy : k === 1 ? wz * dx - wx * dz : wx * dy - wy * dx);
}

/** The same of its acceleration. @param of all bodies, six numbers each, angular ones in their axes */
function accelerationAt({ r, A, w, bodies }: Kinematics, i: number, x: Float64Array, k: number, of: Float64Array): number {
  if (i >= bodies) return 0;
  const p = 9 * i,
    q = 3 * i,
    turned = (at: ArrayLike<number>, from: number, row: number) =>
      A[p + 3 * row]! * at[from]! + A[p + 3 * row + 1]! * at[from + 1]! + A[p + 3 * row + 2]! * at[from + 2]!,
    [g, h] = [(k + 1) % 3, (k + 2) % 3],
    d = (row: number) => x[row]! - r[q + row]!;
  let [spin, along] = [0, 0];
  for (let row = 0; row < 3; row++) {
    const v = turned(w, q, row);
    spin += v * v;
    along += v * d(row);
  }
  return of[6 * i + k]! + turned(of, 6 * i + 3, g) * d(h) - turned(of, 6 * i + 3, h) * d(g) + turned(w, q, k) * along - spin * d(k);
}

/** Adds a force at a place (ground axes) to a body. */
function push({ r, A }: Kinematics, i: number, x: Float64Array, f: Float64Array, sign: number, F: Float64Array): void {
  const p = 9 * i,
    dx = x[0]! - r[3 * i]!,
    dy = x[1]! - r[3 * i + 1]!,
    dz = x[2]! - r[3 * i + 2]!,
    mx = dy * f[2]! - dz * f[1]!,
    my = dz * f[0]! - dx * f[2]!,
    mz = dx * f[1]! - dy * f[0]!;
  for (let k = 0; k < 3; k++) {
    F[6 * i + k] = F[6 * i + k]! + sign * f[k]!;
    F[6 * i + 3 + k] = F[6 * i + 3 + k]! + sign * (A[p + k]! * mx + A[p + 3 + k]! * my + A[p + 6 + k]! * mz);
  }
}

/** Adds a moment (ground axes) to a body. */
function turn({ A }: Kinematics, i: number, m: Float64Array, sign: number, F: Float64Array): void {
  const p = 9 * i;
  for (let k = 0; k < 3; k++)
    F[6 * i + 3 + k] = F[6 * i + 3 + k]! + sign * (A[p + k]! * m[0]! + A[p + 3 + k]! * m[1]! + A[p + 6 + k]! * m[2]!);
}
