import type { Force } from './forces';
import type { Kinematics } from './kinematics';
import { type LoadReadings, onFreedom } from './load-readings';
import type { Tracked } from './tracked';
import type { Watch } from './watch';

/** End stops on a joint coordinate: beyond a limit a spring and damper push back; they never pull. */
export class Stops implements Force {
  readonly bodies: readonly number[];
  readonly watches: readonly Watch[];
  readonly readings: LoadReadings;
  private readonly sides: [number, number] = [1, 1];
  constructor(
    private readonly name: string,
    private readonly coordinate: Tracked,
    private readonly limits: readonly [lower: number | undefined, upper: number | undefined],
    private readonly stiffness: number,
    private readonly damping: number,
  ) {
    this.bodies = coordinate.freedom.bodies;
    this.readings = onFreedom(coordinate.freedom, {
      effort: (K) => this.push(K, 0) + this.push(K, 1),
      deflection: (K) => this.past(K, 1) - this.past(K, 0),
      rate: (K) => coordinate.freedom.rate(K),
    });
    this.watches = ([0, 1] as const)
      .filter((k) => limits[k] !== undefined)
      .map((k): Watch => ({
        value: (K) => this.sides[k] * this.clear(K, k),
        fire: (K) => {
          this.sides[k] = -this.sides[k];
          return this.sides[k] < 0
            ? {
                kind: 'struck',
                message: `${this.name} is struck at its ${k === 0 ? 'lower' : 'upper'} end.`,
                values: { speed: coordinate.freedom.rate(K) },
              }
            : undefined;
        },
      }));
  }
  begin(K: Kinematics): void {
    for (const k of [0, 1] as const) if (this.limits[k] !== undefined) this.sides[k] = this.clear(K, k) < 0 ? -1 : 1;
  }
  /** Room left before a limit, negative beyond it. */
  private clear(K: Kinematics, k: 0 | 1): number {
    const q = this.coordinate.value(K);
    return k === 0 ? q - this.limits[0]! : this.limits[1]! - q;
  }
  /** Whether a limit is passed. */
  beyond(K: Kinematics): boolean {
    return ([0, 1] as const).some((k) => this.limits[k] !== undefined && this.clear(K, k) < 0);
  }
  apply(K: Kinematics, _t: number, F: Float64Array): void {
    for (const k of [0, 1] as const) {
      const push = this.push(K, k);
      if (push !== 0) this.coordinate.freedom.push(K, F, push);
    }
  }
  /** Depth beyond a limit, 0 before it. */
  private past(K: Kinematics, k: 0 | 1): number {
    return this.limits[k] === undefined ? 0 : Math.max(0, -this.clear(K, k));
  }
  /** Effort of one end on the second body. */
  private push(K: Kinematics, k: 0 | 1): number {
    const depth = this.past(K, k);
    if (depth <= 0) return 0;
    const sign = k === 0 ? 1 : -1;
    return sign * Math.max(0, this.stiffness * depth - this.damping * sign * this.coordinate.freedom.rate(K));
  }
  energy(K: Kinematics): number {
    let e = 0;
    for (const k of [0, 1] as const) {
      const depth = this.past(K, k);
      e += 0.5 * this.stiffness * depth * depth;
    }
    return e;
  }
}
