/** Loads and courses of a machine, each as expressions of one instance: what they read there, and by which it is known that two are of one kind. */
import { powerOf, pushesOf } from '../../equations/laws/derive';
import type { BodyEx } from '../../equations/stated/body';
import { numbersAt } from '../../equations/stated/elementary';
import { type StatedValue, isFormula, numbersOf } from '../../equations/values';
import type { Ex } from '../../expressions/arithmetic';
import { formulaIn, shapeOfFormula } from '../../formula/formula-in';
import { Direction } from '../../expressions/derivative';
import type { Store } from '../../expressions/plain';
import type { FromCarried } from '../../equations/laws/stated-force';
import { lawNumber } from '../compiled/law-number';
import type { Followed, StatedLoad } from '../compiled/equations';
import type { Instance } from './instance';
import type { Site } from '../compiled/site';

/** Something of which the expression is made only where it is the first of its kind. */
interface Made<X> {
  readonly key: unknown;
  readonly x: X;
}
/** What follows from what constraints carry. */
export type Carrying = (i: Instance, of: FromCarried, numbers: number) => Made<() => readonly Ex[]>;

/** What a load gives at one of the places where it acts. */
export interface Given {
  /** The bodies that it pushes, each once, with six numbers each. */
  readonly bodies: readonly BodyEx[];
  readonly pushes: readonly (readonly Ex[])[];
}

export class Expressed {
  /** @param carrying left out: loads that follow from what constraints carry are not asked for */
  constructor(
    private readonly site: Site,
    private readonly carrying?: Carrying,
  ) {}

  place(key: keyof Site['own']): number {
    return this.site.from + this.site.own[key];
  }
  /** Time as formulas see it. */
  time(i: Instance): Ex {
    const { g } = i,
      clock = i.base(this.place('clock'));
    return g.most(g.load(clock, 1), g.least(g.load(clock, 0), g.load(clock, 2)));
  }

  /** What a course says, and how its states change. */
  course(i: Instance, { at }: Followed, { course, law, numbers }: NonNullable<Followed['stated']>): Made<() => Store[]> {
    const { g } = i,
      t = this.time(i),
      from = i.base(this.place('values') + numbers),
      own = i.base(this.place('courses') + at),
      z = i.base(this.site.at.z + course.first),
      rates = i.base(this.place('stateRates') + course.first);
    const x = (): Store[] => {
      const byTime = new Direction(g, new Map([[t, g.one]])),
        p = formulaIn(
          g,
          law,
          t,
          (k) => g.load(from, k),
          () => g.zero,
        ),
        rate = byTime.of(p),
        states = Array.from({ length: course.states }, (_, k) => g.load(z, k)),
        told = course.stated.of(g, [p, rate, byTime.of(rate)], states, g.load(own, 3));
      return [
        ...told.follows.map((y, offset) => ({ base: own, offset, x: y })),
        ...told.rates.map((y, offset) => ({ base: rates, offset, x: y })),
      ];
    };
    return { key: `course ${lawNumber(course.stated.of)} ${shapeOfFormula(law)}`, x };
  }

  /** A value of posture, motion and time. @param at where its numbers begin */
  value(i: Instance, v: StatedValue, at: number): Made<() => Ex> {
    if (isFormula(v)) {
      const t = this.time(i),
        from = i.base(at);
      let next = at + v.formula.numbers.length;
      const inputs = v.inputs.map((input) => {
        const made = this.value(i, input, next);
        next += numbersOf(input).length;
        return made;
      });
      return {
        key: [shapeOfFormula(v.formula), inputs.map((x) => x.key)],
        x: () =>
          formulaIn(
            i.g,
            v.formula,
            t,
            (k) => i.g.load(from, k),
            (k) => inputs[k]!.x(),
          ),
      };
    }
    const { law, bodies, numbers, counter } = v,
      nth = bodies.map((b) => i.nth(b)),
      from = i.base(at),
      turns = counter ? i.number(this.site.at.z + counter.first) : i.g.zero;
    return {
      key: [lawNumber(law), nth, counter !== undefined],
      x: () =>
        law.of(
          i.g,
          bodies.map((b) => i.body(b)),
          numbers.map((_, k) => i.g.load(from, k)),
          turns,
        ),
    };
  }

  /** A load at one of the places where it acts. @param numbers where those of this place lie @param beside is added to the last value that it takes in */
  load(i: Instance, { force, inputs, values }: StatedLoad, bodies: readonly number[], numbers: number, beside?: Ex): Made<() => Given> {
    const { site } = this,
      { law } = force,
      { g } = i,
      all = [...new Set(bodies)],
      nth = bodies.map((b) => i.nth(b)),
      own = i.base(numbers);
    let at = site.from + inputs;
    const taken = force.inputs.map((input, k): Made<(told: object, known: readonly BodyEx[]) => readonly Ex[]> => {
      const place = at,
        beside = this.place('values') + (values[k] ?? 0);
      at += input.count;
      if (input.stated) {
        const made = this.value(i, input.stated, beside);
        return { key: made.key, x: () => [made.x()] };
      }
      if (input.carried && this.carrying) return this.carrying(i, input.carried, beside);
      if (input.express) {
        const { express } = input,
          state = express.state(),
          z = state < 0 ? g.zero : i.number(site.at.z + state);
        return { key: state < 0, x: (told, known) => [express.of(g, known, told as never, () => z)] };
      }
      const base = i.base(place);
      return { key: input.count, x: () => Array.from({ length: input.count }, (_, j) => g.load(base, j)) };
    });
    const x = (): Given => {
      const known = bodies.map((b) => i.body(b)),
        told = numbersAt(g, law.numbers, own, 0),
        list = taken.flatMap((t) => t.x(told, known)),
        does = law.does(g, known, told as never, beside === undefined ? list : [...list.slice(0, -1), g.add(list.at(-1)!, beside)]),
        distinct = all.map((b) => i.body(b));
      return { bodies: distinct, pushes: pushesOf(g, does, distinct) };
    };
    return { key: [lawNumber(law), nth, taken.map((t) => t.key)], x };
  }
}

/** What a load adds to what pushes its bodies, and its power. @param F,power where these stand */
export function added(i: Instance, { bodies, pushes }: Given, F: readonly number[], power: number): Store[] {
  const { g } = i,
    add = (base: number, offset: number, x: Ex): Store[] => (x === g.zero ? [] : [{ base, offset, x: g.add(g.load(base, offset), x) }]);
  return [...pushes.flatMap((p, b) => p.flatMap((x, k) => add(F[b]!, k, x))), ...add(power, 0, powerOf(g, pushes, bodies))];
}
