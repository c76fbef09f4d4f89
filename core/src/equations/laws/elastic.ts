/** Springs: effort of a deflection, and the energy stored in it (zero at no deflection); linear, or by a table. */
import type { Ex } from '../../expressions/arithmetic';
import type { Graph, Outside } from '../../expressions/graph';
import type { Table } from '../../formula/table';

export interface Elastic {
  effort(g: Graph, x: Ex): Ex;
  energy(g: Graph, x: Ex): Ex;
}

/** k x + preload */
export const linear = (stiffness: Ex, preload: Ex): Elastic => ({
  effort: (g, x) => g.add(g.multiply(stiffness, x), preload),
  energy: (g, x) => g.add(g.multiply(g.multiply(g.constant(0.5), stiffness), g.square(x)), g.multiply(preload, x)),
});

const integrals = new WeakMap<Table, Outside>();
/** The integral of a table, with its value as gradient. */
function integralOf(table: Table): Outside {
  let made = integrals.get(table);
  if (!made)
    integrals.set(
      table,
      (made = {
        name: 'integral of a table',
        args: 1,
        values: 1,
        table: { of: table, order: -1 },
        at(u, at, out, to) {
          const x = u[at]!;
          out[to] = table.integral(x);
          const { f, f1 } = table.at(x);
          out[to + 1] = f;
          out[to + 2] = f1;
        },
      }),
    );
  return made;
}

/** Effort by a table of deflections, with a constant part. */
export const tabled = (table: Table, preload: Ex): Elastic => ({
  // the first derivative of its integral
  effort: (g, x) => g.add(g.call(integralOf(table), [x])[1]!, preload),
  energy: (g, x) => g.add(g.call(integralOf(table), [x])[0]!, g.multiply(preload, x)),
});

/** A law that is made for a table is made once. */
export function madeOnce<T>(make: (table: Table | undefined) => T): (table: Table | undefined) => T {
  const made = new WeakMap<object, T>(),
    none = {};
  return (table) => {
    const key = table ?? none,
      known = made.get(key) ?? make(table);
    made.set(key, known);
    return known;
  };
}
