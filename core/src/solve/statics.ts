/**
 * Static equilibrium by pseudo-transient continuation (Kelley & Keyes, SIAM J. Numer. Anal. 35, 1998): implicit Euler on the heavily damped motion
 * M ẋ = f − Gᵀλ on the constraints, (K + s M) x = f − Gᵀλ, with a step 1/s as long as the posture may change at once, so that it ends as Newton's method at
 * a stable equilibrium. Where the motion is unstable the step stays below its time constant, so that it is left and not sought.
 */
import { type Diagnosis, Refusal, refuse } from '../diagnosis';
import type { Mechanism } from '../system/mechanism';
import { leaveToOthers } from './assemble';
import { loadScale } from './balance';
import { mustBeFinite } from './finite';
import { freeMotions } from './motions';
import { extent, freedomCount, massTimes, move } from './reduced';
import { type Stiffness, stiffnessOf } from './stiffness';
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
  /** Frictions of coordinates that drives move: they carry nothing here. */
  rubbing: string[];
}

const MOST = 400;
/** Accelerations beside those that the loads would give one by one: in balance, and as well as can be. */
const GOOD = 1e-10;
const BEST = 1e-14;
/** By how many times more may be out of balance after a step than before; and how often one is corrected that leaves more. */
const MORE = 3;
const CORRECTIONS = 12;
/** Steps of Newton's method beyond a balance that is rounding. */
const CLOSER = 6;
/** How far the first step goes, and any at most, in parts of the machine's size or rad. */
const FIRST = 0.1;
const FARTHEST = 0.5;
/** Part of what was off before by which a step may end elsewhere than foreseen, and still be trusted. */
const AS_FORESEEN = 0.1;
/** The same of what rounding may move. */
const NOWHERE = 1e-6;

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
  if (frictions.length === 0) return { ...inside(m, balance(m, t, newton)), held: [], slipped: [], rubbing: [] };
  const start = new Float64Array(system.size);
  K.rest();
  K.store(start);
  const slipped = new Set<string>();
  for (;;) {
    K.load(start);
    system.standing(true);
    for (const { force } of frictions) force.begin?.(K, t);
    // where a drive moves it, it cannot hold
    const rubbing = new Set<string>();
    leaveToOthers(
      system,
      frictions.map((f) => f.row),
      (row) => rubbing.add(frictions.find((f) => f.row === row)!.name),
    );
    const free = frictions.filter((f) => !rubbing.has(f.name));
    for (const { name, row } of free) if (slipped.has(name)) system.hold(row.constraint, false);
    try {
      const found = inside(m, balance(m, t, newton));
      const over = free.filter(({ name, force }) => !slipped.has(name) && !force.sticks!(K, system));
      if (over.length === 0)
        return {
          ...found,
          held: free.filter((f) => !slipped.has(f.name) && Math.abs(system.multipliers[f.row.constraint.row]!) > 0).map((f) => f.name),
          slipped: [...slipped],
          rubbing: [...rubbing],
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
export function balance(m: Mechanism, t: number, newton: boolean): Omit<Equilibrium, 'held' | 'slipped' | 'rubbing'> {
  const { system } = m;
  const { K } = system;
  system.standing(true);
  K.rest();
  system.linearise();
  if (system.projectPositions(t) > 1e-8)
    throw new Refusal([{ code: 'statics-open', severity: 'error', message: `The joints do not close at t = ${t} s.`, time: t }]);
  const d = freedomCount(system),
    y = new Float64Array(system.size),
    start = K.r.slice(),
    of = stiffnessOf(m);
  let s = 0,
    least = 0,
    iterations = 0,
    residual = 0,
    before = Infinity,
    foreseen = Infinity,
    reach = FARTHEST,
    found = false;
  for (; !found && iterations < MOST; iterations++) {
    of.at(t);
    const { acceleration } = system,
      push = new Float64Array(system.motions);
    massTimes(system, acceleration, push);
    const size = Math.sqrt(Math.max(0, dot(push, acceleration))),
      scale = loadScale(m, t);
    residual = size > 0 ? size / Math.max(scale, 1e-300) : 0;
    if (!Number.isFinite(size)) break;
    // until it becomes no smaller
    if (d === 0 || size <= BEST * scale || (size <= Math.max(GOOD * scale, of.noise) && size > 0.5 * before)) {
      found = true;
      break;
    }
    // where steps lead to what they are to, lengths may be longer; what turns does so by no more than before
    reach = Math.abs(size - foreseen) < AS_FORESEEN * before ? 2 * reach : FARTHEST;
    before = size;
    // as if damped so heavily that a step goes so far, and rounding next to nowhere
    if (s === 0) {
      const far = extent(system, acceleration, m.size);
      least = (far * (of.noise / size)) / NOWHERE;
      s = far / FIRST;
    }
    let shift = newton ? 0 : Math.max(s, least);
    // where the posture is unstable it is left, and not sought: steps stay below the time in which it is
    if (!newton) for (let k = 0; k < 60 && (of.shift(0.5 * shift, true) ?? 1) > 0; k++) shift *= 2;
    K.store(y);
    let moved = false,
      turned = 0;
    for (let attempt = 0; attempt < 30 && !moved; attempt++) {
      if (of.shift(shift) === undefined) {
        shift = 2 * shift + 1e-12;
        continue;
      }
      const step = of.solve(push),
        turn = Math.max(extent(system, step, Infinity), (extent(system, step, m.size) * FARTHEST) / reach);
      if (!Number.isFinite(turn)) break;
      if (turn > FARTHEST && !newton) {
        shift *= Math.max(2, turn / 0.4);
        continue;
      }
      turned = turn;
      // what (K + s M) x = f leaves of f
      const left = new Float64Array(step.length);
      massTimes(system, step, left);
      foreseen = shift * Math.sqrt(Math.max(0, dot(left, step)));
      moved = move(m, step, newton ? Math.min(1, 0.3 / turn) : 1, t) < 1e-8 && (newton || corrected(m, t, of, shift, step, size));
      if (!moved) {
        K.load(y);
        shift *= 4;
        if (newton) break;
        system.linearise();
        of.at(t);
      }
    }
    if (!moved) break;
    system.linearise();
    s = Math.max(1e-18, shift / Math.min(100, Math.max(0.5, 0.3 / Math.max(turned, 1e-300))));
    let far = 0;
    for (let i = 0; i < K.r.length; i++) far = Math.max(far, Math.abs(K.r[i]! - start[i]!));
    if (far > 1000 * m.size) break;
  }
  if (!found) throw new Refusal([runsAway(m, d)]);
  of.at(t);
  mustBeFinite(m, t, system.solution, K.r, K.q);
  closer(m, t, of);
  const { unstable, neutral } = of.stability(d);
  K.store(y);
  system.accelerate(t);
  return { y, iterations, residual, stable: !unstable, neutral: namesOf(m, neutral), energy: m.assembly.energy.potential(K, t) };
}

/**
 * A step that has left far more out of balance than it was to is one of Newton's method on M x s = f, x being how far it goes: turns have stretched something
 * very stiff. It is brought to its end. @param step overwritten with how far it goes then @param size of what was out of balance before
 * @returns whether it has an end
 */
function corrected(m: Mechanism, t: number, of: Stiffness, shift: number, step: Float64Array, size: number): boolean {
  const { system } = m,
    push = new Float64Array(system.motions),
    rest = new Float64Array(system.motions);
  /** Size of what is left of the loads, or of the equation: of accelerations, less so much of the step. */
  const left = (by: number): number => {
    for (let i = 0; i < rest.length; i++) rest[i] = system.acceleration[i]! - by * step[i]!;
    massTimes(system, rest, push);
    return Math.sqrt(Math.max(0, dot(push, rest)));
  };
  for (let k = 0; k <= CORRECTIONS; k++) {
    system.linearise();
    of.at(t);
    if (left(k === 0 ? 0 : shift) <= MORE * size) return true;
    left(shift);
    if (of.shift(shift) === undefined) return false;
    const more = of.solve(push);
    if (!(extent(system, more, m.size) <= FARTHEST) || move(m, more, 1, t) > 1e-8) return false;
    for (let i = 0; i < step.length; i++) step[i] = step[i]! + more[i]!;
  }
  return false;
}

/** What is in balance but for the rounding of stiff parts need not yet be so in others: it is brought there. @throws Refusal where that cannot be done */
function closer(m: Mechanism, t: number, of: Stiffness): void {
  const { system } = m,
    left = new Float64Array(system.motions);
  for (let k = 0; of.lost(t); k++) {
    massTimes(system, system.acceleration, left);
    if (k === CLOSER || of.shift(0) === undefined || !(move(m, of.solve(left), 1, t) < 1e-8))
      refuse({
        code: 'statics-rounded',
        message: 'The equilibrium cannot be told: loads are lost in rounding.',
        why: 'Something is so stiff that the rounding of its length pushes as much as the loads do.',
        remedy: 'Make it less stiff: a hundred times what it stands beside is as good as rigid. Or join it rigidly.',
      });
    system.linearise();
    of.at(t);
  }
}

const dot = (a: Float64Array, b: Float64Array): number => a.reduce((s, x, i) => s + x * b[i]!, 0);

/** Freedoms along which displacement calls up nothing. */
function namesOf(m: Mechanism, shapes: readonly Float64Array[]): string[] {
  return shapes.length > 0 ? freeMotions(m, [...shapes]).map((f) => f.name) : [];
}

/** What is to be said of an equilibrium: frictions that hold it, or could not. */
export function frictionNotes({ held, slipped, rubbing }: Equilibrium, t?: number): Diagnosis[] {
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
    ...note(
      'statics-rubs',
      'note',
      rubbing,
      `Drives move what it acts on, and at rest it carries nothing: ${rubbing.join(', ')}.`,
      'Which way friction pulls there follows from a motion: a kinematic or dynamic run has it.',
    ),
  ];
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
