import { choice, text } from '../../model/fields';
import type { Fields } from '../../model/fields';
import type { Ex } from '../../expressions/arithmetic';
import type { Graph } from '../../expressions/graph';
import { type VectorEx, norm } from '../../expressions/vectors';
import { column, type Vec3 } from '../../geometry/vector';
import type { GaugeKind, JointInfo, Sign } from '../declarations';

/** Every gauge can be shown in a unit of its own. */
const SHOWN = {
  unit: text(
    'Shown in',
    'Unit in which it is shown, such as rad/s or inch. Left out: the one that is typed for what it reads, or the usual one.',
    { optional: true },
  ),
} as const;

/** Declares a kind of gauge; the unit it is shown in is a field of all. */
export const gauge = <const F extends Fields>(k: Omit<GaugeKind<F>, 'family'>): GaugeKind<F> => ({
  family: 'gauges',
  ...k,
  fields: { ...k.fields, ...SHOWN },
});

export const COMPONENT = choice({ magnitude: 'magnitude', x: 'x', y: 'y', z: 'z' }, 'Component', 'Which part of the vector.');

/** The direction of a component in the axes it is taken in; none for the magnitude. */
export const axisOf = (component: string): { direction?: Vec3 } =>
  component === 'x'
    ? { direction: [1, 0, 0] }
    : component === 'y'
      ? { direction: [0, 1, 0] }
      : component === 'z'
        ? { direction: [0, 0, 1] }
        : {};

/** The axis of a joint, where its first side is. */
export const jointAxis = ({ sides: { a, sa, fa } }: JointInfo): Pick<Sign, 'at' | 'direction' | 'carrier'> => ({
  at: { body: a, at: sa },
  direction: column(fa, 2),
  carrier: a,
});

/** Picks a component of three numbers. */
export function part(component: string, x: number, y: number, z: number): number {
  return component === 'x' ? x : component === 'y' ? y : component === 'z' ? z : Math.sqrt(x * x + y * y + z * z);
}

/** The same of expressions. */
export const partOf = (g: Graph, component: string, v: VectorEx): Ex =>
  component === 'x' ? v[0] : component === 'y' ? v[1] : component === 'z' ? v[2] : norm(g, v);
/** One of a kind for each component. */
export const byComponent = <T>(make: (component: string) => T): Readonly<Record<string, T>> =>
  Object.fromEntries(['magnitude', 'x', 'y', 'z'].map((c) => [c, make(c)]));

/** The three numbers of a ground vector along the axes of body i. */
export function inAxes(A: Float64Array, i: number, v: Float64Array, out: Float64Array): void {
  const m = 9 * i;
  const [x, y, z] = [v[0]!, v[1]!, v[2]!];
  for (let k = 0; k < 3; k++) out[k] = A[m + k]! * x + A[m + 3 + k]! * y + A[m + 6 + k]! * z;
}
