import type { Mechanism } from '../system/mechanism';

/** Times at which a formula of time has a kink: the run is split there. */
export function breakTimes(m: Mechanism, until: number, others: readonly number[] = []): number[] {
  const programs = [
    ...m.drives.map((d) => d.course.law),
    ...m.switches.flatMap((s) => s.switch.programs),
    ...m.assembly.forces.flatMap((f) => f.force.programs ?? []),
  ];
  const times = [...programs.flatMap((p) => p.kinks(0, until).map((k) => k.t)), ...others].sort((a, b) => a - b);
  return times.filter((t, i) => i === 0 || t - times[i - 1]! > 1e-9 * until);
}
