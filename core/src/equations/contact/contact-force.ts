/**
 * Contact of some solids with others. Where a gap closes is an event: from then on that place is pressed (`law.ts`) and rubs, until it opens again. While it
 * sticks, a spring along the surface, stretched by what both have slid since, holds it; that carries no more than the static coefficient times what presses,
 * and a place that slides is held back by the sliding coefficient, until its sliding turns round (P. A. Cundall, O. D. L. Strack, Géotechnique 29, 1979).
 */
import { refuse } from '../../diagnosis';
import type { Force } from '../forces';
import { Told } from './told';
import type { Touches } from './touches';
import type { Kinematics } from '../kinematics';
import type { LoadReadings } from '../load-readings';
import type { Memory } from '../memory';
import type { ExtraStates } from '../states';
import type { Fired, Settled, Watch } from '../watch';
import { push, turn } from './at-place';
import { Coming } from './coming';
import { Beside, Following } from './linear';
import { Gaps } from './gaps';
import type { Normal } from './law';
import type { Meeting } from './meeting';
import type { Meetings } from './meetings';
import type { MovedMass } from './moved-mass';
import { type Runs, Slip } from './slip';
import { type Left, goesOn, isLeftTo, leaves } from './parted';
import { FREE, KEPT, Places, STICKS } from './places';
import { Rolling, type TurningLaw } from './rolling';
import { Rubbing, type RubbingLaw } from './rubbing';
import { Tally } from './tally';

export interface FrictionLaw extends RubbingLaw, TurningLaw {
  readonly runs?: Runs;
}

/** A gap, in parts of the machine's size, that is none. */
const NONE = 1e-12;
/** By how much edges may have passed the end of one another, in parts of their lengths, before they part. */
const MARGIN = 1e-9;
/** A depth in the same, of which the force is as good as none: places are known to rounding. */
const LITTLE = 1e-10;
/** Cosine between the normals of a place before a step and after it, from which on down it was pushed through. */
const THROUGH = -0.5;

/** Places at which two bodies may touch at a time, on the average, and by facets; and all together: each has states, and is kept with every record. */
const PLACES = 12;
const BY_FACETS = 48;
const MOST = 512;

/** Places that touch at a time: each is one of the probes. */
export class ContactForce implements Force, Watch, Memory, ExtraStates {
  readonly bodies: readonly number[];
  readonly extras: readonly ExtraStates[];
  readonly watches: readonly Watch[] = [this];
  readonly memory: Memory = this;
  readonly touches: Touches;
  readonly readings: LoadReadings;
  /** Of each place what it has slid since it sticks, or the way in which it slides: three numbers, ground axes. */
  readonly states: number;
  readonly cells: number;
  first = 0;

  /** Of each probe, counted through all meetings, the place that it has; −1 for none. */
  private readonly placeOf: Int32Array;
  readonly several: Float64Array;
  /** Of each place its meeting, and the number of its probe there. */
  private readonly meetingAt: (Meeting | undefined)[];
  private readonly probeAt: Int32Array;
  private readonly places: Places;
  /** Normals as they were at the end of the last step, and where places were. */
  private readonly before: Float64Array;
  private readonly stood: Float64Array;
  private readonly coming: Coming;
  /** One that has gone through what it met. */
  private through = -1;
  private stamp = -1;
  private readonly gaps: Gaps;
  private seen: Kinematics | undefined;
  private readonly rubbing: Rubbing;
  /** What resists turning, where anything does. */
  private readonly rolling: Rolling | undefined;
  private readonly sliding: Slip;
  private readonly tally: Tally;
  /** What all of one place does, N. */
  private readonly all = new Float64Array(3);
  private readonly moves = new Float64Array(2);
  readonly along: NonNullable<ExtraStates['along']>;
  readonly differenced: NonNullable<Force['differenced']>;
  private readonly none: number;

  /** @param extent of the machine, m */
  constructor(
    private readonly name: string,
    private readonly meetings: Meetings,
    private readonly normal: Normal,
    friction: FrictionLaw,
    private readonly moved: MovedMass,
    private readonly extent: number,
  ) {
    const pairs = meetings.bodies,
      count = Math.min((meetings.faceted ? BY_FACETS : PLACES) * pairs.length, MOST, meetings.probes);
    this.parts.count = meetings.probes;
    this.bodies = [...new Set(pairs.flat())];
    this.placeOf = new Int32Array(meetings.probes).fill(-1);
    this.meetingAt = new Array<undefined>(count).fill(undefined);
    this.probeAt = new Int32Array(count);
    this.gaps = new Gaps(meetings, this.placeOf);
    this.places = new Places(count);
    this.before = new Float64Array(3 * count);
    this.stood = new Float64Array(3 * count);
    this.coming = new Coming(count);
    this.several = this.coming.values;
    this.rubbing = new Rubbing(this.places, friction, normal, this, extent, normal.elastic(LITTLE * extent));
    this.states = 3 * count;
    this.rolling =
      friction.rolling > 0 || friction.spinning > 0
        ? new Rolling(count, friction, (K, tell) => {
            this.look(K);
            for (let i = 0; i < count; i++) if (this.places.does[i] !== FREE) tell(i, this.lookAt(K, i), this.places.presses[i]!);
          })
        : undefined;
    this.tally = new Tally((K, now) => {
      this.look(K);
      now.fill(0);
      for (let i = 0; i < count; i++) {
        if (this.places.does[i] === FREE) continue;
        now[0] = now[0]! + Math.max(0, this.places.presses[i]!);
        if (this.rubbing.acts) now[1] = now[1]! - this.rubs(K, i);
      }
    });
    this.extras = this.rolling ? [this, this.rolling, this.tally] : [this, this.tally];
    this.sliding = new Slip(Math.max(...this.bodies) + 1, friction.runs);
    this.cells = KEPT * count;
    const following = new Following(count);
    this.along = {
      take: (K) => {
        this.look(K);
        following.clear();
        for (let i = 0; i < count; i++) if (this.rubbing.acts && this.places.does[i] === STICKS) following.take(K, i, this.lookAt(K, i));
      },
      add: (motion, rates, at) => following.add(motion, rates, at),
    };
    const beside = new Beside(count);
    this.differenced = {
      begin: (K) => {
        beside.begin(extent);
        for (let i = 0; i < count; i++) {
          if (this.places.does[i] === FREE) continue;
          const m = this.lookAt(K, i);
          beside.take(
            K,
            i,
            m,
            this.places.depth[i]!,
            Math.sqrt(this.normal.elastic(this.places.depth[i]!) * (this.places.depth[i]! / this.places.mass[i]!)),
          );
        }
        this.rubbing.beside = beside;
      },
      end: () => (this.rubbing.beside = undefined),
      get displacement() {
        return beside.displacement;
      },
      get speed() {
        return beside.speed;
      },
    };
    this.none = NONE * extent;
    const told = new Told({
      ...{ pairs, places: this.places, rubbing: this.rubbing, normal, gaps: this.gaps, tally: this.tally },
      look: (K) => this.look(K),
      lookAt: (K, i) => this.lookAt(K, i),
      at: (i) => [this.meetingAt[i]!, this.probeAt[i]!],
      massOf: (K, m) => this.massOf(K, m),
      pushing: (K, i) => {
        this.pushing(K, i, this.meetingAt[i]!);
        return this.all;
      },
    });
    this.touches = told;
    this.readings = told.readings;
  }

  /** Power of friction at a place, W. */
  private rubs(K: Kinematics, i: number): number {
    const { rubbing, places } = this;
    this.lookAt(K, i);
    rubbing.at(K, i);
    let power = 0;
    for (let k = 0; k < 3; k++) power += rubbing.rub[k]! * places.slip[3 * i + k]!;
    return power;
  }
  /** What a push at a place that was looked at meets, kg. */
  private massOf(K: Kinematics, { a, b, x, n }: Meeting): number {
    return 1 / (this.moved.yields(K, a, x, n) + this.moved.yields(K, b, x, n));
  }

  /** Finds out about all places that touch at the state in K, once. */
  private look(K: Kinematics): void {
    if (this.seen === K && this.stamp === K.moved) return;
    this.seen = K;
    this.stamp = K.moved;
    for (let i = 0; i < this.places.does.length; i++) if (this.places.does[i] !== FREE) this.lookAt(K, i);
  }
  /** @returns its meeting, with the place in it */
  private lookAt(K: Kinematics, i: number): Meeting {
    const { depth, presses, slip, met, mass } = this.places,
      m = this.meetingAt[i]!;
    m.stand(K, false);
    depth[i] = -m.look(this.probeAt[i]!, true) - this.places.from[i]!;
    this.stands(i, m);
    const rate = (this.places.rate[i] = this.sliding.closing(K, m, slip, 3 * i));
    mass[i] = this.massOf(K, m);
    presses[i] = this.normal.force(depth[i]!, rate, met[i]!, mass[i]!);
    return m;
  }
  /** Takes over where a place is, as it was just looked at. */
  private stands(i: number, { x, n }: Meeting): void {
    const { normals, spots } = this.places;
    for (let k = 0; k < 3; k++) {
      normals[3 * i + k] = n[k]!;
      spots[3 * i + k] = x[k]!;
    }
  }
  apply(K: Kinematics, _t: number, F: Float64Array): void {
    this.seen = K;
    this.stamp = K.moved;
    const { all } = this,
      { does } = this.places;
    for (let i = 0; i < does.length; i++) {
      if (does[i] === FREE) continue;
      const m = this.lookAt(K, i);
      this.pushing(K, i, m);
      push(K, m.a, m.x, all, 1, F);
      push(K, m.b, m.x, all, -1, F);
      if (this.rolling) this.resist(K, i, m, this.rolling, F);
    }
  }
  /** What resists the turning of a place that was looked at. */
  private resist(K: Kinematics, i: number, m: Meeting, rolling: Rolling, F: Float64Array): void {
    const { normal, moved } = this,
      turns = moved.turns(K, m.a, m.x) + moved.turns(K, m.b, m.x);
    rolling.resist(K, i, m, this.places.presses[i]!, turns > 0 ? normal.damped / Math.sqrt(turns) : 0);
    turn(K, m.a, rolling.moment, 1, F);
    turn(K, m.b, rolling.moment, -1, F);
  }
  /** All that a place that was looked at does to the body that touches, into `all`. */
  private pushing(K: Kinematics, i: number, { n }: Meeting): void {
    const { all, rubbing } = this,
      presses = this.places.presses[i]!;
    if (rubbing.acts) rubbing.at(K, i);
    for (let k = 0; k < 3; k++) all[k] = (rubbing.acts ? rubbing.rub[k]! : 0) + presses * n[k]!;
  }
  energy(K: Kinematics): number {
    this.look(K);
    const { normal, rubbing } = this,
      { does, depth } = this.places;
    let e = 0;
    for (let i = 0; i < does.length; i++) if (does[i] !== FREE) e += normal.energy(depth[i]!) + rubbing.energy(K, i);
    return e;
  }

  begin(K: Kinematics): void {
    this.clear();
    K.z.fill(0, this.first, this.first + this.states);
    // several are asked to begin: as a force, and as states of its own
    this.gaps.forget();
    this.cornersFirst(K, (p, m, k) => {
      const gap = this.gaps.of[p]!;
      if (gap > this.none) return;
      m.stand(K, false);
      m.look(k);
      if (this.isTold(m, this.none + Math.abs(gap))) return;
      this.touch(K, p, m, 0);
    });
  }
  /** All that is near and does not touch: what ends where an edge passes another’s end comes last, as it may be told by a corner there. */
  private cornersFirst(K: Kinematics, tell: (p: number, m: Meeting, k: number) => void): void {
    for (const ends of [false, true])
      this.gaps.near(K, (p, m, k) => {
        if ((m.probes[k]!.margin !== undefined) === ends) tell(p, m, k);
      });
  }
  private clear(): void {
    this.coming.forget();
    this.placeOf.fill(-1);
    this.places.clear();
    this.before.fill(0);
    this.through = -1;
    this.stamp = -1;
  }
  rates(K: Kinematics, _t: number, dz: Float64Array, at: number): void {
    this.look(K);
    const { first } = this,
      { does } = this.places;
    dz.fill(0, at + first, at + first + this.states);
    if (!this.rubbing.acts) return;
    for (let i = 0; i < does.length; i++) if (does[i] !== FREE) this.rubbing.rates(K, i, dz, at + first + 3 * i);
  }

  /** Where what slides is pressed less, though it goes deeper, is told by accelerations. */
  get carried(): boolean {
    return this.rubbing.asks;
  }
  /** What comes first: a gap closes, a place opens, no longer sticks, or no longer slides as it did. */
  value(K: Kinematics, t: number, { acceleration }: Settled): number {
    const { coming } = this,
      { probe } = this.places;
    this.rubbing.acceleration = acceleration;
    coming.look(t);
    if (this.through >= 0) {
      coming.gap(-1);
      return -1;
    }
    for (let i = 0; i < probe.length; i++) {
      if (probe[i]! < 0) continue;
      const m = this.lookAt(K, i),
        open = this.stays(i, m);
      coming.opening(i, open);
      if (this.rubbing.acts && open >= 0 && this.places.depth[i]! > 0) coming.rubbing(i, this.rubbing.holds(K, i, m, this.probeAt[i]!));
    }
    this.gaps.around(
      K,
      (apart) => coming.gap(apart),
      (p, m, k) => coming.gap(this.comes(K, p, m, k), p),
    );
    coming.gap(this.gaps.close.rest);
    return coming.least === Infinity ? NaN : coming.least;
  }
  /** The gap of a probe that does not touch; where both overlap there, and part, how deep: it begins to touch when they no longer do. */
  private comes(K: Kinematics, p: number, m: Meeting, k: number): number {
    const gap = this.gaps.of[p]!;
    if (!(gap < 0)) return gap;
    m.stand(K, false);
    m.look(k);
    if (this.isTold(m, this.none - gap)) return Infinity;
    return this.sliding.closing(K, m, this.all, 0) >= 0 ? gap : -gap;
  }
  /** Whether two bodies touch already where one that was just looked at overlaps as deep: of solids that lie flush, corners and edges are at one spot. */
  private isTold({ a, b, x, n }: Meeting, depth: number): boolean {
    for (let i = 0; i < this.places.count; i++) {
      const m = this.meetingAt[i];
      if (this.places.does[i] === FREE || !m || !((m.a === a && m.b === b) || (m.a === b && m.b === a))) continue;
      if (this.places.isAt(i, x, n, depth)) return true;
    }
    return false;
  }
  /** Gaps, and how fast they open. */
  readonly parts = {
    count: 0,
    look: (K: Kinematics, values: Float64Array, rates: Float64Array, at: number): void => {
      values.fill(Infinity, at, at + this.parts.count);
      this.gaps.near(K, (p, m, k) => {
        if ((values[at + p] = this.gaps.of[p]!) === Infinity) return;
        m.stand(K, false);
        m.look(k);
        rates[at + p] = -this.sliding.closing(K, m, this.all, 0);
      });
    },
  };
  /** Nothing goes through anything unseen: no gap is passed by more than part of what has to go through. */
  lasts(K: Kinematics, acceleration: Float64Array): number {
    const { moves } = this,
      { close } = this.gaps;
    for (;;) {
      const least = this.passes(K, acceleration);
      if (close.full) return least;
      // what is not listed as near is not passed either; a list that would hold steps up is made wider
      close.motion(K, acceleration, moves);
      const after = soon(close.rest + close.through, moves);
      if (after >= least || close.rest > this.extent) return Math.min(least, after);
      this.gaps.widen(K);
    }
  }
  /** When anything that is listed as near may be passed by more than part of it. */
  private passes(K: Kinematics, acceleration: Float64Array): number {
    const { moves } = this;
    let least = Infinity;
    const within = (room: number, m: Meeting, rate?: number) => {
      m.motion(K, acceleration, moves);
      if (rate !== undefined) moves[0] = rate;
      least = Math.min(least, soon(room + m.through, moves));
    };
    // what touches is not through before it is pressed
    for (let i = 0; i < this.places.does.length; i++) {
      if (this.places.does[i] === FREE) continue;
      const m = this.lookAt(K, i);
      within(0, m, Math.abs(this.places.rate[i]!));
    }
    let last: Meeting | undefined,
      gap = Infinity;
    // parts that were not looked at are as far away at least as what may go through unseen
    const end = () => last && within(Math.max(0, Math.min(gap, last.through)), last);
    this.gaps.around(K, within, (p, m) => {
      if (m !== last) {
        end();
        last = m;
        gap = Infinity;
      }
      gap = Math.min(gap, this.gaps.of[p]!);
    });
    end();
    return least;
  }
  /** Positive as long as a place that was looked at touches. */
  private stays(i: number, { probes }: Meeting): number {
    return Math.min(this.places.depth[i]! + this.none, (probes[this.probeAt[i]!]!.margin ?? Infinity) + MARGIN);
  }
  fire(K: Kinematics): Fired | undefined {
    if (this.through >= 0) this.goneThrough(this.through);
    const { coming } = this,
      met: { speed: number; m: Meeting }[] = [],
      held = this.placeOf.slice();
    const left: Left[] = [];
    for (const place of held) if (place >= 0) this.change(K, place, left);
    this.cornersFirst(K, (p, m, k) => {
      // what has just parted does not touch again at once
      if (held[p]! >= 0) return;
      const deep = -this.gaps.of[p]!;
      m.stand(K, false);
      m.look(k);
      const on = deep > 0 ? left.find((x) => isLeftTo(x, m, deep)) : undefined;
      if (!on && !(this.comes(K, p, m, k) < 0 || coming.meets(p))) return;
      m.look(k);
      if (this.isTold(m, this.none + Math.abs(deep))) return;
      const speed = this.touch(K, p, m, Math.max(0, deep));
      if (on) goesOn(on, m, this.placeOf[p]!, this.places, K.z, this.first);
      else met.push({ speed, m });
    });
    coming.forget();
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
  /** A place opens, or rubs otherwise, where it does. @param left takes what it leaves */
  private change(K: Kinematics, i: number, left: Left[]): void {
    const { coming, rubbing } = this,
      m = this.lookAt(K, i);
    if (this.stays(i, m) < 0 || coming.opens(i)) {
      left.push(leaves(m, i, this.places, this.stood, this.before, K.z, this.first));
      this.open(K, i);
    } else if (rubbing.acts && (this.places.depth[i]! > 0 || coming.rubs(i))) rubbing.change(K, i, coming.rubs(i));
  }
  /** A place no longer touches. */
  private open(K: Kinematics, i: number): void {
    const { places, first } = this;
    this.placeOf[places.probe[i]!] = -1;
    places.probe[i] = -1;
    places.does[i] = FREE;
    K.z.fill(0, first + 3 * i, first + 3 * i + 3);
    this.rolling?.clear(K, i);
  }
  /** A place has a probe. */
  private take(i: number, p: number): void {
    [this.meetingAt[i], this.probeAt[i]] = this.meetings.find(p);
    this.places.probe[i] = p;
    this.placeOf[p] = i;
  }
  /** A place begins to touch, as it was just looked at. @param from see there @returns the speed at which both met, m/s */
  private touch(K: Kinematics, p: number, m: Meeting, from: number): number {
    const i = this.places.probe.indexOf(-1);
    if (i < 0)
      return refuse({
        code: 'contact-crowded',
        message: `${this.name} touches at more than ${this.places.probe.length} places at once.`,
        element: { family: 'loads', name: this.name },
        remedy: 'Part it into several contacts of fewer bodies.',
      });
    this.take(i, p);
    this.stands(i, m);
    this.places.from[i] = from;
    this.before.fill(0, 3 * i, 3 * i + 3);
    this.stood.set(m.x, 3 * i);
    const speed = Math.max(0, this.sliding.closing(K, m, this.places.slip, 3 * i));
    this.places.met[i] = speed;
    this.rubbing.begin(K, i);
    this.rolling?.clear(K, i);
    return speed;
  }

  keep(out: Float64Array, at: number): void {
    this.places.keep(out, at);
  }
  recall(from: Float64Array, at: number): void {
    const { places } = this;
    this.clear();
    places.recall(from, at);
    places.probe.forEach((probe, i) => {
      if (probe >= 0) this.take(i, probe);
    });
  }
  follow(K: Kinematics): void {
    this.look(K);
    for (let i = 0; i < this.places.count; i++) this.notThrough(i);
  }
  /** Whether a place has gone through what it was pressed against, and is pushed out on its far side: no run goes on from there. */
  private notThrough(i: number): void {
    const { before } = this,
      { normals, spots, does } = this.places;
    let along = 0;
    for (let k = 3 * i; k < 3 * i + 3; k++) {
      along += normals[k]! * before[k]!;
      before[k] = does[i] === FREE ? 0 : normals[k]!;
      this.stood[k] = spots[k]!;
    }
    if (does[i] !== FREE && along < THROUGH) this.through = i;
  }
  private goneThrough(i: number): never {
    const { bones, surface } = this.meetingAt[i]!;
    return refuse({
      code: 'contact-through',
      message: `“${bones.shape}” has gone through “${surface.shape}”.`,
      element: { family: 'loads', name: this.name },
      why: 'It came nearer to the far side than to the one that it met, and would be pushed out there.',
      remedy: 'Give this contact more stiffness.',
    });
  }
}

/** The time after which V t + A t²/2 is a way: never where that has no end. */
function soon(way: number, moves: Float64Array): number {
  const V = moves[0]!,
    A = moves[1]!;
  return way === Infinity ? Infinity : (2 * way) / (V + Math.sqrt(V * V + 2 * A * way));
}
