/** Friction depends on the constraint forces and they on friction: repeated until both agree, with half steps once plain repetition swings. */
import { MOST, NONE, PLAIN } from './compiled/settle';
import { type Parts, type Way, balance } from './ways/way';
import type { Carried } from '../equations/watch';

export class Reactions {
  /** Constraint forces and what follows from them could not be brought into agreement. */
  unsettled = false;
  private readonly applied: Float64Array;
  private readonly previous: Float64Array;
  constructor(private readonly parts: Parts) {
    this.applied = new Float64Array(parts.F.length);
    this.previous = new Float64Array(parts.F.length);
  }

  /** @param carried what the constraints carry now @param complete finishes a solution */
  settle(t: number, way: Way, carried: Carried, complete: () => void): void {
    const { applied, previous, parts } = this,
      { F, forces, K, solution } = parts;
    applied.set(F);
    this.unsettled = true;
    for (let i = 0; i < MOST; i++) {
      let scale = 0,
        change = 0;
      for (let k = 0; k < F.length; k++) scale = Math.max(scale, Math.abs(F[k]!));
      previous.set(F);
      F.set(applied);
      forces.react(K, t, carried);
      const relax = i > PLAIN ? 0.5 : 1;
      for (let k = 0; k < F.length; k++) {
        const d = F[k]! - previous[k]!;
        change = Math.max(change, Math.abs(d));
        F[k] = previous[k]! + relax * d;
      }
      if (i > 0 && change <= NONE * scale + NONE) {
        this.unsettled = false;
        break;
      }
      balance(parts);
      way.solve(solution);
      complete();
    }
  }
}
