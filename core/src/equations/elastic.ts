import type { Table } from '../formula/table';

/** Effort of a deflection, and the energy stored in it (zero at no deflection). */
export interface Elastic {
  effort(x: number): number;
  energy(x: number): number;
  /** Energy at the deflection without effort, where a one-sided spring begins to act. */
  readonly slackEnergy: number;
  /** Whether it has no corners. */
  readonly smooth: boolean;
}

export class LinearSpring implements Elastic {
  readonly smooth = true;
  readonly slackEnergy: number;
  constructor(
    private readonly stiffness: number,
    private readonly preload: number,
  ) {
    this.slackEnergy = stiffness > 0 ? (-0.5 * preload * preload) / stiffness : 0;
  }
  effort(x: number): number {
    return this.stiffness * x + this.preload;
  }
  energy(x: number): number {
    return 0.5 * this.stiffness * x * x + this.preload * x;
  }
}

/** Effort by a table of deflections, with a constant part. */
export class TabledSpring implements Elastic {
  readonly smooth = false;
  readonly slackEnergy = 0;
  constructor(
    private readonly table: Table,
    private readonly preload: number,
  ) {}
  effort(x: number): number {
    return this.table.at(x).f + this.preload;
  }
  energy(x: number): number {
    return this.table.integral(x) + this.preload * x;
  }
}
