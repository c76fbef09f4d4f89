/** The machine that is being dragged. */
import { type Mechanism, type Model, Refusal, assemble, check, freeMotions, frictionless } from '@vim-pivot/core/engine';
import { pull } from '@vim-pivot/core/on-demand';

let held: Mechanism | undefined;
const mechanism = (): Mechanism =>
  held ??
  (() => {
    throw new Refusal([]);
  })();

/** Takes hold of a machine at its start posture, its drives let go. @throws Refusal */
export function grab(model: Model): void {
  const report = check({ ...model, drives: [], gauges: [] });
  const errors = report.diagnoses.filter((d) => d.severity === 'error');
  held = report.built.mechanism;
  if (!held || errors.length > 0) throw new Refusal(errors);
  held.system.K.load(assemble(held).y);
  frictionless(held);
}

/** Draws a place of a body towards a target; gives the posture that follows. */
export function pullTo(body: number, at: readonly number[], to: readonly number[]): Float64Array {
  const m = mechanism();
  pull(m, body, at, to);
  const y = new Float64Array(m.system.size);
  m.system.K.store(y);
  return y.slice(0, 7 * m.bodies.length);
}

/** The joints that lead the free motions, and where they stand: they fix the posture. */
export function leaders(): { joint: string; freedom: 'rotation' | 'translation'; position: number }[] {
  const m = mechanism();
  m.system.linearise();
  return freeMotions(m).flatMap(({ element }) => {
    const j = m.joints.find((x) => element.family === 'joints' && x.name === element.name);
    const lead = j && [...j.freedoms][0];
    return lead ? [{ joint: j.name, freedom: lead[0], position: lead[1].value(m.system.K) }] : [];
  });
}
