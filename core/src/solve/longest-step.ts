import type { Mechanism } from '../system/mechanism';

/** Part of a run that no step exceeds where something in it may be over sooner than a step shows. */
const PART = 1 / 100;

/**
 * Longest step of a run where none is asked for, s. What changes with time, has corners or is watched could lie between the stages of a step, and would be
 * missed without a word. Where everything follows smoothly from postures and motions, the error of a step shows it, and no bound is needed.
 */
export function longestStep({ watches, assembly, drives, switches, system }: Mechanism, until: number): number {
  const even =
    watches.length === 0 &&
    switches.length === 0 &&
    system.groups.every((g) => g.constraints.every((c) => c.statement)) &&
    assembly.forces.every(({ force }) => force.smooth) &&
    drives.every(({ course }) => !course.law.varies);
  return even ? Infinity : PART * until;
}
