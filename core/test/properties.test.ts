/** Random mechanisms against an independent formulation in relative coordinates, and invariances that any engine must have. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readFileSync } from 'node:fs';
import { type Model, type RawElement, offsets, runModel } from '../src';
import { type Mat3, type Vec3, add, apply, cross, dot, fromRollPitchYaw, mul, scale, sub, transpose, unit } from '../src/geometry/vector';
import { readModel } from '../src/model/file';
import { doublePendulum, model } from './models';

const e = (list: object[]) => list as RawElement[];
const number = fc.double({ min: -1, max: 1, noNaN: true });
const vec = fc.tuple(number, number, number);
const direction = vec.filter((v) => Math.hypot(...v) > 0.4).map((v) => unit(v));

interface Limb {
  at: Vec3;
  axis: Vec3;
  rate: number;
  rpy: Vec3;
  mass: number;
  centre: Vec3;
  inertia: Vec3;
}
const limb = fc.record({
  at: vec,
  axis: direction,
  rate: fc.double({ min: -3, max: 3, noNaN: true }),
  rpy: vec,
  mass: fc.double({ min: 0.5, max: 3, noNaN: true }),
  centre: vec,
  // from three positive masses along the axes, so that the triangle inequality holds
  inertia: fc
    .tuple(
      ...([0, 0, 0].map(() => fc.double({ min: 0.05, max: 0.5, noNaN: true })) as [
        fc.Arbitrary<number>,
        fc.Arbitrary<number>,
        fc.Arbitrary<number>,
      ]),
    )
    .map(([a, b, c]): Vec3 => [b + c, a + c, a + b]),
});

/** Motion and joint accelerations of an open chain of pins by relative coordinates: M(q) q̈ = −h, written for this test alone. */
function relative(limbs: readonly Limb[], g: Vec3) {
  const n = limbs.length;
  const turn = limbs.map((l) => fromRollPitchYaw(l.rpy));
  const com = limbs.map((l, i) => add(l.at, apply(turn[i]!, l.centre)));
  const inertia = limbs.map((l, i) =>
    mul(mul(turn[i]!, [l.inertia[0], 0, 0, 0, l.inertia[1], 0, 0, 0, l.inertia[2]] as Mat3), transpose(turn[i]!)),
  );
  const spin: Vec3[] = [],
    velocity: Vec3[] = [],
    spinBias: Vec3[] = [],
    bias: Vec3[] = [];
  let w: Vec3 = [0, 0, 0],
    al: Vec3 = [0, 0, 0],
    pv: Vec3 = [0, 0, 0],
    pa: Vec3 = [0, 0, 0],
    at: Vec3 = [0, 0, 0];
  const move = (r: Vec3, v: Vec3) => add(v, cross(w, r));
  const push = (r: Vec3, a: Vec3) => add(a, add(cross(al, r), cross(w, cross(w, r))));
  limbs.forEach((l, i) => {
    // the pin moves with the limb before it
    const r = sub(l.at, at);
    [pv, pa] = [move(r, pv), push(r, pa)];
    at = l.at;
    al = add(al, cross(w, scale(l.axis, l.rate)));
    w = add(w, scale(l.axis, l.rate));
    const c = sub(com[i]!, at);
    spin.push(w);
    velocity.push(move(c, pv));
    spinBias.push(al);
    bias.push(push(c, pa));
  });
  const Jv = (i: number, j: number): Vec3 => (j <= i ? cross(limbs[j]!.axis, sub(com[i]!, limbs[j]!.at)) : [0, 0, 0]);
  const Jw = (i: number, j: number): Vec3 => (j <= i ? limbs[j]!.axis : [0, 0, 0]);
  const M = Array.from({ length: n }, (_, a) =>
    Array.from({ length: n }, (_x, b) =>
      limbs.reduce((s, l, i) => s + l.mass * dot(Jv(i, a), Jv(i, b)) + dot(Jw(i, a), apply(inertia[i]!, Jw(i, b))), 0),
    ),
  );
  const h = Array.from({ length: n }, (_, a) =>
    limbs.reduce((s, l, i) => {
      const gyro = add(apply(inertia[i]!, spinBias[i]!), cross(spin[i]!, apply(inertia[i]!, spin[i]!)));
      return s + l.mass * dot(Jv(i, a), sub(bias[i]!, g)) + dot(Jw(i, a), gyro);
    }, 0),
  );
  // dense elimination of the small positive definite matrix
  const q = h.map((x) => -x);
  for (let k = 0; k < n; k++)
    for (let i = k + 1; i < n; i++) {
      const f = M[i]![k]! / M[k]![k]!;
      for (let j = k; j < n; j++) M[i]![j]! -= f * M[k]![j]!;
      q[i]! -= f * q[k]!;
    }
  for (let i = n - 1; i >= 0; i--) q[i] = (q[i]! - M[i]!.slice(i + 1).reduce((s, m, j) => s + m * q[i + 1 + j]!, 0)) / M[i]![i]!;
  return { acceleration: q, spin, velocity };
}

const chain = (limbs: readonly Limb[], g: Vec3, motion: { spin: Vec3[]; velocity: Vec3[] }): Model =>
  model('Chain', {
    run: { until: 0.1, every: 0.1 },
    points: e(limbs.map((l, i) => ({ name: `Pin ${i}`, at: [...l.at] }))),
    bodies: e(
      limbs.map((l, i) => ({
        name: `Limb ${i}`,
        origin: `Pin ${i}`,
        rotation: [...l.rpy],
        mass: l.mass,
        centre: [...l.centre],
        inertia: [...l.inertia],
        spin: [...motion.spin[i]!],
        velocity: [...motion.velocity[i]!],
      })),
    ),
    joints: e(
      limbs.map((l, i) => ({
        name: `Joint ${i}`,
        kind: 'revolute',
        bodies: [i === 0 ? 'Ground' : `Limb ${i - 1}`, `Limb ${i}`],
        at: [`Pin ${i}`],
        axis: [...l.axis],
      })),
    ),
    loads: e([{ name: 'Gravity', kind: 'gravity', acceleration: [...g] }]),
    gauges: e(
      limbs.flatMap((_, i) => ['acceleration', 'rate'].map((of) => ({ name: `${of} ${i}`, kind: 'joint', joint: `Joint ${i}`, of }))),
    ),
  });

describe('open chains of pins in any direction', () => {
  it('have the joint accelerations of the relative-coordinate formulation', () => {
    fc.assert(
      fc.property(fc.array(limb, { minLength: 1, maxLength: 6 }), vec, (limbs, g) => {
        const reference = relative(limbs, g);
        const run = runModel(chain(limbs, g, reference));
        const size = Math.max(1, ...reference.acceleration.map(Math.abs));
        limbs.forEach((l, i) => {
          expect(run.gauge(`rate ${i}`)[0]).toBeCloseTo(l.rate, 8);
          expect(Math.abs(run.gauge(`acceleration ${i}`)[0]! - reference.acceleration[i]!) / size).toBeLessThan(1e-8);
        });
      }),
      { numRuns: 60 },
    );
  });
});

describe('what must not matter', () => {
  const gate = readModel(readFileSync('examples/sorting-gate.pivot.json', 'utf8'));
  const readings = (m: Model) => {
    const r = runModel(m, { until: 0.8, every: 0.01 });
    return new Map(r.mechanism.gauges.map((g) => [g, r.gauge(g)]));
  };
  const plain = readings(gate);
  const agree = (other: Map<string, Float64Array>, tolerance: number) => {
    for (const [name, values] of plain) {
      const size = Math.max(...values.map(Math.abs));
      other.get(name)!.forEach((x, i) => expect(Math.abs(x - values[i]!) / size).toBeLessThan(tolerance));
    }
  };

  it('the order in which elements are listed', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), (seed) => {
        let s = seed;
        const shuffle = <T>(list: readonly T[]) =>
          list
            .map((x) => [(s = (s * 16807) % 2147483647), x] as const)
            .sort((a, b) => a[0] - b[0])
            .map(([, x]) => x);
        agree(
          readings({
            ...gate,
            bodies: shuffle(gate.bodies),
            joints: shuffle(gate.joints),
            points: shuffle(gate.points),
            shapes: shuffle(gate.shapes),
            loads: shuffle(gate.loads),
          }),
          1e-7,
        );
      }),
      { numRuns: 5 },
    );
  });

  it('which of its two bodies a joint names first, but for the sign of what it reads', () => {
    const turned = {
      ...gate,
      joints: gate.joints.map((j) =>
        j.name === 'Crank to coupler' || j.name === 'Push rod to pusher'
          ? { ...j, bodies: [...(j.bodies as string[])].reverse(), at: [...(j.at as string[])].reverse() }
          : j,
      ),
    };
    agree(readings(turned), 1e-7);
  });

  it('the unit in which a length is written', () => {
    const text = readFileSync('examples/sorting-gate.pivot.json', 'utf8').replace(/"(-?)([\d.]+) mm"/g, (_m, sign: string, x: string) =>
      `"${sign}${x}/25.4 inch"`.replace(/"(-?)([\d.]+)\/25.4 inch"/, '"$1$2/25.4*1 inch"'),
    );
    expect(text).toContain('inch');
    agree(readings(readModel(text)), 1e-9);
  });

  it('where on the plane the machine stands', () => {
    const moved = structuredClone(gate);
    for (const p of moved.points)
      if (!p.body)
        p.at = (p.at as (number | string)[]).map((x, k) =>
          k === 1 ? '7 m' : typeof x === 'number' ? `${x} m ${k === 0 ? '- 3 m' : ''}` : k === 0 ? `${x} - 3 m` : x,
        );
    agree(readings(moved), 1e-6);
  });
});

describe('time', () => {
  it('runs back as it ran forth when all velocities are turned round', () => {
    const forth = doublePendulum('0.5 s');
    const run = runModel(forth, { accuracy: 1e-8 });
    const { layout } = run;
    const last = run.chunks.at(-1)!.subarray(-layout.width);
    const at = offsets(layout).state;
    const back = structuredClone(forth);
    run.mechanism.bodies.forEach((_b, i) => {
      const [w, x, y, z] = last.subarray(at + 7 * i + 3, at + 7 * i + 7) as unknown as [number, number, number, number];
      const A: Mat3 = [
        1 - 2 * (y * y + z * z),
        2 * (x * y - w * z),
        2 * (x * z + w * y),
        2 * (x * y + w * z),
        1 - 2 * (x * x + z * z),
        2 * (y * z - w * x),
        2 * (x * z - w * y),
        2 * (y * z + w * x),
        1 - 2 * (x * x + y * y),
      ];
      const u = last.subarray(at + 14 + 6 * i, at + 14 + 6 * i + 6);
      Object.assign(back.bodies[i]!, {
        rotation: [Math.atan2(A[7], A[8]), -Math.asin(A[6]), Math.atan2(A[3], A[0])],
        velocity: [-u[0]!, -u[1]!, -u[2]!],
        spin: apply(A, [-u[3]!, -u[4]!, -u[5]!]),
      });
    });
    const returned = runModel(back, { accuracy: 1e-8 });
    const before = run.chunks[0]!,
      after = returned.chunks.at(-1)!.subarray(-layout.width);
    for (let k = 0; k < 14; k++) {
      // a quaternion and its opposite are one rotation
      const same = k % 7 < 3 ? Math.abs(after[at + k]! - before[at + k]!) : Math.abs(Math.abs(after[at + k]!) - Math.abs(before[at + k]!));
      expect(same).toBeLessThan(1e-6);
    }
  });
});
