/**
 * Static equilibrium by pseudo-transient continuation (Kelley & Keyes, SIAM J. Numer. Anal. 35, 1998) in the reduced coordinates: implicit Euler
 * on the heavily damped motion ṗ = p̈(p), with a step as long as the posture may change at once, so that it ends as Newton's method at a
 * stable equilibrium. Where the motion is unstable the step stays below its time constant, so that it is left and not sought.
 */
import { EigenvalueDecomposition, Matrix } from 'ml-matrix';
import { type Diagnosis, Refusal, refuse } from '../diagnosis';
import { KIND } from '../equations/layout';
import { DenseLu } from '../linear/dense';
import { square } from '../quantity/elementary';
import type { Mechanism } from '../system/mechanism';
import { assemble, frictionless } from './assemble';
import { mustBeFinite } from './finite';
import { freeMotions } from './motions';
import { combine, extent, freeBasis, freedomCount, linearise, massTimes, move, probe, reducedAcceleration } from './reduced';
import { where } from '../model/where';

export interface Equilibrium {
  /** State vector at rest. */
  y: Float64Array;
  iterations: number;
  /** Largest acceleration left, in the reduced coordinates, against that of the loads alone. */
  residual: number;
  stable: boolean;
  /** Names of the freedoms along which nothing pulls back. */
  neutral: string[];
  /** Energy stored, J. */
  energy: number;
  /** Frictions that hold it there, and those that could not and were left out. */
  held: string[];
  slipped: string[];
}

const MOST = 400;
const GOOD = 1e-10;

/** Size of the accelerations the loads would give one by one, in the mass metric: what the balance is measured against. */
function loadScale(m: Mechanism, t: number): number {
  const { system } = m;
  const F = new Float64Array(6 * (system.bodies + 1));
  let sum = system.K.own?.pull ?? 0;
  for (const { force } of m.assembly.forces) {
    F.fill(0);
    force.apply(system.K, t, F);
    let s = 0;
    for (let i = 0; i < system.bodies; i++)
      for (let k = 0; k < 3; k++) {
        s += square(F[6 * i + k]!) / system.masses[i]! + square(F[6 * i + 3 + k]!) / system.inertias[9 * i + 4 * k]!;
      }
    sum += Math.sqrt(s);
  }
  return sum;
}

/**
 * The equilibrium reached from the posture in K, at rest. Frictions stick where the machine stands; those that would have to carry more than their static limit
 * are left out, and the rest is sought again.
 * @throws Refusal when there is none within reach
 */
export function equilibrium(m: Mechanism, t = 0, newton = false): Equilibrium {
  const { system } = m,
    { K } = system;
  const frictions = m.assembly.forces.flatMap(({ name, force }) =>
    force.sticks && force.holding ? [{ name, force, row: force.holding }] : [],
  );
  for (const { force } of m.assembly.forces) if (force.holding && !force.sticks) system.hold(force.holding.constraint, false);
  if (frictions.length === 0) return { ...inside(m, balance(m, t, newton)), held: [], slipped: [] };
  const start = new Float64Array(system.size);
  K.rest();
  K.store(start);
  const slipped = new Set<string>();
  for (;;) {
    K.load(start);
    for (const { name, force, row } of frictions) {
      force.begin?.(K, t);
      if (slipped.has(name)) system.hold(row.constraint, false);
    }
    try {
      const found = inside(m, balance(m, t, newton));
      const over = frictions.filter(({ name, force }) => !slipped.has(name) && !force.sticks!(K, system));
      if (over.length === 0)
        return {
          ...found,
          held: frictions.filter((f) => !slipped.has(f.name) && Math.abs(system.multipliers[f.row.constraint.row]!) > 0).map((f) => f.name),
          slipped: [...slipped],
        };
      for (const { name } of over) slipped.add(name);
    } catch (e) {
      if (!(e instanceof Refusal)) throw e;
      if (slipped.size === 0) throw e;
      throw new Refusal(
        e.diagnoses.map((d) => ({
          ...d,
          why: `${d.why ?? ''} Friction cannot hold it where it stands and was left out: ${[...slipped].join(', ')}.`.trim(),
        })),
      );
    }
  }
}

/** An equilibrium, if it lies inside all rigid ends: what leans on one is found by a dynamic run alone. @throws Refusal */
function inside<T>(m: Mechanism, found: T): T {
  const passed = m.assembly.forces.find(({ force }) => force.holding && !force.sticks && force.beyond?.(m.system.K));
  return passed
    ? refuse({
        code: 'statics-stop',
        message: `The machine would come to rest beyond the end of ${passed.name}.`,
        why: 'A rigid end carries no load in statics: where it leans on one is not sought.',
        remedy: 'Let a spring and damper push back at that end, or run it dynamically until it rests.',
        element: { family: 'loads', name: passed.name },
      })
    : found;
}

/** The equilibrium of the loads, with the rows that hold at present. */
function balance(m: Mechanism, t: number, newton: boolean): Omit<Equilibrium, 'held' | 'slipped'> {
  const { system } = m;
  const { K } = system;
  K.rest();
  system.linearise();
  if (system.projectPositions(t) > 1e-8)
    throw new Refusal([{ code: 'statics-open', severity: 'error', message: `The joints do not close at t = ${t} s.`, time: t }]);
  const d = freedomCount(system);
  const y = new Float64Array(system.size);
  const start = K.r.slice();
  let pace = 0,
    iterations = 0,
    residual = 0;
  let found = d === 0;
  let linear: ReturnType<typeof linearise> | undefined;
  const step = new Float64Array(system.motions);
  for (; !found && iterations < MOST; iterations++) {
    const N = freeBasis(system, d);
    const before = reducedAcceleration(m, N, t, new Float64Array(d)).slice();
    const scale = Math.max(loadScale(m, t), 1e-300);
    const size = Math.max(...before.map(Math.abs));
    residual = size / scale;
    if (!Number.isFinite(size)) break;
    linear = linearise(m, t, N, false);
    const rates = eigenvalues(linear.stiffness);
    const fastest = Math.max(0, ...rates.re);
    if (residual < GOOD) {
      found = true;
      break;
    }
    if (pace === 0) pace = 0.1 / Math.sqrt(Math.max(size / m.size, ...rates.re.map(Math.abs), 1e-12));
    let delta = newton ? 1e18 : pace * pace;
    if (!newton && fastest > 1e-12) delta = Math.min(delta, 0.5 / fastest);
    K.store(y);
    let moved = false,
      turned = 0;
    for (let attempt = 0; attempt < 30 && !moved; attempt++) {
      const lu = new DenseLu(d);
      for (let i = 0; i < d; i++) for (let j = 0; j < d; j++) lu.A[i * d + j] = (i === j ? 1 / delta : 0) - linear.stiffness[i]![j]!;
      const p = before.slice();
      if (!lu.factorise()) {
        delta *= 0.5;
        continue;
      }
      lu.solve(p);
      combine(N, p, step);
      const turn = extent(system, step, m.size);
      if (turn > 0.5 && !newton) {
        delta *= Math.min(0.5, 0.4 / turn);
        continue;
      }
      turned = turn;
      const left = move(m, step, newton ? Math.min(1, 0.3 / turn) : 1, t);
      moved = left < 1e-8;
      if (!moved) {
        K.load(y);
        delta *= 0.25;
        if (newton) break;
      }
    }
    if (!moved) break;
    system.linearise();
    pace = Math.min(1e9, Math.sqrt(delta * Math.min(100, Math.max(0.5, 0.3 / Math.max(turned, 1e-300)))));
    let far = 0;
    for (let i = 0; i < K.r.length; i++) far = Math.max(far, Math.abs(K.r[i]! - start[i]!));
    if (far > 1000 * m.size) break;
  }
  if (!found) throw new Refusal([runsAway(m, d)]);
  system.accelerate(t);
  mustBeFinite(m, t, system.solution, K.r, K.q);
  linear ??= linearise(m, t, freeBasis(system, d), false);
  const { re } = eigenvalues(linear.stiffness);
  // what a load that turns with a displacement of the machine's size would give
  const usual = Math.max(0, ...linear.N.map((c) => loadScale(m, t) / (1e4 * probe(system, c, m.size))));
  const stiffest = Math.max(1e-12, usual, ...re.map(Math.abs));
  const neutral = neutralMotions(m, linear, stiffest);
  K.store(y);
  system.accelerate(t);
  return { y, iterations, residual, stable: re.every((x) => x < 1e-7 * stiffest), neutral, energy: m.assembly.energy.potential(K, t) };
}

/** What is to be said of an equilibrium: frictions that hold it, or could not. */
export function frictionNotes({ held, slipped }: Equilibrium, t?: number): Diagnosis[] {
  const note = (code: string, severity: 'note' | 'warning', names: readonly string[], message: string, why: string): Diagnosis[] =>
    names.length === 0
      ? []
      : [{ code, severity, message, why, ...(t === undefined ? {} : { time: t }), element: { family: 'loads', name: names[0]! } }];
  return [
    ...note(
      'statics-held',
      'note',
      held,
      `Friction holds it where it stands: ${held.join(', ')}.`,
      'Without friction the equilibrium may be another.',
    ),
    ...note(
      'statics-slipped',
      'warning',
      slipped,
      `Friction cannot hold it where it stood and was left out: ${slipped.join(', ')}.`,
      'More than its static limit would have to be carried.',
    ),
  ];
}

/** Eigenvalues of a small matrix. */
export function eigenvalues(rows: readonly Float64Array[]): { re: number[]; im: number[] } {
  if (rows.length === 0) return { re: [], im: [] };
  const e = new EigenvalueDecomposition(new Matrix(rows.map((r) => [...r])));
  return { re: e.realEigenvalues, im: e.imaginaryEigenvalues };
}

/** Freedoms along which displacement calls up no acceleration. */
function neutralMotions(m: Mechanism, { N, stiffness }: { N: Float64Array[]; stiffness: Float64Array[] }, stiffest: number): string[] {
  if (N.length === 0) return [];
  const e = new EigenvalueDecomposition(new Matrix(stiffness.map((r) => [...r])));
  const V = e.eigenvectorMatrix;
  const free = e.realEigenvalues.flatMap((x, j) =>
    Math.abs(x) < 1e-7 * stiffest && Math.abs(e.imaginaryEigenvalues[j]!) < 1e-7 * stiffest ? [j] : [],
  );
  if (free.length === 0) return [];
  const shapes = free.map((j) =>
    combine(
      N,
      N.map((_, i) => V.get(i, j)),
      new Float64Array(m.system.motions),
    ),
  );
  const kept = shapes.filter((s) => {
    const Ms = new Float64Array(s.length);
    massTimes(m.system, s, Ms);
    return Ms.some((x) => Math.abs(x) > 1e-12);
  });
  return freeMotions(m, kept).map((f) => f.name);
}

function runsAway(m: Mechanism, d: number): Diagnosis {
  const { K } = m.system;
  let worst = 0,
    most = -1;
  m.bodies.forEach((_, i) => {
    const far = Math.max(...[0, 1, 2].map((k) => Math.abs(K.r[3 * i + k]!)));
    if (far > most) {
      most = far;
      worst = i;
    }
  });
  const fallen = m.bodies[worst];
  return {
    code: 'statics-none',
    severity: 'error',
    message: `No equilibrium was found: ${fallen?.name ?? 'the machine'} keeps giving way.`,
    why: d > 0 ? 'Nothing pulls it back along one of its freedoms, or the loads have no balance.' : 'The loads have no balance.',
    remedy: 'Add a spring or a stop, or start nearer to the balance.',
    ...(fallen ? where(m.model, 'bodies', fallen.name) : {}),
  };
}

/**
 * Equilibria reached from the assembled posture and from others round about; stable ones by settling, unstable ones by Newton's method.
 * @param starts number of further starts
 */
export function equilibria(m: Mechanism, t = 0, starts = 12): Equilibrium[] {
  const { system } = m;
  const { K } = system;
  const { y } = assemble(m);
  const found: Equilibrium[] = [];
  const { layout } = K;
  const take = (e: Equilibrium) => {
    const alike = (f: Equilibrium) =>
      f.neutral.length > 0 &&
      e.neutral.length === f.neutral.length &&
      f.stable === e.stable &&
      Math.abs(f.energy - e.energy) < 1e-6 * (Math.abs(e.energy) + 1e-9);
    const same = found.some(
      (f) =>
        alike(f) ||
        f.y
          .subarray(0, layout.motions)
          .every(
            (x, i) =>
              Math.abs(x - e.y[i]!) < 1e-5 * (layout.kind[i] === KIND.place ? m.size : 1) ||
              (layout.kind[i] === KIND.turn && sameTurn(f.y, e.y, layout.turn[layout.body[i]!]!)),
          ),
    );
    if (!same) found.push(e);
  };
  K.load(y);
  let first: unknown;
  try {
    take(equilibrium(m, t));
  } catch (e) {
    if (!(e instanceof Refusal)) throw e;
    first = e;
  }
  let seed = 7;
  const random = () => (seed = (seed * 1103515245 + 12345) % 2147483648) / 1073741824 - 1;
  for (let s = 0; s < starts; s++) {
    K.load(y);
    K.rest();
    system.linearise();
    const d = freedomCount(system);
    if (d === 0) break;
    const step = new Float64Array(system.motions);
    // a walk of small steps along the freedoms, up to about half a turn
    const way = Array.from({ length: d }, random);
    for (let k = 0; k < 8 + (s % 4) * 4; k++) {
      const N = freeBasis(system, d);
      combine(N, way, step);
      const turn = extent(system, step, m.size);
      if (!(turn > 0) || move(m, step, 0.2 / turn, t) > 1e-8) break;
      system.linearise();
    }
    try {
      frictionless(m);
      take({ ...balance(m, t, s % 2 === 1), held: [], slipped: [] });
    } catch (e) {
      if (!(e instanceof Refusal)) throw e;
    }
  }
  if (found.length === 0 && first) throw first;
  return found.sort((a, b) => a.energy - b.energy);
}

/** Whether two unit quaternions are one turn: a quaternion and its opposite are. @param p where both begin */
function sameTurn(a: Float64Array, b: Float64Array, p: number): boolean {
  let s = 0;
  for (let k = 0; k < 4; k++) s += a[p + k]! * b[p + k]!;
  return Math.abs(s) > 1 - 1e-9;
}
