/** Modules that are compiled once for all machines: what calls what. */
import { type Body, type Imported, TYPE, type Signature, moduleOf } from './bytes';
import type { RawKernel } from './compile';
import { noteFailure, webAssembly } from './webassembly';

/** So many whole numbers: places and counts. */
export const whole = (count: number): number[] => Array.from({ length: count }, () => TYPE.i32);

const modules = new Map<string, object>();
/** The module of a key, compiled when it is first asked for; undefined where it cannot be. */
export function moduleFor(
  key: string,
  signatures: readonly Signature[],
  imports: readonly Imported[],
  code: () => Body,
): object | undefined {
  try {
    const made = modules.get(key) ?? new webAssembly!.Module(moduleOf(signatures, imports, [code()]));
    modules.set(key, made);
    return made;
  } catch (error) {
    noteFailure(error);
    return undefined;
  }
}

/** Whether two pieces of a machine's code are handed scratch. */
export type Scratched = readonly [boolean, boolean];
/** Which of two are. */
export const scratchedOf = (a: RawKernel, b: RawKernel): Scratched => [a.scratched, b.scratched];

/**
 * One that is handed so many places and two times, and calls two pieces of a machine's code (functions 0 and 1) and sums of vectors (from 2 on).
 * @param code of signature 2
 */
export const stepModule = (key: string, places: number, [first, second]: Scratched, sums: number, code: () => Body): object | undefined =>
  moduleFor(
    `${key};${first},${second}`,
    [
      { takes: [...whole(5), TYPE.f64], gives: [] },
      { takes: whole(4), gives: [] },
      { takes: [...whole(places), TYPE.f64, TYPE.f64], gives: [] },
      { takes: whole(5), gives: [] },
    ],
    [
      { name: 'a', signature: first ? 3 : 1 },
      { name: 'b', signature: second ? 3 : 1 },
      ...Array.from({ length: sums }, (_, i) => ({ name: `s${i}`, signature: 0 })),
    ],
    code,
  );
