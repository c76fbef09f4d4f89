/**
 * Friction of places that touch. While one sticks, a spring along the surface, stretched by what both have slid since, holds it; that carries no more than the
 * static coefficient times what presses, and a place that slides is held back by the sliding coefficient, until its sliding turns round (P. A. Cundall,
 * O. D. L. Strack, Géotechnique 29, 1979).
 */
import type { Kinematics } from '../kinematics';
import { size } from './at-place';
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
/** Part of the time in which it swings by a radian over which its motion is looked at. */
const SHORT = 0.02;

export class Rubbing {
  /** Of one place: what sticking or sliding does, N; or where it is heading. */
  readonly rub = new Float64Array(3);
  /** Of one place that slides: where the spring would be stretched to that would hold it. */
  private readonly way = new Float64Array(3);
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
  at(K: Kinematics, i: number): number {
    const { rub, normal, law } = this,
      { slip, does, presses, depth, mass, normals } = this.places,
      at = this.states.first + 3 * i;
    if (does[i] === SLIDES) {
      this.head(K, i);
      for (let k = 0; k < 3; k++) rub[k] = -law.sliding * presses[i]! * rub[k]!;
      return law.sliding * presses[i]!;
    }
    const stiffness = ALONG * normal.slope(depth[i]!),
      damping = 2 * normal.damped * Math.sqrt(stiffness * mass[i]!);
    let across = 0,
      carried = 0,
      all = 0;
    for (let k = 0; k < 3; k++) {
      rub[k] = K.z[at + k]! + (this.beside ? this.beside.slid(K, i, k) : 0);
      across += rub[k]! * normals[3 * i + k]!;
    }
    for (let k = 0; k < 3; k++) {
      rub[k] = -stiffness * (rub[k]! - across * normals[3 * i + k]!);
      carried += rub[k]! * rub[k]!;
    }
    // towards what friction may carry damping fades: where it begins to slide, and comes to rest, the force does not jump
    const most = law.static * presses[i]!,
      damped = most > 0 ? damping * Math.max(0, 1 - carried / (most * most)) : 0;
    for (let k = 0; k < 3; k++) {
      rub[k] = rub[k]! - damped * slip[3 * i + k]!;
      all += rub[k]! * rub[k]!;
    }
    if (all > most * most) for (let k = 0; k < 3; k++) rub[k] = (rub[k]! * most) / Math.sqrt(all);
    return Math.sqrt(carried);
  }
  /** The way of a place that slides, as its state says it, along the surface and of length one: into `way`. @returns its slip along it, m/s */
  private stretched(K: Kinematics, i: number): number {
    const { way } = this,
      { slip, normals } = this.places,
      at = this.states.first + 3 * i;
    let across = 0,
      square = 0,
      onward = 0;
    for (let k = 0; k < 3; k++) across += K.z[at + k]! * normals[3 * i + k]!;
    for (let k = 0; k < 3; k++) {
      way[k] = K.z[at + k]! - across * normals[3 * i + k]!;
      square += way[k]! * way[k]!;
    }
    const long = square > 0 ? 1 / Math.sqrt(square) : 0;
    for (let k = 0; k < 3; k++) {
      way[k] = way[k]! * long;
      onward += slip[3 * i + k]! * way[k]!;
    }
    return onward;
  }
  /** How far a spring is stretched that holds what friction can, m. */
  private reach(i: number): number {
    const { presses, depth } = this.places,
      stiffness = ALONG * this.normal.slope(depth[i]!);
    return stiffness > 0 ? (this.law.sliding * Math.max(0, presses[i]!)) / stiffness : 0;
  }
  /** The time in which a place would swing by a radian where it sticks, s: what slides turns no faster. */
  private swing(i: number): number {
    const { mass, depth } = this.places,
      stiffness = ALONG * this.normal.slope(depth[i]!);
    return stiffness > 0 ? Math.sqrt(mass[i]! / stiffness) : Infinity;
  }
  /**
   * Where what slides is held back from, of length one, into `rub`: where its slip leads; but where the spring that would hold it is stretched to while it
   * slips more slowly than that would swing, or springs back.
   */
  private head(K: Kinematics, i: number): void {
    const { rub, way } = this,
      { slip } = this.places,
      onward = this.stretched(K, i),
      slow = this.reach(i) / this.swing(i),
      on = (slow + Math.sqrt(onward * onward + slow * slow) - onward) / 2;
    for (let k = 0; k < 3; k++) rub[k] = slip[3 * i + k]! + on * way[k]!;
    const speed = size(rub, 0);
    for (let k = 0; k < 3; k++) rub[k] = speed > 0 ? rub[k]! / speed : way[k]!;
  }
  /** How the states of a place that was looked at change: what sticks is stretched by its slip, what slides turns into it. */
  rates(K: Kinematics, i: number, rates: Float64Array, at: number): void {
    const { way } = this,
      { slip, does } = this.places;
    if (does[i] === STICKS) for (let k = 0; k < 3; k++) rates[at + k] = slip[3 * i + k]!;
    if (does[i] !== SLIDES) return;
    const onward = this.stretched(K, i),
      reach = this.reach(i),
      far = size(slip, 3 * i) * this.swing(i),
      arm = Math.sqrt(reach * reach + far * far);
    for (let k = 0; k < 3; k++) rates[at + k] = arm > 0 ? (slip[3 * i + k]! - onward * way[k]!) / arm : 0;
  }
  /** How fast that spring is stretched by friction that grows, m/s; as far as that is known without accelerations. */
  private yielding(i: number): number {
    return (this.law.sliding * this.places.rate[i]!) / (ALONG * this.normal.exponent(this.places.depth[i]!));
  }
  /** The same at a place that was looked at, with the accelerations at hand there. @param k its probe */
  private yieldingAt(K: Kinematics, i: number, m: Meeting, k: number): number {
    const { normal, acceleration } = this,
      { depth, rate, met, mass } = this.places,
      time = SHORT * Math.sqrt(mass[i]! / normal.slope(depth[i]!));
    if (!acceleration || !normal.damps || !(time < Infinity)) return this.yielding(i);
    return (this.law.sliding / ALONG) * normal.grows(depth[i]!, rate[i]!, m.hastens(K, k, acceleration, time), met[i]!, mass[i]!);
  }
  /** How fast a place still slides, m/s, and not just follows the spring that would hold it: that is stretched by as much as friction carries. */
  private slides(K: Kinematics, i: number): number {
    return this.stretched(K, i) - this.yields[i]! + this.slow;
  }

  /** Positive as long as a place that was looked at goes on as it does. @param k its probe in its meeting */
  holds(K: Kinematics, i: number, m: Meeting, k: number): number {
    const { places, law } = this,
      carried = this.at(K, i);
    if (places.does[i] === STICKS) return this.spare(law.static * places.presses[i]!, carried);
    this.yields[i] = this.yieldingAt(K, i, m, k);
    return this.slides(K, i);
  }
  /** What friction could carry beside what it does, N: a little more where what presses is little itself, and known to rounding alone. */
  private spare(most: number, carried: number): number {
    const { little } = this;
    return most - carried + (little * little) / (little + Math.max(0, most));
  }
  /** It goes on otherwise where that is passed. @param surely it is, whatever the state in K says @returns whether it does */
  change(K: Kinematics, i: number, surely = false): boolean {
    const { places, law } = this,
      { does, presses } = places,
      at = this.states.first + 3 * i,
      carried = this.at(K, i);
    if (does[i] === STICKS) {
      if (!surely && !(this.spare(law.static * presses[i]!, carried) < 0)) return false;
      does[i] = SLIDES;
      // it goes on the way it has been stretched
      this.turn(K, i, size(K.z, at) > 0 ? K.z : places.slip, size(K.z, at) > 0 ? at : 3 * i);
      return true;
    }
    if (!surely && !(this.slides(K, i) < 0)) return false;
    does[i] = STICKS;
    this.head(K, i);
    const reach = this.reach(i);
    for (let k = 0; k < 3; k++) K.z[at + k] = reach * this.rub[k]!;
    return true;
  }
  /** What a place that was just looked at begins with. */
  begin(K: Kinematics, i: number): void {
    const { places, law, normal } = this,
      at = this.states.first + 3 * i,
      along = size(places.slip, 3 * i);
    // it sticks where the spring that would hold it is stretched more slowly than friction grows
    places.does[i] = ALONG * along > law.static * normal.begins(places.depth[i]!, places.met[i]!) ? SLIDES : STICKS;
    if (places.does[i] === SLIDES) this.turn(K, i, places.slip, 3 * i);
    else K.z.fill(0, at, at + 3);
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
  private turn({ z }: Kinematics, i: number, along: Float64Array, at: number): void {
    const length = size(along, at),
      to = this.states.first + 3 * i;
    for (let k = 0; k < 3; k++) z[to + k] = length > 0 ? along[at + k]! / length : 0;
  }
}
