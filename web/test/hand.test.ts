/** Moving by hand, measuring, completing formulas: what the scene and the Ledger work out from a model. */
import { Matrix4, Quaternion, Vector3 } from 'three';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import '@vim-pivot/core';
import { type Model, build, complete as whole } from '@vim-pivot/core';
import sortingGate from '../../examples/sorting-gate.pivot.json';
import { complete, taken } from '../state/adding/completion';
import { measures } from '../state/scene/measure';
import { stepFor } from '../state/scene/grid-step';
import { coordinatesOf, moveBody, snapped, writePoint } from '../state/scene/place';

const gate = whole(sortingGate as object);
const live = (m: Model) => build(m).resolution.live;
const copy = (m: Model): Model => JSON.parse(JSON.stringify(m)) as Model;

describe('points moved by hand', () => {
  it('take a plain number as it stands, though an older value is still known for its place', () => {
    const m = copy(gate);
    const index = m.points.findIndex((p) => p.name === 'Motor axis');
    m.points[index]!.at = [0, 0.02, '110 mm'];
    const stale = new Map([...live(gate), [`$.points[${index}].at[0]`, { value: 0.5, dim: [1, 0, 0, 0, 0, 0] as const, varies: false }]]);
    expect(coordinatesOf(m, stale, 'Motor axis')!.at).toEqual([0, 0.02, 0.11]);
  });
  it('places that hang on each other in a circle are refused, not guessed', () => {
    const m = copy(gate);
    m.bodies.find((b) => b.name === 'Rocker')!.origin = 'Rocker head';
    expect(() => moveBody(copy(m), live(gate), 'Rocker', new Matrix4().makeRotationZ(0.3), m)).toThrow(/circle/);
  });
  it('keep coordinates that are formulas', () => {
    const known = coordinatesOf(gate, live(gate), 'Yoke tip')!;
    expect(known.held).toEqual([true, false, false]);
    const m = copy(gate);
    writePoint(m, 'Yoke tip', [9, 0.0125, -0.02], known.held);
    expect(m.points.find((p) => p.name === 'Yoke tip')!.at).toEqual(['yoke_reach', '12.5 mm', '-20 mm']);
  });
  it('snap to other points first, then to a round grid, and only along axes that move', () => {
    const others = [{ name: 'C', at: [0.1, 0.2, 0.3] }];
    expect(snapped([0.1004, 0.1996, 0.3003], others, 0.01, 0.001, [true, true, true])).toEqual({ at: [0.1, 0.2, 0.3], onto: ['C'] });
    const one = snapped([0.1004, 0.157, 0.012], others, 0.01, 0.001, [true, true, true]);
    expect(one.onto).toEqual(['x of C']);
    expect(one.at[0]).toBe(0.1);
    expect(one.at[1]).toBeCloseTo(0.16, 12);
    expect(snapped([0.1234, 0.5678, 0], [], 0.01, 0.001, [true, false, false]).at[1]).toBe(0.5678);
  });
  it('the grid is one, two or five of a power of ten, no finer than asked', () => {
    fc.assert(
      fc.property(fc.double({ min: 1e-6, max: 1e3, noNaN: true }), (l) => {
        const s = stepFor(l);
        expect(s).toBeGreaterThanOrEqual(l * 0.998);
        expect(s).toBeLessThanOrEqual(2.6 * l);
      }),
    );
  });
});

describe('bodies moved by hand', () => {
  const free = whole({
    format: 'vim-pivot-model',
    version: 1,
    name: 'free',
    ground: 'Ground',
    run: { until: '1 s', every: '1 ms', accuracy: 1e-5 },
    materials: [{ name: 'Steel', density: '7850 kg/m^3' }],
    points: [
      { name: 'A', at: ['10 mm', '20 mm', '30 mm'] },
      { name: 'B', at: ['110 mm', '20 mm', '80 mm'] },
    ],
    bodies: [
      { name: 'Aimed', origin: 'A', aim: 'B', material: 'Steel' },
      {
        name: 'Plain',
        origin: 'B',
        rotation: ['10 deg', '-25 deg', '40 deg'],
        mass: '1 kg',
        inertia: ['1 kg*m^2', '1 kg*m^2', '1 kg*m^2'],
      },
    ],
    shapes: [{ name: 'Bar', kind: 'link', body: 'Aimed', from: 'A', to: 'B' }],
  });
  const posesOf = (m: Model, name: string) => {
    const { origin, turn } = build(m).mechanism!.layout.body(name);
    return new Matrix4().set(
      turn[0],
      turn[1],
      turn[2],
      origin[0],
      turn[3],
      turn[4],
      turn[5],
      origin[1],
      turn[6],
      turn[7],
      turn[8],
      origin[2],
      0,
      0,
      0,
      1,
    );
  };
  it.each(['Aimed', 'Plain'])('%s goes where the rigid motion takes it, turned as well', (name) => {
    fc.assert(
      fc.property(fc.tuple(...Array.from({ length: 6 }, () => fc.double({ min: -1, max: 1, noNaN: true }))), ([x, y, z, a, b, c]) => {
        const motion = new Matrix4().compose(
          new Vector3(0.1 * x!, 0.1 * y!, 0.1 * z!),
          new Quaternion(0.4 * a!, 0.4 * b!, 0.4 * c!, 1).normalize(),
          new Vector3(1, 1, 1),
        );
        const m = copy(free);
        const before = posesOf(free, name);
        expect(moveBody(m, live(free), name, motion, free)).toBeUndefined();
        const wanted = motion.clone().multiply(before),
          now = posesOf(m, name);
        wanted.elements.forEach((v, i) => expect(now.elements[i]).toBeCloseTo(v, 5));
      }),
      { numRuns: 60 },
    );
  });
  it('says what stays behind', () => {
    const m = copy(gate);
    const words = moveBody(m, live(gate), 'Rocker', new Matrix4().makeTranslation(0.01, 0, 0), gate);
    expect(words).toContain('Rocker foot (a formula)');
  });
});

describe('measures', () => {
  const spot = (label: string, x: number, y: number, z: number) => ({ label, at: new Vector3(x, y, z), spot: true });
  const value = (list: ReturnType<typeof measures>, label: string) => list.find((m) => m.label === label)?.value;
  it('of two points: distance and its parts; of three: the angle, and the circle through them', () => {
    const two = measures([spot('A', 0, 0, 0), spot('B', 3, 4, 12)]);
    expect(value(two, 'Distance')).toBeCloseTo(13, 12);
    expect(value(two, 'along y')).toBe(4);
    const three = measures([spot('A', 1, 0, 0), spot('B', 0, 0, 0), spot('C', 0, 1, 0)]);
    expect(value(three, 'Angle at B')).toBeCloseTo(Math.PI / 2, 12);
    expect(value(three, 'Radius of the circle through them')).toBeCloseTo(Math.SQRT1_2, 12);
  });
  it('of axes and planes: angle, distance of skew axes, gap of parallel planes, distance from an axis', () => {
    const axis = (label: string, at: [number, number, number], d: [number, number, number], flat = false) => ({
      label,
      at: new Vector3(...at),
      axis: new Vector3(...d),
      flat,
      spot: false,
    });
    const skew = measures([axis('a', [0, 0, 0], [1, 0, 0]), axis('b', [5, 7, 2], [0, 1, 0])]);
    expect(value(skew, 'Distance of the axes')).toBeCloseTo(2, 12);
    expect(value(skew, 'Angle')).toBeCloseTo(Math.PI / 2, 12);
    expect(
      value(measures([axis('a', [0, 0, 0], [0, 0, 1], true), axis('b', [5, 7, 2], [0, 0, -1], true)]), 'Gap of the planes'),
    ).toBeCloseTo(2, 12);
    expect(value(measures([axis('a', [0, 0, 0], [0, 0, 1]), spot('P', 3, 4, 9)]), 'Distance from the axis')).toBeCloseTo(5, 12);
  });
});

describe('completion', () => {
  const words = [
    { type: 'function' as const, name: 'smoothstep', args: ['a', 'b', 'x'], help: '' },
    { type: 'unit' as const, name: 'mm', args: [], help: 'millimetre' },
    { type: 'unit' as const, name: 'm', args: [], help: 'metre' },
    { type: 'constant' as const, name: 'pi', args: [], help: '' },
  ];
  const ask = (text: string, o = { gauges: true, time: true }) => complete(text, text.length, gate, words, o);
  it('offers names, functions with the caret between their brackets, and units after a number', () => {
    expect(ask('2*ar')!.list[0]!.text).toBe('arm');
    expect(ask('10 m')!.list.map((s) => s.text)).toEqual(['mm']);
    expect(ask('2*smo')!.list[0]!.text).toBe('smoothstep()');
    expect(ask('12')).toBeUndefined();
    const c = ask('gate_speed * smo')!;
    expect(taken('gate_speed * smo', c, c.list[0]!)).toEqual({ text: 'gate_speed * smoothstep()', caret: 24 });
  });
  it('offers gauges in braces only where they may stand', () => {
    expect(ask('3 + {Pusher tr')!.list[0]!.text).toBe('{Pusher travel}');
    expect(ask('3 + {Pusher tr', { gauges: false, time: false })).toBeUndefined();
  });
});
