/** Forces drawn as arrows: against Newton's law, the body loads, and a spring's own points. */
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { type RawElement, Readings, complete, runModel } from '../src';
import { type Acting, acting, bodyLoads, snapshotChannel } from '../src/on-demand';
import { model } from './models';
import { type Vec3, add, cross, norm, scale, sub } from '../src/geometry/vector';

const e = (list: object[]) => list as RawElement[];
const gate = complete(JSON.parse(readFileSync('examples/sorting-gate.pivot.json', 'utf8')) as object);

/** What acts at each record of a run, with the accelerations and places of the centres. */
function course(m: Parameters<typeof runModel>[0], until: number, body?: string) {
  const run = runModel(m, { until, every: 0.05 }),
    out: { list: Acting[]; a: Vec3[]; centre: Vec3[]; t: number }[] = [];
  const channel = snapshotChannel((s) => {
    const three = (from: ArrayLike<number>, p: number): Vec3 => [from[p]!, from[p + 1]!, from[p + 2]!];
    out.push({
      list: acting(run.mechanism, s, body),
      a: run.mechanism.bodies.map((_, i) => three(s.acceleration, 6 * i)),
      centre: run.mechanism.bodies.map((_, i) => three(s.K.r, 3 * i)),
      t: s.t,
    });
  });
  new Readings(run.mechanism, run.layout).read([channel], run.chunks);
  return { run, out };
}

describe('acting forces', () => {
  it('on one body sum to its mass times its acceleration, in the sorting gate, at every record', () => {
    for (const body of ['Rocker', 'Coupler', 'Pusher']) {
      const { run, out } = course(gate, 0.6, body),
        i = run.mechanism.bodies.findIndex((b) => b.name === body),
        { mass } = run.mechanism.bodies[i]!;
      expect(out.length).toBeGreaterThan(10);
      for (const { list, a } of out) {
        const sum = list.reduce<Vec3>((s, x) => add(s, x.force), [0, 0, 0]),
          largest = Math.max(...list.map((x) => norm(x.force)));
        expect(norm(sub(sum, scale(a[i]!, mass)))).toBeLessThan(1e-9 * largest);
      }
    }
  });
  it('of the whole machine are those of its bodies: each joint on its second body', () => {
    const { out } = course(gate, 0.4),
      { out: alone, run } = course(gate, 0.4, 'Rocker');
    const second = new Set(run.mechanism.joints.filter((j) => j.bodies[1] === 'Rocker').map((j) => j.name));
    out.forEach(({ list }, k) => {
      const own = list.filter((x) => x.body === 'Rocker');
      const expected = alone[k]!.list.filter((x) => x.kind === 'load' || (x.kind === 'joint' && second.has(x.from)));
      expect(own.map((x) => x.from).sort()).toEqual(expected.map((x) => x.from).sort());
      for (const x of own) {
        const twin = expected.find((y) => y.from === x.from)!;
        expect(norm(sub(x.force, twin.force))).toBeLessThan(1e-9 * (1 + norm(x.force)));
      }
    });
  });
  it('of a spring acts along the line between its points, of weight at the centre of mass', () => {
    const swing = model('x', {
      points: e([{ name: 'O' }, { name: 'Wall', at: [0.7, 0, 0.4] }, { name: 'Tip', body: 'Bar', at: [0.5, 0, 0] }]),
      bodies: e([{ name: 'Bar', mass: 2, inertia: [0.1, 0.1, 0.1], centre: [0.2, 0, 0] }]),
      joints: e([{ name: 'Pin', kind: 'revolute', bodies: ['Ground', 'Bar'], at: ['O'], axis: [0, 1, 0] }]),
      loads: e([
        { name: 'Gravity', kind: 'gravity' },
        { name: 'Spring', kind: 'spring', bodies: ['Ground', 'Bar'], at: ['Wall', 'Tip'], stiffness: 500, free: 0.3 },
      ]),
    });
    const { out, run } = course(swing, 0.5);
    const tips = [0, 1, 2].map((k) => run.mechanism.bodies[0]!.centre[k]!);
    expect(tips[0]).toBeCloseTo(0.2, 12);
    for (const { list, centre } of out) {
      const weight = list.find((x) => x.from === 'Gravity')!,
        spring = list.find((x) => x.from === 'Spring')!;
      expect(norm(sub(weight.at, centre[0]!))).toBeLessThan(1e-12);
      expect(norm(sub(weight.force, [0, 0, -2 * 9.80665]))).toBeLessThan(1e-9);
      // the wall's point is on its line
      expect(norm(cross(sub([0.7, 0, 0.4], spring.at), scale(spring.force, 1 / norm(spring.force))))).toBeLessThan(1e-9);
    }
  });
  it('of a joint start at the joint, and are what the body loads tell', () => {
    const { run, out } = course(gate, 0.2),
      told: { f: number; joint: string }[][] = [];
    const names = run.mechanism.bodies.map((b) => b.name);
    new Readings(run.mechanism, run.layout).read(
      [
        snapshotChannel((s) =>
          told.push(
            names.flatMap((b) =>
              bodyLoads(run.mechanism, b, s)
                .loads.filter((l) => l.kind === 'joint')
                .map((l) => ({ f: norm(l.force), joint: `${l.from}/${b}` })),
            ),
          ),
        ),
      ],
      run.chunks,
    );
    out.forEach(({ list }, k) => {
      for (const x of list)
        if (x.kind === 'joint') expect(norm(x.force)).toBeCloseTo(told[k]!.find((y) => y.joint === `${x.from}/${x.body}`)!.f, 6);
    });
  });
});
