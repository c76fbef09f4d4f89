/** Changes of a state of a machine brought forward: through the derivative of the state, and through being brought onto the constraints. */
import type { System } from '../system';
import { Push } from './push';
import type { Variation } from './variation';

/** Tells what of the machine changes beside the state. */
export type Besides = (to: Variation) => void;

export class Forwards {
  private readonly push: Push;
  private readonly displacement: Float64Array;
  private readonly velocity: Float64Array;

  /** @param variation of the system, laid out as it is now */
  constructor(
    private readonly variation: Variation,
    private readonly system: System,
  ) {
    const { K, motions } = system;
    this.push = new Push(K);
    this.displacement = new Float64Array(motions);
    this.velocity = new Float64Array(motions);
  }

  /** All changes are of the state whose derivative was evaluated last: its factors and solution stand there. */
  look(): void {
    this.variation.look();
  }
  /** How the derivative of that state changes with a change s of it, and with what changes beside. */
  rates(y: Float64Array, s: Float64Array, besides: Besides, out: Float64Array): void {
    const { variation, push } = this,
      { change, solution, rate } = variation;
    variation.clear();
    push.state(s, y, change);
    besides(variation);
    variation.rates();
    push.rates(s, y, solution, rate, out);
  }

  /** Prepares to bring changes onto the constraints, of a state y that is on them. */
  at(t: number, y: Float64Array): void {
    const { system, variation } = this;
    system.K.load(y);
    system.residual(t); // what drives ask for is that at the time
    system.linearise();
    variation.look();
  }
  /** Brings a change s of that state onto the constraints. */
  onto(y: Float64Array, s: Float64Array, besides: Besides): void {
    const { variation, push, displacement, velocity, system } = this,
      { z } = variation.change,
      { further } = system.K.layout;
    variation.clear();
    for (let k = 0; k < z.length; k++) z[k] = s[further + k]!;
    besides(variation);
    push.displaced(s, y, displacement, velocity);
    variation.onto(displacement, velocity);
    push.undisplaced(displacement, velocity, s);
  }
}
