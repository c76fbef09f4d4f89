/** A point on a curve, and a curve on a curve. Where on the curve that is, code that is no expression finds out (`curves/`). */
import { dot, minus } from '../expressions/vectors';
import type { Curve } from '../geometry/curve';
import type { Vec3 } from '../geometry/vector';
import { TWO_PI } from '../quantity/elementary';
import type { Prescription } from './constraint';
import { type Curves, curves } from './curves/curves';
import type { Kinematics } from './kinematics';
import { direction, place, seenFrom } from './stated/body';
import { asking } from './stated/elementary';
import { Called } from './stated/stated';

/** A point of b is off a curve of a by nothing, along two normals. */
export const onCurve = asking({
  name: 'point on a curve',
  numbers: { sb: 'vector' },
  lengths: [true, true],
  asks: { args: 3, values: 2 },
  phi: (g, a, b, { sb }, _f, ask) => ask(seenFrom(g, a, minus(g, place(g, b, sb), a.r))),
});

/** The path length of a point of b along a curve of a is what the course says; rounds of a closed curve, of length `round`, do not count. */
export const pathLength = asking({
  name: 'path length',
  numbers: { sb: 'vector', round: 'number' },
  lengths: [true],
  asks: { args: 3, values: 1 },
  phi(g, a, b, { sb, round }, f, ask) {
    const [length] = ask(seenFrom(g, a, minus(g, place(g, b, sb), a.r))),
      gap = g.subtract(length!, f),
      turn = g.divide(g.constant(TWO_PI), round);
    return [g.choose(g.zero, round, g.divide(g.apply('wrap', g.multiply(gap, turn)), turn), gap)];
  },
});

/** Two plane curves touch: the gap between them is nothing. @param xa,ya,xb axes of the plane, in each body */
export const touch = asking({
  name: 'curve on a curve',
  numbers: { xa: 'vector', ya: 'vector', xb: 'vector' },
  lengths: [true],
  asks: { args: 3, values: 1 },
  phi(g, a, b, { xa, ya, xb }, _f, ask) {
    const to = seenFrom(g, a, minus(g, b.r, a.r)),
      x = seenFrom(g, a, direction(g, b, xb));
    return ask([dot(g, to, xa), dot(g, to, ya), g.apply('atan2', dot(g, x, ya), dot(g, x, xa))]);
  },
});

/** All equations that ask. */
export const ASKING = [onCurve, pathLength, touch];

export class OnCurve extends Called {
  constructor(a: number, curve: Curve, b: number, sb: Vec3) {
    super(onCurve, new (curves().OffCurve)(curve), a, b, sb);
  }
}

/** Path length along the curve, as a coordinate that can be read and driven. */
export class PathLength extends Called {
  private readonly along: InstanceType<Curves['AlongCurve']>;
  constructor(a: number, curve: Curve, b: number, sb: Vec3, course: Prescription) {
    const along = new (curves().AlongCurve)(curve);
    super(pathLength, along, a, b, [...sb, curve.closed ? curve.lengthTo(curve.end) : 0], course);
    this.along = along;
  }
  /** Length from the curve's first point, m; whole rounds count as long as the foot is followed. */
  coordinate(K: Kinematics): number {
    this.free(K);
    return this.along.length;
  }
}

/** Axes of a plane in a body. */
type PlaneAxes = readonly [Vec3, Vec3];

export class CurveOnCurve extends Called {
  constructor(a: number, one: Curve, inA: PlaneAxes, b: number, two: Curve, inB: PlaneAxes) {
    super(touch, new (curves().Touching)(one, inA, two, inB), a, b, [...inA[0], ...inA[1], ...inB[0]]);
  }
}
