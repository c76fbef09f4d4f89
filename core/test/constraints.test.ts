/** Every elementary constraint: its Jacobian and γ against differences along random motions. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { TravelAlongAxis, PointDistance, Coincide, SameTwist, Perpendicular, TurnAboutAxis } from '../src/equations/constraints';
import type { Constraint, Prescription } from '../src/equations/constraint';
import { Kinematics } from '../src/equations/kinematics';
import { type Vec3, perpendicular } from '../src/geometry/vector';

const number = fc.double({ min: -2, max: 2, noNaN: true });
const vec = fc.tuple(number, number, number);
const direction = vec.filter((v) => Math.hypot(...v) > 0.3).map((v) => v.map((x) => x / Math.hypot(...v)) as unknown as Vec3);
const motion = fc
  .array(number, { minLength: 26, maxLength: 26 })
  .filter((y) => Math.hypot(...y.slice(3, 7)) > 0.5 && Math.hypot(...y.slice(10, 14)) > 0.5);

class Sine implements Prescription {
  f = 0;
  f1 = 0;
  f2 = 0;
  at(_K: Kinematics, t: number): void {
    this.f = Math.sin(2 * t);
    this.f1 = 2 * Math.cos(2 * t);
    this.f2 = -4 * Math.sin(2 * t);
  }
}

/** State after time h of free motion with constant velocity v and constant body spin w. */
function after(y: number[], h: number): Kinematics {
  const K = new Kinematics(2, 0);
  K.load(Float64Array.from(y));
  const n = 100;
  const dy = new Float64Array(26),
    now = new Float64Array(26),
    mid = new Float64Array(26);
  K.store(now); // with unit quaternions
  for (let i = 0; i < n; i++) {
    // midpoint rule, fine enough for the differences taken here
    K.load(now);
    K.rates(dy);
    for (let k = 0; k < 14; k++) mid[k] = now[k]! + (dy[k]! * h) / n / 2;
    mid.set(now.subarray(14), 14);
    K.load(mid);
    K.rates(dy);
    for (let k = 0; k < 14; k++) now[k] = now[k]! + (dy[k]! * h) / n;
  }
  K.load(now);
  return K;
}

/** Distance of a place in body 0 from one in body 1. */
function gap(K: Kinematics, sa: Vec3, sb: Vec3): number {
  const c = new Coincide(0, sa, 1, sb);
  const phi = new Float64Array(3);
  c.position(K, 0, phi);
  return Math.hypot(...phi);
}

const cases: [string, (a: Vec3, b: Vec3, u: Vec3, v: Vec3) => Constraint][] = [
  ['Coincide', (a, b) => new Coincide(0, a, 1, b)],
  ['Square', (_a, _b, u, v) => new Perpendicular(0, u, 1, v)],
  ['Along', (a, b, u) => new TravelAlongAxis(0, u, a, 1, b)],
  ['Along a course', (a, b, u) => new TravelAlongAxis(0, u, a, 1, b, new Sine())],
  ['Apart', (a, b) => new PointDistance(0, a, 1, b, 0.7)],
  ['SameTwist', (_a, _b, u, v) => new SameTwist(0, u, perpendicular(u), 1, v, perpendicular(v))],
  ['Coincide with ground', (a, b) => new Coincide(2, a, 1, b)],
  ['Along ground', (a, b, u) => new TravelAlongAxis(2, u, a, 0, b, new Sine())],
];

describe.each(cases)('%s', (_name, make) => {
  it('has Φ̇ = G u − ν and Φ̈ = −γ at constant v and w', () => {
    fc.assert(
      fc.property(vec, vec, direction, direction, motion, (a, b, u, v, y) => {
        const c = make(a as Vec3, b as Vec3, u, v);
        // the distance has no direction where its two points meet
        if (c instanceof PointDistance) fc.pre(gap(after(y, 0), a as Vec3, b as Vec3) > 0.8);
        const h = 1e-3;
        const phi = (t: number) => {
          const out = new Float64Array(3);
          c.position(after(y, t), t, out);
          return out;
        };
        const f = [-2, -1, 0, 1, 2].map((k) => phi(k * h)) as [Float64Array, Float64Array, Float64Array, Float64Array, Float64Array];
        const K = after(y, 0);
        const G = new Float64Array(36),
          nu = new Float64Array(3),
          gamma = new Float64Array(3);
        c.jacobian(K, G);
        c.nu(K, 0, nu);
        c.gamma(K, 0, gamma);
        for (let r = 0; r < c.rows; r++) {
          let speed = -nu[r]!;
          [c.a, c.b].forEach((body, side) => {
            for (let k = 0; k < 3; k++)
              speed += G[12 * r + 6 * side + k]! * K.v[3 * body + k]! + G[12 * r + 6 * side + 3 + k]! * K.w[3 * body + k]!;
          });
          expect(speed).toBeCloseTo((f[0][r]! - 8 * f[1][r]! + 8 * f[3][r]! - f[4][r]!) / (12 * h), 6);
          expect(-gamma[r]!).toBeCloseTo((-f[0][r]! + 16 * f[1][r]! - 30 * f[2][r]! + 16 * f[3][r]! - f[4][r]!) / (12 * h * h), 4);
        }
      }),
      { numRuns: 40 },
    );
  });
});

it('Turned measures and follows the angle about a common axis through many turns', () => {
  const K = new Kinematics(1, 0);
  const c = new TurnAboutAxis(1, [1, 0, 0], [0, 1, 0], 0, [1, 0, 0], new Sine());
  for (const q of [-3, -1, 0, 0.5, 2, 3.1]) {
    K.load(Float64Array.of(0, 0, 0, Math.cos(q / 2), 0, 0, Math.sin(q / 2), 0, 0, 0, 0, 0, 5));
    expect(c.coordinate(K)).toBeCloseTo(q, 12);
    const G = new Float64Array(12),
      nu = new Float64Array(1);
    c.jacobian(K, G);
    c.nu(K, 0.3, nu);
    [0, 0, 1].forEach((x, k) => expect(G[9 + k]).toBeCloseTo(x, 12));
    expect(nu[0]).toBeCloseTo(2 * Math.cos(0.6), 12);
  }
});
