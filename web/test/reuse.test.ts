/** Copies of a machine do what the machine does: shifted, turned about the vertical, mirrored. */
import { describe, expect, it } from 'vitest';
import { bundleOf } from '@vim-pivot/core/page';
import { type Model, build, complete, runModel } from '@vim-pivot/core';
import sortingGate from '../../examples/sorting-gate.pivot.json';
import { type Motion, addCopy, hindrance } from '../state/adding/reuse';

const gate = complete(sortingGate as object);
const whole = bundleOf(
  gate,
  gate.bodies.map((b) => ({ family: 'bodies' as const, name: b.name })),
);
const copied = (motion: Motion): Model => {
  const m = JSON.parse(JSON.stringify(gate)) as Model;
  addCopy(m, gate, build(gate).resolution.live, whole, motion, 'copy');
  return m;
};
const agree = (a: Float64Array, b: Float64Array, sign = 1) => {
  const size = Math.max(...Array.from(a, Math.abs));
  a.forEach((x, i) => expect(Math.abs(x - sign * b[i]!)).toBeLessThan(2e-5 * size));
};

describe('a copy of the whole machine', () => {
  it.each<[string, Motion]>([
    ['shifted', { type: 'shift', by: [1.5, 0.4, 0] }],
    ['turned about the vertical', { type: 'turn', about: [0.3, 0.2, 0], axis: [0, 0, 1], angle: 2.1 }],
    ['mirrored at x = 1 m', { type: 'mirror', axis: 0, at: 1 }],
    ['mirrored at y = 0', { type: 'mirror', axis: 1, at: 0 }],
  ])('%s takes the same torque and carries the same loads', (_what, motion) => {
    const m = copied(motion);
    expect(build(m).diagnoses.filter((d) => d.severity === 'error')).toEqual([]);
    const run = runModel(m, { until: 1, every: 0.01 });
    for (const g of ['Pusher travel', 'Crank angle', 'Crank torque', 'Rocker pin load', 'Push rod load'])
      agree(run.gauge(g), run.gauge(`${g} copy`));
  });
  it('mirrored at x = 0 keeps its formulas, so that parameters drive both', () => {
    const m = copied({ type: 'mirror', axis: 0, at: 0 });
    const head = m.points.find((p) => p.name === 'Rocker foot copy')!;
    expect(head.at).toEqual(['-(span)', expect.anything(), expect.anything()]);
    const longer = { ...m, parameters: m.parameters.map((p) => (p.name === 'arm' ? { ...p, value: '66 mm' } : p)) };
    const run = runModel(longer, { until: 0.5, every: 0.01 });
    agree(run.gauge('Crank torque'), run.gauge('Crank torque copy'));
  });
  it.each<[string, Motion, (p: number[]) => number[]]>([
    ['shifted', { type: 'shift', by: [0.4, 0, 0.1] }, ([x, y, z]) => [x! + 0.4, y!, z! + 0.1]],
    ['mirrored', { type: 'mirror', axis: 0, at: 0.5 }, ([x, y, z]) => [1 - x!, y!, z!]],
  ])('a body that is drawn between points of others is %s with its shapes', (_what, motion, moved) => {
    const m = JSON.parse(JSON.stringify(gate)) as Model;
    addCopy(m, gate, build(gate).resolution.live, bundleOf(gate, [{ family: 'bodies', name: 'Coupler' }]), motion, 'copy');
    const built = build(m),
      pose = (b: string) => built.bodies.find((x) => x.name === b)!,
      centre = (b: string) =>
        pose(b).origin.map((o, k) => o + [0, 1, 2].reduce((s, j) => s + pose(b).turn[3 * k + j]! * pose(b).centre[j]!, 0));
    const [one, copy] = [centre('Coupler'), centre('Coupler copy')];
    moved(one).forEach((x, k) => expect(copy[k]).toBeCloseTo(x, 6));
    expect(pose('Coupler copy').mass).toBeCloseTo(pose('Coupler').mass, 6);
  });
  it('turned copies of copies get names of their own', () => {
    const m = copied({ type: 'shift', by: [1, 0, 0] });
    addCopy(m, gate, build(gate).resolution.live, whole, { type: 'shift', by: [2, 0, 0] }, 'copy');
    for (const family of ['bodies', 'points', 'joints'] as const) expect(new Set(m[family].map((e) => e.name)).size).toBe(m[family].length);
    expect(m.bodies.map((b) => b.name)).toContain('Crank copy 2');
  });
});

describe('what comes along', () => {
  it('with one body: its shapes and points, its joints to the ground with their drives, but not joints to others', () => {
    const b = bundleOf(gate, [{ family: 'bodies', name: 'Crank' }]);
    expect([...b.get('shapes')!]).toEqual(['Crank bar']);
    expect([...b.get('joints')!]).toEqual(['Motor pin']);
    expect([...b.get('drives')!]).toEqual(['Motor']);
    expect(b.get('points')!.has('Crank pin')).toBe(true);
  });
  it('what would change hand is not mirrored, and named', () => {
    const m = { ...gate, joints: gate.joints.map((j) => (j.name === 'Rocker pin' ? { ...j, kind: 'cylindrical' } : j)) };
    expect(hindrance(m, whole, { type: 'mirror', axis: 0, at: 0 })).toContain('Rocker pin');
    expect(hindrance(m, whole, { type: 'shift', by: [1, 0, 0] })).toBeUndefined();
  });
});
