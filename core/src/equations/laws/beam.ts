/**
 * An elastic beam between two frames, of small bending seen from its chord, whatever that does (a corotational beam; Crisfield, Non-linear Finite Element
 * Analysis of Solids and Structures, vol. 1, ch. 7). With β₁, β₂ the angles by which the chord turns from its ends in a plane, and k = EI/(L (1 + Φ)),
 *   E = ½ k ((4 + Φ)(β₁² + β₂²) + 2 (2 − Φ) β₁ β₂) + … in the other plane + ½ GJ/L τ² + ½ EA/L (l − L + L b)²,
 * Φ = 12EI/(κGA L²) telling how soft it is in shear (Przemieniecki, Theory of Matrix Structural Analysis, sec. 5.6). b is by how much its arc is longer than
 * its chord l, so that tension makes it stiffer and pressure softer. What pushes the bodies is the exact gradient.
 */
import type { Ex } from '../../expressions/arithmetic';
import type { Graph } from '../../expressions/graph';
import { Direction } from '../../expressions/derivative';
import { type VectorEx, cross, dot, minus, norm, plus, times } from '../../expressions/vectors';
import { spin, velocity } from '../stated/body';
import { FRAMES, between } from './bushing';
import { forceLaw } from './law';

/** (arctan u)/u in powers of u², as far as it takes for 1e-9 up to a quarter of 45°, and 1e-5 up to one of 90°. */
const SERIES = [1, -1 / 3, 1 / 5, -1 / 7, 1 / 9, -1 / 11, 1 / 13];
/** An angle over its sine, by the tangent of a quarter of it: no function is called, and nothing is special where it vanishes. @param square of the sine */
function overSine(g: Graph, square: Ex, cosine: Ex): Ex {
  const half = g.divide(g.one, g.add(g.one, cosine)),
    t2 = g.multiply(square, g.square(half)),
    quarter = g.divide(g.one, g.add(g.one, g.root(g.add(g.one, t2)))),
    u2 = g.multiply(t2, g.square(quarter)),
    sum = SERIES.reduceRight<Ex>((x, c) => g.add(g.constant(c), g.multiply(u2, x)), g.zero);
  return g.multiply(g.multiply(g.constant(4), sum), g.multiply(half, quarter));
}

/** Sums and products of several. */
const sumOf = (g: Graph, list: readonly Ex[]): Ex => list.reduce((x, y) => g.add(x, y), g.zero);
const productOf = (g: Graph, list: readonly Ex[]): Ex => list.reduce((x, y) => g.multiply(x, y), g.one);
const vectors = (g: Graph, list: readonly VectorEx[]): VectorEx => list.reduce((x, y) => plus(g, x, y));

/** What the deflections are made of: the length of the chord, its direction along the axes of both ends, and what the twist is the angle of. */
type Nodes = readonly [chord: Ex, a: VectorEx, b: VectorEx, cosine: Ex, sine: Ex];
/** Stretch of the arc, the angles by which the chord turns from both ends in both planes, and the twist. */
function deflections(g: Graph, [chord, a, b, cosine, sine]: Nodes, length: Ex, planes: readonly [Ex, Ex]): readonly Ex[] {
  const c = (x: number) => g.constant(x),
    turned = ([x, y, z]: VectorEx) => {
      const by = overSine(g, g.add(g.square(y), g.square(z)), x);
      return [g.multiply(by, y), g.multiply(by, z)] as const;
    },
    [ya, za] = turned(a),
    [yb, zb] = turned(b),
    n = g.divide(g.one, g.root(g.add(g.square(cosine), g.square(sine)))),
    s = g.multiply(sine, n),
    twist = g.multiply(s, overSine(g, g.square(s), g.multiply(cosine, n)));
  // bent against each other, and alike, at both ends an arc is longer by 1/6 and by 1/10
  const longer = (b1: Ex, b2: Ex, shear: Ex): Ex => {
    const apart = productOf(g, [c(0.5), g.subtract(b1, b2)]),
      alike = g.divide(productOf(g, [c(0.5), g.add(b1, b2)]), g.add(g.one, shear));
    return sumOf(g, [productOf(g, [c(1 / 6), g.square(apart)]), productOf(g, [c(1 / 10), g.square(alike)])]);
  };
  const arc = g.multiply(length, g.add(longer(ya, yb, planes[0]), longer(za, zb, planes[1])));
  return [g.add(g.subtract(chord, length), arc), ya, yb, za, zb, twist];
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
  does(g, [first, second], n) {
    const { length, axial, torsion, ky, py, kz, pz, delay } = n,
      { inA, inB, gap, all, tells } = between(g, [first!, second!], n),
      [, y1, z1] = inA as [VectorEx, VectorEx, VectorEx],
      [, y2, z2] = inB as [VectorEx, VectorEx, VectorEx],
      chord = norm(g, gap),
      c = times(g, g.divide(g.one, chord), gap),
      along = (axes: readonly VectorEx[]) => axes.map((u) => dot(g, u, c)) as unknown as VectorEx,
      nodes: Nodes = [chord, along(inA), along(inB), g.add(dot(g, y1, y2), dot(g, z1, z2)), g.subtract(dot(g, z1, y2), dot(g, y1, z2))],
      x = deflections(g, nodes, length, [py, pz]);
    /** What pushes back, or what damps, of deflections or of their rates. */
    const efforts = ([s, a, b, d, e, t]: readonly Ex[]): readonly Ex[] => {
      const plane = (k: Ex, shear: Ex, one: Ex, other: Ex) =>
        productOf(g, [k, sumOf(g, [g.multiply(g.add(g.constant(4), shear), one), g.multiply(g.subtract(g.constant(2), shear), other)])]);
      return [
        g.multiply(axial, s!),
        plane(ky, py, a!, b!),
        plane(ky, py, b!, a!),
        plane(kz, pz, d!, e!),
        plane(kz, pz, e!, d!),
        g.multiply(torsion, t!),
      ];
    };
    const pull = efforts(x),
      damped = efforts(x.map((q) => all.of(q))),
      push = pull.map((f, k) => g.add(f, g.multiply(delay, damped[k]!)));
    /** Of a change of one node alone. */
    const by = (node: Ex) => {
      const only = new Direction(g, new Map(nodes.flat().map((other) => [other, other === node ? g.one : g.zero])), true);
      return sumOf(
        g,
        x.map((q, k) => g.multiply(push[k]!, only.of(q))),
      );
    };
    const [byChord, cosine, sine] = [nodes[0], nodes[3], nodes[4]].map(by) as [Ex, Ex, Ex],
      [byA, byB] = [nodes[1].map(by), nodes[2].map(by)],
      // by the direction of the chord, and by its ends
      byC = vectors(g, [...byA.map((f, k) => times(g, f, inA[k]!)), ...byB.map((f, k) => times(g, f, inB[k]!))]),
      across = times(g, g.divide(g.one, chord), minus(g, byC, times(g, dot(g, byC, c), c))),
      force = plus(g, times(g, byChord, c), across),
      // by the axes of both ends
      twisting = (p: VectorEx, q: VectorEx, sense: Ex) => plus(g, times(g, cosine, p), times(g, sense, q)),
      back = g.negate(sine),
      onA = [
        times(g, byA[0]!, c),
        plus(g, times(g, byA[1]!, c), twisting(y2, z2, back)),
        plus(g, times(g, byA[2]!, c), twisting(z2, y2, sine)),
      ],
      onB = [
        times(g, byB[0]!, c),
        plus(g, times(g, byB[1]!, c), twisting(y1, z1, sine)),
        plus(g, times(g, byB[2]!, c), twisting(z1, y1, back)),
      ],
      torque = (axes: readonly VectorEx[], on: readonly VectorEx[]) =>
        vectors(
          g,
          axes.map((u, k) => cross(g, on[k]!, u)),
        );
    const moves = minus(g, velocity(g, second!, n.sb), velocity(g, first!, n.sa)),
      turns = [first!, second!].map((body) => spin(g, body)),
      torques = [torque(inA, onA), torque(inB, onB)];
    return {
      works: [
        ...force.map((f, k) => [g.negate(f), moves[k as 0]] as const),
        ...torques.flatMap((t, end) => t.map((m, k) => [m, turns[end]![k as 0]] as const)),
      ],
      stored: productOf(g, [
        g.constant(0.5),
        sumOf(
          g,
          pull.map((f, k) => g.multiply(f, x[k]!)),
        ),
      ]),
      tells,
    };
  },
});
