/** Contact against closed forms: impacts, sliding, sticking, rolling, rest, and what is touched from inside. */
import { describe, expect, it } from 'vitest';
import { type Model, type RawElement, check, provideGeometry, runModel } from '../src';
import { lossOf } from '../src/equations/contact/law';
import { random } from './machines';
import { model } from './models';

const G = 9.81;
const TURN = 2 * Math.PI;

/** Bodies that are one shape of steel each, their middles at places in m. */
function solids(
  list: Readonly<
    Record<string, { at: readonly [number, number, number]; shape: object; velocity?: readonly number[]; spin?: readonly number[] }>
  >,
  fixed: readonly object[] = [],
): { points: RawElement[]; bodies: RawElement[]; shapes: RawElement[]; materials: RawElement[] } {
  const names = Object.keys(list);
  return {
    materials: [{ name: 'Steel', density: '7800 kg/m^3' }],
    points: [
      { name: 'Origin', at: [0, 0, 0] },
      ...names.flatMap((name) => [
        { name: `${name} at`, at: list[name]!.at },
        { name: `${name} middle`, body: name, at: [0, 0, 0] },
      ]),
    ] as unknown as RawElement[],
    bodies: names.map((name) => {
      const { velocity, spin } = list[name]!;
      return { name, origin: `${name} at`, material: 'Steel', ...(velocity ? { velocity } : {}), ...(spin ? { spin } : {}) };
    }) as unknown as RawElement[],
    shapes: [
      ...names.map((name) => ({ name: `${name} shape`, body: name, centre: `${name} middle`, ...list[name]!.shape })),
      ...fixed.map((shape, i) => ({ name: `Fixed ${i + 1}`, body: 'Ground', ...shape })),
    ] as unknown as RawElement[],
  };
}
const BALL = { kind: 'sphere', radius: '50 mm' };
const MASS = 7800 * (4 / 3) * Math.PI * 0.05 ** 3;
/** A slab of which the upper face is at z = 0. */
const FLOOR = (extra: object = {}) => ({ kind: 'box', centre: 'Slab middle', length: '200 m', depth: '20 m', height: '100 mm', ...extra });
const SLAB = { name: 'Slab middle', at: [0, 0, '-50 mm'] } as unknown as RawElement;

const weight = (x: number, z: number): RawElement =>
  ({ name: 'Gravity', kind: 'gravity', acceleration: [x, 0, z] }) as unknown as RawElement;
const touching = (first: readonly string[], second: readonly string[], laws: object): RawElement =>
  ({ name: 'Contact', kind: 'contact', first, second, ...laws }) as unknown as RawElement;
/** Gauges of a body’s middle: x, y, z, vx, vy, vz, wx, wy, wz after its name. */
const seen = (...names: readonly string[]): RawElement[] =>
  names.flatMap((body) =>
    ['x', 'y', 'z'].flatMap((component) => [
      { name: `${body} ${component}`, kind: 'point', body, at: `${body} middle`, component },
      { name: `${body} v${component}`, kind: 'point', body, at: `${body} middle`, of: 'velocity', component },
      { name: `${body} w${component}`, kind: 'body', body, of: 'velocity', component },
    ]),
  ) as unknown as RawElement[];
const READ = [
  { name: 'Press', kind: 'load', load: 'Contact' },
  { name: 'Depth', kind: 'load', load: 'Contact', of: 'deflection' },
  { name: 'Closing', kind: 'energy', of: 'closing' },
] as RawElement[];
type Given = ReturnType<typeof solids>;
const machine = (
  given: Given,
  loads: readonly RawElement[],
  names: readonly string[],
  run: object,
  more: readonly RawElement[] = [],
): Model =>
  model('Touching', {
    ...given,
    points: [...given.points, SLAB],
    loads: [...loads],
    gauges: [...seen(...names), ...READ, ...more],
    run: { every: '1 ms', accuracy: 1e-8, ...run },
  });
function done(m: Model) {
  const r = runModel(m);
  expect(r.end.status, JSON.stringify(r.end.diagnoses)).toBe('done');
  return {
    steps: r.end.statistics.steps,
    last: (gauge: string) => r.gauge(gauge).at(-1)!,
    gauge: (name: string) => r.gauge(name),
    happenings: r.end.happenings,
  };
}

describe('Two bodies that meet in space', () => {
  const met = (laws: object, across = 0, spin: readonly number[] = [0, 0, 0]) =>
    done(
      machine(
        solids({
          One: { at: [0, 0, 0], shape: BALL, velocity: [1, 0, 0], spin },
          Two: { at: [0.11, across, 0], shape: { kind: 'sphere', radius: '40 mm' }, velocity: [-1, 0, 0] },
        }),
        [touching(['One'], ['Two'], { stiffness: '1e7 N/m', ...laws })],
        ['One', 'Two'],
        { until: '40 ms' },
      ),
    );
  it.each([
    [1, 1],
    [0.9, 1.5],
    [0.6, 1],
    [0.3, 2],
    [0.1, 1.5],
    [0.02, 1],
  ])('come apart with a restitution of %f, whatever the exponent (%f) is', (restitution, exponent) => {
    const { last, gauge } = met({ restitution, exponent });
    expect((last('Two vx') - last('One vx')) / 2).toBeCloseTo(restitution, 6);
    // nothing ever pulls
    expect(Math.min(...gauge('Press'))).toBeGreaterThanOrEqual(0);
  });
  it('keep momentum and angular momentum, struck off centre, spinning and rubbing', () => {
    const { last, gauge } = met({ restitution: 0.5, sliding: 0.3, static: 0.4 }, 0.03, [5, -3, 20]),
      masses = [0.05, 0.04].map((r) => 7800 * (4 / 3) * Math.PI * r ** 3),
      of = (at: (name: string) => number) => {
        const p = ['One', 'Two'].map((n) => ['x', 'y', 'z'].map((k) => at(`${n} ${k}`))),
          v = ['One', 'Two'].map((n) => ['x', 'y', 'z'].map((k) => at(`${n} v${k}`))),
          w = ['One', 'Two'].map((n) => ['x', 'y', 'z'].map((k) => at(`${n} w${k}`)));
        return [0, 1, 2].flatMap((k) => {
          const [i, j] = [(k + 1) % 3, (k + 2) % 3];
          return [
            masses.reduce((sum, m, b) => sum + m * v[b]![k]!, 0),
            masses.reduce(
              (sum, m, b) => sum + m * (p[b]![i]! * v[b]![j]! - p[b]![j]! * v[b]![i]!) + 0.4 * m * [0.0025, 0.0016][b]! * w[b]![k]!,
              0,
            ),
          ];
        });
      },
      before = of((name) => gauge(name)[0]!),
      after = of(last);
    before.forEach((x, k) => expect(Math.abs(after[k]! - x)).toBeLessThan(1e-9 * 8));
    expect(last('One wz')).not.toBeCloseTo(20, 1);
  });
  it('take d of the restitution from where a free impact gives it back', () => {
    for (const e of [0.1, 0.2, 0.5, 0.99]) {
      const d = lossOf(e);
      expect(Math.log((1 + d) / (1 - e * d))).toBeCloseTo(d * (1 + e), 9);
    }
  });
});

describe('What is fast, thin or short', () => {
  const plate = (thickness: number) => ({ kind: 'box', centre: 'Origin', length: `${thickness} m`, depth: '2 m', height: '2 m' });
  it.each([1e-2, 1e-4, 1e-8])('does not go through a thin plate unseen, at an accuracy of %f', (accuracy) => {
    const given = solids({ Shot: { at: [-9.7, 0.1, 0.2], shape: { kind: 'sphere', radius: '1 mm' }, velocity: [300, 0, 0] } }, [
        plate(0.001),
      ]),
      { happenings, last } = done(
        machine(given, [touching(['Shot'], ['Ground'], { stiffness: '1e8 N/m', restitution: 0.6 })], ['Shot'], {
          ...{ until: '2 s', every: '10 ms', accuracy },
        }),
      );
    expect(happenings.filter((h) => h.kind === 'struck')).toHaveLength(1);
    expect(happenings[0]!.t).toBeCloseTo((9.7 - 0.0015) / 300, 9);
    expect(last('Shot vx') / 300).toBeCloseTo(-0.6, 2);
  });
  it.each([1e-2, 1e-5])('is grazed for an instant, and that is found, at an accuracy of %f', (accuracy) => {
    // a ball passes over another a tenth of a millimetre too low
    const given = solids({ Shot: { at: [-1, 0, 0.0999], shape: BALL, velocity: [3, 0, 0] } }, [
        { kind: 'sphere', centre: 'Origin', radius: '49.995 mm' },
      ]),
      { happenings } = done(
        machine(given, [touching(['Shot'], ['Ground'], { restitution: 1 })], ['Shot'], { until: '1 s', every: '10 ms', accuracy }),
      );
    expect(happenings.filter((h) => h.kind === 'struck')).toHaveLength(1);
    const reach = 0.099995;
    expect(happenings[0]!.t).toBeCloseTo((1 - Math.sqrt(reach * reach - 0.0999 * 0.0999)) / 3, 7);
  });
  it('passes close by, and touches nothing', () => {
    const given = solids({ Shot: { at: [-1, 0, 0.1], shape: BALL, velocity: [3, 0, 0] } }, [
        { kind: 'sphere', centre: 'Origin', radius: '49.999 mm' },
      ]),
      { happenings, last } = done(
        machine(given, [touching(['Shot'], ['Ground'], {})], ['Shot'], { until: '1 s', every: '10 ms', accuracy: 1e-3 }),
      );
    expect(happenings).toEqual([]);
    expect(last('Shot x')).toBeCloseTo(2, 12);
  });
});

describe('A body on a slab', () => {
  const CUBE = { kind: 'box', length: '100 mm', depth: '100 mm', height: '100 mm' };
  const SLOPE = Math.PI / 9;
  const down = weight(G * Math.sin(SLOPE), -G * Math.cos(SLOPE));
  const placed = (shape: object, height: number, velocity?: readonly number[], spin?: readonly number[]) =>
    solids({ Part: { at: [0, 0, height], shape, ...(velocity ? { velocity } : {}), ...(spin ? { spin } : {}) } }, [FLOOR()]);
  const on = (given: Given, gravity: RawElement, laws: object, until: string, run: object = {}) =>
    done(machine(given, [gravity, touching(['Part'], ['Ground'], laws)], ['Part'], { until, ...run }));

  it('rests as deep as its law says', () => {
    for (const exponent of [1, 1.5, 2.2]) {
      const { last } = on(placed(BALL, 0.05), weight(0, -G), { exponent, stiffness: '1000 N/mm', depth: '0.1 mm' }, '1 s');
      expect(last('Press')).toBeCloseTo(MASS * G, 4);
      expect(last('Depth') / (1e-4 * ((MASS * G) / 100) ** (1 / exponent))).toBeCloseTo(1, 4);
    }
  });
  it('bounces to the square of the restitution of its height, again and again', () => {
    const e = 0.7,
      { happenings, last } = on(placed(BALL, 0.55), weight(0, -G), { restitution: e, stiffness: '1e9 N/m' }, '2.5 s'),
      speeds = happenings.filter((h) => h.kind === 'struck').map((h) => h.values!.speed!),
      first = Math.sqrt(2 * G * 0.5);
    speeds.slice(0, 5).forEach((v, k) => expect(Math.abs(v - first * e ** k) / v).toBeLessThan(2e-3));
    // after infinitely many bounces it rests
    expect(last('Part vz')).toBeCloseTo(0, 6);
    expect(last('Press')).toBeCloseTo(MASS * G, 3);
  });
  it('slides down a slope with g (sin α − μ cos α)', () => {
    const { last } = on(placed(CUBE, 0.05, [0.1, 0, 0]), down, { sliding: 0.3 }, '1 s');
    expect(last('Part x')).toBeCloseTo(0.1 + 0.5 * G * (Math.sin(SLOPE) - 0.3 * Math.cos(SLOPE)), 4);
    expect(Math.abs(last('Closing'))).toBeLessThan(1e-8);
  });
  it('is told by its places: forces, depth, slip, and where they act', () => {
    const of = ['normal', 'friction', 'depth', 'slip', 'places'],
      m = machine(
        placed(CUBE, 0.05, [0.1, 0, 0]),
        [down, touching(['Part'], ['Ground'], { sliding: 0.3 })],
        ['Part'],
        { until: '500 ms' },
        of.map((x) => ({ name: x, kind: 'contact', load: 'Contact', of: x, body: 'Part' })) as unknown as RawElement[],
      ),
      r = runModel(m),
      at = (name: string) => r.gauge(name).at(-1)!,
      mass = 7.8;
    expect(at('normal')).toBeCloseTo(mass * G * Math.cos(SLOPE), 3);
    expect(at('friction')).toBeCloseTo(0.3 * mass * G * Math.cos(SLOPE), 3);
    expect(at('slip')).toBeCloseTo(at('Part vx'), 4);
    expect(at('places')).toBe(4);
    expect(at('depth')).toBe(at('Depth'));
    // each place has its arrow, on the bottom of the cube
    const { system } = r.mechanism,
      arrows = r.mechanism.assembly.forces.find((f) => f.name === 'Contact')!.force.touches!.places(system.K);
    expect(arrows).toHaveLength(4);
    expect(arrows.reduce((sum, x) => sum + x.force[2], 0)).toBeCloseTo(at('normal'), 6);
    expect(new Set(arrows.map((x) => `${(x.at[0] - at('Part x')).toFixed(3)} ${x.at[1].toFixed(3)}`)).size).toBe(4);
  });
  it('sticks on a slope that is less steep than its static friction', () => {
    const { gauge, last } = on(placed({ ...CUBE, height: '20 mm' }, 0.01), down, { sliding: 0.2, static: 0.5 }, '3 s', { accuracy: 1e-6 }),
      x = gauge('Part x');
    expect(Math.abs(last('Part x') - x[1000]!)).toBeLessThan(1e-9);
    expect(Math.abs(last('Part x'))).toBeLessThan(1e-5);
  });
  it('stays there for an hour, to the last digit, in steps as long as they may be', () => {
    const m = machine(placed({ ...CUBE, height: '20 mm' }, 0.01), [down, touching(['Part'], ['Ground'], { sliding: 0.5 })], ['Part'], {
        until: '3600 s',
        every: '10 s',
        accuracy: 1e-6,
      }),
      r = runModel(m),
      x = r.gauge('Part x');
    expect(r.end.status).toBe('done');
    expect(Math.abs(x.at(-1)! - x[1]!)).toBeLessThan(1e-15);
    expect(r.end.statistics.steps).toBeLessThan(1000);
  });
  it('slides at first, and rolls with five sevenths of its speed', () => {
    const { gauge, last } = on(placed(BALL, 0.05, [1, 0, 0]), weight(0, -G), { sliding: 0.2, stiffness: '1e7 N/m' }, '300 ms'),
      until = 2 / (7 * 0.2 * G);
    expect(last('Part vx')).toBeCloseTo(5 / 7, 3);
    expect(last('Part wy')).toBeCloseTo(5 / 7 / 0.05, 2);
    // as long as it slides it is held back by μ g
    const at = Math.floor(until * 500);
    expect(gauge('Part vx')[at]! - gauge('Part vx')[at - 50]!).toBeCloseTo(-0.2 * G * 0.05, 4);
  });
  it('rolls down a slope with five sevenths of what it would slide with', () => {
    const { last } = on(placed(BALL, 0.05), down, { sliding: 0.5, stiffness: '1e8 N/m' }, '500 ms');
    expect(last('Part vx') / ((5 / 7) * G * Math.sin(SLOPE) * 0.5)).toBeCloseTo(1, 4);
  });
});

describe('Edges that cross', () => {
  /** A bar along x, and one along y under it, each with an edge towards the other. */
  const bars = (turn: number, velocity = -1) => {
    const bar = { kind: 'box', length: '400 mm', depth: '40 mm', height: '40 mm' },
      given = solids({ Upper: { at: [0, 0, 0.1], shape: bar, velocity: [0, 0, velocity] }, Lower: { at: [0, 0, 0], shape: bar } });
    return {
      ...given,
      bodies: given.bodies.map((b) => ({
        ...b,
        rotation: b.name === 'Upper' ? ['45 deg', 0, 0] : ['45 deg', 0, `${turn} deg`],
      })) as RawElement[],
    };
  };
  const DIAGONAL = 0.04 * Math.SQRT1_2;
  it.each([90, 60, 30])('meet where they do, at an angle of %i°, and part with the restitution', (turn) => {
    const { happenings, last } = done(
      machine(bars(turn), [touching(['Upper'], ['Lower'], { restitution: 0.5, stiffness: '1e8 N/m' })], ['Upper', 'Lower'], {
        until: '100 ms',
      }),
    );
    expect(happenings.filter((h) => h.kind === 'struck')).toHaveLength(1);
    expect(happenings[0]!.t).toBeCloseTo(0.1 - 2 * DIAGONAL, 9);
    expect(last('Lower vz') - last('Upper vz')).toBeCloseTo(-0.5, 5);
    // struck in their middles, square to both, they do not turn
    for (const w of ['Upper wx', 'Upper wy', 'Upper wz', 'Lower wx', 'Lower wy', 'Lower wz']) expect(last(w)).toBeCloseTo(0, 6);
  });
  it('do not meet where one passes the end of the other', () => {
    const given = bars(90),
      aside = { ...given, points: given.points.map((p) => (p.name === 'Upper at' ? { ...p, at: [0.23, 0, 0.1] } : p)) as RawElement[] };
    expect(done(machine(aside, [touching(['Upper'], ['Lower'], {})], ['Upper'], { until: '200 ms' })).happenings).toEqual([]);
  });
});

describe('Boxes and balls that tumble over one another', () => {
  it.each([7, 9])('never gain energy, close their books, and stay above the floor: seed %i', (seed) => {
    const next = random(seed),
      between = (a: number, b: number) => a + ((b - a) * (next() + 1)) / 2,
      names = ['A', 'B', 'C'],
      shape = () =>
        between(0, 1) > 0.7
          ? { kind: 'sphere', radius: `${between(30, 100)} mm` }
          : { kind: 'box', length: `${between(50, 300)} mm`, depth: `${between(50, 300)} mm`, height: `${between(20, 300)} mm` },
      given = solids(
        Object.fromEntries(
          names.map((n, i) => [
            n,
            {
              at: [between(-0.03, 0.03), between(-0.03, 0.03), 0.25 + 0.4 * i] as const,
              shape: shape(),
              spin: [between(-3, 3), between(-3, 3), 0],
            },
          ]),
        ),
        [FLOOR()],
      ),
      turned = {
        ...given,
        bodies: given.bodies.map((b) => ({ ...b, rotation: [between(0, 6), between(0, 6), between(0, 6)] })) as RawElement[],
      },
      { gauge, last } = done(
        machine(
          turned,
          [weight(0, -G), touching(names, ['Ground', ...names], { sliding: 0.3, static: 0.4, restitution: 0.3, stiffness: '1e7 N/m' })],
          names,
          { until: '450 ms', every: '5 ms', accuracy: 1e-6 },
          [{ name: 'All', kind: 'energy', of: 'total' }] as unknown as RawElement[],
        ),
      ),
      all = gauge('All');
    for (let i = 1; i < all.length; i++) expect(all[i]! - all[i - 1]!).toBeLessThan(1e-7 * all[0]!);
    expect(Math.abs(last('Closing'))).toBeLessThan(1e-6 * all[0]!);
    expect(last('Press')).toBeGreaterThanOrEqual(0);
    for (const n of names) expect(Math.min(...gauge(`${n} z`))).toBeGreaterThan(0.005);
  });
});

describe('What overlaps at the start', () => {
  const at = (height: number) =>
    check(
      machine(solids({ Part: { at: [0, 0, height], shape: BALL } }, [FLOOR()]), [touching(['Part'], ['Ground'], {})], [], { until: '1 s' }),
    ).diagnoses;
  it('is told, with how deep it is and how fast it would be thrown apart', () => {
    const [found] = at(0.047).filter((d) => d.code === 'contact-deep');
    expect(found).toMatchObject({ severity: 'warning', element: { family: 'loads', name: 'Contact' } });
    expect(found!.message).toContain('“Part shape” and “Fixed 1” overlap by 3 mm at the start.');
    // k δ²/2 = m v²/2
    expect(found!.why).toContain(`${(0.003 * Math.sqrt(1e6 / MASS)).toPrecision(2)} m/s`);
  });
  it('is not, where it just rests', () => expect(at(0.05 - 1e-6).map((d) => d.code)).not.toContain('contact-deep'));
});

describe('What is told by its facets alone', () => {
  it('is named, for it takes no part', () => {
    provideGeometry(
      'ear',
      Float32Array.from([0, 0, 0, 0.1, 0, 0, 0, 0.1, 0, 0, 0, 0.1]),
      Uint32Array.from([0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3]),
    );
    const given = solids({ Part: { at: [0, 0, 0.1], shape: BALL } }, [FLOOR()]),
      cut = {
        ...given,
        shapes: [...given.shapes, { name: 'Ear', kind: 'mesh', body: 'Part', geometry: 'ear' }] as unknown as RawElement[],
      },
      found = check(machine(cut, [touching(['Part'], ['Ground'], {})], [], { until: '1 s' })).diagnoses;
    expect(found.filter((d) => d.code === 'contact-facets').map((d) => d.message)).toEqual(['“Ear” takes no part in it.']);
  });
});

describe('More places than a row of contact keeps', () => {
  it('end the run with words, and what came before stays', () => {
    const corners = Array.from({ length: 20 }, (_, i) => [0.1 * Math.cos((TURN * i) / 20), 0.1 * Math.sin((TURN * i) / 20)]),
      prism = { kind: 'extruded', at: 'Part middle', normal: [0, 0, 1], corners, thickness: '20 mm' },
      given = solids({ Part: { at: [0, 0, 0.11], shape: prism } }, [FLOOR()]),
      shapes = given.shapes.map((s) => {
        const { centre, ...rest } = s;
        return s.kind === 'extruded' ? (rest as RawElement) : { ...rest, centre: centre! };
      }) as RawElement[],
      r = runModel(machine({ ...given, shapes }, [weight(0, -G), touching(['Part'], ['Ground'], {})], ['Part'], { until: '1 s' }));
    expect(r.end.status).toBe('failed');
    expect(r.end.diagnoses).toEqual([expect.objectContaining({ code: 'contact-crowded', element: { family: 'loads', name: 'Contact' } })]);
    expect(r.end.t).toBeCloseTo(Math.sqrt(0.2 / G), 6);
    expect(r.time.length).toBeGreaterThan(100);
  });
});

describe('What resists rolling, and surfaces that run', () => {
  const on = (list: Parameters<typeof solids>[0], laws: object, run: object, slope = 0) =>
    done(
      machine(
        solids(list, [FLOOR()]),
        [
          weight(G * Math.sin(slope), -G * Math.cos(slope)),
          touching(Object.keys(list), ['Ground'], { stiffness: '1e6 N/m', restitution: 0, ...laws }),
        ],
        Object.keys(list),
        run,
      ),
    );
  const PRESSED = (MASS * G) / 1e6,
    at = [0, 0, 0.05 - PRESSED] as const;
  it('slow a ball that rolls as its lever arm says, until it rests', () => {
    const arm = 1e-3,
      slows = (arm * G) / (1.4 * 0.05),
      { gauge, last } = on(
        { Ball: { at, shape: BALL, velocity: [0.2, 0, 0], spin: [0, 4, 0] } },
        { sliding: 0.5, rolling: '1 mm' },
        { until: '3 s', every: '10 ms', accuracy: 1e-7 },
      );
    // the spring that resists is first wound up, by a turn that is about its depth over its arm
    expect(gauge('Ball vx')[100]! - gauge('Ball vx')[50]!).toBeCloseTo(-0.5 * slows, 4);
    expect(Math.abs(last('Ball x') - (0.2 * 0.2) / (2 * slows))).toBeLessThan(0.05 * (PRESSED / arm));
    expect(Math.abs(last('Ball vx'))).toBeLessThan(1e-6);
  });
  it('hold a ball on a slope that is less than its lever arm over its radius, and not on one that is more', () => {
    const lying = (slope: number, until: string) =>
      on({ Ball: { at, shape: BALL } }, { sliding: 0.5, rolling: '1 mm' }, { until, every: '10 ms', accuracy: 1e-7 }, slope);
    const held = lying(0.015, '20 s');
    // it settles like any spring, and creeps no farther
    expect(Math.abs(held.last('Ball x') - held.gauge('Ball x')[1000]!)).toBeLessThan(1e-6);
    expect(Math.abs(held.last('Ball vx'))).toBeLessThan(1e-8);
    const { last, gauge } = lying(0.025, '3 s'),
      rolls = (G * (Math.sin(0.025) - 0.02 * Math.cos(0.025))) / 1.4;
    expect(last('Ball vx') - gauge('Ball vx')[200]!).toBeCloseTo(rolls, 3);
  });
  it('slow a ball that spins about the normal', () => {
    const { gauge } = on(
      { Ball: { at, shape: BALL, spin: [0, 0, 20] } },
      { sliding: 0.2, spinning: '2 mm' },
      { until: '500 ms', every: '10 ms', accuracy: 1e-7 },
    );
    expect(gauge('Ball wz')[40]! - gauge('Ball wz')[20]!).toBeCloseTo((-0.2 * 2e-3 * G) / (0.4 * 0.0025), 2);
  });
  it('carry along what lies on a surface that runs', () => {
    const box = { kind: 'box', length: '200 mm', depth: '200 mm', height: '40 mm' },
      mass = 7800 * 0.2 * 0.2 * 0.04,
      { gauge, last } = on(
        { Box: { at: [0, 0, 0.02 - (mass * G) / 4e6], shape: box } },
        { sliding: 0.3, runs: ['0.5 m/s', 0, 0] },
        { until: '500 ms', every: '1 ms', accuracy: 1e-7 },
      );
    expect(gauge('Box vx')[100]).toBeCloseTo(0.3 * G * 0.1, 3);
    expect(last('Box vx')).toBeCloseTo(0.5, 6);
    expect(Math.abs(last('Box vy'))).toBeLessThan(1e-9);
  });
});

describe('A ball that is touched at several places', () => {
  const ring = { name: 'Ring', kind: 'tube', body: 'Ground', from: 'Ring bottom', to: 'Ring top', radius: '60 mm', bore: '30 mm' },
    groove = {
      name: 'Groove',
      kind: 'extruded',
      body: 'Ground',
      at: 'Ring top',
      normal: [0, 1, 0],
      x: [1, 0, 0],
      // both walls at 45°, their corner at the place itself
      corners: [
        [0, 0],
        [-100, -100],
        [-100, 20],
        [100, 20],
        [100, -100],
      ], // mm, its y is down
      thickness: '400 mm',
    };
  const on = (shape: object, z: number, across: number, laws: object, velocity?: readonly number[]) => {
    const bare = solids({ Ball: { at: [across, 0, z], shape: BALL, ...(velocity ? { velocity } : {}) } });
    return done(
      machine(
        {
          ...bare,
          points: [
            ...bare.points,
            { name: 'Ring bottom', at: [0, 0, -0.02] },
            { name: 'Ring top', at: [0, 0, 0] },
          ] as unknown as RawElement[],
          shapes: [...bare.shapes, shape as RawElement],
        },
        [weight(0, -G), touching(['Ball'], ['Ground'], { stiffness: '1e6 N/m', restitution: 0.2, ...laws })],
        ['Ball'],
        { until: '1 s', every: '10 ms', accuracy: 1e-7 },
        [{ name: 'Places', kind: 'contact', load: 'Contact', of: 'places' } as RawElement],
      ),
    );
  };
  it('rests in a ring on all sides, as deep as three of them carry it', () => {
    const height = Math.sqrt(0.05 ** 2 - 0.03 ** 2),
      { last } = on(ring, height, 1e-4, {});
    expect(last('Places')).toBe(3);
    expect(Math.abs(last('Ball vz'))).toBeLessThan(1e-6);
    // each is pressed along its normal, of which the vertical part is height over radius
    const lean = height / 0.05;
    expect(last('Press')).toBeCloseTo((MASS * G) / lean, 1);
    expect(height - last('Ball z')).toBeCloseTo((MASS * G) / (3 * 1e6 * lean * lean), 6);
  });
  it('rolls out of a groove over the ends of both walls at once', () => {
    const { gauge } = on(groove, 0.05 * Math.SQRT2, 0, {}, [0, 0.3, 0]),
      y = gauge('Ball y'),
      places = gauge('Places'),
      end = y.findIndex((v) => v > 0.201);
    expect(places[end - 5]).toBe(2);
    expect([0, 2]).toContain(places[end]);
    // it falls, and to neither side
    expect(gauge('Ball z').at(-1)!).toBeLessThan(0.04);
    expect(Math.abs(gauge('Ball x').at(-1)!)).toBeLessThan(1e-6);
  });
  it('rests in a groove on both walls', () => {
    const { last } = on(groove, 0.05 * Math.SQRT2, 0, {});
    expect(last('Places')).toBe(2);
    expect(last('Press')).toBeCloseTo(MASS * G * Math.SQRT2, 3);
    expect(0.05 * Math.SQRT2 - last('Ball z')).toBeCloseTo((MASS * G) / 1e6, 7);
  });
});

describe('A spinning ball that strikes the floor aslant', () => {
  const struck = (spin: number) =>
    done(
      machine(
        solids({ Ball: { at: [0, 0, 0.05], shape: BALL, velocity: [1, 0, -2], spin: [0, spin, 0] } }, [FLOOR()]),
        [weight(0, 0), touching(['Ball'], ['Ground'], { stiffness: '1e9 N/m', restitution: 0.4, sliding: 0.5 })],
        ['Ball'],
        { until: '40 ms', every: '1 ms', accuracy: 1e-7 },
      ),
    );
  it('that slides all through is turned by the impulse of friction, μ times that of the floor', () => {
    const { last } = struck(-200),
      impulse = 2 * (1 + 0.4);
    expect(last('Ball vz')).toBeCloseTo(0.8, 5);
    expect(last('Ball vx')).toBeCloseTo(1 - 0.5 * impulse, 4);
    // its lever arm is shorter by half the depth, 0.1 mm
    expect(Math.abs(last('Ball wy') + 200 - (0.5 * impulse) / (0.4 * 0.05))).toBeLessThan(0.1);
  });
  it('that sticks, and springs back as it is let go, takes few steps and puts in no energy', () => {
    const bounced = struck(-5),
      of = (k: 'first' | 'last') => {
        const at = (g: string) => (k === 'first' ? bounced.gauge(g)[0]! : bounced.last(g));
        return 0.5 * (at('Ball vx') ** 2 + at('Ball vz') ** 2 + 0.4 * 0.05 ** 2 * at('Ball wy') ** 2);
      };
    expect(bounced.steps).toBeLessThan(400);
    expect(of('last')).toBeLessThan(of('first'));
    expect(bounced.last('Ball vz')).toBeCloseTo(0.8, 3);
  });
});

describe('Stiffness from 1 to 1e15 N/m', () => {
  const fallen = (stiffness: number) =>
    runModel(
      machine(
        solids({ Ball: { at: [0, 0, 0.1], shape: BALL } }, [FLOOR()]),
        [weight(0, -G), touching(['Ball'], ['Ground'], { stiffness: `${stiffness} N/m`, restitution: 0.3 })],
        ['Ball'],
        { until: '1 s', every: '10 ms', accuracy: 1e-6 },
      ),
    );
  it.each([1e3, 1e6, 1e9, 1e12, 1e15])('%f: a ball comes to rest as deep as that says', (stiffness) => {
    const r = fallen(stiffness);
    expect(r.end.status).toBe('done');
    expect(0.05 - r.gauge('Ball z').at(-1)!).toBeCloseTo((MASS * G) / stiffness, stiffness < 1e4 ? 3 : 12);
    expect(r.end.statistics.steps).toBeLessThan(1000);
  });
  it('1: it goes through the slab, which ends the run with words, and keeps what came before', () => {
    const r = fallen(1);
    expect(r.end.status).toBe('failed');
    expect(r.end.diagnoses).toEqual([
      expect.objectContaining({
        code: 'contact-through',
        message: '“Ball shape” has gone through “Fixed 1”.',
        element: { family: 'loads', name: 'Contact' },
      }),
    ]);
    // under half of the slab, which is 100 mm thick
    expect(r.gauge('Ball z').at(-1)!).toBeLessThan(0.02);
    expect(r.time.length).toBeGreaterThan(10);
  });
});

describe('Round sides', () => {
  const log = (body: string, from: string, to: string) => ({ name: `${body} log`, kind: 'cylinder', body, from, to, radius: '50 mm' }),
    ends = (body: string, axis: readonly number[]) =>
      [-1, 1].map((s) => ({ name: `${body} ${s}`, ...(body === 'Ground' ? {} : { body }), at: axis.map((x) => 0.15 * s * x) })),
    diamond = {
      name: 'Part block',
      kind: 'extruded',
      body: 'Part',
      at: 'Part middle',
      normal: [0, 1, 0],
      corners: [
        [0, -100],
        [100, 0],
        [0, 100],
        [-100, 0],
      ], // mm
      thickness: '200 mm',
    };
  it.each([
    ['a log that falls across another', log('Part', 'Part -1', 'Part 1'), 0.05],
    ['a block that falls on it by an edge', diamond, 0.1],
  ] as const)('are touched: %s comes back to where it fell from', (_, shape, low) => {
    const bare = solids({ Part: { at: [0, 0, 0.05 + low + 0.1], shape: BALL } }),
      given = {
        ...bare,
        points: [...bare.points, ...ends('Part', [0, 1, 0]), ...ends('Ground', [1, 0, 0])] as unknown as RawElement[],
        shapes: [shape, log('Ground', 'Ground -1', 'Ground 1')] as unknown as RawElement[],
      },
      { gauge } = done(
        machine(given, [weight(0, -G), touching(['Part'], ['Ground'], { restitution: 1 })], ['Part'], { until: '600 ms', every: '1 ms' }),
      ),
      z = gauge('Part z');
    expect(Math.max(...z.slice(200))).toBeCloseTo(0.05 + low + 0.1, 4);
    expect(Math.min(...z)).toBeLessThan(0.05 + low);
    expect(Math.min(...z)).toBeGreaterThan(0.05 + low - 0.02);
  });
});

describe('Sets', () => {
  const row = (names: readonly string[], laws: object) => {
    const given = solids(Object.fromEntries(names.map((n, i) => [n, { at: [0.3 * i, 0, 0.3] as const, shape: BALL }])), [FLOOR()]);
    return machine(given, [weight(0, -G), touching(['Ball *'], ['Ground'], laws)], names, {
      until: '400 ms',
      every: '10 ms',
      accuracy: 1e-6,
    });
  };
  const NAMES = ['Ball 1', 'Ball 2', 'Ball 10', 'Stone'];
  it('by the pattern of a name hold all that are called so, and those that come later', () => {
    const { last } = done(row(NAMES, {}));
    for (const n of NAMES.slice(0, 3)) expect(last(`${n} z`)).toBeGreaterThan(0.04);
    // what is called otherwise falls through
    expect(last('Stone z')).toBeLessThan(-0.1);
    expect(done(row([...NAMES, 'Ball 3'], {})).last('Ball 3 z')).toBeGreaterThan(0.04);
  });
  it('leave out what is switched off, and are refused where nothing is called so', () => {
    const m = row(NAMES, {}),
      errors = (x: Model) => check(x).diagnoses.filter((d) => d.severity === 'error'),
      gauges = m.gauges.filter((g) => !g.name.startsWith('Ball 2')),
      without = { ...m, gauges, bodies: m.bodies.map((b) => (b.name === 'Ball 2' ? { ...b, off: true } : b)) } as Model;
    expect(errors(without)).toEqual([]);
    const none = { ...m, loads: m.loads.map((l) => (l.kind === 'contact' ? { ...l, first: ['Shot *'] } : l)) } as Model;
    expect(errors(none)).toEqual([expect.objectContaining({ code: 'pattern-empty', path: ['loads', 1, 'first', 0] })]);
  });
  it('leave out bodies that a joint joins, and each with itself', () => {
    const given = solids({ One: { at: [0, 0, 0], shape: BALL }, Two: { at: [0.05, 0, 0], shape: BALL } }),
      joined = {
        ...machine(given, [touching(['One', 'Two'], ['One', 'Two'], {})], ['One'], { until: '10 ms' }),
        joints: [{ name: 'Pin', kind: 'revolute', bodies: ['One', 'Two'], at: ['Origin'] }] as unknown as RawElement[],
      };
    expect(check(joined).diagnoses.map((d) => d.code)).toContain('contact-empty');
  });
});

describe('What is touched from inside', () => {
  it('lets a ball swing in a ring, as a pendulum does', () => {
    // a tube about y; the ball touches its bore
    const given = solids({ Part: { at: [0.02, 0, -Math.sqrt(0.25 * 0.25 - 0.02 * 0.02)], shape: BALL } }, [
        { kind: 'tube', from: 'Left', to: 'Right', radius: '400 mm', bore: '300 mm' },
      ]),
      ends = [
        { name: 'Left', at: [0, '-200 mm', 0] },
        { name: 'Right', at: [0, '200 mm', 0] },
      ] as unknown as RawElement[],
      m = machine(
        { ...given, points: [...given.points, ...ends] },
        [weight(0, -G), touching(['Part'], ['Ground'], { stiffness: '1e8 N/m' })],
        ['Part'],
        { until: '4 s' },
      ),
      x = done(m).gauge('Part x'),
      crossings = Array.from(x.keys()).filter((i) => i > 0 && x[i - 1]! > 0 !== x[i]! > 0);
    const time = (i: number) => (i - 1 + x[i - 1]! / (x[i - 1]! - x[i]!)) / 1000,
      half = (time(crossings.at(-1)!) - time(crossings[0]!)) / (crossings.length - 1),
      swing = Math.asin(0.02 / 0.25);
    expect(2 * half).toBeCloseTo(TURN * Math.sqrt(0.25 / G) * (1 + (swing * swing) / 16), 4);
  });
});
