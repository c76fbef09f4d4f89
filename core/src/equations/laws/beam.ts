/**
 * An elastic beam between two frames, of small bending seen from its chord, whatever that does (a corotational beam; Crisfield, Non-linear Finite Element
 * Analysis of Solids and Structures, vol. 1, ch. 7). With β₁, β₂ the angles by which the chord turns from its ends in a plane, and k = EI/(L (1 + Φ)),
 *   E = ½ k ((4 + Φ)(β₁² + β₂²) + 2 (2 − Φ) β₁ β₂) + … in the other plane + ½ GJ/L τ² + ½ EA/L (l − L + L b)²,
 * Φ = 12EI/(κGA L²) telling how soft it is in shear (Przemieniecki, Theory of Matrix Structural Analysis, sec. 5.6). b is by how much its arc is longer than
 * its chord l, so that tension makes it stiffer and pressure softer. What pushes the bodies is the exact gradient.
 */
import type { Ex } from '../../expressions/arithmetic';
import type { Graph } from '../../expressions/graph';
import { type VectorEx, cross, dot, norm, times } from '../../expressions/vectors';
import { FRAMES, between } from './bushing';
import { forceLaw } from './law';

/** Below this sine an angle is its own sine. */
const SMALL = 1e-9;

/** Angles by which a unit vector is turned from x, towards y and towards z. */
function turnedFrom(g: Graph, [x, y, z]: readonly VectorEx[], c: VectorEx): [Ex, Ex] {
  const across = cross(g, x!, c),
    sine = g.root(dot(g, across, across)),
    by = g.choose(g.constant(SMALL), sine, g.divide(g.apply('atan2', sine, dot(g, x!, c)), sine), g.one);
  return [g.multiply(by, dot(g, y!, c)), g.multiply(by, dot(g, z!, c))];
}

/** Numbers: length; EA/L, GJ/L; and in its x-y and x-z plane k and Φ; the time by which damping follows stiffness. */
export const elasticBeam = forceLaw({
  name: 'elastic beam',
  bodies: 2,
  numbers: {
    ...FRAMES,
    ...{ length: 'number', axial: 'number', torsion: 'number', ky: 'number', py: 'number', kz: 'number', pz: 'number', delay: 'number' },
  },
  inputs: 0,
  does(g, [a, b], n) {
    const { length, axial, torsion, ky, py, kz, pz, delay } = n,
      { inA, inB, gap, all, tells } = between(g, [a!, b!], n),
      c = (x: number) => g.constant(x),
      product = (...list: readonly Ex[]) => list.reduce((x, y) => g.multiply(x, y)),
      sum = (...list: readonly Ex[]) => list.reduce((x, y) => g.add(x, y)),
      chord = norm(g, gap),
      along = times(g, g.divide(g.one, chord), gap),
      [ya, za] = turnedFrom(g, inA, along),
      [yb, zb] = turnedFrom(g, inB, along),
      entry = (i: number, j: number) => dot(g, inA[i]!, inB[j]!),
      twist = g.apply('atan2', g.subtract(entry(2, 1), entry(1, 2)), g.add(entry(1, 1), entry(2, 2)));
    // bent alike at both ends, and against each other, an arc is longer by 1/6 and by 1/10
    const longer = (b1: Ex, b2: Ex, p: Ex): Ex => {
      const apart = product(c(0.5), g.subtract(b1, b2)),
        alike = g.divide(product(c(0.5), g.add(b1, b2)), g.add(g.one, p));
      return sum(product(c(1 / 6), g.square(apart)), product(c(1 / 10), g.square(alike)));
    };
    const stretch = sum(g.subtract(chord, length), g.multiply(length, g.add(longer(ya, yb, py), longer(za, zb, pz))));
    /** Of deflections or of their rates: twice the energy, or what is lost for each second of delay. */
    const form = (s: Ex, t: Ex, planes: readonly (readonly [Ex, Ex, Ex, Ex])[]): Ex =>
      sum(
        g.multiply(axial, g.square(s)),
        g.multiply(torsion, g.square(t)),
        ...planes.map(([k, p, b1, b2]) =>
          g.multiply(k, sum(g.multiply(g.add(c(4), p), g.add(g.square(b1), g.square(b2))), product(c(2), g.subtract(c(2), p), b1, b2))),
        ),
      );
    const half = c(0.5),
      rate = (x: Ex) => all.of(x);
    return {
      potential: g.multiply(
        half,
        form(stretch, twist, [
          [ky, py, ya, yb],
          [kz, pz, za, zb],
        ]),
      ),
      dissipation: product(
        half,
        delay,
        form(rate(stretch), rate(twist), [
          [ky, py, rate(ya), rate(yb)],
          [kz, pz, rate(za), rate(zb)],
        ]),
      ),
      tells,
    };
  },
});
