/** Code for the equations of a machine, as a whole or kind by kind. It is handed to a system, so that it need not be at hand where nothing is run. */
import { type MachineKernels, type Structure, kernelsOf } from './compiled/machine';
import { Loops } from './looped/loops';

export interface Compiler {
  readonly whole: (s: Structure) => MachineKernels;
  readonly kinds: (...of: ConstructorParameters<typeof Loops>) => Loops;
}

export const COMPILER: Compiler = { whole: kernelsOf, kinds: (...of) => new Loops(...of) };
