/**
 * Natural motions of a machine that moves, or is not in balance: complex eigenvalues of p̈ = J p + D ṗ, in coordinates p that lead its free motions (joint
 * coordinates where they can). J and D are exact: displaced postures stay on the constraints, with the rates of all p as they are.
 */
import { EigenvalueDecomposition, Matrix } from 'ml-matrix';
import type { Diagnosis } from '../diagnosis';
import { dim } from '../quantity/dimension';
import { TWO_PI } from '../quantity/elementary';
import { formatQuantity } from '../quantity/units';
import { balanceMatrix } from '../linear/balance';
import type { Mechanism } from '../system/mechanism';
import { Tangent } from '../system/tangent/tangent';
import { Leading, type LinearMotion } from './leading';
import { changing, firstOrder, passing } from './passing';
import { type Mode, modeOf } from './modes-found';
import { type FreeMotion, freeMotions } from './motions';
import { combine, linearise } from './reduced';

/** Told where a mode grows. */
export const GROWS: Diagnosis = {
  code: 'modes-unstable',
  severity: 'warning',
  message: 'A mode grows: the posture is not stable.',
  why: 'The smallest push makes the machine leave it.',
};

/** Part of ω² that rounding may come to; and told where it may come to more. */
export const KNOWN = 1e-3;
export const ROUGH: Diagnosis = {
  code: 'modes-rounded',
  severity: 'warning',
  message: 'Some modes may be told wrongly: digits are lost in rounding.',
  why: 'Something is so stiff that the rounding of its length pushes more than what swings so slowly pulls back.',
  remedy: 'Make it less stiff: a hundred times what it stands beside is as good as rigid. Or join it rigidly.',
};
/** Rounding of ω², in parts of the largest stiffness there is. */
export const ROUNDING = 1e-15;

/** Told where the machine moves on while it swings. */
const passes = (fastest: number): Diagnosis => ({
  code: 'modes-passing',
  severity: 'warning',
  message: `Modes up to ${formatQuantity(fastest / TWO_PI, dim(0, 0, -1), 'Hz', 3)} hold for an instant only.`,
  why: 'The machine moves on while it swings so, and in its coordinates the stiffness does not stay what it is: these do not turn with a part that turns.',
  remedy: 'Lead the part by joints that turn with it, take the modes at rest, or run the machine and look at its spectrum.',
});

/** Part of the largest eigenvalue below which one is zero: of a double one rounding leaves its root. */
const NOTHING = 1e-7;

/** Modes about the posture and motion in K. Pairs of conjugate eigenvalues are given once. @param unbalanced whether it rests there, and would not stay */
export function movingModes(m: Mechanism, t: number, unbalanced = false): { modes: Mode[]; diagnoses: Diagnosis[] } {
  const { system } = m;
  system.linearise();
  const leaders = freeMotions(m),
    N = leaders.map((l) => l.shape),
    { stiffness, damping, rest } = system.own.list.length > 0 ? byDifferences(m, t, leaders) : new Leading(m, t, leaders).linear,
    tangent = new Tangent(system),
    d = N.length,
    diagnoses: Diagnosis[] = [],
    swing = Math.max(...rest.map(Math.abs)),
    pull = Math.max(...stiffness.map((r) => Math.max(...r.map(Math.abs))), 1e-12);
  system.accelerate(t);
  tangent.look();
  if (unbalanced || swing > 1e-6 * pull)
    diagnoses.push({
      code: 'modes-unbalanced',
      severity: 'warning',
      message: 'The posture is not an equilibrium: the machine accelerates there.',
      why: 'These modes hold only for motions much quicker than that.',
      remedy: 'Take the modes about the static equilibrium.',
    });
  const A = firstOrder({ stiffness, damping }),
    change = system.own.list.length > 0 ? undefined : changing(m, t, leaders, A),
    D = balanceMatrix(A),
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
  if (change) {
    const balanced = new Matrix(change.to2DArray().map((row, i) => row.map((x, j) => (x * D[j]!) / D[i]!))),
      { realEigenvalues: re, imaginaryEigenvalues: im } = e,
      fastest = passing(V, re, im, balanced).reduce(
        (most, p, k) => (p ? Math.max(most, Math.sqrt(re[k]! * re[k]! + im[k]! * im[k]!)) : most),
        0,
      );
    if (fastest > 0) diagnoses.push(passes(fastest));
  }
  const told = withoutDoubles(list);
  told.sort((a, b) => a.frequency - b.frequency || a.re - b.re);
  if (told.some((x) => x.re > 1e-6 * size)) diagnoses.push(GROWS);
  const slow = told.map(({ re, im }) => re * re + im * im).filter((x) => x > 0);
  if (slow.some((x) => ROUNDING * pull > KNOWN * x)) diagnoses.push(ROUGH);
  return { modes: told, diagnoses };
}

/** Part of a shape by which it must differ from others to be another. */
const APART = 1e-6;
/** What nothing pulls back or brakes has the eigenvalue 0 twice: of such motions each is told once. */
function withoutDoubles(list: readonly Mode[]): Mode[] {
  const basis: Float64Array[] = [],
    dot = (a: Float64Array, b: Float64Array) => a.reduce((s, x, i) => s + x * b[i]!, 0);
  return list.filter(({ re, im, shape }) => {
    if (re !== 0 || im !== 0) return true;
    const x = shape.re.slice(),
      size = Math.sqrt(dot(x, x));
    for (const b of basis) {
      const c = dot(x, b);
      for (let i = 0; i < x.length; i++) x[i] = x[i]! - c * b[i]!;
    }
    const left = Math.sqrt(dot(x, x));
    if (!(left > APART * size)) return false;
    basis.push(x.map((v) => v / left));
    return true;
  });
}

function byDifferences(m: Mechanism, t: number, leaders: readonly FreeMotion[]): LinearMotion {
  const { system } = m;
  return linearise(
    m,
    t,
    leaders.map((l) => l.shape),
    true,
    (out) => leaders.forEach((l, i) => (out[i] = l.acceleration(system.K, system.acceleration))),
  );
}
