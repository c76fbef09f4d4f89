/** Coordinates of joints that lead a machine: which they are, how far each is looked at, and the motions that they stand for. */
import { Matrix, inverse } from 'ml-matrix';
import type { Freedom } from '../equations/freedom';
import { TWO_PI } from '../quantity/elementary';
import type { Mechanism } from '../system/mechanism';
import { combine, freeBasis, freedomCount } from './reduced';

/** How far a slide is followed to each side, in parts of the machine's size; how far a turn that is counted, rad. */
const SLIDES = 3;
const TURNS = TWO_PI;
/** Part of a motion by which a coordinate moves with it. */
const MOVES = 1e-9;

/** How far to each side of the posture at hand a coordinate is looked at; whether it comes round. */
export interface Reach {
  readonly freedom: Freedom;
  readonly far: number;
  readonly round: boolean;
}

/**
 * So many joint coordinates that lead a machine; undefined where others do, or joints close a loop. The machine stands assembled.
 * @param opened joints that do not hold
 */
export function waysOf(m: Mechanism, count: number, opened: readonly string[] = []): readonly Freedom[] | undefined {
  const { system } = m,
    joints = m.joints.filter((j) => !opened.includes(j.name)),
    { order } = system.ldlt.plan,
    closes = system.groups.some(
      (g, i) => (g.family === 'joints' || g.family === 'couplings') && order.closing[i] && !opened.includes(g.name),
    );
  if (closes || system.own.list.length > 0) return undefined;
  const basis = freeBasis(system, freedomCount(system)),
    all = joints.flatMap((j) => [...j.freedoms.values()]),
    // those that are not held by drives
    free = all.filter((f) => basis.some((u) => Math.abs(rateOf(m, f, u)) > MOVES * Math.sqrt(u.reduce((s, x) => s + x * x, 0)))),
    leaves = joints.reduce((s, j) => s + (free.some((f) => j.freedoms.get(f.type) === f) ? j.kind.leaves : 0), 0);
  // joints that leave more than coordinates tell of are none that could be followed by these
  return free.length === count && leaves === count ? free : undefined;
}

function rateOf({ system: { bodies, K } }: Mechanism, f: Freedom, u: Float64Array): number {
  const row = f.row(K),
    [a, b] = f.bodies;
  let s = 0;
  for (let k = 0; k < 6; k++) s += (a < bodies ? row[k]! * u[6 * a + k]! : 0) + (b < bodies ? row[6 + k]! * u[6 * b + k]! : 0);
  return s;
}

/** Motions in which one coordinate moves by 1 in a second, and the others not; undefined where these do not lead. The system is linearised. */
export function shapesOf(m: Mechanism, ways: readonly Freedom[]): readonly Float64Array[] | undefined {
  const { system } = m,
    n = ways.length;
  if (freedomCount(system) !== n) return undefined;
  const basis = freeBasis(system, n),
    rates = new Matrix(ways.map((f) => basis.map((u) => rateOf(m, f, u))));
  try {
    const by = inverse(rates);
    return by.to1DArray().every(Number.isFinite)
      ? ways.map((_, k) => combine(basis, by.getColumn(k), new Float64Array(system.motions)))
      : undefined;
  } catch {
    return undefined; // singular
  }
}

/** How far they are looked at: all the way round where nothing counts their turns. */
export const reachesOf = (m: Mechanism, ways: readonly Freedom[]): readonly Reach[] =>
  ways.map((freedom) => {
    const turns = freedom.type === 'rotation',
      counted = m.counters.some((c) => c.states > 0 && c.freedom === freedom);
    return { freedom, far: !turns ? SLIDES * m.size : counted ? TURNS : 0.5 * TWO_PI, round: turns && !counted };
  });
/** In words. */
export function howFar(m: Mechanism, reaches: readonly Reach[]): string {
  const far = ({ freedom, round }: Reach) =>
      round ? 'all the way round' : freedom.type === 'rotation' ? 'a turn each way' : `${SLIDES} times the size of the machine each way`,
    name = ({ freedom }: Reach) => m.joints.find((x) => x.freedoms.get(freedom.type) === freedom)?.name ?? '',
    words = [...new Set(reaches.map(far))];
  return listed(words.map((w) => `${listed(reaches.filter((r) => far(r) === w).map(name))} (${w})`));
}
const listed = (list: readonly string[]): string => [list.slice(0, -1).join(', '), list.at(-1)!].filter((x) => x !== '').join(' and ');
