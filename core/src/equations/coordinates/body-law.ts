import { CompiledKernel } from '../../kernel/compile';
import type { NumberKind } from '../stated/elementary';
import { BASE_COUNT, deriveBody } from './derive';
import type { BodyLaw } from './law';

/** A law whose functions know the names of its numbers, with the code that is derived from it: made once for all bodies of the law. */
export function bodyLaw<const N extends Readonly<Record<string, NumberKind>>>(law: Omit<BodyLaw<N>, 'code'>): BodyLaw {
  let made: CompiledKernel | undefined;
  const whole = {
    ...law,
    code(values: number): CompiledKernel {
      if (made) return made;
      const { g, stores } = deriveBody(whole, values);
      return (made = new CompiledKernel(g, stores, BASE_COUNT));
    },
  } as unknown as BodyLaw;
  return whole;
}
