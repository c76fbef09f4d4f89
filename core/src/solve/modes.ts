/** Natural motions of the machine about a posture: complex eigenvalues of ṗ = s, ṡ = J p + D s in the reduced coordinates. */
import { EigenvalueDecomposition, Matrix } from 'ml-matrix';
import type { Diagnosis } from '../diagnosis';
import { TWO_PI } from '../quantity/elementary';
import type { Mechanism } from '../system/mechanism';
import { freeMotions } from './motions';
import { combine, linearise, massTimes, probe } from './reduced';

export interface Mode {
  /** Eigenvalue, 1/s. */
  re: number;
  im: number;
  /** Undamped natural frequency |λ|/2π, Hz. */
  frequency: number;
  /** −Re λ / |λ|: 1 and more does not swing, below 0 it grows. */
  damping: number;
  /** Displacements of all bodies as a motion (translation in ground axes, rotation in body axes): real and imaginary part, the largest being 1. */
  shape: { re: Float64Array; im: Float64Array };
  /** Shares of the kinetic energy by body and of the elastic energy by load, of one swing. */
  kinetic: { body: string; share: number }[];
  elastic: { load: string; share: number }[];
}

export interface Modes {
  modes: Mode[];
  diagnoses: Diagnosis[];
}

/** Modes about the posture and motion in K. Pairs of conjugate eigenvalues are given once. */
export function modes(m: Mechanism, t = 0): Modes {
  const { system } = m;
  system.linearise();
  const leaders = freeMotions(m);
  const N = leaders.map((l) => l.shape);
  const { stiffness, damping, rest } = linearise(m, t, N, true, (out) =>
    leaders.forEach((l, i) => (out[i] = l.acceleration(system.K, system.acceleration))),
  );
  const d = N.length;
  const diagnoses: Diagnosis[] = [];
  if (d === 0)
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
  const swing = Math.max(...rest.map(Math.abs));
  const pull = Math.max(...stiffness.map((r) => Math.max(...r.map(Math.abs))), 1e-12);
  if (swing > 1e-6 * pull * 1) {
    diagnoses.push({
      code: 'modes-unbalanced',
      severity: 'warning',
      message: 'The posture is not an equilibrium: the machine accelerates there.',
      why: 'These modes hold only for motions much quicker than that.',
      remedy: 'Take the modes about the static equilibrium.',
    });
  }
  const A = Matrix.zeros(2 * d, 2 * d);
  for (let i = 0; i < d; i++) {
    A.set(i, d + i, 1);
    for (let j = 0; j < d; j++) {
      A.set(d + i, j, stiffness[i]![j]!);
      A.set(d + i, d + j, damping[i]![j]!);
    }
  }
  const e = new EigenvalueDecomposition(A);
  const V = e.eigenvectorMatrix;
  const list: Mode[] = [];
  const size = Math.sqrt(pull);
  for (let k = 0; k < 2 * d; k++) {
    const re = e.realEigenvalues[k]!,
      im = e.imaginaryEigenvalues[k]!;
    if (im < 0) continue; // its conjugate was taken
    const pair = im > 0;
    const real = combine(
      N,
      Array.from({ length: d }, (_, i) => V.get(i, k)),
      new Float64Array(system.motions),
    );
    const imaginary = combine(
      N,
      Array.from({ length: d }, (_, i) => (pair ? V.get(i, k + 1) : 0)),
      new Float64Array(system.motions),
    );
    const shape = normalised(real, imaginary);
    const magnitude = Math.sqrt(re * re + im * im);
    list.push({
      re: clean(re, size),
      im: clean(im, size),
      frequency: clean(magnitude, size) / TWO_PI,
      damping: magnitude > 1e-7 * size ? -re / magnitude : 0,
      shape,
      kinetic: kineticShares(m, shape),
      elastic: elasticShares(m, shape, t),
    });
  }
  list.sort((a, b) => a.frequency - b.frequency || a.re - b.re);
  if (list.some((x) => x.re > 1e-6 * size))
    diagnoses.push({
      code: 'modes-unstable',
      severity: 'warning',
      message: 'A mode grows: the posture is not stable.',
      why: 'The smallest push makes the machine leave it.',
    });
  return { modes: list, diagnoses };
}

const clean = (x: number, size: number): number => (Math.abs(x) < 1e-7 * size ? 0 : x);

/** Turned so that the largest component is real and 1. */
function normalised(re: Float64Array, im: Float64Array): { re: Float64Array; im: Float64Array } {
  let at = 0,
    most = 0;
  re.forEach((x, i) => {
    const s = x * x + im[i]! * im[i]!;
    if (s > most) {
      most = s;
      at = i;
    }
  });
  if (most === 0) return { re, im };
  const [a, b] = [re[at]! / most, -im[at]! / most];
  return { re: re.map((x, i) => x * a - im[i]! * b), im: im.map((y, i) => re[i]! * b + y * a) };
}

function kineticShares({ system, bodies }: Mechanism, { re, im }: Mode['shape']): Mode['kinetic'] {
  const parts = [re, im].map((v) => {
    const Mv = new Float64Array(v.length);
    massTimes(system, v, Mv);
    return bodies.map((_, i) => system.own.velocitiesOf(i).reduce((s, k) => s + v[k]! * Mv[k]!, 0));
  });
  const sum = bodies.map((_, i) => parts[0]![i]! + parts[1]![i]!);
  const total = sum.reduce((s, x) => s + x, 0) || 1;
  return bodies.map((b, i) => ({ body: b.name, share: sum[i]! / total })).sort((a, b) => b.share - a.share);
}

/** Second difference of each load's energy along the shape: half of it is what one swing stores there. */
function elasticShares(m: Mechanism, { re, im }: Mode['shape'], t: number): Mode['elastic'] {
  const {
    system,
    assembly: { forces },
  } = m;
  const { K } = system;
  const y = new Float64Array(system.size);
  K.store(y);
  const stored = (v: Float64Array): number[] => {
    if (!v.some((x) => x !== 0)) return forces.map(() => 0);
    const h = 3 * probe(system, v, m.size);
    const at = (s: number) => {
      K.load(y);
      K.displace(v, s);
      return forces.map((f) => f.force.energy?.(K, t) ?? 0);
    };
    const [plus, minus, here] = [at(h), at(-h), at(0)];
    return forces.map((_, i) => (plus[i]! + minus[i]! - 2 * here[i]!) / (h * h));
  };
  const [a, b] = [stored(re), stored(im)];
  K.load(y);
  const sum = forces.map((_, i) => Math.abs(a[i]! + b[i]!));
  const total = sum.reduce((s, x) => s + x, 0) || 1;
  return forces.map((f, i) => ({ load: f.name, share: sum[i]! / total })).sort((x, z) => z.share - x.share);
}
