/** All equations of a kind in one loop, and blocks of one shape by one code: machines that are too large for code of their own. */
import type { ExtraStates } from '../../equations/states';
import type { Loops } from '../looped/loops';
import { OneByOne } from './one-by-one';
import { type Parts, balance, follow } from './way';

export class ByKinds extends OneByOne {
  private readonly applyLoads: () => void;
  /** @param told numbers of further states of which the loops tell how they change @param asked those that have to be asked */
  constructor(
    parts: Parts,
    private readonly loops: Loops,
    private readonly stateRates: Float64Array,
    private readonly told: readonly number[],
    private readonly asked: readonly ExtraStates[],
  ) {
    super(parts, [...parts.others, ...parts.coupled]);
    this.applyLoads = loops.loads;
  }

  override accelerate(t: number): void {
    const { parts, loops } = this,
      { forces, K } = parts;
    loops.courses();
    forces.applyAround(K, t, this.applyLoads);
    this.rows(t);
    balance(parts);
    this.factorise();
    this.solve(parts.solution);
  }
  protected override rows(t: number): void {
    follow(this.parts, t);
    this.loops.rows();
    super.rows(t);
  }
  override jacobian(): void {
    this.loops.jacobian();
    super.jacobian();
  }
  override linearise(): void {
    this.jacobian();
    this.factorise();
  }
  private factorise(): void {
    const { loops } = this,
      { ldlt, G, ratio } = this.parts;
    if (!loops.factorise) return ldlt.factorise(G);
    loops.factorise();
    ldlt.judge(ratio, 1);
  }
  override solve(x: Float64Array): void {
    const { loops } = this,
      { x: here } = this.parts;
    if (!loops.solve) return super.solve(x);
    if (x !== here) here.set(x);
    loops.solve();
    if (x !== here) x.set(here);
  }

  override positions(t: number): void {
    const { phi, offsets } = this.parts;
    follow(this.parts, t);
    this.loops.courses();
    this.loops.positions();
    for (let r = 0; r < phi.length; r++) phi[r] = phi[r]! - offsets[r]!;
    super.positions(t);
  }
  override velocities(t: number, fresh: boolean): void {
    follow(this.parts, t);
    this.loops.courses();
    this.loops.velocities();
    super.velocities(t, fresh);
  }

  measure(): void {
    this.loops.measure();
  }
  /** How further states change, at what was last solved for. @param at where they begin in the derivative */
  change(t: number, dy: Float64Array, at: number): void {
    const { told, asked, stateRates } = this;
    this.loops.further();
    for (let i = 0; i < told.length; i++) dy[at + told[i]!] = stateRates[told[i]!]!;
    for (let i = 0; i < asked.length; i++) asked[i]!.rates(this.parts.K, t, dy, at);
  }
}
