/** All equilibria of a machine: of one with a single freedom by following that all the way round, else from many postures. */
import { type Diagnosis, Refusal } from '../diagnosis';
import { KIND } from '../equations/layout';
import type { Mechanism } from '../system/mechanism';
import { along } from './along';
import { assemble, frictionless } from './assemble';
import { provedField } from './proof/field';
import { provedLoops } from './proof/loops';
import { provedWay } from './proof/way';
import { extent, freedomCount, massTimes, move, numbersFrom } from './reduced';
import { type Equilibrium, balance, equilibrium } from './statics';
import { searched } from './two-ways';
import { howFar, reachesOf, shapesOf, waysOf } from './ways';

export interface Equilibria {
  list: Equilibrium[];
  /** Whether it is proved that there are no others, as far as was looked. */
  complete: boolean;
  diagnoses: Diagnosis[];
}

/** All of them, to the end. */
export function equilibria(m: Mechanism, t = 0, starts = 12): Equilibria {
  const steps = soughtEquilibria(m, t, starts);
  for (let step = steps.next(); ; step = steps.next()) if (step.done) return step.value;
}

/**
 * With one degree of freedom every place along it where what pushes it vanishes, and with up to three, led by joint coordinates or in a loop, all that there
 * are, with proof where that can be had; else those of two coordinates that a grid of both shows, or those reached from the assembled posture and from others
 * round about, stable ones by settling, unstable ones by Newton's method. Sorted by energy.
 * @param starts number of further starts @yields how far it has come, from 0 to 1
 */
export function* soughtEquilibria(m: Mechanism, t: number, starts: number): Generator<number, Equilibria, void> {
  const { system } = m,
    { K } = system,
    { y } = assemble(m),
    found: Equilibrium[] = [],
    take = (e: Equilibrium) => {
      if (!found.some((f) => same(m, f, e))) found.push(e);
    };
  K.load(y);
  let first: unknown;
  try {
    take(equilibrium(m, t));
  } catch (e) {
    if (!(e instanceof Refusal)) throw e;
    first = e;
  }
  K.load(y);
  K.rest();
  system.standing(true);
  system.linearise();
  system.projectPositions(t);
  K.store(y);
  frictionless(m);
  const d = freedomCount(system),
    attempt = (newton: boolean) => {
      try {
        take({ ...balance(m, t, newton), held: [], slipped: [], rubbing: [] });
      } catch (e) {
        if (!(e instanceof Refusal)) throw e;
      }
    };
  let looked: Looked | undefined = { proved: true };
  if (d === 1) looked = yield* inOneWay(m, t, y, found, attempt);
  else if (d > 1) {
    const told = d <= PROVED ? yield* inSeveralWays(m, t, y, d, found, attempt) : undefined;
    looked = typeof told === 'object' ? told : fromAround(m, t, y, d, starts, attempt, told);
  }
  const { proved, note } = looked;
  if (found.length === 0 && proved && note)
    throw new Refusal([
      {
        code: 'equilibria-none',
        severity: 'error',
        message: `There is no equilibrium ${looked.where}: proved by interval arithmetic.`,
        ...(first instanceof Refusal ? { why: first.diagnoses[0]!.message } : {}),
      },
    ]);
  if (found.length === 0 && first) throw first;
  return { list: found.sort((a, b) => a.energy - b.energy), complete: proved, diagnoses: note ? [note] : [] };
}

/** What is to be said of how completely was looked. */
interface Looked {
  readonly proved: boolean;
  readonly note?: Diagnosis;
  /** How far it is proved. */
  readonly where?: string;
}
const some = (message: string): Looked => ({ proved: false, note: { code: 'equilibria-some', severity: 'note', message } });
/** @param where how far was looked */
const all = (where: string): Looked => ({
  ...{ proved: true, where },
  note: { code: 'equilibria-all', severity: 'note', message: `These are all there are ${where}: proved by interval arithmetic.` },
});

/**
 * Along the only freedom: proved where that can be done, else by small steps.
 * @param found so far; `attempt` adds to it
 */
function* inOneWay(
  m: Mechanism,
  t: number,
  y: Float64Array,
  found: readonly Equilibrium[],
  attempt: (newton: boolean) => void,
): Generator<number, Looked, void> {
  const { K } = m.system,
    way = yield* provedWay(m, t, y),
    from = (starts: readonly Float64Array[]) => {
      for (const start of starts) {
        K.load(start);
        attempt(true);
      }
    };
  if (typeof way !== 'string') {
    from(way.zeros.map((z) => z.start));
    const missing = way.zeros.filter((z) =>
      found.every((e) => {
        K.load(e.y);
        return !z.holds();
      }),
    ).length;
    return missing === 0
      ? all(way.how)
      : some(`There are ${way.zeros.length} ${way.how}: proved by interval arithmetic. Of ${missing} it cannot be told where exactly.`);
  }
  const steps = along(m, t, y);
  from(steps.near);
  // on the way round pushes forward and back change places as often one way as the other
  const single = found.filter((e) => e.neutral.length === 0 && e.held.length === 0),
    uneven = steps.round && single.length === found.length && 2 * single.filter((e) => e.stable).length !== single.length,
    message = uneven
      ? 'There may be others: on the way round there are as many stable ones as unstable ones, unless what pushes it jumps.'
      : `No others show ${steps.how} in small steps; that there are none is not proved: ${way}.`;
  return some(message);
}

/** Freedoms up to which it is tried to prove that all were found. */
const PROVED = 3;

/**
 * Of a few joint coordinates: proved where that can be done, else two by a grid of postures.
 * @param d how many @param found so far; `attempt` adds to it @returns why nothing can be said, where that is so
 */
function* inSeveralWays(
  m: Mechanism,
  t: number,
  y: Float64Array,
  d: number,
  found: readonly Equilibrium[],
  attempt: (newton: boolean) => void,
): Generator<number, Looked | string, void> {
  const { K } = m.system,
    ways = waysOf(m, d),
    shapes = ways && shapesOf(m, ways);
  if (m.assembly.forces.some(({ force }) => force.sticks)) return 'what sticks holds it in more than single postures';
  if (!ways || !shapes) {
    const told = yield* provedLoops(m, t, d, found, () => attempt(true));
    return typeof told === 'string' ? told : all(`for ${told.how}`);
  }
  const reaches = reachesOf(m, ways),
    how = howFar(m, reaches),
    why = yield* provedField(m, t, reaches, shapes, found, () => attempt(true));
  if (why === undefined) return all(`for ${how}`);
  for (const again of d === 2 ? [false, true] : []) {
    const s = searched(m, t, y, reaches, again);
    if (!s) return why;
    for (const start of s.starts) {
      K.load(start);
      attempt(true);
    }
    let sum: number | undefined = 0;
    for (const e of found) {
      K.load(e.y);
      const index = s.index();
      sum = index === undefined || sum === undefined ? undefined : sum + index;
    }
    if (sum !== undefined && sum === s.total) {
      return some(`No others show on a grid of ${how}, and the indices of these add up to ${sum}, as they must; it is not proved: ${why}.`);
    }
  }
  return why;
}

/** Freedoms up to which as many starts as are asked for are made, and starts beyond. */
const MANY = 60;
const FEW = 3;

/**
 * From postures at the end of walks of small steps in a direction that joints allow, up to about half a turn.
 * @param why it is not proved that these are all
 */
function fromAround(
  m: Mechanism,
  t: number,
  y: Float64Array,
  d: number,
  starts: number,
  attempt: (newton: boolean) => void,
  why: string | undefined,
): Looked {
  const { system } = m,
    { K, motions, rows } = system,
    tried = d > MANY ? Math.min(FEW, starts) : starts;
  const random = numbersFrom(7);
  for (let s = 0; s < tried; s++) {
    K.load(y);
    K.rest();
    system.linearise();
    const way = Float64Array.from({ length: motions }, (_, i) => random() * (i % 6 < 3 ? m.size : 1)),
      step = new Float64Array(motions + rows);
    for (let k = 0; k < 8 + (s % 4) * 4; k++) {
      step.fill(0);
      massTimes(system, way, step.subarray(0, motions));
      system.solve(step);
      const turn = extent(system, step, m.size);
      if (!(turn > 0) || move(m, step.subarray(0, motions), 0.2 / turn, t) > 1e-8) break;
      system.linearise();
    }
    frictionless(m);
    attempt(s % 2 === 1);
  }
  const unproved = why ? `; it is not proved that there are none: ${why}` : '';
  return some(
    `There may be others: the machine has ${d} degrees of freedom, and was let go from ${tried + 1} posture${tried > 0 ? 's' : ''}${unproved}.`,
  );
}

function same(m: Mechanism, f: Equilibrium, e: Equilibrium): boolean {
  const { layout } = m.system.K;
  if (
    f.neutral.length > 0 &&
    e.neutral.length === f.neutral.length &&
    f.stable === e.stable &&
    Math.abs(f.energy - e.energy) < 1e-6 * (Math.abs(e.energy) + 1e-9)
  )
    return true;
  return f.y
    .subarray(0, layout.motions)
    .every(
      (x, i) =>
        Math.abs(x - e.y[i]!) < 1e-5 * (layout.kind[i] === KIND.place ? m.size : 1) ||
        (layout.kind[i] === KIND.turn && sameTurn(f.y, e.y, layout.turn[layout.body[i]!]!)),
    );
}

/** Whether two unit quaternions are one turn: a quaternion and its opposite are. @param p where both begin */
function sameTurn(a: Float64Array, b: Float64Array, p: number): boolean {
  let s = 0;
  for (let k = 0; k < 4; k++) s += a[p + k]! * b[p + k]!;
  return Math.abs(s) > 1 - 1e-9;
}
