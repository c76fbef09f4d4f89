/**
 * Natural motions of the machine about a posture. At rest and in balance those of M ẍ + C ẋ + K x = 0 on what the joints leave free (`small-motions.ts`);
 * where it moves, or is not in balance, complex eigenvalues of p̈ = J p + D ṗ in coordinates that lead its motions (`moving.ts`).
 */
import { EigenvalueDecomposition, Matrix } from 'ml-matrix';
import type { Diagnosis } from '../diagnosis';
import type { Kinematics } from '../equations/kinematics';
import type { Mechanism } from '../system/mechanism';
import { type Undamped, lowest } from './lowest';
import { GROWS, KNOWN, ROUGH, ROUNDING, movingModes } from './moving-modes';
import { type Mode, modeOf } from './modes-found';
import { combine, freedomCount } from './reduced';
import { refuseSingular } from './singular';
import { SmallMotions, vanishes } from './small-motions';
import { balanced } from './balance';

export type { Mode };

export interface Modes {
  modes: Mode[];
  diagnoses: Diagnosis[];
}

/** How many are found of a machine that has more. */
const MOST = 40;

/** Modes about the posture and motion in K. Pairs of conjugate eigenvalues are given once. @param most of a large machine so many, the slowest */
export function modes(m: Mechanism, t = 0, most = MOST): Modes {
  const { system } = m,
    { K } = system;
  const freedoms = freedomCount(system);
  if (freedoms === 0)
    return {
      modes: [],
      diagnoses: [
        {
          code: 'modes-none',
          severity: 'warning',
          message: 'Nothing can swing: no freedom is left.',
          remedy: 'Switch the drives off, or free a joint.',
        },
      ],
    };
  refuseSingular(m, t);
  if (system.own.list.length > 0) return movingModes(m, t);
  const of = new SmallMotions(m).at(t);
  if (!rests(K)) return movingModes(m, t);
  const unbalanced = !balanced(m, t, of.noise);
  if (unbalanced || of.carried) return movingModes(m, t, unbalanced);
  const undamped = lowest(of, freedoms, most),
    list = damped(of, undamped),
    diagnoses: Diagnosis[] = [];
  if (undamped.length < freedoms)
    diagnoses.push({
      code: 'modes-some',
      severity: 'note',
      message: `These are the ${undamped.length} slowest of ${freedoms} modes; none between them is left out.`,
    });
  if (list.some((x) => x.re > 0)) diagnoses.push(GROWS);
  if (isRough(undamped, of.stiffest)) diagnoses.push(ROUGH);
  return { modes: list.sort((a, b) => a.frequency - b.frequency || a.re - b.re), diagnoses };
}

/** Part of the slowest ω² there is that rounding of one may come to which is told to be zero. */
const ZERO = 1e-6;
/** Whether rounding bears on what is told of some mode. */
function isRough(list: readonly Undamped[], stiffest: number): boolean {
  const some = list.filter((u) => !vanishes(u.square)).map((u) => Math.abs(u.square.value)),
    slowest = some.reduce((a, b) => Math.min(a, b), Infinity);
  if (ROUNDING * stiffest > KNOWN * slowest) return true;
  return list.some(({ square }) => (vanishes(square) ? square.bound > ZERO * slowest : square.bound > KNOWN * Math.abs(square.value)));
}
const rests = ({ v, w, s }: Kinematics): boolean => [v, w, s].every((list) => list.every((x) => x === 0));

/** What damping makes of undamped motions: λ² + λ C + Ω² on these. What cannot be told from zero is zero. */
function damped(of: SmallMotions, undamped: readonly Undamped[]): Mode[] {
  const { m, tangent } = of,
    n = undamped.length,
    squares = undamped.map(({ square }) => (vanishes(square) ? 0 : square.value)),
    C = undamped.map((a) =>
      undamped.map((b) => {
        const c = of.form('motion', a.shape, b.shape);
        return vanishes(c) ? 0 : c.value;
      }),
    ),
    still = new Float64Array(m.system.motions);
  const alone = (i: number) => C[i]!.every((c, j) => i === j || (c === 0 && C[j]![i] === 0)),
    coupled = undamped.map((_, i) => i).filter((i) => !alone(i)),
    out: Mode[] = [];
  for (let i = 0; i < n; i++) {
    if (!alone(i)) continue;
    const { shape } = undamped[i]!;
    for (const [re, im] of roots(C[i]![i]!, squares[i]!)) out.push(modeOf(m, tangent, re, im, shape, still));
  }
  if (coupled.length === 0) return out;
  // (ω p, ṗ), so that without damping the matrix is as good as can be
  const k = coupled.length,
    A = Matrix.zeros(2 * k, 2 * k),
    w = coupled.map((i) => Math.sqrt(Math.abs(squares[i]!)));
  coupled.forEach((i, a) => {
    A.set(a, k + a, w[a]!);
    A.set(k + a, a, squares[i]! < 0 ? w[a]! : -w[a]!);
    coupled.forEach((j, b) => A.set(k + a, k + b, -C[i]![j]!));
  });
  const e = new EigenvalueDecomposition(A),
    V = e.eigenvectorMatrix;
  for (let c = 0; c < 2 * k; c++) {
    const re = e.realEigenvalues[c]!,
      im = e.imaginaryEigenvalues[c]!;
    if (im < 0) continue; // its conjugate was taken
    // shapes go with the rates, which are λ times the displacements
    const of2 = (column: number) =>
      combine(
        coupled.map((i) => undamped[i]!.shape),
        Array.from({ length: k }, (_, a) => V.get(k + a, column)),
        new Float64Array(m.system.motions),
      );
    out.push(modeOf(m, tangent, re, im, of2(c), im > 0 ? of2(c + 1) : still));
  }
  return out;
}

/** λ² + c λ + ω² = 0: one of a conjugate pair, or both that are real; of a motion that nothing pulls back or brakes 0 alone. */
function roots(c: number, square: number): (readonly [number, number])[] {
  if (c === 0 && square === 0) return [[0, 0]];
  const d = 0.25 * c * c - square;
  if (d < 0) return [[c === 0 ? 0 : -0.5 * c, Math.sqrt(-d)]];
  const far = -0.5 * c - (c < 0 ? -1 : 1) * Math.sqrt(d);
  return [
    [far, 0],
    [square / far, 0],
  ];
}
