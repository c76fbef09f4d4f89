/** Positions that a machine must not pass: beyond them its equations hold, but for another machine. */
import type { Diagnosis } from '../diagnosis';
import { where } from '../model/where';
import type { Mechanism } from '../system/mechanism';

/** What has been passed at the state in K; undefined where nothing has. */
export function passed({ watches, system, model }: Mechanism, t: number): Omit<Diagnosis, 'severity'> | undefined {
  const found = watches.find(({ watch }) => watch.fault && watch.value(system.K, t, system) < 0);
  return found && { ...found.watch.fault!, time: t, ...where(model, found.element.family, found.element.name) };
}
