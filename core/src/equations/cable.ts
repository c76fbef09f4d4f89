import { type Force, placeAt, pushAt, speedAt } from './forces';
import type { Kinematics } from './kinematics';
import { alongLine } from './load-readings';
import type { Watch } from './watch';

/** A cable without mass led over small smooth pulleys: one tension all along, max(0, k (l − l₀) + c l̇), and none when slack. */
export class Cable implements Force {
  readonly bodies: readonly number[];
  readonly watches: readonly Watch[];
  /** Length, m, its rate, m/s, and tension, N, after `measure`. */
  length = 0;
  rate = 0;
  tension = 0;
  readonly readings = alongLine({
    effort: (K) => this.measured(K).tension,
    deflection: (K) => this.measured(K).length - this.free,
    rate: (K) => this.measured(K).rate,
  });
  private side = 1;
  /** Unit vectors along the runs between neighbours. */
  private readonly runs: Float64Array;
  constructor(
    private readonly places: readonly { body: number; at: ArrayLike<number> }[],
    private readonly free: number,
    private readonly stiffness: number,
    private readonly damping: number,
  ) {
    this.bodies = [...new Set(places.map((p) => p.body))];
    this.runs = new Float64Array(3 * (places.length - 1));
    this.watches = [
      {
        value: (K) => {
          this.measure(K);
          return this.side * (this.length - this.free);
        },
        fire: () => void (this.side = -this.side),
      },
    ];
  }
  begin(K: Kinematics): void {
    this.measure(K);
    this.side = this.length < this.free ? -1 : 1;
  }
  private measured(K: Kinematics): this {
    this.measure(K);
    return this;
  }
  measure(K: Kinematics): void {
    const { places, runs } = this;
    this.length = this.rate = 0;
    for (let i = 0; i + 1 < places.length; i++) {
      const p = places[i]!,
        q = places[i + 1]!;
      let l = 0;
      for (let k = 0; k < 3; k++) {
        runs[3 * i + k] = placeAt(K, q.body, q.at, k) - placeAt(K, p.body, p.at, k);
        l += runs[3 * i + k]! * runs[3 * i + k]!;
      }
      l = Math.sqrt(l);
      this.length += l;
      for (let k = 0; k < 3; k++) {
        runs[3 * i + k] = l > 0 ? runs[3 * i + k]! / l : 0;
        this.rate += runs[3 * i + k]! * (speedAt(K, q.body, q.at, k) - speedAt(K, p.body, p.at, k));
      }
    }
    const stretch = this.length - this.free;
    this.tension = stretch > 0 ? Math.max(0, this.stiffness * stretch + this.damping * this.rate) : 0;
  }
  apply(K: Kinematics, _t: number, F: Float64Array): void {
    this.measure(K);
    const { places, runs, tension: f } = this;
    if (f === 0) return;
    for (let i = 0; i + 1 < places.length; i++) {
      const p = places[i]!,
        q = places[i + 1]!;
      const x = f * runs[3 * i]!,
        y = f * runs[3 * i + 1]!,
        z = f * runs[3 * i + 2]!;
      pushAt(K, F, p.body, p.at, x, y, z);
      pushAt(K, F, q.body, q.at, -x, -y, -z);
    }
  }
  energy(K: Kinematics): number {
    this.measure(K);
    const x = Math.max(0, this.length - this.free);
    return 0.5 * this.stiffness * x * x;
  }
}
