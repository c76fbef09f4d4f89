import type { Kinematics } from './kinematics';
import { Constraint } from './constraint';
import type { Tracked } from './tracked';

/** A coordinate in such a relation. */
export interface Term {
  readonly coordinate: Tracked;
  readonly factor: number;
}

/** A linear relation of joint coordinates, whole turns counted: Σ cᵢ qᵢ = 0. */
export class Coupled extends Constraint {
  override readonly more: readonly (readonly [a: number, b: number])[];
  constructor(
    private readonly coordinates: readonly Tracked[],
    private readonly factors: readonly number[],
  ) {
    const first = coordinates[0]!.freedom;
    super(first.equation.a, first.equation.b, [first.type === 'translation']);
    this.more = coordinates.slice(1).map(({ freedom }) => [freedom.equation.a, freedom.equation.b] as const);
  }
  /** Its coordinates with their factors, where all of them are expressions. */
  get terms(): readonly Term[] | undefined {
    const { coordinates, factors } = this;
    if (!coordinates.every((c) => c.freedom.equation.statement)) return undefined;
    return coordinates.map((coordinate, i) => ({ coordinate, factor: factors[i]! }));
  }
  pattern(): boolean {
    return true;
  }
  position(K: Kinematics, _t: number, phi: Float64Array): void {
    let s = 0;
    for (let i = 0; i < this.factors.length; i++) s += this.factors[i]! * this.coordinates[i]!.value(K);
    phi[this.row] = s;
  }
  jacobian(K: Kinematics, G: Float64Array): void {
    for (let i = 0; i < this.factors.length; i++) {
      const g = this.coordinates[i]!.freedom.row(K);
      const at = 12 * (i === 0 ? this.row : this.block + i - 1);
      for (let k = 0; k < 12; k++) G[at + k] = this.factors[i]! * g[k]!;
    }
  }
  gamma(K: Kinematics, _t: number, out: Float64Array): void {
    let s = 0;
    for (let i = 0; i < this.factors.length; i++) s += this.factors[i]! * this.coordinates[i]!.freedom.gamma(K);
    out[this.row] = s;
  }
}
