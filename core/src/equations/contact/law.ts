/**
 * What two surfaces press each other with: F = k δⁿ (1 + χ δ̇), never less than nothing, so that damping vanishes with the depth δ and never pulls
 * (K. H. Hunt, F. R. E. Crossley, J. Appl. Mech. 42, 1975). With χ = d/v₀, v₀ being the speed at which they met, a free impact gives back exactly the part e
 * of that speed where (1 + d)/(1 − e d) = exp(d (1 + e)), whatever k, n and the masses are (Y. Gonthier et al., Multibody System Dynamics 11, 2004).
 */
import { ln, pow } from '../../quantity/elementary';

export interface NormalLaw {
  /** k, N/mⁿ. */
  readonly stiffness: number;
  /** n, at least 1. */
  readonly exponent: number;
  /** e, from 0 to 1. */
  readonly restitution: number;
}

/** Restitution below which all is taken for lost: d grows as 1/e. */
const LEAST = 1e-3;

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

  constructor(private readonly law: NormalLaw) {
    this.loss = lossOf(law.restitution);
    this.slow = Math.max(1, Math.sqrt(this.loss / 2));
  }

  get exponent(): number {
    return this.law.exponent;
  }
  /** How much rest is damped, beside critical damping. */
  get damped(): number {
    return Math.min(1, this.loss / 2);
  }
  /** |δ|ⁿ. */
  private power(depth: number): number {
    const { exponent } = this.law,
      x = Math.abs(depth);
    return exponent === 1 ? x : exponent === 1.5 ? x * Math.sqrt(x) : pow(x, exponent);
  }
  /** N, without damping. Where a place opens it goes on as it was, below zero, until that is found to be an event: a step never meets a corner. */
  elastic(depth: number): number {
    return (depth < 0 ? -this.law.stiffness : this.law.stiffness) * this.power(depth);
  }
  /** How that grows with the depth, N/m. */
  slope(depth: number): number {
    return depth === 0 && this.law.exponent > 1 ? 0 : depth === 0 ? this.law.stiffness : (this.law.exponent * this.elastic(depth)) / depth;
  }
  /** J. */
  energy(depth: number): number {
    return (this.elastic(depth) * depth) / (this.law.exponent + 1);
  }
  /**
   * N. Of what lies and is pressed on, v₀ says nothing: the speed counts at which the depth would be reached, so that rest is damped as impacts are.
   * @param rate of the depth, m/s @param met speed at which they met, m/s @param mass of both together, kg: 1/(1/m₁ + 1/m₂)
   */
  force(depth: number, rate: number, met: number, mass: number): number {
    const elastic = this.elastic(depth);
    if (this.loss === 0) return elastic;
    const reached = Math.sqrt((2 * this.energy(depth)) / mass),
      speed = Math.max(met, this.slow * reached);
    if (!(speed > 0)) return elastic;
    const damped = elastic * (1 + (this.loss * rate) / speed);
    return depth > 0 ? Math.max(0, damped) : damped;
  }
  /** Whether it takes energy. */
  get damps(): boolean {
    return this.loss > 0;
  }
  /**
   * How the depth grows that the force stands for, m/s: of F/F′, with F′ its slope without damping, while the depth grows at a rate and that at an
   * acceleration, m/s².
   */
  grows(depth: number, rate: number, acceleration: number, met: number, mass: number): number {
    const { exponent } = this.law;
    if (!(depth > 0)) return rate / exponent;
    const reached = this.slow * Math.sqrt((2 * this.energy(depth)) / mass),
      speed = Math.max(met, reached),
      damped = this.loss > 0 && speed > 0 ? (this.loss * rate) / speed : 0;
    if (1 + damped <= 0) return 0;
    // F/F′ is δ (1 + d δ̇/v) / n, and v grows as the depth does where that is what counts
    const more = speed > met ? ((exponent + 1) / 2) * (rate / depth) : 0;
    return ((1 + damped) * rate + depth * (this.loss > 0 && speed > 0 ? (this.loss * acceleration) / speed - damped * more : 0)) / exponent;
  }
}
