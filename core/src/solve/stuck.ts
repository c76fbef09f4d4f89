import type { Diagnosis } from '../diagnosis';
import { where } from '../model/where';
import type { Mechanism } from '../system/mechanism';

/** Why the step shrank to nothing: a formula that is not finite, a locked position with the joint that binds, or forces without limit. */
export function stuck(m: Mechanism, t: number): Omit<Diagnosis, 'severity'> {
  const { ldlt } = m.system;
  const group = m.system.ownerOf(ldlt.tightestRow);
  if (ldlt.tightest < 1e-4 && group) {
    return {
      code: 'solver-locked',
      message: `The mechanism locks at t = ${t.toPrecision(6)} s; ${group.name} binds.`,
      why: 'It has come to a dead centre or a singular position, past which the drive cannot lead it.',
      remedy: 'Drive another joint, or shorten the stroke.',
      ...where(m.model, group.family, group.name),
    };
  }
  return {
    code: 'solver-stuck',
    message: `The solver cannot get past t = ${t.toPrecision(6)} s.`,
    why: 'The motion changes faster and faster there: a locked position, or a force that grows without limit.',
    remedy: 'Look at the posture at this time; check formulas that divide, and very stiff springs.',
  };
}
