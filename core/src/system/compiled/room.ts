/** The memory of one machine: its kinematics, and behind them all that its equations read and write. */
import type { Constraint } from '../../equations/constraint';
import { Coupled } from '../../equations/coupled';
import type { ExtraStates } from '../../equations/states';
import { Kinematics, kinematicPlaces } from '../../equations/kinematics';
import type { Force } from '../../equations/forces';
import { StatedForce } from '../../equations/laws/stated-force';
import type { Kernel } from '../../expressions/plain';
import { stateSize } from '../../equations/layout';
import { BODY_BASES } from '../../equations/stated/body';
import { type StatedValue, isFormula, numbersOf } from '../../equations/values';
import { placed } from '../../kernel/memory';
import { Vectors } from '../../kernel/vectors';
import type { Elimination } from '../../linear/elimination';
import type { StatedCoupling, StatedLoad, Statement } from './equations';
import type { Machine, MachineKernels } from './machine';
import type { StatedState } from './stepping';
import { type Places, SETTLING, type Sizes } from './places';
import { settle } from './settle';
import { SHIFT, Shelf } from './shelf';
import type { Site } from './site';

/** All that is asked of a machine. */
const MACHINE: readonly (keyof Machine)[] = [
  'place',
  'accelerate',
  'react',
  'finish',
  'linearise',
  'solve',
  'residual',
  'velocityResidual',
  'look',
  'measure',
  'record',
];
/** Room for what passes between parts of compiled code, relative to the entries of L: measured, machines need a fifth of it. */
const SCRATCH = 10;

/** Records made in one call, at most; and numbers they take, if one does not take more. */
export const TOGETHER = 64;
const NUMBERS = 4096;

/** What is looked at where a state is recorded: residuals of positions and velocities, kinetic energy. */
export const LOOKED = 3;

/** States, their derivatives and the like for which a run needs room. */
const VECTORS = 44;

/** Bases of its block of factors for a body and for a row, on the whole. */
const BODY_BLOCK = 80;
const ROW_BLOCK = 20;
/** Bases of a constraint, of a course, of a further state; and those of all loads, at most. */
const STATEMENT = 12 + 3 * 11;
const COURSES = 5;
const STATE_BASES = 11;
const MEASURED = 2 * 11;
const instancesOf = (loads: readonly StatedForce[]): number =>
  loads.reduce((s, { instances, inputs }) => {
    const beside = inputs.reduce((n, i) => n + 1 + (i.stated ? basesOfValue(i.stated) : 0), 0);
    return s + instances.reduce((n, { bodies }) => n + 5 * bodies.length + 2 + beside, 0);
  }, 0);
/** Bases of a value, at most: bodies, numbers, a counter; of formulas the clock as well. */
const basesOfValue = (v: StatedValue): number =>
  isFormula(v) ? v.inputs.reduce((n, x) => n + basesOfValue(x), 2) : BODY_BASES * v.bodies.length + 2;

/** How further states change, as far as expressions tell. @param follows the statement of a coordinate that one of them follows */
function furtherOf(
  extras: readonly ExtraStates[],
  statements: readonly Statement[],
  follows: (c: Constraint) => Statement | undefined,
): StatedState[] {
  return extras.flatMap((e): StatedState[] => {
    const { first, changes } = e;
    if (!changes) return [];
    if (changes.by === 'course') {
      const told = statements.some((s) => s.course?.stated?.course === e);
      return told ? Array.from({ length: e.states }, (_, k) => ({ at: first + k, changes })) : [];
    }
    if (!('freedom' in changes)) return [{ at: first, changes }];
    const coordinate = follows(changes.freedom.equation);
    return coordinate ? [{ at: first, changes, coordinate }] : [];
  });
}

/** @param follows the statement of a coordinate */
const couplingsOf = (
  constraints: readonly Constraint[],
  follows: (c: Constraint) => Statement | undefined,
  shelf: Shelf,
): StatedCoupling[] =>
  constraints.flatMap((c) => {
    const terms = c instanceof Coupled ? c.terms : undefined;
    if (!terms) return [];
    const factors = terms.map((t) => t.factor),
      of = terms.map(({ coordinate: { freedom, states, first } }) => ({
        of: follows(freedom.equation)!,
        counter: states > 0 ? first : undefined,
      }));
    return [{ constraint: c as Coupled, terms: of, factors, numbers: shelf.value(factors) }];
  });

/** Where the numbers of what loads take in lie, of each by its position. */
const valuesOf = (loads: readonly StatedForce[], shelf: Shelf): Map<StatedForce, readonly (number | undefined)[]> =>
  new Map(
    loads.map((l) => [
      l,
      l.inputs.map(({ stated, carried }) => {
        const numbers = stated ? numbersOf(stated) : carried?.numbers;
        return numbers && shelf.value(numbers);
      }),
    ]),
  );

export class Room {
  readonly K: Kinematics;
  readonly places: Places;
  readonly statements: readonly Statement[];
  /** Of the coordinates that are measured, those that are expressions. */
  readonly measured: readonly Statement[];
  /** Loads that are stated, and of these the ones that follow from what constraints carry. */
  readonly loads: readonly StatedLoad[];
  readonly reacting: readonly StatedLoad[];
  /** Relations of coordinates that are all expressions. */
  readonly couplings: readonly StatedCoupling[];
  /** Further states of which it is known how they change. */
  readonly further: readonly StatedState[];
  readonly sizes: Sizes;
  /** Where its own numbers begin. */
  readonly from: number;
  /** Entries of a motion. */
  readonly motions: number;

  constructor(
    plan: Elimination,
    extra: number,
    constraints: readonly Constraint[],
    coordinates: readonly Constraint[],
    /** Of further states. */
    extras: readonly ExtraStates[],
    masses: Float64Array,
    inertias: Float64Array,
    forces: readonly Force[],
  ) {
    const { bodies, rows, size, length, own: owning } = plan;
    this.motions = plan.motions;
    const loads = forces.filter((f) => f instanceof StatedForce);
    const shelf = new Shelf(),
      statedBy = (c: Constraint): Statement[] => [shelf.statement(c)].flatMap((x) => x ?? []);
    this.statements = constraints.flatMap(statedBy);
    this.measured = coordinates.flatMap(statedBy);
    // each coordinate that further states follow has its numbers once
    const known = new Map(this.measured.map((s) => [s.constraint, s])),
      follows = (c: Constraint): Statement | undefined => {
        const s = known.get(c) ?? shelf.statement(c);
        if (s) known.set(c, s);
        return s;
      };
    this.further = furtherOf(extras, this.statements, follows);
    this.couplings = couplingsOf(constraints, follows, shelf);
    const values = valuesOf(loads, shelf);
    this.sizes = {
      masses: bodies,
      inertias: 9 * bodies,
      numbers: shelf.numbers,
      courses: shelf.courses,
      values: shelf.values.length,
      clock: 3,
      loads: loads.reduce((s, l) => s + l.room, 0),
      F: 6 * (bodies + 1),
      powers: forces.length,
      efforts: loads.reduce((s, l) => s + (l.react ? l.works : 0), 0) + SETTLING.count,
      off: rows,
      offsets: rows,
      weights: rows,
      G: plan.rowAt.length,
      gamma: rows,
      phi: rows,
      counts: rows,
      rates: rows,
      measured: 2 * this.measured.length,
      solution: length,
      x: length,
      X: plan.entries,
      inverse: size,
      work: size,
      ratio: rows,
      loosest: 1,
      times: TOGETHER,
      records: Math.max(NUMBERS, 1 + stateSize(bodies, extra) + LOOKED + 2 * this.measured.length),
      scratch: SCRATCH * (plan.entries + size),
      stateRates: extra,
      tables:
        2 *
        Math.ceil(
          (STATEMENT * this.statements.length +
            COURSES * shelf.courses +
            STATE_BASES * this.further.length +
            MEASURED * this.measured.length +
            instancesOf(loads) +
            BODY_BLOCK * bodies +
            ROW_BLOCK * rows) /
            2,
        ),
      vectors: VECTORS * stateSize(bodies, extra + 2 * owning.coordinates),
    };
    const { at: own, total } = placed(this.sizes);
    this.places = { kinematics: kinematicPlaces(owning, extra), own };
    this.K = new Kinematics(bodies, extra, total, owning);
    this.from = this.K.memory.take(total);
    this.view('masses').set(masses);
    this.view('inertias').set(inertias);
    this.view('values').set(shelf.values);
    this.view('clock').set([0, -Infinity, Infinity]);
    this.K.own?.tell(masses, inertias);
    let load = this.from + own.loads;
    for (const l of loads) {
      l.settle(this.K, load);
      load += l.room;
    }
    const stated = forces.flatMap((force, which): StatedLoad[] =>
      force instanceof StatedForce ? [{ force, which, ...force.placesFrom(this.from), values: values.get(force)! }] : [],
    );
    this.loads = stated.filter((l) => !l.force.react);
    this.reacting = stated.filter((l) => l.force.react);
    for (const { constraint, numbers, course } of [...this.statements, ...known.values()]) {
      const at = course && this.from + own.courses + course.at;
      constraint.statement!.settle(this.K.memory, this.from + own.numbers + numbers, at);
      course?.stated?.course.stated.settle?.(this.K.memory, at! + SHIFT);
      constraint.statement!.course?.settle?.(this.K.memory, at!);
    }
  }

  /** Where its numbers lie. */
  get site(): Site {
    const { K, from, places } = this;
    return { bodies: K.bodies, at: K.at, from, own: places.own };
  }
  view(key: keyof Sizes): Float64Array {
    return this.numbers(this.places.own[key], this.sizes[key]);
  }
  /** So many of its own numbers, from one on. */
  numbers(from: number, count: number): Float64Array {
    const at = this.from + from;
    return this.K.memory.numbers.subarray(at, at + count);
  }

  /**
   * Room for so many entries of a table of instances, in one of two halves: with what is left out, and without.
   * @throws RangeError where there is none
   */
  table(count: number, half: 0 | 1): Int32Array {
    const { tables } = this.sizes,
      { buffer, byteOffset } = this.K.memory.numbers,
      begin = byteOffset + 8 * (this.from + this.places.own.tables) + 4 * tables * half,
      at = this.tabled[half];
    this.tabled[half] = at + 2 * Math.ceil(count / 2);
    if (this.tabled[half] > tables) throw new RangeError('There is no room for such a table.');
    return new Int32Array(buffer, begin + 4 * at, count);
  }
  /** Entries for which there is room. */
  tablesLeft(half: 0 | 1): number {
    return this.sizes.tables - this.tabled[half];
  }
  private readonly tabled: [number, number] = [0, 0];
  /** Forgets the tables of a half. */
  clearTables(half: 0 | 1): void {
    this.tabled[half] = 0;
  }
  /** Numbers of its scratch. */
  get scratched(): number {
    return this.sizes.scratch;
  }

  /** Room for states of a length, from the first on. */
  vectors(length: number): Vectors {
    return new Vectors(this.K.memory, this.from + this.places.own.vectors, this.sizes.vectors, length);
  }

  /** A place for a state that nobody reads. */
  get nowhere(): number {
    return this.from + this.places.own.vectors + this.sizes.vectors - this.sizes.vectors / VECTORS;
  }

  /** Where its scratch begins, behind all else. */
  get scratch(): number {
    return this.from + this.places.own.scratch;
  }

  /**
   * Kernels at work on these numbers, each made when it is first asked for; undefined where they need more scratch than there is room for.
   * @param settles whether `accelerate` lets loads that follow from what constraints carry agree with that
   */
  bring(kernels: MachineKernels, settles: boolean): Machine | undefined {
    const { memory, at } = this.K,
      { from } = this;
    // no other needs as much
    if (kernels.accelerate.scratch > this.sizes.scratch) return undefined;
    const made = (key: keyof Machine) => {
      let run: Kernel | undefined;
      return (y = 0, dy = 0) =>
        (run ??= key === 'accelerate' && settles ? this.settling(kernels) : kernels[key].at(memory, this.scratch))(at.r, from, y, dy);
    };
    return Object.fromEntries(MACHINE.map((key) => [key, made(key)])) as unknown as Machine;
  }

  /** Whether such loads and what constraints carry could not be brought into agreement when they last were to be. */
  unsettled = false;
  /** All that `accelerate` then does. */
  settling({ accelerate, react, finish }: MachineKernels): Kernel {
    const { K, scratch, from, sizes, places } = this,
      { memory } = K,
      [begin, repeat, end] = [accelerate, react, finish].map((k) => k.at(memory, scratch)) as [Kernel, Kernel, Kernel],
      behind = from + places.own.efforts + sizes.efforts - SETTLING.count;
    return (kinematics, own, y, dy) => {
      begin(kinematics!, own!, y!, dy!);
      this.unsettled = !settle(memory.numbers, behind, repeat, kinematics!, own!, y!, dy!);
      end(kinematics!, own!, y!, dy!);
    };
  }
}
