/**
 * A whole machine compiled: from where its bodies are and how they move to its accelerations and multipliers, in straight-line code. Machines of one
 * structure share the code; what distinguishes them lies in memory.
 */
import type { Constraint } from '../../equations/constraint';
import type { OwnBody } from '../../equations/coordinates/own';
import { type Fold, rounded, turningOf } from '../../equations/fold';
import type { Ex } from '../../expressions/arithmetic';
import { Graph } from '../../expressions/graph';
import type { StateLayout } from '../../equations/layout';
import type { FromCarried } from '../../equations/laws/stated-force';
import { type StatedValue, isFormula } from '../../equations/values';
import { shapeOfFormula } from '../../formula/formula-in';
import type { Store } from '../../expressions/plain';
import { type VectorEx, cross, dot } from '../../expressions/vectors';
import { CompiledKernel } from '../../kernel/compile';
import type { Elimination } from '../../linear/elimination';
import { MachineEquations, type StatedCoupling, type StatedLoad, type Statement } from './equations';
import { type Factors, factorised, solved } from './factors';
import { lawNumber } from './law-number';
import { BASES, OWN, type Places, RATE, STEPPING } from './places';
import { settled } from './settling';
import { type StatedState, derivative, placing, recorded } from './stepping';

/** What is asked of a machine. */
export interface Machine {
  /** Puts the bodies where a state says. Machines of which a body has coordinates of its own do that themselves. */
  readonly place: (y: number) => void;
  /**
   * G, γ, the factors and the solution, from the kinematics, the courses and the applied forces; and the derivative of the state, as far as nothing has to
   * be asked for it.
   */
  readonly accelerate: (y: number, dy: number) => void;
  /**
   * Where loads follow from what constraints carry, `accelerate` solves without them, and writes no derivative: this lets them follow the solution that stands
   * there, and solves once more.
   */
  readonly react: () => void;
  /** The derivative of the state, and the powers of such loads, once both agree. */
  readonly finish: (y: number, dy: number) => void;
  /** G and the factors alone. */
  readonly linearise: () => void;
  /** The solution x for the right-hand side that stands there. */
  readonly solve: () => void;
  /** Φ of stated rows. */
  readonly residual: () => void;
  /** Φ̇ of stated rows. */
  readonly velocityResidual: () => void;
  /** Φ and Φ̇ of stated rows, and measured coordinates with their rates: all that is looked at where a state is recorded. */
  readonly look: () => void;
  /** Measured coordinates and their rates. */
  readonly measure: () => void;
  /**
   * All that is looked at where a state is recorded, to a row: time and what is told of the state, then the largest Φ and Φ̇ of the rows that count, the
   * kinetic energy, and measured coordinates with their rates. The bodies stand where the state says.
   */
  readonly record: (y: number, row: number) => void;
}
export type MachineKernels = Readonly<Record<keyof Machine, CompiledKernel>>;

/** Of what a machine is made. */
export interface Structure {
  readonly plan: Elimination;
  readonly places: Places;
  readonly statements: readonly Statement[];
  readonly measured: readonly Statement[];
  readonly couplings: readonly StatedCoupling[];
  /** Loads that are stated. */
  readonly loads: readonly StatedLoad[];
  /** Those that follow from what constraints carry. */
  readonly reacting: readonly StatedLoad[];
  /** How states are laid out, and further states of which it is known how they change. */
  readonly layout: StateLayout;
  readonly further: readonly StatedState[];
  /** Constraints that are no expressions. */
  readonly others: readonly Constraint[];
  readonly masses: Float64Array;
  readonly inertias: Float64Array;
  /** Rows that can let go. */
  readonly letsGo: ArrayLike<number>;
  /** How the bodies can move, where what they cannot do is left out. */
  readonly fold?: Fold | undefined;
}

/** How many machines of different structure are kept. */
const KEPT = 24;
const kept = new Map<string, MachineKernels>();

/** The kernels of a machine: those of one of the same structure where there has been one. */
export function kernelsOf(s: Structure): MachineKernels {
  const key = keyOf(s),
    made = kept.get(key) ?? compiled(s);
  kept.delete(key);
  kept.set(key, made);
  if (kept.size > KEPT) kept.delete(kept.keys().next().value!);
  return made;
}

/** Solves with factors that stand in memory. */
function solving({ plan, places: { own } }: Structure, { g: of, G, holds }: MachineEquations, { X, inverse }: Factors): CompiledKernel {
  const g = new Graph();
  const read = (place: number, list: readonly Ex[]) =>
    list.map((x, k) => {
      const v = of.known(x);
      return v === undefined ? g.load(OWN, place + k) : g.constant(v);
    });
  const rhs = Array.from({ length: plan.length }, (_, k) => (holds(k) ? g.zero : g.load(OWN, own.x + k)));
  const rows = plan.carried.length > 0 ? read(own.G, G) : [],
    carried = { G: (e: number) => rows[e]!, mass: (row: number) => g.load(OWN, own.weights + row) },
    out = solved(g, plan, { X: read(own.X, X), inverse: read(own.inverse, inverse) }, rhs, carried);
  return new CompiledKernel(
    g,
    out.flatMap((x, k) => (holds(k) || !plan.solves(k) ? [] : [{ base: OWN, offset: own.x + k, x }])),
    BASES,
  );
}

/** The same for values that differ in their numbers alone. @param signs of numbers, what of them belongs to the structure */
const structureOf = (v: StatedValue, signs: (n: readonly number[]) => string): unknown =>
  isFormula(v)
    ? [shapeOfFormula(v.formula), signs(v.formula.numbers), v.inputs.map((x) => structureOf(x, signs))]
    : [lawNumber(v.law), v.bodies, signs(v.numbers), v.counter?.first];

const carriedOf = ({ law, constraints, bodies, numbers }: FromCarried, signs: (n: readonly number[]) => string): unknown => [
  lawNumber(law),
  constraints.map((c) => c.row),
  bodies,
  signs(numbers),
];

/** The same for machines whose equations are the same but for numbers that are neither 0 nor ±1. */
function keyOf({
  statements,
  measured,
  couplings,
  loads,
  reacting,
  layout,
  further,
  others,
  masses,
  inertias,
  letsGo,
  plan,
  places,
  fold,
}: Structure): string {
  const exact = (x: number) => (x === 0 || x === 1 || x === -1 ? x : 'x'),
    signs = (list: ArrayLike<number>) => Array.from(list, (x) => exact(fold ? rounded(x) : x)).join();
  const ends = (c: Constraint) => [c.row, c.a, c.b, c.more];
  return JSON.stringify([
    [...statements, ...measured].map(({ constraint, equation, values, course }) => [
      equation.name,
      ends(constraint),
      signs(values),
      course && [
        course.at,
        course.stated && [
          lawNumber(course.stated.course.stated.of),
          shapeOfFormula(course.stated.law),
          signs(course.stated.law.numbers),
          course.stated.course.first,
        ],
      ],
    ]),
    couplings.map(({ constraint, terms, factors }) => [
      ends(constraint),
      constraint.block,
      signs(factors),
      terms.map(({ of, counter }) => [of.equation.name, ends(of.constraint), signs(of.values), counter]),
    ]),
    layout.size,
    further.map(({ at, changes, coordinate }) => [
      at,
      changes.by,
      changes.by === 'power' ? changes.which : changes.by === 'work' ? changes.constraint.row : 0,
      coordinate && [coordinate.equation.name, ends(coordinate.constraint), signs(coordinate.values)],
    ]),
    [loads, reacting].map((list) =>
      list.map(({ force, which }) => [
        which,
        lawNumber(force.law),
        force.inputs.map((i) => i.express?.state() ?? (i.carried ? carriedOf(i.carried, signs) : i.stated && structureOf(i.stated, signs))),
        force.instances.map(({ bodies, values }) => [bodies, signs(values)]),
      ]),
    ),
    others.map((c) => [
      ends(c),
      c.rows,
      Array.from({ length: 12 * c.rows }, (_, e) => (c.pattern(Math.floor(e / 12), e % 12) ? 1 : 0)).join(''),
    ]),
    signs(masses),
    signs(inertias),
    places.own,
    Array.from(letsGo).join(''),
    Array.from(plan.place).join(),
    plan.light,
    plan.own.list.map(({ body, placed, count, at }) => [body, placed, count, at]),
    fold && [
      Array.from(fold.moves).join(''),
      Array.from(fold.idle).join(''),
      signs(fold.A),
      Array.from({ length: plan.bodies }, (_, i) => turningOf(fold, i) ?? 0),
    ],
  ]);
}

/** What drives bodies that have coordinates of their own, in place of what drives rigid ones; then what drives those coordinates. */
function ownForces(equations: MachineEquations, { own }: Elimination, forces: Ex[], applied: (body: number, k: number) => Ex): Ex[] {
  const { g } = equations,
    out = [...forces];
  for (const o of own.list) {
    const { body, placed, count, at } = o;
    for (let k = 0; k < 6; k++) out[6 * body + k] = placed ? g.zero : g.add(applied(body, k), equations.own(o, at.effort + k));
    for (let j = 0; j < count; j++) {
      let x = equations.own(o, at.effort + (placed ? 0 : 6) + j);
      for (let e = 0; e < (placed ? 6 : 0); e++) x = g.add(x, g.multiply(equations.own(o, at.J + count * e + j), applied(body, e)));
      out.push(x);
    }
  }
  return out;
}

/** ½ Σ m v² + ½ Σ ω · J ω, and that of masses between bodies. */
function kineticEnergy(
  { g, bodies, rate, places }: MachineEquations,
  { carried }: Elimination,
  masses: readonly Ex[],
  inertias: readonly Ex[],
): Ex {
  const half = g.constant(0.5),
    between = carried.map(({ row }) =>
      g.multiply(g.multiply(half, g.load(OWN, places.own.weights + row)), g.square(rate.get(row) ?? g.zero)),
    );
  return bodies.slice(0, -1).reduce(
    (sum, { v, w }, i) => {
      const J = (k: number) => [0, 1, 2].reduce((s, j) => g.add(s, g.multiply(inertias[9 * i + 3 * k + j]!, w[j as 0])), g.zero),
        twice = g.add(g.multiply(masses[i]!, dot(g, v, v)), dot(g, w, [J(0), J(1), J(2)]));
      return g.add(sum, g.multiply(half, twice));
    },
    between.reduce((x, y) => g.add(x, y), g.zero),
  );
}

/** The kernels of a machine, made anew. */
export function compiled(s: Structure): MachineKernels {
  const { plan, places, statements, letsGo } = s,
    { own } = places,
    equations = new MachineEquations(plan, places, statements, s.couplings, s.others, s.fold),
    { g, G, gamma, holds } = equations,
    // where a joint closes again it holds what is there then
    phi = new Map(
      [...equations.phi].map(([row, x]): [number, Ex] => [row, letsGo[row] ? g.subtract(x, g.load(OWN, own.offsets + row)) : x]),
    );
  const mass = {
    masses: Array.from(s.masses, (m, b) => equations.number(m, own.masses + b)),
    inertias: Array.from(s.inertias, (x, k) => equations.number(x, own.inertias + k)),
    own: (o: OwnBody, entry: number) => equations.own(o, o.at.M + entry),
    holds,
  };
  const off = new Map(Array.from(letsGo).flatMap((lets, row): [number, Ex][] => (lets ? [[row, g.load(OWN, own.off + row)]] : [])));
  const factors = factorised(g, plan, mass, G, off, (row) => g.load(OWN, own.weights + row));

  const { pushes, powers } = equations.loads(s.loads),
    applied = (i: number, k: number) => g.add(pushes[6 * i + k]!, g.load(OWN, own.F + 6 * i + k));
  const forces = equations.bodies.slice(0, -1).flatMap(({ w }, i) => {
    const inertia = (k: number) => [0, 1, 2].reduce((sum, j) => g.add(sum, g.multiply(mass.inertias[9 * i + 3 * k + j]!, w[j]!)), g.zero);
    const gyroscopic = cross(g, w, [inertia(0), inertia(1), inertia(2)] as VectorEx);
    return [0, 1, 2, 3, 4, 5].map((k) =>
      holds(6 * i + k) ? g.zero : k < 3 ? applied(i, k) : g.subtract(applied(i, k), gyroscopic[k - 3]!),
    );
  });
  const rhs = [...ownForces(equations, plan, forces, applied), ...gamma],
    solution = solved(g, plan, factors, rhs, { G: (e) => G[e]!, mass: (row) => g.load(OWN, own.weights + row) }),
    settling = s.reacting.length > 0 ? settled(s, equations, factors, rhs) : undefined;

  const at = (place: number, list: readonly Ex[]): Store[] => list.map((x, k) => ({ base: OWN, offset: place + k, x }));
  const ofRows = (place: number, list: ReadonlyMap<number, Ex>): Store[] =>
    [...list].map(([row, x]) => ({ base: OWN, offset: place + row, x }));
  /** What is nothing is nothing from the start, what has been read stands there already. */
  const news = (stores: Store[]) => stores.filter(({ x, offset }) => x !== g.zero && x !== g.load(OWN, offset));
  const linear = [
    ...news(at(own.G, G)),
    ...news(at(own.X, factors.X)),
    ...news(at(own.inverse, factors.inverse)),
    ...ofRows(own.ratio, factors.ratio),
    { base: OWN, offset: own.loosest, x: factors.loosest },
  ];

  const placedByOwn = plan.own.list.length > 0,
    largest = (list: ReadonlyMap<number, Ex>) =>
      [...list].reduce((most, [row, x]) => g.most(most, g.multiply(g.size(x), g.load(OWN, own.counts + row))), g.zero);
  const measured = at(own.measured, equations.measure(s.measured));
  return {
    place: new CompiledKernel(g, placedByOwn ? [] : placing(equations, s.layout), STEPPING),
    accelerate: new CompiledKernel(
      g,
      [
        ...linear,
        ...ofRows(own.powers, powers),
        ...news(at(own.gamma, gamma)),
        ...at(own.solution, solution).filter((_, k) => plan.solves(k)),
        ...(settling?.begin ?? (placedByOwn ? [] : derivative(equations, s.layout, solution, powers, s.further))),
      ],
      STEPPING,
    ),
    react: new CompiledKernel(g, settling?.react ?? [], STEPPING),
    finish: new CompiledKernel(g, settling?.finish ?? [], STEPPING),
    linearise: new CompiledKernel(g, linear, BASES),
    solve: solving(s, equations, factors),
    residual: new CompiledKernel(g, ofRows(own.phi, phi), BASES),
    velocityResidual: new CompiledKernel(g, ofRows(own.phi, equations.rate), BASES),
    look: new CompiledKernel(g, [...ofRows(own.phi, phi), ...ofRows(own.rates, equations.rate), ...measured], BASES),
    measure: new CompiledKernel(g, measured, BASES),
    record: new CompiledKernel(
      g,
      placedByOwn
        ? []
        : [
            ...recorded(equations, s.layout),
            largest(phi),
            largest(equations.rate),
            kineticEnergy(equations, plan, mass.masses, mass.inertias),
            ...measured.map(({ x }) => x),
          ].map((x, offset) => ({ base: RATE, offset, x })),
      STEPPING,
    ),
  };
}
