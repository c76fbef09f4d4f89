/** States on the constraints: how near they must be, and how they are brought there. */
import type { RunStatistics } from '../results/record';
import type { Mechanism } from '../system/mechanism';
import { POSITION_TOLERANCE } from '../system/system';

/** Residuals after projection beyond which a step is refused rather than recorded: m or 1, and m/s or 1/s. */
export const HELD = { position: 1e-8, velocity: 1e-7 };

/** Residuals of an interpolated state up to which it is near enough; what is left may be a hundredth of the accuracy asked. */
export function near(size: number, accuracy: number): { readonly position: number; readonly velocity: number } {
  const slack = 0.01 * accuracy * size;
  return { position: Math.min(slack, 0.5 * HELD.position), velocity: Math.min(slack, 0.5 * HELD.velocity) };
}

/** Brings an interpolated state onto the constraints, where it is not on them already; leaves it in K. */
export function ontoConstraints(
  { system, size }: Mechanism,
  t: number,
  y: Float64Array,
  stats: RunStatistics,
  accuracy: number,
  enough = POSITION_TOLERANCE,
): void {
  const allowed = near(size, accuracy);
  system.load(y);
  system.look(t);
  const { position: p0, velocity: v0 } = system;
  let p = p0,
    v = v0;
  if (p0 > allowed.position || v0 > allowed.velocity) {
    system.linearise();
    p = system.projectPositions(t, enough);
    v = system.projectVelocities(t, 3 * enough);
  }
  stats.positionResidual = Math.max(stats.positionResidual, p);
  stats.velocityResidual = Math.max(stats.velocityResidual, v);
}
