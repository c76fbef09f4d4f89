/** Values that follow from where the bodies are and how they move, and from time: what gauges read, and formulas of that. */
import type { Ex } from '../expressions/arithmetic';
import { Graph } from '../expressions/graph';
import type { VectorEx } from '../expressions/vectors';
import type { StatedFormula } from '../formula/stated-formula';
import type { Kernel } from '../expressions/plain';
import { CompiledKernel } from '../kernel/compile';
import type { Kinematics } from './kinematics';
import { BODY_BASES, type BodyEx, bodyAt } from './stated/body';

/** What is read of some bodies, as an expression. */
export interface ValueLaw {
  readonly name: string;
  readonly bodies: number;
  /** Numbers of the model that it names. */
  readonly numbers: number;
  /** @param n numbers of the model @param counter the state that counts the turns of what is read, where one does */
  of(g: Graph, bodies: readonly BodyEx[], n: readonly Ex[], counter: Ex): Ex;
}

/** A reading of certain bodies; `counter` is the further state that counts its turns. */
export interface StatedReading {
  readonly law: ValueLaw;
  readonly bodies: readonly number[];
  readonly numbers: readonly number[];
  readonly counter?: { readonly first: number };
}
/** A formula of other values. */
export interface ValueFormula {
  readonly formula: StatedFormula;
  readonly inputs: readonly StatedValue[];
}
export type StatedValue = StatedReading | ValueFormula;
/** Whether a value is a formula. */
export const isFormula = (v: StatedValue): v is ValueFormula => 'formula' in v;

/** Numbers of a value, and behind them those of what it takes in. */
export const numbersOf = (v: StatedValue): readonly number[] =>
  isFormula(v) ? [...v.formula.numbers, ...v.inputs.flatMap(numbersOf)] : v.numbers;
/** Three numbers of the model, from a place on. */
export const vectorOf = (n: readonly Ex[], from: number): VectorEx => [n[from]!, n[from + 1]!, n[from + 2]!];

const kernels = new WeakMap<ValueLaw, CompiledKernel>();
function kernelOf(law: ValueLaw): CompiledKernel {
  const known = kernels.get(law);
  if (known) return known;
  const g = new Graph(),
    numbers = BODY_BASES * law.bodies,
    bodies = Array.from({ length: law.bodies }, (_, i) => bodyAt(g, BODY_BASES * i)),
    n = Array.from({ length: law.numbers }, (_, k) => g.load(numbers, k)),
    made = new CompiledKernel(g, [{ base: numbers + 1, offset: 0, x: law.of(g, bodies, n, g.zero) }], numbers + 2);
  kernels.set(law, made);
  return made;
}

/** A reading by itself, where no counter is needed. @returns its value at a state */
export function readAlone({ law, bodies, numbers }: StatedReading): (K: Kinematics) => number {
  const ticket = {};
  let home: Kinematics | undefined, run: Kernel;
  return (K) => {
    const { memory, at } = K;
    if (K !== home) {
      const places = bodies.flatMap((b) => [at.r + 3 * b, at.A + 9 * b, at.v + 3 * b, at.w + 3 * b]);
      run = kernelOf(law)
        .in(memory)
        .bind(undefined, ...places, at.numbers, at.out);
      home = K;
    }
    if (K.told !== ticket) {
      K.told = ticket;
      for (let k = 0; k < numbers.length; k++) memory.numbers[at.numbers + k] = numbers[k]!;
    }
    run();
    return memory.numbers[at.out]!;
  };
}
