/** A joint coordinate as a value: by the equation that could drive it. */
import type { Ex } from '../expressions/arithmetic';
import { Direction } from '../expressions/derivative';
import type { Graph } from '../expressions/graph';
import { TWO_PI } from '../quantity/elementary';
import type { Freedom } from './freedom';
import { moving } from './stated/body';
import { type Elementary, named } from './stated/elementary';
import type { StatedReading, ValueLaw } from './values';

/** What whole turns add to an angle. @param counter its integrated rate, which says which turn it is */
export function wholeTurns(g: Graph, angle: Ex, counter: Ex): Ex {
  const turn = g.constant(TWO_PI);
  return g.multiply(turn, g.apply('floor', g.add(g.divide(g.subtract(counter, angle), turn), g.constant(0.5))));
}

type Of = 'value' | 'turned' | 'rate';
const laws = new WeakMap<Elementary, Partial<Record<Of, ValueLaw>>>();
function lawOf(e: Elementary, of: Of): ValueLaw {
  const known = laws.get(e) ?? {};
  laws.set(e, known);
  return (known[of] ??= {
    name: `${e.name}, ${of}`,
    bodies: 2,
    numbers: Object.values(e.numbers).reduce((s, kind) => s + (kind === 'vector' ? 3 : 1), 0),
    of(g, [a, b], n, counter) {
      let k = 0;
      const phi = e.phi(g, a!, b!, named(e.numbers, () => n[k++]!) as never, g.zero)[0]!;
      if (of === 'rate') return new Direction(g, new Map([...moving(g, a!, a!.v, a!.w), ...moving(g, b!, b!.v, b!.w)])).of(phi);
      return of === 'turned' ? g.add(phi, wholeTurns(g, phi, counter)) : phi;
    },
  });
}

/** @param counter counts its whole turns, where that matters @returns undefined where it is no expression */
export function measured({ equation }: Freedom, of: 'value' | 'rate', counter?: { readonly first: number }): StatedReading | undefined {
  const { statement, a, b } = equation;
  if (!statement) return undefined;
  const law = lawOf(statement.equation, of === 'value' && counter ? 'turned' : of);
  return { law, bodies: [a, b], numbers: Array.from(statement.values), ...(counter ? { counter } : {}) };
}
