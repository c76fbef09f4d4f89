/** Each constraint and each load by itself, and the factorisation over its fixed pattern: where little is evaluated, and what all else is compared with. */
import type { Constraint } from '../../equations/constraint';
import type { Kinematics } from '../../equations/kinematics';
import { type Parts, type Way, balance } from './way';

export class OneByOne implements Way {
  /** @param list of the constraints those that are evaluated so */
  constructor(
    protected readonly parts: Parts,
    private readonly list: readonly Constraint[] = parts.constraints,
  ) {}

  accelerate(t: number): void {
    const { parts } = this;
    parts.forces.apply(parts.K, t);
    this.rows(t);
    balance(parts);
    parts.ldlt.factorise(parts.G);
    this.solve(parts.solution);
  }
  /** G and γ. */
  protected rows(t: number): void {
    const { K, G, gamma, ownRows } = this.parts;
    for (const c of this.list) c.linear(K, t, G, gamma);
    ownRows?.carry(G);
    ownRows?.remainder(G, gamma);
  }
  /** G alone. */
  jacobian(): void {
    const { K, G, ownRows } = this.parts;
    for (const c of this.list) c.jacobian(K, G);
    ownRows?.carry(G);
  }
  /** @param damping see Ldlt.factorise */
  linearise(damping = 0): void {
    this.jacobian();
    this.parts.ldlt.factorise(this.parts.G, damping);
  }
  solve(x: Float64Array): void {
    this.parts.ldlt.solve(x);
  }

  positions(t: number): void {
    const { K, phi, offsets } = this.parts;
    for (const c of this.list) {
      c.position(K, t, phi);
      for (let r = c.row; r < c.row + c.rows; r++) phi[r] = phi[r]! - offsets[r]!;
    }
  }
  velocities(t: number, fresh: boolean): void {
    const { K, G, phi } = this.parts;
    for (const c of this.list) {
      if (!fresh) c.jacobian(K, G);
      c.nu(K, t, phi);
      for (let k = 0; k < c.rows; k++) phi[c.row + k] = along(K, G, 12 * (c.row + k), c.a, c.b) - phi[c.row + k]!;
      for (let i = 0; i < c.more.length; i++) phi[c.row] = phi[c.row]! + along(K, G, 12 * (c.block + i), c.more[i]![0], c.more[i]![1]);
    }
  }
}

/** Twelve numbers of G times the velocities of two bodies. */
function along({ v, w }: Kinematics, G: Float64Array, g: number, a: number, b: number): number {
  let s = 0;
  for (let e = 0; e < 3; e++) {
    s += G[g + e]! * v[3 * a + e]! + G[g + 3 + e]! * w[3 * a + e]!;
    s += G[g + 6 + e]! * v[3 * b + e]! + G[g + 9 + e]! * w[3 * b + e]!;
  }
  return s;
}
