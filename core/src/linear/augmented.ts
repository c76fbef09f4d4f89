/**
 * Bodies with next to no inertia about some axis. With a weight S to each of their rows, [M + GᵀSG Gᵀ; G 0] has the accelerations of [M Gᵀ; G 0] (G u̇ = γ
 * whatever S), and multipliers less by S γ; and its leading block is positive definite wherever no free direction is left without inertia
 * (the augmented Lagrangian; Benzi, Golub, Liesen, Acta Numerica 14, 2005, sec. 3.5).
 */
import type { OwnBodies } from '../equations/coordinates/own';
import type { Entry, Product } from './pattern';

/**
 * Least moment of inertia, beside mass times the square of the machine's size, below which a body is augmented; unless it is that large beside the largest
 * moment of a body about one of its joints: parts of a long machine are not light for their machine's length.
 */
const LIGHT = 1e-8;
/** The same beside its largest moment. */
const FLAT = 1e-12;
/** Mass, beside that of the heaviest body: below it the pivots of loops with such bodies would look as if they were singular. */
const HEAVIEST = 1e-5;

/** Largest moment of a body about the farthest of its places, kg m². @param reach how far that is from its centre of mass, m */
export function largestMoment(masses: Float64Array, inertias: Float64Array, reach: Float64Array): number {
  return masses.reduce(
    (most, m, b) => Math.max(most, Math.max(inertias[9 * b]!, inertias[9 * b + 4]!, inertias[9 * b + 8]!) + m * reach[b]! * reach[b]!),
    0,
  );
}

/** Bodies that have next to no inertia about some axis, or next to no mass. @param size of the machine, m @param largest moment of a body about its joints */
export function lightBodies(masses: Float64Array, inertias: Float64Array, size: number, largest: number): number[] {
  const heaviest = masses.reduce((a, b) => Math.max(a, b), 0);
  return [...masses.keys()].filter((b) => {
    const I = (k: number) => inertias[9 * b + k]!,
      most = Math.max(I(0), I(4), I(8));
    const det = I(0) * (I(4) * I(8) - I(5) * I(5)) - I(1) * (I(1) * I(8) - I(5) * I(2)) + I(2) * (I(1) * I(5) - I(4) * I(2)),
      least = det / (most * most);
    return !(masses[b]! > HEAVIEST * heaviest && least > LIGHT * Math.min(masses[b]! * size * size, largest) && least > FLAT * most);
  });
}

/** What rows that touch such bodies add to M. */
export function productsOf(entries: readonly Entry[], own: OwnBodies, light: readonly number[]): Product[] {
  if (light.length === 0) return [];
  const some = new Set(light.flatMap((b) => own.velocitiesOf(b))),
    byRow = new Map<number, Entry[]>();
  for (const e of entries) byRow.set(e.row, [...(byRow.get(e.row) ?? []), e]);
  const touches = ({ variable }: Entry): boolean => some.has(variable);
  return [...byRow].flatMap(([row, list]) =>
    list.some(touches)
      ? list.flatMap((a) =>
          // of two variables once; of one and the same each pair of entries, both ways
          list
            .filter((b) => a.variable >= b.variable)
            .map((b): Product => ({ row, first: a.entry, second: b.entry, of: [a.variable, b.variable] })),
        )
      : [],
  );
}
