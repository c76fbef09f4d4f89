/**
 * Loads that follow from what constraints carry (friction), and what constraints carry of them: repeated until both agree, with half steps once plain
 * repetition swings.
 */
import type { Kernel } from '../../expressions/plain';
import { SETTLING } from './places';

/** Repetitions at most, and those after which steps are halved. */
export const MOST = 60;
export const PLAIN = 8;
/** A change that counts as none, beside the largest force or effort, and in N or N·m. */
export const NONE = 1e-13;

/**
 * Evaluates a machine until both agree.
 * @param numbers where it works @param at where `SETTLING` lies there @param react at its four bases
 * @returns whether they do
 */
export function settle(numbers: Float64Array, at: number, react: Kernel, kinematics: number, own: number, y: number, dy: number): boolean {
  for (let i = 0; i < MOST; i++) {
    numbers[at + SETTLING.part] = i > PLAIN ? 0.5 : 1;
    react(kinematics, own, y, dy);
    if (i > 0 && numbers[at + SETTLING.change]! <= NONE * numbers[at + SETTLING.scale]! + NONE) return true;
  }
  return false;
}
