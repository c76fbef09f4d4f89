/** How accelerations and constraint forces answer to changed equations: M δu̇ + Gᵀδλ − ∂f/∂λ δλ = r₁, G δu̇ = r₂, by the factors at hand. */
import { refuse } from '../diagnosis';
import type { System } from '../system/system';
import type { Tangent } from '../system/tangent/tangent';

const ROUNDS = 200;
const SAME = 1e-15;

/** @param r by motions, then by rows @returns δu̇, then δλ */
export function respond(system: System, tangent: Tangent, r: Float64Array): Float64Array {
  const x = r.slice();
  system.solve(x);
  const { at } = tangent.entries.load;
  if (!at.some((e) => tangent.values[e] !== 0)) return x;
  for (let k = 0; k < ROUNDS; k++) {
    const next = r.slice();
    tangent.times('load', x, next);
    system.solve(next);
    let change = 0,
      size = 0;
    for (let i = 0; i < x.length; i++) {
      change = Math.max(change, Math.abs(next[i]! - x[i]!));
      size = Math.max(size, Math.abs(next[i]!));
    }
    x.set(next);
    if (change <= SAME * size) return x;
  }
  return refuse({
    code: 'friction-jam',
    message: 'Friction and joint loads find no balance at this posture.',
    why: 'The joint locks itself: more load gives more friction, and that more load.',
    remedy: 'Lower the friction coefficient, or lengthen the guide.',
  });
}
