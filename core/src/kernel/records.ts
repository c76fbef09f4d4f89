/**
 * Several records of a step in one call: of each its state, by dense output, and a machine's own code that puts its bodies there and writes what is
 * recorded. What calls what is compiled once for all machines; the functions are brought in.
 */
import { type Body, Bytes, CODE } from './bytes';
import type { RawKernel } from './compile';
import type { KernelMemory } from './memory';
import { type Scratched, scratchedOf, stepModule } from './modules';
import type { Sum } from './sums';
import { compiling, webAssembly } from './webassembly';

/**
 * Places in numbers. @param times of the records, one after the other, `count` of them @param y room for a state of n numbers @param y0 state at t
 * @param polynomial coefficients of dense output from there on @param rows where the records go
 */
export type Records = (
  times: number,
  count: number,
  y: number,
  y0: number,
  polynomial: number,
  n: number,
  rows: number,
  t: number,
  h: number,
) => void;

const KINEMATICS = 0,
  OWN = 1,
  SCRATCH = 2,
  CLOCK = 3,
  STRIDE = 4,
  TIMES = 5,
  COUNT = 6,
  Y = 7,
  Y0 = 8,
  POLYNOMIAL = 9,
  N = 10,
  ROWS = 11,
  T = 12,
  H = 13;
/** The places it is handed. */
const PLACES = 12;

/** @param scratched whether what places the bodies, and what records, is handed scratch */
function code(scratched: Scratched): Body {
  const out = new Bytes(256),
    get = (...locals: readonly number[]) => locals.forEach((l) => out.byte(CODE.get).unsigned(l)),
    bytes = (local: number) => {
      get(local);
      out.byte(CODE.i32).signed(3).byte(CODE.shiftLeft);
    },
    time = () => {
      bytes(TIMES);
      out.byte(CODE.loadFloat).byte(3).unsigned(0);
    },
    move = (local: number, by: () => void) => {
      get(local);
      by();
      out.byte(CODE.addWhole).byte(CODE.set).unsigned(local);
    };
  out.byte(CODE.loop).byte(0x40);
  bytes(CLOCK);
  time();
  out.byte(CODE.storeFloat).byte(3).unsigned(0);
  get(Y, Y0, POLYNOMIAL, N, N);
  time();
  get(T);
  out.byte(CODE.sub);
  get(H);
  out.byte(CODE.div).byte(CODE.call).unsigned(2);
  [0, 1].forEach((f) => {
    if (scratched[f as 0]) get(SCRATCH);
    get(KINEMATICS, OWN, Y, ROWS);
    out.byte(CODE.call).unsigned(f);
  });
  move(TIMES, () => out.byte(CODE.i32).signed(1));
  move(ROWS, () => get(STRIDE));
  get(COUNT);
  out.byte(CODE.i32).signed(-1).byte(CODE.addWhole).byte(CODE.tee).unsigned(COUNT);
  out.byte(CODE.branchIf).unsigned(0).byte(CODE.end);
  return { signature: 2, whole: 0, locals: 0, code: out };
}

/**
 * @param dense the sum that gives a state within a step
 * @param place,record a machine's code, both at work in this memory @param stride from one record to the next
 * @returns undefined where nothing can be compiled
 */
export function recordsOf(
  memory: KernelMemory,
  dense: Sum,
  place: RawKernel,
  record: RawKernel,
  places: { readonly kinematics: number; readonly own: number; readonly scratch: number; readonly clock: number; readonly stride: number },
): Records | undefined {
  if (!webAssembly || compiling.refused || !memory.compiled) return undefined;
  const scratched = scratchedOf(place, record),
    module = stepModule('records', PLACES, scratched, 1, () => code(scratched));
  if (!module) return undefined;
  const { kinematics, own, scratch, clock, stride } = places,
    functions = { a: place.code, b: record.code, s0: dense },
    run = new webAssembly.Instance(module, { e: { m: memory.compiled, ...functions } }).exports.f as (...all: number[]) => void;
  return (times, count, y, y0, polynomial, n, rows, t, h) =>
    run(kinematics, own, scratch, clock, stride, times, count, y, y0, polynomial, n, rows, t, h);
}
