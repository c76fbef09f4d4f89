/** Puts a machine where it is asked about. */
import { Refusal, refuse } from '../../diagnosis';
import type { Model } from '../../model/document';
import { check } from '../../checks/check';
import { assemble } from '../../solve/assemble';
import { simulate } from '../../solve/dynamics';
import { equilibrium } from '../../solve/statics';
import type { Mechanism } from '../../system/mechanism';
import type { About, Given } from './analysis';
import { timeFrom } from './settings';

/** A model's mechanism at its assembled posture. @throws Refusal with all its errors */
export function standing(model: Model): Mechanism {
  const report = check(model),
    errors = report.diagnoses.filter((d) => d.severity === 'error'),
    { mechanism } = report.built;
  if (errors.length > 0 || !mechanism) throw new Refusal(errors);
  mechanism.system.K.load(assemble(mechanism).y);
  mechanism.system.linearise();
  return mechanism;
}

/** Brings it there from its assembled posture. @returns the time @throws Refusal where it does not come there */
export function bring(m: Mechanism, about: About, { at }: Given): number {
  if (about === 'start') return 0;
  if (about === 'equilibrium') {
    atEquilibrium(m);
    return 0;
  }
  if (at === undefined || at.trim() === '')
    refuse({ code: 'setting', message: 'A time of the run is missing.', remedy: 'Give one, such as 0.4 s.' });
  const t = timeFrom(at);
  for (const e of simulate(m, { ...m.resolution.run, until: t, every: t }))
    if (e.type === 'end' && e.status !== 'done') throw new Refusal(e.diagnoses.map((d) => ({ ...d, severity: 'error' as const })));
  return t;
}

function atEquilibrium(m: Mechanism): void {
  try {
    equilibrium(m);
  } catch (e) {
    if (!(e instanceof Refusal)) throw e;
    throw new Refusal(
      e.diagnoses.map((d) => ({ ...d, remedy: `${d.remedy ?? ''} Or ask about the assembled posture, or about a time of a run.`.trim() })),
    );
  }
}
