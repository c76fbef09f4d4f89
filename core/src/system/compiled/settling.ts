/**
 * The code by which loads that follow from what constraints carry agree with that (`settle.ts`): what drives the motions beside them, and the factors, are
 * made once; each repetition makes the efforts from the multipliers, and these anew.
 */
import type { StateLayout } from '../../equations/layout';
import type { Elimination } from '../../linear/elimination';
import type { Ex } from '../../expressions/arithmetic';
import type { Store } from '../../expressions/plain';
import { type Factors, solved } from './factors';
import type { MachineEquations, StatedLoad } from './equations';
import { OWN, type Places, SETTLING } from './places';
import { type StatedState, derivative } from './stepping';

/** What of a machine bears on that. */
interface Reacting {
  readonly plan: Elimination;
  readonly places: Places;
  readonly reacting: readonly StatedLoad[];
  readonly layout: StateLayout;
  readonly further: readonly StatedState[];
}

/** What is stored at first, by each repetition and at the end. */
export interface Settling {
  readonly begin: readonly Store[];
  readonly react: readonly Store[];
  readonly finish: readonly Store[];
}

/** @param rhs right-hand side without such loads: what drives the motions, then γ */
export function settled(
  { plan, places: { own }, reacting, layout, further }: Reacting,
  equations: MachineEquations,
  { X, inverse }: Factors,
  rhs: readonly Ex[],
): Settling {
  const { g, holds } = equations,
    { efforts, does } = equations.reacting(reacting),
    behind = own.efforts + efforts.length,
    stands = (place: number, x: Ex, k: number) => (g.known(x) === undefined ? g.load(OWN, place + k) : x),
    to = (place: number, x: Ex, k = 0): Store => ({ base: OWN, offset: place + k, x }),
    sizes = (list: readonly Ex[]) => list.reduce((most, x) => g.most(most, g.size(x)), g.zero),
    solves = (k: number) => !holds(k) && plan.solves(k);
  const changes = efforts.map((x, k) => g.subtract(x, g.load(OWN, own.efforts + k))),
    part = g.load(OWN, behind + SETTLING.part),
    now = changes.map((d, k) => g.add(g.load(OWN, own.efforts + k), g.multiply(part, d))),
    { pushes } = does(now),
    solution = solved(
      g,
      plan,
      { X: X.map((x, k) => stands(own.X, x, k)), inverse: inverse.map((x, k) => stands(own.inverse, x, k)) },
      rhs.map((x, k) => (k < 6 * plan.bodies && !holds(k) ? g.add(stands(own.x, x, k), pushes[k]!) : stands(own.x, x, k))),
      { G: (e) => stands(own.G, equations.G[e]!, e), mass: (row) => g.load(OWN, own.weights + row) },
    );
  const { powers } = does(efforts.map((_, k) => g.load(OWN, own.efforts + k))),
    found = rhs.map((_, k) => (solves(k) ? g.load(OWN, own.solution + k) : g.zero));
  return {
    begin: [
      ...rhs.flatMap((x, k) => (g.known(x) === undefined ? [to(own.x, x, k)] : [])),
      ...efforts.map((_, k) => to(own.efforts, g.zero, k)),
      to(behind, sizes(rhs.slice(0, plan.motions)), SETTLING.scale),
    ],
    react: [
      ...now.map((x, k) => to(own.efforts, x, k)),
      to(behind, sizes(changes), SETTLING.change),
      to(behind, g.most(g.load(OWN, behind + SETTLING.scale), sizes(now)), SETTLING.scale),
      ...solution.flatMap((x, k) => (solves(k) ? [to(own.solution, x, k)] : [])),
    ],
    finish: [...[...powers].map(([which, x]) => to(own.powers, x, which)), ...derivative(equations, layout, found, powers, further)],
  };
}
