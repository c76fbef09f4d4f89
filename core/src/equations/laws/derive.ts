/** What a load gives, derived from what it does: six numbers that push each body, its power, and what it tells. */
import type { Ex } from '../../expressions/arithmetic';
import { Direction } from '../../expressions/derivative';
import { Graph, OP } from '../../expressions/graph';
import type { VectorEx } from '../../expressions/vectors';
import { BODY_BASES, type BodyEx, bodyAt, moving } from '../stated/body';
import { numbersAt } from '../stated/elementary';
import type { Does, ForceLaw } from './law';

const UNIT = [0, 1, 2].map((k) => [0, 1, 2].map((j) => (j === k ? 1 : 0)));

/** Six numbers that push each body. @param all bodies of the law @param moves whether one of the six velocities of a body can differ from zero */
export function pushesOf(
  g: Graph,
  { works = [], potential, dissipation }: Does,
  all: readonly BodyEx[],
  moves?: (body: number, k: number) => boolean,
): Ex[][] {
  const still: VectorEx = [g.zero, g.zero, g.zero],
    unit = (k: number) => UNIT[k]!.map((x) => g.constant(x)) as unknown as VectorEx;
  return all.map((body, i) =>
    Array.from({ length: 6 }, (_, k) => {
      const u = k < 3 ? body.v[k]! : body.w[k - 3]!;
      // what cannot move, and the ground, is pushed by nothing that counts
      if (moves && !moves(i, k)) return g.zero;
      const byVelocity = new Direction(g, new Map([[u, g.one]]));
      let push = works.reduce((sum, [effort, rate]) => g.add(sum, g.multiply(effort, byVelocity.of(rate))), g.zero);
      if (dissipation !== undefined) push = g.subtract(push, byVelocity.of(dissipation));
      if (potential !== undefined) {
        const along = new Direction(g, new Map(moving(g, body, k < 3 ? unit(k) : still, k < 3 ? still : unit(k - 3))));
        push = g.subtract(push, along.of(potential));
      }
      return push;
    }),
  );
}

/** Power of what pushes bodies, W. */
export const powerOf = (g: Graph, pushes: readonly (readonly Ex[])[], all: readonly BodyEx[]): Ex =>
  pushes.reduce((sum, p, i) => [...all[i]!.v, ...all[i]!.w].reduce((s, u, k) => g.add(s, g.multiply(p[k]!, u)), sum), g.zero);

/** Where a law stated alone reads and writes: four bases to each body, then its numbers, its inputs, and what it writes. */
export const basesOf = ({ bodies }: ForceLaw) => {
  const numbers = BODY_BASES * bodies;
  return { numbers, inputs: numbers + 1, out: numbers + 2, count: numbers + 3 };
};

export interface DerivedForce {
  readonly g: Graph;
  readonly bodies: readonly BodyEx[];
  /** Six to each body. */
  readonly pushes: readonly (readonly Ex[])[];
  readonly stored: Ex;
  readonly corners: readonly Ex[];
  readonly effort: readonly Ex[];
  readonly deflection: readonly Ex[];
  readonly rate: readonly Ex[];
  /** Whether what it gives has no corners: however long a step, its error shows all of it. */
  readonly smooth: boolean;
  /** How many works it consists of. */
  readonly works: number;
}

/** A law by itself. */
export function deriveForce(law: ForceLaw): DerivedForce {
  const g = new Graph(),
    at = basesOf(law),
    bodies = Array.from({ length: law.bodies }, (_, i) => bodyAt(g, BODY_BASES * i)),
    inputs = Array.from({ length: law.inputs }, (_, i) => g.load(at.inputs, i)),
    does = law.does(g, bodies, numbersAt(g, law.numbers, at.numbers, 0) as never, inputs),
    pushes = pushesOf(g, does, bodies),
    told = does.tells?.(pushes) ?? {};
  return {
    g,
    bodies,
    pushes,
    stored: does.potential ?? does.stored ?? g.zero,
    corners: does.corners ?? [],
    effort: told.effort ?? [],
    deflection: told.deflection ?? [],
    rate: told.rate ?? [],
    works: does.works?.length ?? 0,
    smooth: !g.needed(pushes.flat()).some((x) => ROUGH.has(g.op[x]!) && !onlyAtNothing(g, x)),
  };
}

/** Whether a choice is between what holds at a length of 0 and what holds at all others: a length is never below, so that it has no corner. */
function onlyAtNothing(g: Graph, x: Ex): boolean {
  if (g.op[x] !== OP.choose) return false;
  const [below, length] = g.operands(g.a[x]!);
  return below === g.zero && g.op[length!] === OP.root;
}

/** What can have corners. */
const ROUGH = new Set<number>([OP.choose, OP.least, OP.most, OP.size, OP.output]);
