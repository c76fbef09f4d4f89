/** Distances from solids, and where bones are nearest to them, against their own facets and closed forms. */
import { describe, expect, it } from 'vitest';
import { bonesOf } from '../src/geometry/contact/bones';
import { partsOf } from '../src/geometry/contact/chains';
import { fieldOf } from '../src/geometry/contact/field';
import type { Form } from '../src/geometry/contact/form';
import { probesOf } from '../src/geometry/contact/probe';
import { type Outline, circle, polygon } from '../src/geometry/outline';
import { box, cylinder, linkBar, sphere } from '../src/geometry/solid';
import { extruded, revolved } from '../src/geometry/sweeps';
import type { Solid } from '../src/geometry/solid';
import { type Mat3, type Vec3, applyT, cross, dot, norm, sub } from '../src/geometry/vector';
import { random as seeded } from './machines';

const AXES: Mat3 = [1, 0, 0, 0, 1, 0, 0, 0, 1];
const HALF = 3.141592653589793;
const slotted: Outline = polygon([
  [-3, -1],
  [3, -1],
  [3, 1],
  [1, 1],
  [1, 0],
  [-1, 0],
  [-1, 1],
  [-3, 1],
]);
const bowl: Outline = [
  { type: 'line', from: [0, -3], to: [3, -3] },
  { type: 'line', from: [3, -3], to: [3, 0] },
  { type: 'line', from: [3, 0], to: [2, 0] },
  { type: 'arc', centre: [0, 0], radius: 2, from: 0, to: -HALF / 2 },
  { type: 'line', from: [0, -2], to: [0, -3] },
];
const capsule: Outline = [
  { type: 'arc', centre: [0, 0], radius: 0.5, from: -HALF / 2, to: 0 },
  { type: 'line', from: [0.5, 0], to: [0.5, 2] },
  { type: 'arc', centre: [0, 2], radius: 0.5, from: 0, to: HALF / 2 },
  { type: 'line', from: [0, 2.5], to: [0, -0.5] },
];
const SOLIDS: Readonly<Record<string, Solid>> = {
  ball: sphere([0.3, -0.2, 0.1], 1.2),
  box: box([1, 0, -1], [1, 2, 3], [0, -1, 0, 1, 0, 0, 0, 0, 1]),
  cylinder: cylinder([0, 0, 0], [1, 1, 1], 0.7),
  bar: linkBar([0, 0, 0], [2, 0, 0], 1, 0.5, [0, 1, 0]),
  slotted: extruded(slotted, [], 1, AXES, [0, 0, 0]),
  'plate with a hole': extruded(polygon([[-2, -2], [2, -2], [2, 2], [-2, 2]]), [circle([0.5, 0.5], 1)], 1, AXES, [0, 0, 0]), // prettier-ignore
  bowl: revolved(bowl, AXES, [0, 0, 0]),
  capsule: revolved(capsule, AXES, [0, 0, 0]),
  cone: revolved(polygon([[0, 0], [1, 0], [0, 2]]), AXES, [0, 0, 0]), // prettier-ignore
  tube: revolved(polygon([[0.5, 0], [1, 0], [1, 2], [0.5, 2]]), AXES, [0, 0, 0]), // prettier-ignore
  ring: revolved(circle([2, 0], 0.5), AXES, [0, 0, 0]),
  // three notches: six corners stick out, three go in
  'notched wheel': extruded(
    polygon([0, 1, 2].flatMap((k) => [[2, -0.5], [1, 0], [2, 0.5]].map(([r, w], i): [number, number] => {
      const a = (2 * HALF * k) / 3 + (i === 1 ? 0 : w!);
      return [r! * Math.cos(a), r! * Math.sin(a)];
    }))), [], 1, AXES, [0, 0, 0]), // prettier-ignore
};

/** Distance of a point from a triangle, and the solid angle at which it is seen (Van Oosterom and Strackee, 1983). */
function triangle(p: Vec3, a: Vec3, b: Vec3, c: Vec3): { far: number; angle: number } {
  const [x, y, z] = [sub(a, p), sub(b, p), sub(c, p)],
    [i, j, k] = [norm(x), norm(y), norm(z)],
    angle = 2 * Math.atan2(dot(x, cross(y, z)), i * j * k + dot(x, y) * k + dot(x, z) * j + dot(y, z) * i);
  const n = cross(sub(b, a), sub(c, a)),
    size = norm(n),
    within = ([[a, b], [b, c], [c, a]] as const).every(([u, v]) => dot(cross(sub(v, u), sub(p, u)), n) >= 0), // prettier-ignore
    edge = (u: Vec3, v: Vec3) => {
      const d = sub(v, u),
        s = Math.max(0, Math.min(1, dot(sub(p, u), d) / dot(d, d)));
      return norm(sub(p, [u[0] + s * d[0], u[1] + s * d[1], u[2] + s * d[2]]));
    };
  return { far: size > 0 && within ? Math.abs(dot(sub(p, a), n)) / size : Math.min(edge(a, b), edge(b, c), edge(c, a)), angle };
}
/** Signed distance from facets. */
function facets({ positions, indices }: ReturnType<Solid['surface']>, p: Vec3): number {
  const at = (i: number): Vec3 => [positions[3 * i]!, positions[3 * i + 1]!, positions[3 * i + 2]!];
  let far = Infinity,
    angle = 0;
  for (let i = 0; i < indices.length; i += 3) {
    const [a, b, c] = [at(indices[i]!), at(indices[i + 1]!), at(indices[i + 2]!)];
    if (norm(cross(sub(b, a), sub(c, a))) === 0) continue;
    const t = triangle(p, a, b, c);
    far = Math.min(far, t.far);
    angle += t.angle;
  }
  return Math.abs(angle) > 2 * HALF ? -far : far;
}
/** Signed distance by the solid's own form, with the direction in which it grows, in ground axes. */
function exactly(solid: Solid, p: Vec3): { d: number; n: Vec3 } {
  const { form, turn, shift } = solid.forms![0]!,
    field = fieldOf(form),
    local = applyT(turn, sub(p, shift)),
    d = field.at(...local),
    [x, y, z] = field.n as unknown as Vec3;
  return { d, n: [0, 1, 2].map((i) => turn[3 * i]! * x + turn[3 * i + 1]! * y + turn[3 * i + 2]! * z) as unknown as Vec3 };
}

describe('The distance from a solid', () => {
  const ROUND = 48;
  it.each(Object.keys(SOLIDS))('of a %s is that from its facets, inside and outside, and grows along a unit vector', (name) => {
    const solid = SOLIDS[name]!,
      surface = solid.surface(ROUND),
      random = seeded(7),
      ends = [0, 1, 2].map((k) => {
        const all = surface.positions.filter((_, i) => i % 3 === k);
        return [Math.min(...all) - 0.5, Math.max(...all) + 0.5] as const;
      }),
      // facets lie this far inside of what is round one way, and as much again the other
      sag = 6 * (1 - Math.cos(HALF / ROUND)) + 1e-9;
    let inside = 0;
    for (let i = 0; i < 150; i++) {
      const p = ends.map(([a, b]) => a + (b - a) * random()) as unknown as Vec3,
        { d, n } = exactly(solid, p),
        wanted = facets(surface, p);
      if (d < 0) inside++;
      expect(Math.abs(d - wanted), `${p.join()}: ${d} ${wanted}`).toBeLessThan(sag);
      expect(norm(n)).toBeCloseTo(1, 12);
      // along its direction it grows as much as one goes, unless the other side is nearer there
      const h = 1e-6,
        ahead = exactly(solid, [p[0] + h * n[0], p[1] + h * n[1], p[2] + h * n[2]]).d,
        behind = exactly(solid, [p[0] - h * n[0], p[1] - h * n[1], p[2] - h * n[2]]).d;
      expect(ahead - behind).toBeCloseTo(2 * h, 9);
    }
    expect(inside).toBeGreaterThan(0);
  });
  it.each(Object.keys(SOLIDS))(
    'of a %s is that of the nearest of the parts that it is met in, and none of the others is nearer',
    (name) => {
      const { form } = SOLIDS[name]!.forms![0]!,
        parts = partsOf(form) ?? [fieldOf(form)],
        random = seeded(11);
      for (let i = 0; i < 400; i++) {
        const p = [0, 0, 0].map(() => 7 * (random() - 0.5)) as unknown as Vec3;
        expect(Math.min(...parts.map((part) => part.at(...p))), p.join()).toBeCloseTo(fieldOf(form).at(...p), 9);
      }
    },
  );
});

describe('What of a solid touches', () => {
  const of = (name: string) => bonesOf(SOLIDS[name]!.forms![0]!.form);
  it('are corners, rims, or what it is rounded about', () => {
    const told = Object.fromEntries(
      Object.keys(SOLIDS).map((name) => [
        name,
        `${of(name)
          .list.map((b) => `${b.type} ${b.radius}`)
          .join(', ')}${of(name).whole ? '' : ' …'}`,
      ]),
    );
    expect(told).toEqual({
      ball: 'point 1.2',
      box: `${new Array(8).fill('point 0').join(', ')} …`,
      cylinder: 'arc 0, arc 0 …',
      bar: 'arc 0, arc 0, arc 0, arc 0 …',
      slotted: `${new Array(12).fill('point 0').join(', ')} …`,
      'plate with a hole': `${[0, 1].map(() => [...new Array<string>(4).fill('point 0'), 'arc 0'].join(', ')).join(', ')} …`,
      bowl: 'arc 0, arc 0, arc 0 …',
      capsule: 'line 0.5',
      cone: 'arc 0, point 0 …',
      tube: 'arc 0, arc 0, arc 0, arc 0 …',
      ring: 'arc 0.5',
      'notched wheel': `${new Array(12).fill('point 0').join(', ')} …`,
    });
  });

  const pose = (turn: Mat3, shift: Vec3) => ({ R: Float64Array.from(turn), p: Float64Array.from(shift) });
  const gaps = (form: Form, on: Form, turn: Mat3, shift: Vec3): number[] => {
    const field = fieldOf(on),
      x = new Float64Array(3),
      n = new Float64Array(3);
    return bonesOf(form)
      .list.flatMap(probesOf)
      .map((p) => p.seek(pose(turn, shift), field, x, n));
  };
  const FLOOR: Form = { type: 'half-space' };
  it('of a tilted rim is its lowest place, to rounding', () => {
    const [c, s] = [Math.cos(0.3), Math.sin(0.3)],
      disc = SOLIDS.cylinder!.forms![0]!.form,
      half = Math.sqrt(3) / 2,
      found = gaps(disc, FLOOR, [1, 0, 0, 0, c, -s, 0, s, c], [0, 0, 2]);
    expect(Math.min(...found)).toBeCloseTo(2 - half * c - 0.7 * s, 14);
  });
  it('of a rim that lies flat are three places a third of a turn apart', () => {
    const found = gaps(SOLIDS.cylinder!.forms![0]!.form, FLOOR, AXES, [0, 0, 1]);
    expect(found.filter((g) => Math.abs(g - (1 - Math.sqrt(3) / 2)) < 1e-14)).toHaveLength(3);
  });
  it('of a capsule that lies flat are its ends alone, and across a ball the place where it crosses', () => {
    const form = SOLIDS.capsule!.forms![0]!.form,
      along: Mat3 = [0, 0, 1, 0, 1, 0, -1, 0, 0];
    expect(gaps(form, FLOOR, along, [0, 0, 0.4])).toEqual([-0.09999999999999998, -0.09999999999999998, Infinity]);
    const [first, second, across] = gaps(form, { type: 'ball', radius: 1 }, along, [-0.7, 0, 1.4]);
    expect(first).toBeGreaterThan(0);
    expect(second).toBeGreaterThan(0);
    expect(across).toBeCloseTo(1.4 - 1.5, 13);
  });
  it('counts where a capsule crosses by how much deeper it is than between its ends, whatever stands out', () => {
    const form = SOLIDS.capsule!.forms![0]!.form,
      [first, second, across] = gaps(form, { type: 'ball', radius: 30 }, [0, 0, 1, 0, 1, 0, -1, 0, 0], [-1, 0, 30.45]) as [
        number,
        number,
        number,
      ];
    expect(first).toBeCloseTo(Math.sqrt(1 + 30.45 ** 2) - 30.5, 12);
    expect(second).toBeCloseTo(first, 12);
    expect(across).toBeCloseTo(30.45 - 30.5 - first, 12);
  });
});
