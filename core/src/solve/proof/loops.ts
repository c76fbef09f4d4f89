/** All equilibria of a machine whose joints close loops, in whatever way these are put together, with proof (`loop.ts`). */
import type { Mechanism } from '../../system/mechanism';
import { notBounded } from '../../system/tangent/equation-bounds';
import { anyMotion, extent, freedomCount, move, numbersFrom } from '../reduced';
import { type Reach, howFar, reachesOf, shapesOf, waysOf } from '../ways';
import { Cells } from './cells';
import { Field, unproved } from './field';
import { Loop } from './loop';
import { OTHERWISE } from './why';

/** Part of the residual at most to which loops close; postures in which it is looked whether the same rows hold what others do; a step to the next. */
const CLOSES = 1e-8;
const POSTURES = 12;
const STEP = 0.3;
/** Operations, in parts of those for joints that close no loop. */
const MORE = 15;

/**
 * From the posture in K, on the constraints and at rest. @param freedoms how many it has
 * @param find looks for an equilibrium next to the posture in K @param found those found so far
 * @yields how far it has come, from 0 to 1 @returns how far was looked, in words; or why it is not proved that there are no others than those found
 */
export function* provedLoops(
  m: Mechanism,
  t: number,
  freedoms: number,
  found: readonly { readonly y: Float64Array }[],
  find: () => void,
): Generator<number, { readonly how: string } | string, void> {
  const { system } = m,
    y = new Float64Array(system.size);
  system.K.store(y);
  let open: ((on: boolean) => void) | undefined;
  try {
    const opened = opening(m, t, freedoms);
    if (typeof opened === 'string') return opened;
    const { loop, reaches } = opened,
      next = () => {
        opened.open(false);
        system.linearise();
        if (system.projectPositions(t) < CLOSES) find();
        opened.open(true);
      },
      field = new Field(m, reaches, loop.tree, loop, MORE);
    ({ open } = opened);
    const why = yield* new Cells(field, system.K, { found, find: next }).search(field.whole());
    return why ?? { how: `${howFar(m, reaches)}, in whatever way its loops are put together` };
  } catch (e) {
    return unproved(e);
  } finally {
    open?.(false);
    system.K.load(y);
    system.linearise();
  }
}

/** A machine whose loops are open, and can be closed and opened again. */
interface Opened {
  readonly loop: Loop;
  readonly reaches: readonly Reach[];
  readonly open: (on: boolean) => void;
}
/**
 * Opens all loops, in the posture in K. @param freedoms how many the machine has
 * @returns why that cannot be done, where that is so: then they stay closed @throws Unproved where joints do not leave screws
 */
export function opening(m: Mechanism, t: number, freedoms: number): Opened | string {
  const { system } = m,
    { K, ldlt, groups } = system,
    { closing } = ldlt.plan.order,
    joints = groups.filter((g, i) => g.family === 'joints' && closing[i]),
    // what drives one of these goes with it
    drives = groups.filter((g) => g.family === 'drives' && g.after?.some((k) => joints.includes(groups[k]!))),
    opened = [...joints, ...drives].flatMap((g) => g.constraints).filter((c) => c.holds),
    all = opened.flatMap((c) => Array.from({ length: c.rows }, (_, k) => c.row + k)),
    why = notBounded(system, (row) => all.includes(row)),
    y = new Float64Array(system.size),
    open = (on: boolean) => opened.forEach((c) => system.hold(c, !on));
  if (why !== undefined) return why;
  if (groups.some((g, i) => g.family === 'couplings' && closing[i])) return 'joints are coupled';
  K.store(y);
  const rows = holding(m, t, all);
  K.load(y);
  if (!rows) return OTHERWISE;
  open(true);
  let done: Opened | string | undefined;
  try {
    done = made(
      m,
      t,
      freedoms,
      joints.map((g) => g.name),
      rows,
      open,
    );
    return done;
  } finally {
    if (typeof done !== 'object') open(false);
  }
}
function made(
  m: Mechanism,
  t: number,
  freedoms: number,
  joints: readonly string[],
  rows: readonly number[],
  open: (on: boolean) => void,
): Opened | string {
  const n = freedomCount(m.system),
    ways = waysOf(m, n, joints),
    shapes = ways && shapesOf(m, ways);
  if (!ways || !shapes) return 'other coordinates than those of joints lead it';
  if (n !== freedoms + rows.length) return OTHERWISE;
  const reaches = reachesOf(m, ways),
    loop = new Loop(m, t, reaches, shapes, rows),
    counts = m.counters.some((c) => c.states > 0 && !ways.includes(c.freedom) && loop.tree.bounds.reads(c.first));
  return counts ? 'it counts how often a joint turns that closes a loop' : { loop, reaches, open };
}

/** Which rows hold what no others do: the same ones wherever it is looked, else undefined. @param rows those that close loops */
function holding(m: Mechanism, t: number, rows: readonly number[]): readonly number[] | undefined {
  const { system, size } = m,
    random = numbersFrom(3),
    y = new Float64Array(system.size);
  system.K.store(y);
  let out: readonly number[] | undefined;
  for (let k = 0; k < POSTURES; k++) {
    system.linearise();
    const here = rows.filter((r) => !system.ldlt.redundant[r]);
    if (out && here.join() !== out.join()) return undefined;
    out = here;
    const way = anyMotion(m, random),
      far = extent(system, way, size);
    if (!(far > 0)) break;
    // where it cannot go on so, from the beginning another way
    if (!(move(m, way, STEP / far, t) < CLOSES)) system.K.load(y);
  }
  return out;
}
