/**
 * The stages of a step of a Runge-Kutta method in one call: the sums that make each stage, and a machine's own code that puts its bodies there and gives
 * the derivative. What calls what is compiled once for all machines; the functions are brought in.
 */
import { type Body, Bytes, CODE } from './bytes';
import type { RawKernel } from './compile';
import type { KernelMemory } from './memory';
import { type Scratched, scratchedOf, stepModule } from './modules';
import type { Sum } from './sums';
import { compiling, webAssembly } from './webassembly';

/** Places in numbers. @param y0 state at t @param ks its derivative, and behind it room for those of the stages, of n numbers each */
export type Stages = (
  y0: number,
  stage: number,
  ks: number,
  n: number,
  y1: number,
  error5: number,
  error3: number,
  t: number,
  h: number,
) => void;

const KINEMATICS = 0,
  OWN = 1,
  SCRATCH = 2,
  CLOCK = 3,
  Y0 = 4,
  STAGE = 5,
  KS = 6,
  N = 7,
  Y1 = 8,
  ERROR5 = 9,
  ERROR3 = 10,
  T = 11,
  H = 12,
  /** Where the derivative at hand goes. */
  K = 13;
/** The places it is handed, and the two times. */
const PLACES = 11;

/**
 * @param nodes where in the step each stage but the first lies, as part of it; the last ends it. Sums of its end and of the two errors follow those before
 * @param scratched whether what places the bodies, and what derives, is handed scratch
 */
function code(nodes: readonly number[], scratched: Scratched): Body {
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
    derive = (y: number, node: number) => {
      get(CLOCK);
      out.byte(CODE.i32).signed(3).byte(CODE.shiftLeft);
      get(T);
      out.byte(CODE.f64).float(node);
      get(H);
      out.byte(CODE.mul).byte(CODE.add).byte(CODE.storeFloat).byte(3).unsigned(0);
      [0, 1].forEach((f) => {
        if (scratched[f as 0]) get(SCRATCH);
        get(KINEMATICS, OWN, y, K);
        call(f);
      });
    };
  const inner = nodes.length - 1;
  get(KS);
  out.byte(CODE.set).unsigned(K);
  for (let i = 0; i < inner; i++) {
    sum(i, STAGE);
    advance();
    derive(STAGE, nodes[i]!);
  }
  [Y1, ERROR5, ERROR3].forEach((to, i) => sum(inner + i, to));
  advance();
  derive(Y1, nodes[inner]!);
  return { signature: 2, whole: 1, locals: 0, code: out };
}

/**
 * @param nodes where in the step each stage but the first lies, as part of it; the last is 1
 * @param sums of the stages before the end, of the end and of its two errors
 * @param place,derive a machine's code, both at work in this memory
 * @returns undefined where nothing can be compiled
 */
export function stagesOf(
  memory: KernelMemory,
  nodes: readonly number[],
  sums: readonly Sum[],
  place: RawKernel,
  derive: RawKernel,
  places: { readonly kinematics: number; readonly own: number; readonly scratch: number; readonly clock: number },
): Stages | undefined {
  if (!webAssembly || compiling.refused || !memory.compiled) return undefined;
  const scratched = scratchedOf(place, derive),
    module = stepModule(`stages ${nodes.join()}`, PLACES, scratched, sums.length, () => code(nodes, scratched));
  if (!module) return undefined;
  const functions = Object.fromEntries(sums.map((s, i) => [`s${i}`, s])),
    { kinematics, own, scratch, clock } = places,
    run = new webAssembly.Instance(module, { e: { m: memory.compiled, a: place.code, b: derive.code, ...functions } }).exports.f as (
      ...all: number[]
    ) => void;
  return (y0, stage, ks, n, y1, error5, error3, t, h) => run(kinematics, own, scratch, clock, y0, stage, ks, n, y1, error5, error3, t, h);
}
