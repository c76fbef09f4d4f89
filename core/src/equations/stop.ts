import type { Force } from './forces';
import type { Kinematics } from './kinematics';
import type { Tracked } from './tracked';
import type { Watch } from './watch';

/** End stops on a joint coordinate: beyond a limit a spring and damper push back; they never pull. */
export class Stops implements Force {
  readonly watches: readonly Watch[];
  private readonly sides: [number, number] = [1, 1];
  constructor(
    private readonly name: string,
    private readonly coordinate: Tracked,
    private readonly limits: readonly [lower: number | undefined, upper: number | undefined],
    private readonly stiffness: number,
    private readonly damping: number,
  ) {
    this.watches = ([0, 1] as const).filter((k) => limits[k] !== undefined).map((k): Watch => ({
      value: (K) => this.sides[k] * this.clear(K, k),
      fire: () => {
        this.sides[k] = -this.sides[k];
        return this.sides[k] < 0 ? `${this.name} is struck at its ${k === 0 ? 'lower' : 'upper'} end.` : undefined;
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
    const { freedom } = this.coordinate;
    for (const k of [0, 1] as const) {
      if (this.limits[k] === undefined) continue;
      const depth = -this.clear(K, k);
      if (depth <= 0) continue;
      const sign = k === 0 ? 1 : -1;
      const push = this.stiffness * depth - this.damping * sign * freedom.rate(K);
      if (push > 0) freedom.push(K, F, sign * push);
    }
  }
  energy(K: Kinematics): number {
    let e = 0;
    for (const k of [0, 1] as const) {
      const depth = this.limits[k] === undefined ? 0 : Math.max(0, -this.clear(K, k));
      e += 0.5 * this.stiffness * depth * depth;
    }
    return e;
  }
}
