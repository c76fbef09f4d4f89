/**
 * What two surfaces press each other with: F = k δⁿ (1 + χ δ̇), never less than nothing, so that damping vanishes with the depth δ and never pulls
 * (K. H. Hunt, F. R. E. Crossley, J. Appl. Mech. 42, 1975). With χ = d/v₀, v₀ being the speed at which they met, a free impact gives back exactly the part e
 * of that speed where (1 + d)/(1 − e d) = exp(d (1 + e)), whatever k, n and the masses are (Y. Gonthier et al., Multibody System Dynamics 11, 2004).
 */
import { ln } from '../../quantity/elementary';
import type { Elastic } from './elastic';

export interface NormalLaw {
  readonly elastic: Elastic;
  /** e, from 0 to 1. */
  readonly restitution: number;
}

/** Restitution below which all is taken for lost: d grows as 1/e. */
const LEAST = 1e-3;

/** Square of how far beyond the speed at which they met, in parts of it, the depth tells the speed half. */
const SOFT = 0.25;

/** d of a restitution: (1 + d)/(1 − e d) = exp(d (1 + e)), found by halving in 0 < d < 1/e. */
export function lossOf(restitution: number): number {
  if (restitution >= 1) return 0;
  const e = Math.max(LEAST, restitution);
  let lo = 0,
    hi = 1 / e;
  // ln(1 + d) − ln(1 − e d) − d (1 + e) is 0 at d = 0, falls, and rises without bound towards 1/e
  const f = (d: number) => ln(1 + d) - ln(1 - e * d) - d * (1 + e);
  for (let i = 0; i < 200 && hi - lo > 1e-15 * hi; i++) {
    const d = (lo + hi) / 2;
    if (f(d) > 0) hi = d;
    else lo = d;
  }
  return (lo + hi) / 2;
}

export class Normal {
  private readonly loss: number;
  /** How much faster than its depth says an impact may have been, at least: what is at rest is damped by that. */
  private readonly slow: number;

  /** The least part of the elastic force that a free impact leaves: 1 − d e, as it ends. */
  private readonly least: number;

  constructor(private readonly law: NormalLaw) {
    this.loss = lossOf(law.restitution);
    this.slow = Math.max(1, Math.sqrt(this.loss / 2));
    this.least = 1 - this.loss * Math.max(LEAST, law.restitution);
  }

  /** How much rest is damped, beside critical damping. */
  get damped(): number {
    return Math.min(1, this.loss / 2);
  }
  /** N, without damping. Where a place opens it goes on as it was, below zero, until that is found to be an event: a step never meets a corner. */
  elastic(depth: number): number {
    const { f } = this.law.elastic.at(Math.abs(depth));
    return depth < 0 ? -f : f;
  }
  /** How that grows with the depth, N/m. */
  slope(depth: number): number {
    return this.law.elastic.at(Math.abs(depth)).f1;
  }
  /** How much faster than the depth it grows, in parts of both: the exponent of a power. */
  exponent(depth: number): number {
    const { f, f1 } = this.law.elastic.at(Math.abs(depth));
    return f > 0 ? (f1 * Math.abs(depth)) / f : 1;
  }
  /** J. */
  energy(depth: number): number {
    return this.law.elastic.energy(Math.abs(depth));
  }
  /**
   * N. Of what lies and is pressed on, v₀ says nothing: the speed counts at which the depth would be reached, so that rest is damped as impacts are.
   * @param rate of the depth, m/s @param met speed at which they met, m/s @param mass of both together, kg: 1/(1/m₁ + 1/m₂)
   */
  force(depth: number, rate: number, met: number, mass: number): number {
    const elastic = this.elastic(depth);
    if (this.loss === 0) return elastic;
    const speed = this.speed(depth, met, mass);
    if (!(speed > 0)) return elastic;
    const share = 1 + (this.loss * rate) / speed;
    return elastic * (depth > 0 ? this.pushes(share) : share);
  }
  /** m/s: that at which they met, while a free impact would go so deep; more where they are pressed on. It passes over without a bend. */
  private speed(depth: number, met: number, mass: number): number {
    const more = this.slow * Math.sqrt((2 * this.energy(depth)) / mass) - met;
    return more > 0 ? met + (more * more * more) / (more * more + SOFT * met * met) : met;
  }
  /** How that grows with the depth, in parts of both, 1: where it is more than the speed at which they met. */
  private quickens(depth: number, met: number, mass: number): number {
    const more = this.slow * Math.sqrt((2 * this.energy(depth)) / mass) - met;
    if (!(more > 0)) return 0;
    const square = more * more,
      soft = SOFT * met * met,
      sum = square + soft,
      slope = (square * (square + 3 * soft)) / (sum * sum);
    // the speed that stands for a depth is the root of the energy
    return (((this.elastic(depth) * depth) / (2 * this.energy(depth))) * slope * (more + met)) / (met + (more * square) / sum);
  }
  /** What is left of the elastic force, never less than nothing: all in a free impact, which never comes below `least`, and to nothing without a bend. */
  private pushes(share: number): number {
    const { least } = this;
    if (share >= least) return share;
    if (share <= -least) return 0;
    const s = (share + least) / (2 * least);
    return least * s * s * s * (2 - s);
  }
  /** How that grows with what it is of. */
  private pushesMore(share: number): number {
    const { least } = this;
    if (share >= least) return 1;
    if (share <= -least) return 0;
    const s = (share + least) / (2 * least);
    return s * s * (3 - 2 * s);
  }
  /** Whether it takes energy. */
  get damps(): boolean {
    return this.loss > 0;
  }
  /** How the depth grows that the force stands for, as two have just met at a speed, m/s: see `grows`. */
  begins(depth: number, met: number): number {
    return ((1 + this.loss) * met) / this.exponent(depth);
  }
  /**
   * How the depth grows that the force stands for, m/s: of F/F′, with F′ its slope without damping, while the depth grows at a rate and that at an
   * acceleration, m/s².
   */
  grows(depth: number, rate: number, acceleration: number, met: number, mass: number): number {
    const { f, f1, f2 } = this.law.elastic.at(Math.abs(depth)),
      alone = f1 > 0 ? 1 - (f * f2) / (f1 * f1) : 1;
    if (!(depth > 0)) return alone * rate;
    const speed = this.speed(depth, met, mass),
      acts = this.loss > 0 && speed > 0,
      damped = acts ? (this.loss * rate) / speed : 0,
      // F/F′ is f/f′ p(1 + d δ̇/v), and v grows as the depth does where that is what counts
      grown = acts ? depth * ((this.loss * acceleration) / speed) - damped * this.quickens(depth, met, mass) * rate : 0;
    return this.pushes(1 + damped) * alone * rate + (f1 > 0 ? (this.pushesMore(1 + damped) * grown * f) / (f1 * depth) : 0);
  }
}
