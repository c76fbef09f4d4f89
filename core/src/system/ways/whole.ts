/** A machine by code of its own. */
import type { Machine } from '../compiled/machine';
import { OneByOne } from './one-by-one';
import { type Parts, follow } from './way';

export class Whole extends OneByOne {
  /** @param settles whether its code lets loads that follow from what constraints carry agree with that */
  constructor(
    parts: Parts,
    readonly machine: Machine,
    readonly settles: boolean,
  ) {
    super(parts, parts.others);
  }

  override accelerate(t: number, y = 0, dy = 0): void {
    const { K, forces, others, G, gamma, solution } = this.parts;
    if (forces.reacting && !this.settles) forces.apply(K, t);
    else forces.applyOthers(K, t);
    for (const c of others) c.linear(K, t, G, gamma);
    follow(this.parts, t);
    this.machine.accelerate(y, dy);
    K.own?.spread(solution);
    this.judge();
  }
  override linearise(): void {
    const { others, K, G } = this.parts;
    for (const c of others) c.jacobian(K, G);
    this.machine.linearise();
    this.judge();
  }
  /** Takes note of what its factorisation has found. */
  judge(): void {
    const { ldlt, ratio, loosest } = this.parts;
    ldlt.judge(ratio, loosest[0]!);
  }
  override solve(x: Float64Array): void {
    const { K, x: here } = this.parts;
    if (x !== here) here.set(x);
    K.own?.gather(here);
    this.machine.solve();
    K.own?.spread(here);
    if (x !== here) x.set(here);
  }
  override positions(t: number): void {
    super.positions(t);
    follow(this.parts, t);
    this.machine.residual();
  }
  override velocities(t: number, fresh: boolean): void {
    follow(this.parts, t);
    this.machine.velocityResidual();
    super.velocities(t, fresh);
  }
  measure(): void {
    this.machine.measure();
  }
  /** Φ, Φ̇ and measured coordinates at once, where all constraints are expressions. */
  look(t: number): void {
    follow(this.parts, t);
    this.machine.look();
  }
}
