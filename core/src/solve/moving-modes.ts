/**
 * Natural motions of a machine that moves, or is not in balance: complex eigenvalues of p̈ = J p + D ṗ, in coordinates p that lead its free motions (joint
 * coordinates where they can). J and D are exact: displaced postures stay on the constraints, with the rates of all p as they are.
 */
import { EigenvalueDecomposition, Matrix } from 'ml-matrix';
import type { Diagnosis } from '../diagnosis';
import { balanceMatrix } from '../linear/balance';
import type { Mechanism } from '../system/mechanism';
import { Tangent } from '../system/tangent/tangent';
import { mustBeFinite } from './finite';
import { type Mode, modeOf } from './modes-found';
import { type FreeMotion, freeMotions } from './motions';
import { combine, linearise } from './reduced';
import { respond } from './respond';

/** Told where a mode grows. */
export const GROWS: Diagnosis = {
  code: 'modes-unstable',
  severity: 'warning',
  message: 'A mode grows: the posture is not stable.',
  why: 'The smallest push makes the machine leave it.',
};

/** Part of the largest eigenvalue below which one is zero: of a double one rounding leaves its root. */
const NOTHING = 1e-7;

interface Linear {
  /** Rows of ∂p̈/∂p and ∂p̈/∂ṗ, and p̈ itself. */
  stiffness: Float64Array[];
  damping: Float64Array[];
  rest: Float64Array;
}

/** Modes about the posture and motion in K. Pairs of conjugate eigenvalues are given once. */
export function movingModes(m: Mechanism, t: number): { modes: Mode[]; diagnoses: Diagnosis[] } {
  const { system } = m;
  system.linearise();
  const leaders = freeMotions(m),
    N = leaders.map((l) => l.shape),
    { stiffness, damping, rest } = system.own.list.length > 0 ? byDifferences(m, t, leaders) : derived(m, t, leaders),
    tangent = new Tangent(system),
    d = N.length,
    diagnoses: Diagnosis[] = [],
    swing = Math.max(...rest.map(Math.abs)),
    pull = Math.max(...stiffness.map((r) => Math.max(...r.map(Math.abs))), 1e-12);
  system.accelerate(t);
  tangent.look();
  if (swing > 1e-6 * pull)
    diagnoses.push({
      code: 'modes-unbalanced',
      severity: 'warning',
      message: 'The posture is not an equilibrium: the machine accelerates there.',
      why: 'These modes hold only for motions much quicker than that.',
      remedy: 'Take the modes about the static equilibrium.',
    });
  const A = Array.from({ length: 2 * d }, () => new Float64Array(2 * d));
  for (let i = 0; i < d; i++) {
    A[i]![d + i] = 1;
    A[d + i]!.set(stiffness[i]!);
    A[d + i]!.set(damping[i]!, d);
  }
  const D = balanceMatrix(A),
    e = new EigenvalueDecomposition(new Matrix(A.map((r) => [...r]))),
    V = e.eigenvectorMatrix,
    list: Mode[] = [],
    size = Math.sqrt(pull),
    clean = (x: number) => (Math.abs(x) < NOTHING * size ? 0 : x),
    shape = (k: number) =>
      combine(
        N,
        Array.from({ length: d }, (_, i) => D[i]! * V.get(i, k)),
        new Float64Array(system.motions),
      );
  for (let k = 0; k < 2 * d; k++) {
    const im = e.imaginaryEigenvalues[k]!;
    if (im < 0) continue; // its conjugate was taken
    const still = new Float64Array(system.motions);
    list.push(modeOf(m, tangent, clean(e.realEigenvalues[k]!), clean(im), shape(k), im > 0 ? shape(k + 1) : still));
  }
  list.sort((a, b) => a.frequency - b.frequency || a.re - b.re);
  if (list.some((x) => x.re > 1e-6 * size)) diagnoses.push(GROWS);
  return { modes: list, diagnoses };
}

function byDifferences(m: Mechanism, t: number, leaders: readonly FreeMotion[]): Linear {
  const { system } = m;
  return linearise(
    m,
    t,
    leaders.map((l) => l.shape),
    true,
    (out) => leaders.forEach((l, i) => (out[i] = l.acceleration(system.K, system.acceleration))),
  );
}

function derived(m: Mechanism, t: number, leaders: readonly FreeMotion[]): Linear {
  const { system } = m,
    { motions, rows, K } = system,
    followed = leaders.flatMap((l) => ('freedom' in l.leads ? [l.leads.freedom] : [])),
    tangent = new Tangent(system, { followed, drifts: true });
  system.accelerate(t);
  tangent.look();
  const d = leaders.length,
    rest = Float64Array.from(leaders, (l) => l.acceleration(K, system.acceleration)),
    /** Which of the further rows is that of a leader; −1: it is an entry of a motion. */
    nth = leaders.map((l) => ('freedom' in l.leads ? followed.indexOf(l.leads.freedom) : -1)),
    rowOf = leaders.map((l) => ('freedom' in l.leads ? l.leads.freedom.row(K).slice() : undefined)),
    /** Rate of a leader by velocities. */
    rate = (k: number, u: Float64Array): number => {
      const { leads } = leaders[k]!;
      if ('entry' in leads) return u[leads.entry]!;
      const { a, b } = leads.freedom.equation,
        row = rowOf[k]!;
      let s = 0;
      for (let e = 0; e < 6; e++) {
        if (a < system.bodies) s += row[e]! * u[6 * a + e]!;
        if (b < system.bodies) s += row[6 + e]! * u[6 * b + e]!;
      }
      return s;
    },
    room = () => new Float64Array(motions + rows + followed.length),
    /** Accelerations of all leaders for what changes otherwise. */
    answer = (r: Float64Array): Float64Array => {
      const x = respond(system, tangent, r.subarray(0, motions + rows));
      return Float64Array.from(leaders, (_, k) => rate(k, x) - (nth[k]! < 0 ? 0 : r[motions + rows + nth[k]!]!));
    };
  const columns = leaders.map(({ shape }) => {
    const r = room(),
      drift = room(),
      push = new Float64Array(motions + rows);
    tangent.times('posture', shape, r);
    tangent.times('drift', shape, drift);
    // velocities follow, so that all rows still hold and all leaders keep their rates
    for (let k = 0; k < rows; k++) push[motions + k] = -drift[motions + k]!;
    system.solve(push);
    const u = push.slice(0, motions);
    leaders.forEach((l, k) => {
      const off = rate(k, push) + (nth[k]! < 0 ? 0 : drift[motions + rows + nth[k]!]!);
      for (let e = 0; e < motions; e++) u[e] = u[e]! - off * l.shape[e]!;
    });
    tangent.times('motion', u, r);
    const s = answer(r),
      v = room();
    tangent.times('motion', shape, v);
    return [s, answer(v)] as const;
  });
  const rowsOf = (which: 0 | 1) => Array.from({ length: d }, (_, i) => Float64Array.from(columns, (c) => c[which][i]!)),
    [stiffness, damping] = [rowsOf(0), rowsOf(1)];
  mustBeFinite(m, t, rest, ...stiffness, ...damping);
  return { stiffness, damping, rest };
}
