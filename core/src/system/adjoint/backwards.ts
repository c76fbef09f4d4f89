/** Derivatives of one number by the state of a machine, brought back: through the derivative of the state, and through being brought onto the constraints. */
import type { System } from '../system';
import type { Adjoint } from './adjoint';
import { Pull } from './pull';

export class Backwards {
  private readonly pull: Pull;
  private readonly acceleration: Float64Array;
  private readonly displacement: Float64Array;
  private readonly velocity: Float64Array;
  private readonly seeds: Float64Array;

  /** @param adjoint of the system, laid out as it is now */
  constructor(
    private readonly adjoint: Adjoint,
    private readonly system: System,
  ) {
    const { K, motions } = system;
    this.pull = new Pull(K);
    this.acceleration = new Float64Array(motions);
    this.displacement = new Float64Array(motions);
    this.velocity = new Float64Array(motions);
    this.seeds = new Float64Array(K.extra);
  }

  /**
   * Through the derivative ẏ of a state y, which was evaluated last: its factors and solution stand there.
   * @param by the derivative by ẏ @param out that by y is added
   */
  rates(y: Float64Array, by: Float64Array, out: Float64Array): void {
    const { adjoint, pull, acceleration, seeds, system } = this,
      { motions, moving, further } = system.K.layout;
    for (let j = 0; j < moving.length; j++) acceleration[moving[j]!] = by[motions + j]!;
    for (let k = 0; k < seeds.length; k++) seeds[k] = by[further + k]!;
    adjoint.rates(acceleration, seeds);
    pull.rates(by, y, adjoint.by, out);
    pull.state(adjoint.by, y, out);
  }

  /**
   * Through being brought onto the constraints, at a state y that is on them.
   * @param by the derivative by what comes of that, which becomes the one by what was before
   */
  onto(t: number, y: Float64Array, by: Float64Array): void {
    const { adjoint, pull, displacement, velocity, system } = this,
      { further, size } = system.K.layout;
    system.K.load(y);
    system.residual(t); // what drives ask for is that at the time
    system.linearise();
    pull.displaced(by, displacement, velocity);
    adjoint.onto(displacement, velocity);
    pull.undisplaced(displacement, velocity, y, by);
    for (let k = further; k < size; k++) by[k] = by[k]! + adjoint.by.z[k - further]!;
  }
}
