/** What records tell of bodies that cannot move in every way: six numbers in a plane, and no more lost than the last digits. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { layoutOfWidth, recordLayout, runModel } from '../src';
import { Telling, type Told, isTold, toldSize } from '../src/equations/told';
import { doublePendulum, sliderCrank } from './models';

const number = fc.double({ min: -10, max: 10, noNaN: true });
const quaternion = fc
  .tuple(number, number, number, number)
  .filter((q) => Math.hypot(...q) > 0.1)
  .map((q) => q.map((x) => x / Math.hypot(...q)));
/** The product of two quaternions. */
const times = ([a, b, c, d]: number[], [e, f, g, h]: number[]) => [
  a! * e! - b! * f! - c! * g! - d! * h!,
  a! * f! + b! * e! + c! * h! - d! * g!,
  a! * g! - b! * h! + c! * e! + d! * f!,
  a! * h! + b! * g! - c! * f! + d! * e!,
];

/** A body: how it can move, where it was, and a state it can have. */
const body = fc.record({ places: fc.subarray([0, 1, 2]), spins: fc.subarray([0, 1, 2]) }).chain(({ places, spins }) =>
  fc
    .record({
      place: fc.tuple(number, number, number),
      still: quaternion,
      by: quaternion,
      motion: fc.array(number, { minLength: 6, maxLength: 6 }),
    })
    .map(({ place, still, by, motion }) => {
      const moves = [0, 1, 2, 3, 4, 5].map((k) => ((k < 3 ? places.includes(k) : spins.includes(k - 3)) ? 1 : 0));
      // about one axis alone, or any turn
      const turn =
          spins.length === 1 ? [by[0]!, ...[0, 1, 2].map((k) => (spins[0] === k ? by[1]! : 0))] : spins.length === 0 ? [1, 0, 0, 0] : by,
        n = Math.hypot(...turn);
      return {
        moves,
        still: [...place, ...still],
        posture: [
          ...place.map((x, k) => (moves[k] ? x + motion[k]! : x)),
          ...(n > 0
            ? times(
                still,
                turn.map((x) => x / n),
              )
            : still),
        ],
        motion: motion.map((x, k) => (moves[k] ? x : 0)),
        numbers: moves.reduce<number>((s, m, k) => s + (k < 3 ? 2 * m : m), 0) + [0, 1, 4, 4][spins.length]!,
      };
    }),
);

describe('what is told of a state', () => {
  it('gives that state again, whatever its bodies can do', () => {
    fc.assert(
      fc.property(fc.array(body, { minLength: 1, maxLength: 4 }), fc.array(number, { maxLength: 3 }), (bodies, further) => {
        const told: Told = { moves: bodies.flatMap((b) => b.moves), still: bodies.flatMap((b) => b.still) },
          state = Float64Array.from([...bodies.flatMap((b) => b.posture), ...bodies.flatMap((b) => b.motion), ...further]),
          size = toldSize(told) + further.length,
          record = new Float64Array(size + 2).fill(NaN),
          again = new Float64Array(state.length).fill(NaN),
          telling = new Telling(told, further.length);
        expect(isTold(JSON.parse(JSON.stringify(told)), bodies.length)).toBe(true);
        expect(size).toBe(bodies.reduce((s, b) => s + b.numbers, further.length));
        telling.tell(state, record, 1);
        expect([record[0], record[size + 1], record.subarray(1, size + 1).some(Number.isNaN)]).toEqual([NaN, NaN, false]);
        telling.state(record, 1, again);
        bodies.forEach((_, b) => {
          // a quaternion and its opposite are one rotation
          const same = [3, 4, 5, 6].reduce((s, k) => s + state[7 * b + k]! * again[7 * b + k]!, 0) < 0 ? -1 : 1;
          for (let k = 3; k < 7; k++) again[7 * b + k] = same * again[7 * b + k]!;
        });
        again.forEach((x, i) => expect(Math.abs(x - state[i]!)).toBeLessThan(1e-14 * (1 + Math.abs(x))));
      }),
    );
  });
  it.each([0, 1, 179.999999999, 180, 180.000000001, 359, 360])('a turn by %d degrees', (angle) => {
    const half = (angle * Math.PI) / 360,
      telling = new Telling({ moves: [0, 0, 0, 0, 0, 1], still: [0, 0, 0, 1, 0, 0, 0] }, 0),
      record = new Float64Array(2),
      again = new Float64Array(13);
    telling.tell(Float64Array.of(0, 0, 0, Math.cos(half), 0, 0, Math.sin(half), 0, 0, 0, 0, 0, 7), record, 0);
    expect(Math.abs(record[0]!)).toBeLessThan(1 + 1e-15);
    telling.state(record, 0, again);
    const turned = 2 * Math.atan2(again[6]!, again[3]!) * (180 / Math.PI);
    expect(Math.abs(Math.sin(((turned - angle) * Math.PI) / 360))).toBeLessThan(1e-15);
    expect(again[12]).toBe(7);
  });
});

describe('records of a run', () => {
  it('take six numbers for a body in a plane, thirteen in space', () => {
    const state = (m: ReturnType<typeof sliderCrank>, planar: 'auto' | 'off') => {
      const { layout } = runModel(m, { until: 0.01, planar });
      return (layout.width - 1 - layout.extra - layout.angles - layout.memory) / layout.bodies;
    };
    // the slider does not turn, the crank's centre and the rod move and turn in their plane
    expect(state(sliderCrank(), 'auto')).toBeLessThan(6);
    expect(state(sliderCrank(), 'off')).toBe(13);
    expect(state(doublePendulum(), 'auto')).toBe(13);
  });
  it('read as if everything had been told', () => {
    const m = sliderCrank(),
      [short, whole] = [runModel(m, { until: 0.5, accuracy: 1e-9 }), runModel(m, { until: 0.5, accuracy: 1e-9, planar: 'off' })];
    expect(short.layout.width).toBeLessThan(whole.layout.width - 15);
    for (const g of short.mechanism.gauges) {
      const expected = whole.gauge(g),
        size = Math.max(...expected.map(Math.abs));
      short.gauge(g).forEach((x, i) => expect(Math.abs(x - expected[i]!), g).toBeLessThan(1e-7 * size + 1e-9));
    }
  });
  it('are known again by what is told and their width, and by nothing else', () => {
    const { mechanism, layout } = runModel(sliderCrank(), { until: 0.01 }),
      told = layout.told!;
    expect(layoutOfWidth(mechanism, layout.width, JSON.parse(JSON.stringify(told)))).toEqual(layout);
    expect(layoutOfWidth(mechanism, layout.width)).toBeUndefined();
    for (const wrong of [
      {},
      null,
      'everything',
      { ...told, moves: told.moves.slice(1) },
      { ...told, moves: told.moves.map(() => 1) },
      { ...told, still: told.still.map(() => NaN) },
      { ...told, still: undefined },
    ])
      expect(layoutOfWidth(mechanism, layout.width, wrong)).toBeUndefined();
    expect(layoutOfWidth(mechanism, recordLayout(mechanism).width, told)).toBeUndefined();
  });
});
