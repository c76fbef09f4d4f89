/**
 * The stages of a step of a Runge-Kutta method in one call: the sums that make each stage, and a machine's own code that puts its bodies there and gives
 * the derivative. What calls what is compiled once for all machines; the functions are brought in.
 */
import { type Body, Bytes, CODE, TYPE, moduleOf } from './bytes';
import type { RawKernel } from './compile';
import type { KernelMemory } from './memory';
import type { Sum } from './sums';
import { compiling, noteFailure, webAssembly } from './webassembly';

/** Places in numbers. @param y0 state at the start @param ks its derivative, and behind it room for those of the stages, of n numbers each */
export type Stages = (y0: number, stage: number, ks: number, n: number, y1: number, error5: number, error3: number, h: number) => void;

const KINEMATICS = 0,
  OWN = 1,
  SCRATCH = 2,
  Y0 = 3,
  STAGE = 4,
  KS = 5,
  N = 6,
  Y1 = 7,
  ERROR5 = 8,
  ERROR3 = 9,
  H = 10,
  /** Where the derivative at hand goes. */
  K = 11;

/**
 * @param inner sums of stages before the end of the step; the sums of its end and of the two errors follow
 * @param scratched whether what places the bodies, and what derives, is handed scratch
 */
function code(inner: number, scratched: readonly [boolean, boolean]): Body {
  const out = new Bytes(1024),
    get = (...locals: readonly number[]) => locals.forEach((l) => out.byte(CODE.get).unsigned(l)),
    call = (f: number) => out.byte(CODE.call).unsigned(f),
    sum = (which: number, to: number) => {
      get(to, Y0, KS, N, N, H);
      call(2 + which);
    },
    advance = () => {
      get(K, N);
      out.byte(CODE.addWhole).byte(CODE.set).unsigned(K);
    },
    derive = (y: number) =>
      [0, 1].forEach((f) => {
        if (scratched[f as 0]) get(SCRATCH);
        get(KINEMATICS, OWN, y, K);
        call(f);
      });
  get(KS);
  out.byte(CODE.set).unsigned(K);
  for (let i = 0; i < inner; i++) {
    sum(i, STAGE);
    advance();
    derive(STAGE);
  }
  [Y1, ERROR5, ERROR3].forEach((to, i) => sum(inner + i, to));
  advance();
  derive(Y1);
  return { signature: 2, whole: 1, locals: 0, code: out };
}

const modules = new Map<string, object>();
function moduleFor(inner: number, scratched: readonly [boolean, boolean]): object | undefined {
  const key = `${inner},${scratched.join()}`,
    whole = (count: number) => Array.from({ length: count }, () => TYPE.i32);
  try {
    const made =
      modules.get(key) ??
      new webAssembly!.Module(
        moduleOf(
          [
            { takes: [...whole(5), TYPE.f64], gives: [] },
            { takes: whole(4), gives: [] },
            { takes: [...whole(10), TYPE.f64], gives: [] },
            { takes: whole(5), gives: [] },
          ],
          [
            { name: 'p', signature: scratched[0] ? 3 : 1 },
            { name: 'd', signature: scratched[1] ? 3 : 1 },
            ...Array.from({ length: inner + 3 }, (_, i) => ({ name: `s${i}`, signature: 0 })),
          ],
          [code(inner, scratched)],
        ),
      );
    modules.set(key, made);
    return made;
  } catch (error) {
    noteFailure(error);
    return undefined;
  }
}

/**
 * @param sums of the stages before the end, of the end and of its two errors
 * @param place,derive a machine's code, both at work in this memory
 * @returns undefined where nothing can be compiled
 */
export function stagesOf(
  memory: KernelMemory,
  sums: readonly Sum[],
  place: RawKernel,
  derive: RawKernel,
  places: { readonly kinematics: number; readonly own: number; readonly scratch: number },
): Stages | undefined {
  if (!webAssembly || compiling.refused || !memory.compiled) return undefined;
  const module = moduleFor(sums.length - 3, [place.scratched, derive.scratched]);
  if (!module) return undefined;
  const functions = Object.fromEntries(sums.map((s, i) => [`s${i}`, s])),
    { kinematics, own, scratch } = places,
    run = new webAssembly.Instance(module, { e: { m: memory.compiled, p: place.code, d: derive.code, ...functions } }).exports.f as (
      ...all: number[]
    ) => void;
  return (y0, stage, ks, n, y1, error5, error3, h) => run(kinematics, own, scratch, y0, stage, ks, n, y1, error5, error3, h);
}
