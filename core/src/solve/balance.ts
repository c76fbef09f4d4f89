/** Whether a machine at rest stays there: its accelerations beside those that its loads would give one by one. */
import { square } from '../quantity/elementary';
import type { Mechanism } from '../system/mechanism';
import { massTimes } from './reduced';

/** Part of what the loads would give one by one that is no imbalance. */
const BALANCED = 1e-8;

/** Size of the accelerations the loads would give one by one, in the mass metric: what a balance is measured against. */
export function loadScale(m: Mechanism, t: number): number {
  const { system } = m,
    { masses, inertias } = system.apparent,
    F = new Float64Array(6 * (system.bodies + 1));
  let sum = system.K.own?.pull ?? 0;
  // what has no inertia is left to what holds it
  const part = (force: number, inertia: number) => (force === 0 || !(inertia > 0) ? 0 : square(force) / inertia);
  for (const { force } of m.assembly.forces) {
    F.fill(0);
    force.apply(system.K, t, F);
    let s = 0;
    for (let i = 0; i < system.bodies; i++)
      for (let k = 0; k < 3; k++) s += part(F[6 * i + k]!, masses[i]!) + part(F[6 * i + 3 + k]!, inertias[9 * i + 4 * k]!);
    sum += Math.sqrt(s);
  }
  return sum;
}

/** Whether it would stay, as of the last `accelerate`. @param noise size of accelerations that are rounding */
export function balanced(m: Mechanism, t: number, noise: number): boolean {
  const { acceleration } = m.system,
    out = new Float64Array(acceleration.length);
  massTimes(m.system, acceleration, out);
  const size = Math.sqrt(
    Math.max(
      0,
      out.reduce((s, x, i) => s + x * acceleration[i]!, 0),
    ),
  );
  return size <= BALANCED * loadScale(m, t) + noise;
}
