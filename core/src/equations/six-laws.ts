/** Laws of six-axis bushings: direction by direction, and by full matrices. */
import type { SixLaw } from './bushing';
import type { Elastic } from './elastic';

export class SixSprings implements SixLaw {
  constructor(
    private readonly springs: readonly Elastic[],
    private readonly damping: readonly number[],
  ) {}
  efforts(x: Float64Array, rate: Float64Array, out: Float64Array): void {
    for (let k = 0; k < 6; k++) out[k] = this.springs[k]!.effort(x[k]!) + this.damping[k]! * rate[k]!;
  }
  energy(x: Float64Array): number {
    let e = 0;
    for (let k = 0; k < 6; k++) e += this.springs[k]!.energy(x[k]!);
    return e;
  }
}

/** E = ½ (x − x₀)ᵀ K (x − x₀), with K symmetric; damping by a matrix C. */
export class SixMatrix implements SixLaw {
  constructor(
    private readonly K: Float64Array,
    private readonly C: Float64Array,
    private readonly rest: ArrayLike<number> = [0, 0, 0, 0, 0, 0],
  ) {}
  efforts(x: Float64Array, rate: Float64Array, out: Float64Array): void {
    for (let i = 0; i < 6; i++) {
      let s = 0;
      for (let j = 0; j < 6; j++) s += this.K[6 * i + j]! * (x[j]! - this.rest[j]!) + this.C[6 * i + j]! * rate[j]!;
      out[i] = s;
    }
  }
  energy(x: Float64Array): number {
    let e = 0;
    for (let i = 0; i < 6; i++)
      for (let j = 0; j < 6; j++) e += 0.5 * (x[i]! - this.rest[i]!) * this.K[6 * i + j]! * (x[j]! - this.rest[j]!);
    return e;
  }
}

/**
 * Stiffness of the tip of a straight beam against its root, along (x, y, z, about x, y, z) with x along the beam: Euler-Bernoulli
 * (Przemieniecki, Theory of Matrix Structural Analysis, sec. 5.6, without shear).
 * @param data length m, axial stiffness EA N, bending stiffness EIy and EIz and torsional stiffness GJ, N·m²
 */
export function beamStiffness({
  length: l,
  EA,
  EIy,
  EIz,
  GJ,
}: {
  length: number;
  EA: number;
  EIy: number;
  EIz: number;
  GJ: number;
}): Float64Array {
  const K = new Float64Array(36);
  const set = (i: number, j: number, v: number) => {
    K[6 * i + j] = v;
    K[6 * j + i] = v;
  };
  set(0, 0, EA / l);
  set(1, 1, (12 * EIz) / (l * l * l));
  set(1, 5, (-6 * EIz) / (l * l));
  set(5, 5, (4 * EIz) / l);
  set(2, 2, (12 * EIy) / (l * l * l));
  set(2, 4, (6 * EIy) / (l * l));
  set(4, 4, (4 * EIy) / l);
  set(3, 3, GJ / l);
  return K;
}
