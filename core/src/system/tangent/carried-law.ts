/** What follows from what constraints carry, as an expression of one instance, with their rows as expressions of the bodies. */
import type { CarriedRow, FromCarried } from '../../equations/laws/stated-force';
import { numbersAt } from '../../equations/stated/elementary';
import type { Ex } from '../../expressions/arithmetic';
import { lawNumber } from '../compiled/law-number';
import type { Statement } from '../compiled/equations';
import { along } from './pieces';
import type { Instance } from '../looped/instance';

/** Where the numbers of a machine lie that this reads. */
export interface Carries {
  readonly statements: readonly Statement[];
  /** How many bodies it has beside the ground. */
  readonly bodies: number;
  /** Where the numbers of constraints begin, and G. */
  readonly numbers: number;
  readonly G: number;
  /** What a row carries. */
  multiplier(i: Instance, row: number): Ex;
}

/** @param at where the numbers of the law begin */
export function carriedLaw(
  i: Instance,
  { law, constraints, bodies, numbers }: FromCarried,
  at: number,
  m: Carries,
): { key: unknown; x: () => readonly Ex[] } {
  const { g } = i,
    nth = bodies.map((b) => i.nth(b)),
    own = i.base(at),
    rows = constraints.map((c) => {
      const s = m.statements.find((x) => x.constraint === c),
        multipliers = Array.from({ length: c.rows }, (_, k) => m.multiplier(i, c.row + k)),
        ends = [i.nth(c.a), i.nth(c.b)],
        from = i.base(s ? m.numbers + s.numbers : m.G + 12 * c.row);
      const x = (): CarriedRow[] => {
        const list = s
          ? s.equation.phi(g, i.body(c.a), i.body(c.b), numbersAt(g, s.equation.numbers, from, 0) as never, g.zero)
          : undefined;
        return multipliers.map((multiplier, k) => ({
          multiplier,
          row: Array.from({ length: 12 }, (_, e) => {
            const b = e < 6 ? c.a : c.b;
            if (!list) return g.load(from, 12 * k + e);
            return b >= m.bodies ? g.zero : along(g, i.body(b), e % 6).of(list[k]!);
          }),
        }));
      };
      return { key: [s?.equation.name ?? 'rows', ends, c.a < m.bodies, c.b < m.bodies], x };
    });
  return {
    key: [lawNumber(law), nth, rows.map((r) => r.key)],
    x: () =>
      law.of(
        g,
        bodies.map((b) => i.body(b)),
        numbers.map((_, k) => g.load(own, k)),
        rows.flatMap((r) => r.x()),
        bodies.map((b) => b >= m.bodies),
      ),
  };
}
