/** Code for the equations of a machine, as a whole or kind by kind. It is handed to a system, so that it need not be at hand where nothing is run. */
import { type MachineKernels, type Structure, kernelsOf } from './compiled/machine';
import { recordsTogether, stagesTogether } from './compiled/together';
import { Loops } from './looped/loops';
import { ByKinds } from './ways/by-kinds';
import { Whole } from './ways/whole';

export const COMPILER = {
  kernels: (s: Structure): MachineKernels => kernelsOf(s),
  whole: (...of: ConstructorParameters<typeof Whole>) => new Whole(...of),
  loops: (...of: ConstructorParameters<typeof Loops>) => new Loops(...of),
  kinds: (...of: ConstructorParameters<typeof ByKinds>) => new ByKinds(...of),
  stages: stagesTogether,
  records: recordsTogether,
};
export type Compiler = typeof COMPILER;
