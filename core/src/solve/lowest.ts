/**
 * The slowest undamped motions, K x = ω² M x on what the joints leave free: block Krylov subspaces of (K + s M)⁻¹ M with full orthogonalisation, and
 * Rayleigh-Ritz on them (Parlett, The Symmetric Eigenvalue Problem, ch. 11 and 13). How many lie below a bound is counted by Sylvester's law, so that
 * none is missed.
 */
import { EigenvalueDecomposition, Matrix } from 'ml-matrix';
import { refuse } from '../diagnosis';
import { freeBasis } from './reduced';
import { type Bounded, type SmallMotions } from './small-motions';

export interface Undamped {
  /** ω², 1/s², negative where the posture is left. */
  readonly square: Bounded;
  /** Displacements, xᵀ M x = 1. */
  readonly shape: Float64Array;
}

/** Freedoms up to which all motions are found at once. */
const ALL = 60;
const BLOCK = 8;
/** Part of a vector that must point anywhere new. */
const NEW = 1e-8;
const ROUNDS = 40;
/** Relative change of ω² between rounds from which on it has converged. */
const CONVERGED = 1e-11;
/** Part of the largest ω² below which none is looked for by itself. */
const SMALLEST = 1e-22;
/** Freedoms up to which all motions are found at once where they cannot be counted. */
const DENSE = 400;

const dot = (a: Float64Array, b: Float64Array): number => {
  let s = 0;
  for (let i = 0; i < a.length; i++) s += a[i]! * b[i]!;
  return s;
};
const random = (n: number, seed: number): Float64Array => {
  let s = seed;
  return Float64Array.from({ length: n }, () => (s = (s * 1103515245 + 12345) % 2147483648) / 1073741824 - 1);
};

/** A basis that grows, orthonormal in the mass metric. */
class Basis {
  readonly list: Float64Array[] = [];
  private readonly masses: Float64Array[] = [];
  constructor(private readonly of: SmallMotions) {}
  /** @returns whether it points anywhere new */
  add(x: Float64Array): boolean {
    let size = 0;
    const start = Math.sqrt(Math.max(0, dot(x, this.of.mass(x))));
    for (let pass = 0; pass < 2; pass++) {
      // what is small beside what was taken away may no longer be one that joints allow
      x = this.of.allowed(x);
      this.list.forEach((b, k) => {
        const c = dot(x, this.masses[k]!);
        for (let i = 0; i < x.length; i++) x[i] = x[i]! - c * b[i]!;
      });
      size = Math.sqrt(Math.max(0, dot(x, this.of.mass(x))));
      if (!(size > NEW * (pass === 0 ? start : 1))) return false;
      for (let i = 0; i < x.length; i++) x[i] = x[i]! / size;
    }
    this.list.push(x);
    this.masses.push(this.of.mass(x));
    return true;
  }
}

/** Rayleigh-Ritz on a basis that is orthonormal in the mass metric: the slowest first. @param most how many */
function ritz(of: SmallMotions, basis: readonly Float64Array[], most: number): Undamped[] {
  const n = basis.length,
    A = Matrix.zeros(n, n);
  const images = basis.map((x) => of.stiffness(x));
  for (let i = 0; i < n; i++)
    for (let j = 0; j <= i; j++) {
      const x = 0.5 * (dot(basis[i]!, images[j]!) + dot(basis[j]!, images[i]!));
      A.set(i, j, x);
      A.set(j, i, x);
    }
  const e = new EigenvalueDecomposition(A, { assumeSymmetric: true }),
    order = Array.from({ length: n }, (_, k) => k).sort((a, b) => e.realEigenvalues[a]! - e.realEigenvalues[b]!);
  return order.slice(0, most).map((k): Undamped => {
    const shape = new Float64Array(basis[0]!.length);
    basis.forEach((x, i) => {
      const c = e.eigenvectorMatrix.get(i, k);
      for (let j = 0; j < x.length; j++) shape[j] = shape[j]! + c * x[j]!;
    });
    const size = 1 / Math.sqrt(dot(shape, of.mass(shape)));
    for (let j = 0; j < shape.length; j++) shape[j] = shape[j]! * size;
    return { square: of.form('posture', shape, shape), shape };
  });
}

/** An ω² below which at least so many motions lie, by counting; and how many do. Undefined where that cannot be counted. */
export function below(of: SmallMotions, count: number): { square: number; count: number } | undefined {
  const counted = (s: number) => of.shift(-s, true) ?? of.shift(-s * (1 + 1e-7), true);
  let hi = Math.max(of.stiffest, 1e-8),
    lo = SMALLEST * hi,
    found = counted(hi);
  // bodies without inertia have no part in what is the stiffest
  for (let k = 0; k < 12 && found !== undefined && found < count; k++) found = counted((hi *= 10));
  if (found === undefined || found < count) return undefined;
  for (let k = 0; k < 60 && hi > 1.5 * lo; k++) {
    const mid = Math.sqrt(lo * hi),
      n = counted(mid);
    if (n === undefined) return undefined;
    if (n >= count) {
      hi = mid;
      found = n;
    } else lo = mid;
  }
  return { square: hi, count: found };
}

/** @param freedoms how many there are @param count how many motions are wanted, at least */
export function lowest(of: SmallMotions, freedoms: number, count: number): Undamped[] {
  const { system } = of.m;
  if (freedoms <= ALL) return ritz(of, freeBasis(system, freedoms), freedoms);
  const bound = below(of, Math.min(freedoms, count));
  if (!bound) {
    if (freedoms <= DENSE) return ritz(of, freeBasis(system, freedoms), Math.min(freedoms, count));
    return refuse({
      code: 'modes-uncounted',
      message: `The slowest of the ${freedoms} modes cannot be told apart from the others.`,
      why: 'Stiffnesses or masses of very different size stand beside each other, and their digits are lost.',
      remedy: 'Look for a stiffness, length or mass that is out of all proportion.',
    });
  }
  let s = 1e-3 * bound.square;
  for (let k = 0; k < 30 && (of.shift(s, true) ?? 1) > 0; k++) s *= 4;
  const basis = new Basis(of);
  let block = Array.from({ length: BLOCK }, (_, k) => random(system.motions, 12345 + 977 * k)),
    before: number[] = [],
    found: Undamped[] = [];
  for (let round = 0; round < ROUNDS && block.length > 0 && basis.list.length < freedoms; round++) {
    const first = basis.list.length;
    for (const x of block) if (basis.list.length < freedoms) basis.add(of.solve(of.mass(x)));
    block = basis.list.slice(first).map((x) => x.slice());
    if (basis.list.length < bound.count + BLOCK && basis.list.length < freedoms) continue;
    found = ritz(of, basis.list, bound.count);
    const now = found.map((f) => f.square.value),
      same = now.every((x, k) => Math.abs(x - (before[k] ?? Infinity)) <= CONVERGED * Math.abs(x) + found[k]!.square.bound);
    if (same && now.at(-1)! <= bound.square) break;
    before = now;
  }
  // all that there are below that
  if (found.length < bound.count) return ritz(of, freeBasis(system, freedoms), bound.count);
  return found;
}
