/**
 * The mass of a beam between two bodies that hold its ends. With the places p of its ends, their directions t along it and its length L,
 *   T = (p₁ + p₂)/2,  φ = p₂ − p₁,  s = L (t₁ − t₂)/2,  α = L (t₁ + t₂)/2 − φ
 * its energy is ½ m (|Ṫ + ṡ/6|² + |ṡ|²/72 + |φ̇ + 12v α̇|²/12 + (w − 12v²)|α̇|²): exact for every rigid motion, with the momentum and the weight of the
 * cubic between the ends. Of the family of such mass matrices (Felippa, Customizing the mass and geometric stiffness of plane beam elements by Fourier methods,
 * Engineering Computations 18, 2001) it is one whose waves have no error of ω² below (kL)⁸; with shear, of which Φ = 12EI/(κGA L²) tells how soft it is, none
 * below (kL)² of what shear and rotary inertia change. v is the one number left open: there a cantilever of four pieces is most exact.
 */
import { type Mat3, type Vec3, add, addM, column, scale } from '../geometry/vector';
import { CarriedMass, type Share } from './carried-mass';

const V = -1 / 80;
const W = (4 / 3 - 840 * V * V) / 70;

/** A beam's end: the place relative to the centre of mass of its body, m, and the beam's axes as columns, x along it, in body axes. */
export interface BeamEnd {
  readonly body: number;
  readonly at: Vec3;
  readonly frame: Mat3;
}

/**
 * @param mass of the whole of it, kg @param length m @param shear Φ, 0 where it gives way by bending alone
 * @returns the first moves as its centre of mass does
 */
export function beamMass(mass: number, length: number, shear: number, a: BeamEnd, b: BeamEnd): CarriedMass[] {
  const give = 1 + shear,
    v = (V - shear / 24) / give,
    // 12v² is less at any Φ
    w = (W + 0.012 * shear + (shear * shear) / 46) / (give * give);
  /** Σ (place) p + (turn) L t of the two ends. */
  const point = (m: number, place: readonly [number, number], turn: readonly [number, number]): CarriedMass => {
    const of = ({ body, at, frame }: BeamEnd, k: 0 | 1): Share => ({
      body,
      of: place[k],
      u: add(scale(at, place[k]), scale(column(frame, 0), length * turn[k])),
    });
    return new CarriedMass(m, of(a, 0), of(b, 1));
  };
  const e = 12 * v;
  return [
    point(mass, [0.5, 0.5], [1 / 12, -1 / 12]),
    point(mass / 72, [0, 0], [0.5, -0.5]),
    point(mass / 12, [e - 1, 1 - e], [e / 2, e / 2]),
    point(mass * (w - e * v), [1, -1], [0.5, 0.5]),
  ];
}

/** x xᵀ. */
const square = (x: Vec3): Mat3 => [
  x[0] * x[0],
  x[0] * x[1],
  x[0] * x[2],
  x[1] * x[0],
  x[1] * x[1],
  x[1] * x[2],
  x[2] * x[0],
  x[2] * x[1],
  x[2] * x[2],
];

/**
 * Rotary inertia of its sections, half of it at each end, in the axes of that body: as lumps it leaves no error below (kL)² of what it changes.
 * @param inertia of the whole beam about its x, y and z: mass times the square of the radius of gyration of its section, kg·m²
 */
export const rotaryInertia = (inertia: Vec3, frame: Mat3): Mat3 =>
  ([0, 1, 2] as const).map((k) => square(scale(column(frame, k), Math.sqrt(inertia[k] / 2)))).reduce(addM);
