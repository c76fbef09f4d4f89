/** Numbers that are none: never a result, and never recorded. */
import { type Diagnosis, refuse } from '../diagnosis';
import type { Mechanism } from '../system/mechanism';
import { where } from '../model/where';

/** Whether all are numbers, and none is infinite; or all from one place up to another. */
export function finite(v: ArrayLike<number>, from = 0, to = v.length): boolean {
  for (let i = from; i < to; i++) if (!Number.isFinite(v[i]!)) return false;
  return true;
}

/** Where they come from, at the state in K. */
export function notFinite(m: Mechanism, t: number): Omit<Diagnosis, 'severity'> {
  const culprit = m.assembly.forces.find((f) => {
    const F = new Float64Array(6 * (m.system.bodies + 1));
    f.force.apply(m.system.K, t, F);
    return !finite(F);
  });
  return {
    code: 'solver-not-finite',
    message: culprit ? 'Its force is not a finite number.' : 'The accelerations are not finite numbers.',
    why: 'A formula divides by zero there, or a force grew without limit.',
    remedy: 'Look at the formulas of loads and drives at this time.',
    ...(culprit ? where(m.model, 'loads', culprit.name) : {}),
  };
}

/** @throws Refusal when what was computed at the state in K is no number */
export function mustBeFinite(m: Mechanism, t: number, ...lists: readonly ArrayLike<number>[]): void {
  if (!lists.every((list) => finite(list))) refuse({ ...notFinite(m, t), time: t });
}
