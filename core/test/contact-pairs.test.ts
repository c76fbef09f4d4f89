/**
 * Every form against every other: pushed into one another by a little, wherever and however they stand, they are found to touch, as deep as they are. What
 * that is is known otherwise: of convex solids that do not touch, the place that is nearest to both (found by ellipsoids, N. Z. Shor 1977) lies half way.
 */
import { describe, expect, it } from 'vitest';
import { type Meeting, meetingsOf } from '../src/equations/contact/meeting';
import { fieldOf } from '../src/geometry/contact/field';
import { extentOf } from '../src/geometry/contact/extent';
import type { Form } from '../src/geometry/contact/form';
import type { Kinematics } from '../src/equations/kinematics';
import { type Outline, polygon } from '../src/geometry/outline';
import { random as seeded } from './machines';

const HALF = Math.PI;
const stadium: Outline = [
  { type: 'line', from: [-1, -0.4], to: [1, -0.4] },
  { type: 'arc', centre: [1, 0], radius: 0.4, from: -HALF / 2, to: HALF / 2 },
  { type: 'line', from: [1, 0.4], to: [-1, 0.4] },
  { type: 'arc', centre: [-1, 0], radius: 0.4, from: HALF / 2, to: 1.5 * HALF },
];
const rectangle = (x: number, y: number, z: number): Form => ({
  type: 'extruded',
  outlines: [polygon([[-x, -y], [x, -y], [x, y], [-x, y]])], // prettier-ignore
  half: z,
});
const FORMS: Readonly<Record<string, Form>> = {
  ball: { type: 'ball', radius: 0.8 },
  box: rectangle(1, 0.7, 0.5),
  wedge: { type: 'extruded', outlines: [polygon([[-1, 0], [1, 0], [0.2, 1]])], half: 0.6 }, // prettier-ignore
  bar: { type: 'extruded', outlines: [stadium], half: 0.3 },
  cylinder: { type: 'revolved', outline: polygon([[0, -1], [0.6, -1], [0.6, 1], [0, 1]]) }, // prettier-ignore
  disc: { type: 'revolved', outline: polygon([[0, -0.1], [1, -0.1], [1, 0.1], [0, 0.1]]) }, // prettier-ignore
  cone: { type: 'revolved', outline: polygon([[0, -0.5], [0.8, -0.5], [0, 1]]) }, // prettier-ignore
  frustum: { type: 'revolved', outline: polygon([[0, -0.5], [0.3, -0.5], [0.9, 0.5], [0, 0.5]]) }, // prettier-ignore
  capsule: {
    type: 'revolved',
    outline: [
      { type: 'arc', centre: [0, -0.7], radius: 0.5, from: -HALF / 2, to: 0 },
      { type: 'line', from: [0.5, -0.7], to: [0.5, 0.7] },
      { type: 'arc', centre: [0, 0.7], radius: 0.5, from: 0, to: HALF / 2 },
      { type: 'line', from: [0, 1.2], to: [0, -1.2] },
    ],
  },
  'rounded disc': {
    type: 'revolved',
    outline: [
      { type: 'line', from: [0, -0.2], to: [0.8, -0.2] },
      { type: 'arc', centre: [0.8, 0], radius: 0.2, from: -HALF / 2, to: HALF / 2 },
      { type: 'line', from: [0.8, 0.2], to: [0, 0.2] },
      { type: 'line', from: [0, 0.2], to: [0, -0.2] },
    ],
  },
  floor: { type: 'half-space' },
};

type Mat = readonly number[];
function turned(random: () => number): Mat {
  const q = [0, 0, 0, 0].map(() => 2 * random() - 1),
    l = Math.hypot(...q),
    [w, x, y, z] = q.map((v) => v / l) as [number, number, number, number];
  return [
    1 - 2 * (y * y + z * z), 2 * (x * y - w * z), 2 * (x * z + w * y),
    2 * (x * y + w * z), 1 - 2 * (x * x + z * z), 2 * (y * z - w * x),
    2 * (x * z - w * y), 2 * (y * z + w * x), 1 - 2 * (x * x + y * y),
  ]; // prettier-ignore
}
/** How far one convex form is from another, that stands turned and shifted, and in which direction; negative where they overlap. */
function apart(one: Form, other: Form, R: Mat, p: readonly number[]): { far: number; n: readonly number[] } {
  const [f, g] = [fieldOf(one), fieldOf(other)],
    { centre, radius } = extentOf(one);
  let c: number[] = [...centre],
    best = Infinity,
    n: number[] = [],
    P = [0, 1, 2].map((i) => [0, 1, 2].map((j) => (i === j ? 4 * radius * radius : 0)));
  for (let step = 0; step < 600; step++) {
    const d = f.at(c[0]!, c[1]!, c[2]!),
      rel = c.map((x, k) => x - p[k]!),
      local = [0, 1, 2].map((j) => R[j]! * rel[0]! + R[3 + j]! * rel[1]! + R[6 + j]! * rel[2]!),
      e = g.at(local[0]!, local[1]!, local[2]!),
      grad = [0, 1, 2].map((i) => (d > e ? f.n[i]! : R[3 * i]! * g.n[0]! + R[3 * i + 1]! * g.n[1]! + R[3 * i + 2]! * g.n[2]!)),
      Pg = P.map((row) => row.reduce((s, x, j) => s + x * grad[j]!, 0)),
      size = Math.sqrt(Math.max(0, Pg.reduce((s, x, i) => s + x * grad[i]!, 0))); // prettier-ignore
    if (Math.max(d, e) < best) {
      best = Math.max(d, e);
      n = [...f.n];
    }
    if (size < 1e-12) break;
    const b = Pg.map((x) => x / size);
    c = c.map((x, i) => x - b[i]! / 4);
    P = P.map((row, i) => row.map((x, j) => (9 / 8) * (x - 0.5 * b[i]! * b[j]!)));
  }
  return { far: 2 * best, n };
}
/** How deep both are, by what is looked at where they meet. */
function depths(meetings: readonly Meeting[], K: Kinematics): number[] {
  return meetings.flatMap((m) => {
    m.stand(K);
    return [...m.probes.keys()].map((k) => -m.look(k)).filter((x) => x > 0);
  });
}

describe('Two forms', () => {
  const names = Object.keys(FORMS),
    pairs = names.flatMap((a, i) => names.slice(i).map((b) => [a, b] as const)).filter(([a]) => a !== 'floor'),
    IDENTITY = [1, 0, 0, 0, 1, 0, 0, 0, 1] as const;
  it.each(pairs)('%s and %s touch wherever one is pushed into the other, as deep as that is', (a, b) => {
    const random = seeded(a.length * 31 + b.length),
      [one, other] = [FORMS[a]!, FORMS[b]!],
      DEEP = 1e-5,
      AWAY = b === 'floor' ? 60000 : 6,
      side = (body: number, form: Form, shape: string) => ({ body, form, shape, turn: IDENTITY, shift: [0, 0, 0] as const }),
      meetings = meetingsOf(side(1, one, a), side(0, other, b)),
      found: number[][] = [];
    for (let trial = 0; trial < 12; trial++) {
      const R = turned(random),
        w = [0, 0, 0].map(() => 2 * random() - 1),
        l = Math.hypot(...w),
        // what has no end is not left behind any way
        way = apart(one, other, R, w.map((v) => (v / l) * AWAY)).far < DEEP ? -l : l, // prettier-ignore
        at = (x: number) => w.map((v) => (v / way) * x);
      let [lo, hi] = [0, AWAY];
      for (let i = 0; i < 60; i++) {
        const mid = (lo + hi) / 2;
        if (apart(one, other, R, at(mid)).far < DEEP) lo = mid;
        else hi = mid;
      }
      // as far as they are apart, twice as far the other way
      const { far, n } = apart(one, other, R, at(hi)),
        place = at(hi).map((x, k) => x - (far + DEEP) * n[k]!);
      const K = { A: Float64Array.from([...R, ...IDENTITY]), r: Float64Array.from([...place, 0, 0, 0]) } as Kinematics;
      found.push(depths(meetings, K).map((x) => x / DEEP));
    }
    for (const x of found) {
      // near its end an edge across a round side counts as deep as it is beyond the end, which touches as well
      expect(x.reduce((sum, v) => sum + v, 0), found.join(' | ')).toBeGreaterThan(0.999); // prettier-ignore
      expect(Math.max(...x), found.join(' | ')).toBeLessThan(1.001);
    }
  });
});

describe('A capsule that lies across', () => {
  const narrow = rectangle(0.2, 2, 0.3),
    notched: Form = { type: 'extruded', outlines: [polygon([[-2, -2], [2, -2], [2, 0], [1, 0], [0, -1], [-1, 0], [-2, 0]])], half: 0.4 }, // prettier-ignore
    capsule = FORMS.capsule!,
    side = (body: number, form: Form, turn: readonly number[]) => ({
      body,
      form,
      shape: '',
      turn: turn as never,
      shift: [0, 0, 0] as const,
    });
  // its axis along x, tilted a little about y
  const lying = (tilt: number): Mat => [Math.sin(tilt), 0, Math.cos(tilt), 0, -1, 0, Math.cos(tilt), 0, -Math.sin(tilt)];
  const at = (form: Form, tilt: number, z: number, x = 0) =>
    depths(meetingsOf(side(0, capsule, IDENTITY), side(1, form, IDENTITY)), {
      A: Float64Array.from([...lying(tilt), ...IDENTITY]),
      r: Float64Array.from([x, 0, z, 0, 0, 0]),
    } as Kinematics).sort((a, b) => a - b);
  const IDENTITY = [1, 0, 0, 0, 1, 0, 0, 0, 1] as const;
  it('a narrower bar is carried by both edges of that, by each as deep as it lies there, tilted or not', () => {
    for (const tilt of [0, 1e-12, -1e-12, 1e-4, -1e-4, 0.01]) {
      const found = at(narrow, tilt, 0.79),
        // the axis at an edge of the bar, less what is round about it
        expected = [-0.2, 0.2].map((x) => 0.5 / Math.cos(tilt) - (0.49 - Math.tan(tilt) * x)).sort((a, b) => a - b);
      expect(found, `${tilt}`).toHaveLength(2);
      found.forEach((d, i) => expect(d / (expected[i]! * Math.cos(tilt)), `${tilt}`).toBeCloseTo(1, 3));
    }
  });
  it('and by its end and one edge, where it ends over the bar', () => {
    for (const tilt of [0, 1e-9, -1e-9, 1e-4, -1e-4]) expect(at(narrow, tilt, 0.79, -0.6), `${tilt}`).toHaveLength(2);
  });
  it('a groove is carried by both walls of it, at both ends of the wheel', () => {
    const found = depths(meetingsOf(side(0, capsule, IDENTITY), side(1, notched, IDENTITY)), {
      A: Float64Array.from([...IDENTITY, ...IDENTITY]),
      r: Float64Array.from([0, Math.SQRT2 * 0.49 - 1, 0, 0, 0, 0]),
    } as Kinematics);
    // 10 mm into each wall of a right angle; the capsule is longer than the wheel is thick
    expect(found.map((d) => d.toFixed(9))).toEqual(['0.010000000', '0.010000000', '0.010000000', '0.010000000']);
  });
});

describe('Two capsules side by side', () => {
  const capsule = FORMS.capsule!,
    side = (body: number) => ({
      body,
      form: capsule,
      shape: 'Capsule',
      turn: [1, 0, 0, 0, 1, 0, 0, 0, 1] as const,
      shift: [0, 0, 0] as const,
    }),
    meetings = meetingsOf(side(1), side(0)),
    at = (z: number) =>
      depths(meetings, {
        A: Float64Array.from([...side(0).turn, ...side(0).turn]),
        r: Float64Array.from([0.99, 0, z, 0, 0, 0]),
      } as Kinematics);
  it('carry one another by an end of each where they overlap in part, and by both ends of one where all of it lies along', () => {
    for (const z of [-1.2, -0.5, 0.3, 1]) {
      expect(at(z)).toHaveLength(2);
      for (const x of at(z)) expect(x).toBeCloseTo(0.01, 12);
    }
    // tip to tip each counts once
    expect(at(1.45)).toHaveLength(1);
  });
});
