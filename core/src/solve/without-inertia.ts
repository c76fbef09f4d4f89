/** A direction that is free and has no inertia: by the laws of motion anything could happen there. */
import type { Diagnosis } from '../diagnosis';
import { where } from '../model/where';
import type { Mechanism } from '../system/mechanism';

/** The body that is free to move without inertia at the posture in K, of which the constraint matrix is at hand; undefined where there is none. */
export function withoutInertia(m: Mechanism): Diagnosis | undefined {
  const { system } = m,
    { ldlt } = system;
  if (ldlt.plan.light.length === 0) return undefined;
  ldlt.factorise(system.G);
  if (!ldlt.weightless) return undefined;
  const motion = ldlt.loose();
  const turning = (b: number) => motion.subarray(6 * b + 3, 6 * b + 6).reduce((sum, x) => sum + x * x, 0);
  const body = [...ldlt.plan.light].sort((a, b) => turning(b) - turning(a))[0]!;
  return {
    code: 'inertia-zero',
    severity: 'error',
    message: 'The body is free to turn about an axis about which it has no moment of inertia.',
    why: 'It could spin up without any torque.',
    remedy: 'Type in an inertia or give it a shape with a material, or hold its rotation by a joint.',
    ...where(m.model, 'bodies', m.bodies[body]!.name, 'inertia'),
  };
}
