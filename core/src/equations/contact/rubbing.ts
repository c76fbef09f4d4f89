/**
 * Friction of places that touch. While one sticks, a spring along the surface, stretched by what both have slid since, holds it; that carries no more than the
 * static coefficient times what presses, and a place that slides is held back by the sliding coefficient, until its sliding turns round (P. A. Cundall,
 * O. D. L. Strack, Géotechnique 29, 1979).
 */
import type { Kinematics } from '../kinematics';
import { accelerationAt, size } from './at-place';
import type { Normal } from './law';
import type { Beside } from './linear';
import type { Meeting } from './meeting';
import { type Places, SLIDES, STICKS } from './places';

export interface RubbingLaw {
  readonly static: number;
  readonly sliding: number;
}

/** Stiffness along a surface beside that across it: 2 (1 − ν)/(2 − ν) with ν = 0.3 (R. D. Mindlin, J. Appl. Mech. 16, 1949). */
const ALONG = 0.82;
/** Static friction is so much more than that of sliding, at least: what has come to rest does not slide again at once. */
const APART = 1.001;
/** A speed, in parts of the machine's size a second, that is none. */
const SLOW = 1e-9;
/** Times that speed at which what slides comes to rest. */
const STOPS = 1e5;

export class Rubbing {
  /** Of one place: what sticking or sliding does, N; or where it is heading. */
  readonly rub = new Float64Array(3);
  /** While it is looked at next to a state: what of that is needed. */
  beside: Beside | undefined;
  /** Accelerations at the last look for events. */
  acceleration: Float64Array | undefined;
  /** Whether there is any friction. */
  readonly acts: boolean;
  private readonly law: RubbingLaw;
  /** How fast what would hold a place is stretched, at the last look for events; by the accelerations there. */
  private readonly yields: Float64Array;
  private readonly slow: number;

  /**
   * @param states where those of the places begin: what each has slid since it sticks, three numbers, ground axes
   * @param extent of the machine, m @param little a force that is none, N
   */
  constructor(
    private readonly places: Places,
    law: RubbingLaw,
    private readonly normal: Normal,
    private readonly states: { readonly first: number },
    extent: number,
    private readonly little: number,
  ) {
    this.law = { sliding: law.sliding, static: Math.max(law.static, APART * law.sliding) };
    this.acts = this.law.static > 0;
    this.slow = SLOW * extent;
    this.yields = new Float64Array(places.count);
  }
  /** Whether what slides is pressed less, though it goes deeper, is to be told by accelerations. */
  get asks(): boolean {
    return this.acts && this.normal.damps && this.places.does.includes(SLIDES);
  }

  /**
   * What holds a place along the surface, on the body that touches it: into `rub`. What sticks swings about where it is held, a little damped as far as
   * friction allows. @returns what it carries without that, N
   */
  at(K: Kinematics, i: number, n: Float64Array): number {
    const { rub, normal, law } = this,
      { slip, does, presses, depth, mass } = this.places,
      at = this.states.first + 3 * i;
    if (does[i] === SLIDES) {
      const speed = this.head(i),
        held = speed > 0 ? -(law.sliding * presses[i]!) / speed : 0;
      for (let k = 0; k < 3; k++) rub[k] = held * rub[k]!;
      return law.sliding * presses[i]!;
    }
    const stiffness = ALONG * normal.slope(depth[i]!),
      damping = 2 * normal.damped * Math.sqrt(stiffness * mass[i]!);
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
    const most = law.static * presses[i]!;
    if (all > most * most) for (let k = 0; k < 3; k++) rub[k] = (rub[k]! * most) / Math.sqrt(all);
    return Math.sqrt(carried);
  }
  /**
   * Where what slides is heading, into `rub`: where its slip leads; but on the way that it slid where the spring that would hold it, which is pressed less,
   * gives way faster than it slips, or springs back. @returns how fast, m/s
   */
  private head(i: number): number {
    const { rub } = this,
      { slip, way } = this.places,
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
    const x = Math.min(1, Math.max(0, size(this.places.slip, 3 * i) / gives - 1));
    return gives * (1 - x * x * (3 - 2 * x));
  }
  /** How fast that spring is stretched by friction that grows, m/s; as far as that is known without accelerations. */
  private yielding(i: number): number {
    return (this.law.sliding * this.places.rate[i]!) / (ALONG * this.normal.exponent(this.places.depth[i]!));
  }
  /** The same at a place that was looked at, with the accelerations at hand there. */
  private yieldingAt(K: Kinematics, i: number, { a, b, x, n }: Meeting): number {
    const { normal, acceleration, places } = this;
    if (!acceleration || !normal.damps) return this.yielding(i);
    let deeper = 0;
    for (let k = 0; k < 3; k++) deeper += n[k]! * (accelerationAt(K, b, x, k, acceleration) - accelerationAt(K, a, x, k, acceleration));
    return (this.law.sliding / ALONG) * normal.grows(places.depth[i]!, places.rate[i]!, deeper, places.met[i]!, places.mass[i]!);
  }
  /** How fast a place still slides, m/s, and not just follows the spring that would hold it: that is stretched by as much as friction carries. */
  private slides(i: number): number {
    const { slip, quick } = this.places,
      on = this.onward(i) - this.yields[i]! + this.slow;
    // as it comes to rest its direction is lost: what was quick, and is so no longer, is caught before
    return quick[i] ? Math.min(on, size(slip, 3 * i) - STOPS * this.slow) : on;
  }
  /** How fast a place moves on the way it slid, m/s. */
  private onward(i: number): number {
    const { slip, way } = this.places;
    return slip[3 * i]! * way[3 * i]! + slip[3 * i + 1]! * way[3 * i + 1]! + slip[3 * i + 2]! * way[3 * i + 2]!;
  }

  /** Positive as long as a place that was looked at goes on as it does. */
  holds(K: Kinematics, i: number, m: Meeting): number {
    const { places, law } = this,
      carried = this.at(K, i, m.n);
    if (places.does[i] === STICKS) return this.spare(law.static * places.presses[i]!, carried);
    this.yields[i] = this.yieldingAt(K, i, m);
    return this.slides(i);
  }
  /** What friction could carry beside what it does, N: a little more where what presses is little itself, and known to rounding alone. */
  private spare(most: number, carried: number): number {
    const { little } = this;
    return most - carried + (little * little) / (little + Math.max(0, most));
  }
  /** It goes on otherwise where that is passed. @param surely it is, whatever the state in K says @returns whether it does */
  change(K: Kinematics, i: number, { n }: Meeting, surely = false): boolean {
    const { places, law, normal } = this,
      { does, presses, way } = places,
      at = this.states.first + 3 * i,
      carried = this.at(K, i, n);
    if (does[i] === STICKS) {
      if (!surely && !(this.spare(law.static * presses[i]!, carried) < 0)) return false;
      does[i] = SLIDES;
      places.quick[i] = 0;
      // it goes on the way it has been stretched
      this.turn(i, K.z, at);
      K.z.fill(0, at, at + 3);
      return true;
    }
    if (!surely && !(this.slides(i) < 0)) return false;
    does[i] = STICKS;
    const stiffness = ALONG * normal.slope(places.depth[i]!);
    for (let k = 0; k < 3; k++) K.z[at + k] = stiffness > 0 ? (law.sliding * presses[i]! * way[3 * i + k]!) / stiffness : 0;
    return true;
  }
  /** What a place that was just looked at begins with. */
  begin(i: number): void {
    const { places, law, normal } = this,
      along = size(places.slip, 3 * i);
    // it sticks where the spring that would hold it is stretched more slowly than friction grows
    places.does[i] = ALONG * normal.exponent(places.depth[i]!) * along > law.static * places.met[i]! ? SLIDES : STICKS;
    this.turn(i, places.slip, 3 * i);
    places.quick[i] = along > 2 * STOPS * this.slow ? 1 : 0;
  }
  /** What slides may turn on its way. */
  follow(): void {
    const { does, slip, quick, count } = this.places;
    for (let i = 0; i < count; i++) {
      if (does[i] !== SLIDES) continue;
      const speed = size(slip, 3 * i);
      if (speed > this.slow && this.onward(i) > 0 && this.gives(i) === 0) this.turn(i, slip, 3 * i);
      if (speed > 2 * STOPS * this.slow) quick[i] = 1;
    }
  }
  /** J */
  energy(K: Kinematics, i: number): number {
    const { places, law, normal } = this,
      at = this.states.first + 3 * i,
      stiffness = ALONG * normal.slope(places.depth[i]!);
    if (!this.acts || !(stiffness > 0)) return 0;
    const held = places.does[i] === SLIDES ? law.sliding * places.presses[i]! : stiffness * size(K.z, at);
    return (held * held) / (2 * stiffness);
  }
  /** From now on a place slides along a vector. */
  private turn(i: number, along: Float64Array, at: number): void {
    const length = size(along, at);
    for (let k = 0; k < 3; k++) this.places.way[3 * i + k] = length > 0 ? along[at + k]! / length : 0;
  }
}
