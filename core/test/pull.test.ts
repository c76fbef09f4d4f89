/** Dragging: the place held goes to the target where it can, as near as it can where it cannot, and the joints stay closed. */
import { describe, expect, it } from 'vitest';
import { type RawElement, assemble, build, pull } from '../src';
import { placeAt } from '../src/equations/forces';
import { chainOf } from './chain';
import { fourBars } from './benchmarks';
import { model } from './models';

const mechanism = (m: Parameters<typeof build>[0]) => {
  const { mechanism: built } = build(m);
  built!.system.K.load(assemble(built!).y);
  return built!;
};
const place = (m: ReturnType<typeof mechanism>, body: number, at: number[]) => [0, 1, 2].map((k) => placeAt(m.system.K, body, at, k));
const closed = (m: ReturnType<typeof mechanism>) => expect(m.system.residual(0)).toBeLessThan(1e-7);

describe('pulling', () => {
  it('brings the end of an open chain of 20 bars to any target within reach', () => {
    const m = mechanism(chainOf(20));
    const target = [1.5, 0.8, -0.6];
    for (let i = 0; i < 40; i++) pull(m, 19, [0.1, 0, 0], target);
    place(m, 19, [0.1, 0, 0]).forEach((x, k) => expect(x).toBeCloseTo(target[k]!, 3));
    closed(m);
  });

  it('comes as near as it can to a target out of reach', () => {
    const m = mechanism(
      model('Arm', {
        points: [{ name: 'O' }] as RawElement[],
        bodies: [{ name: 'Arm', mass: 1, centre: [0.5, 0, 0], inertia: [0.1, 0.1, 0.1] }] as unknown as RawElement[],
        joints: [{ name: 'Pin', kind: 'revolute', bodies: ['Ground', 'Arm'], at: ['O'] }] as unknown as RawElement[],
      }),
    );
    for (let i = 0; i < 60; i++) pull(m, 0, [0.5, 0, 0], [0, 3, 0]);
    const [x, y] = place(m, 0, [0.5, 0, 0]);
    expect(Math.hypot(x!, y! - 3)).toBeCloseTo(2, 2); // the nearest it can be
    closed(m);
  });

  it('moves a closed loop along its one freedom', () => {
    const m = mechanism(fourBars(3));
    const before = place(m, 0, [0.5, 0, 0]);
    for (let i = 0; i < 20; i++) pull(m, 0, [0.5, 0, 0], [0.6, 0.8, 0]);
    expect(place(m, 0, [0.5, 0, 0])).not.toEqual(before);
    place(m, 0, [0.5, 0, 0]).forEach((x, k) => expect(x).toBeCloseTo([0.6, 0.8, 0][k]!, 3));
    closed(m);
  });
});
