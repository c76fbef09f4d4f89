/** The state at hand as gauges read it. */
import type { Snapshot } from '../elements/declarations';
import type { Mechanism } from '../system/mechanism';

/** As of the last `accelerate`. @param solution accelerations, then what constraints carry; left out: as they were solved for */
export function snapshotOf({ system }: Mechanism, t: number, solution: Float64Array = system.solution): Snapshot {
  const { K, G, motions } = system;
  return {
    ...{ t, K, G, acceleration: solution.subarray(0, motions), multipliers: solution.subarray(motions) },
    angle: (f) => f.value(K),
  };
}
