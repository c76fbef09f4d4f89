/** Rows that add to M, where a body they touch has next to no inertia (`linear/augmented.ts`). */
import type { Ldlt } from '../linear/ldlt';

export class WeightedRows {
  private readonly rows: readonly number[];
  /**
   * Weights them: between the mass of a body with next to no inertia and that of the heaviest.
   * @param lengths of each row whether it holds a length @param size of the machine, m
   */
  constructor(
    private readonly ldlt: Ldlt,
    masses: Float64Array,
    lengths: readonly boolean[],
    size: number,
  ) {
    const { plan, weights } = ldlt,
      light = new Set(plan.light);
    this.rows = [...new Set(plan.products.map((p) => p.row))];
    const heaviest = masses.reduce((a, b) => Math.max(a, b), 0);
    for (const r of this.rows) {
      const blocks = [r, ...plan.further[r]!].flatMap((b) => [plan.bodyOf[2 * b]!, plan.bodyOf[2 * b + 1]!]).filter((b) => light.has(b));
      weights[r] = Math.sqrt(heaviest * Math.max(...blocks.map((b) => masses[b]!))) * (lengths[r] ? 1 : size * size);
    }
  }
  get any(): boolean {
    return this.rows.length > 0;
  }
  /** Multipliers as they are without what rows add to M. */
  takeOff(multipliers: Float64Array, gamma: Float64Array): void {
    const { rows, ldlt } = this;
    for (let i = 0; i < rows.length; i++) {
      const r = rows[i]!;
      if (!ldlt.off[r]) multipliers[r] = multipliers[r]! + ldlt.weights[r]! * gamma[r]!;
    }
  }
}
