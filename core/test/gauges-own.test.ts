/** What loads tell of themselves, joint loads on either side, angles turned, energies of single bodies: against hand calculation and against one another. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Model, type RawElement, check, runModel } from '../src';
import { doublePendulum, model, sliderCrank } from './models';

const e = (list: object[]) => list as RawElement[];
const withGauges = (m: Model, gauges: object[]): Model => ({ ...m, gauges: [...m.gauges, ...e(gauges)] });
/** Largest difference, relative to the largest value. */
const off = (a: ArrayLike<number>, b: ArrayLike<number>): number => {
  const size = Math.max(1e-12, ...Array.from(b, Math.abs));
  return Math.max(...Array.from(a, (x, i) => Math.abs(x - b[i]!))) / size;
};
const errors = (m: Model) =>
  check(m)
    .diagnoses.filter((d) => d.severity !== 'note')
    .map((d) => `${d.code} ${d.element?.name}`);

describe('angle turned', () => {
  it('of a driven crank is its joint’s angle within half a turn, about the axis of turning and in size', () => {
    const run = runModel(
      withGauges(sliderCrank(), [
        { name: 'z', kind: 'body', body: 'Crank', of: 'angle', component: 'z' },
        { name: 'size', kind: 'body', body: 'Crank', of: 'angle' },
        { name: 'about x', kind: 'body', body: 'Crank', of: 'angle', component: 'x' },
        { name: 'back', kind: 'body', body: 'Rod', of: 'angle', component: 'z', seenFrom: 'Crank' },
        { name: 'rod', kind: 'body', body: 'Rod', of: 'angle', component: 'z' },
      ]),
    );
    const angle = run.gauge('Angle'),
      wrapped = angle.map((a) => Math.atan2(Math.sin(a), Math.cos(a)));
    // at half a turn the two ends meet
    run.gauge('z').forEach((z, i) => expect(Math.abs(Math.sin((z - wrapped[i]!) / 2))).toBeLessThan(1e-9));
    expect(off(run.gauge('size'), wrapped.map(Math.abs))).toBeLessThan(1e-7);
    expect(Math.max(...run.gauge('about x').map(Math.abs))).toBeLessThan(1e-12);
    const rod = run.gauge('rod');
    run.gauge('back').forEach((b, i) => expect(Math.abs(Math.sin((b - (rod[i]! - angle[i]!)) / 2))).toBeLessThan(1e-9));
  });
  it('counts from the posture as drawn, whatever axes a body was drawn with, and gives the turn about one axis alone', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -2, max: 2, noNaN: true }), { minLength: 3, maxLength: 3 }),
        fc.double({ min: -3, max: 3, noNaN: true }),
        fc.constantFrom('x', 'y', 'z'),
        (rotation, turn, axis) => {
          const direction = ['x', 'y', 'z'].map((k) => (k === axis ? 1 : 0));
          const m = model('Turned', {
            run: { until: 1, every: 1 },
            points: e([{ name: 'Here' }]),
            bodies: e([{ name: 'Block', mass: 1, inertia: [1, 1, 1], rotation }]),
            joints: e([{ name: 'Pin', kind: 'revolute', bodies: ['Ground', 'Block'], at: ['Here'], axis: direction }]),
            drives: e([{ name: 'Turn', joint: 'Pin', prescribes: 'position', value: `${turn} rad * smoothstep(0 s, 1 s, t)` }]),
            gauges: e([
              ...['x', 'y', 'z', 'magnitude'].map((component) => ({
                name: component,
                kind: 'body',
                body: 'Block',
                of: 'angle',
                component,
              })),
            ]),
          });
          const run = runModel(m);
          for (const k of ['x', 'y', 'z']) {
            expect(run.gauge(k)[0]).toBeCloseTo(0, 7);
            expect(run.gauge(k).at(-1)).toBeCloseTo(k === axis ? turn : 0, 7);
          }
          expect(run.gauge('magnitude').at(-1)).toBeCloseTo(Math.abs(turn), 7);
        },
      ),
      { numRuns: 30 },
    );
  });
});

describe('a joint’s load on its first body', () => {
  const vector = (name: string, more: object) =>
    ['x', 'y', 'z'].map((component) => ({ name: `${name} ${component}`, kind: 'reaction', component, ...more }));
  it('is the opposite of that on its second; moments differ by the arm between the two places', () => {
    const m = withGauges(sliderCrank(), [
      ...vector('second', { joint: 'Slide', on: 'second' }),
      ...vector('first', { joint: 'Slide', on: 'first' }),
      ...vector('M second', { joint: 'Slide', of: 'moment' }),
      ...vector('M first', { joint: 'Slide', of: 'moment', on: 'first' }),
      { name: 'pin x', kind: 'point', body: 'Slider', at: 'Slide pin', component: 'x' },
    ]);
    const run = runModel(m),
      px = run.gauge('pin x'),
      side = run.gauge('second y');
    for (const k of ['x', 'y', 'z'])
      expect(
        off(
          run.gauge(`first ${k}`),
          run.gauge(`second ${k}`).map((f) => -f),
        ),
      ).toBeLessThan(1e-12);
    // its places are the axle and the pin on the line of travel, x apart
    expect(
      off(
        run.gauge('M first z'),
        run.gauge('M second z').map((M, i) => -(M + px[i]! * side[i]!)),
      ),
    ).toBeLessThan(1e-12);
    expect(Math.max(...run.gauge('M first z').map(Math.abs))).toBeGreaterThan(1);
  });
  it('about the place on its own body: a bar hung from a sleeve that lies off the axis', () => {
    // a block on a guide through the origin, its pin 0.3 m along: 2 kg under gravity give the guide 2 g, and the first place a moment of 2 g times 0.3
    const m = model('Guide', {
      run: { until: 0.1, every: 0.1 },
      points: e([{ name: 'Start' }, { name: 'Middle', body: 'Block', at: [0.3, 0, 0] }]),
      bodies: e([{ name: 'Block', mass: 2, centre: [0.3, 0, 0], inertia: [0.1, 0.1, 0.1] }]),
      joints: e([{ name: 'Guide', kind: 'prismatic', bodies: ['Ground', 'Block'], at: ['Start', 'Middle'], axis: [1, 0, 0] }]),
      drives: e([{ name: 'Hold', joint: 'Guide', prescribes: 'speed', value: '0 m/s' }]),
      loads: e([{ name: 'Gravity', kind: 'gravity' }]),
      gauges: e([
        ...vector('F1', { joint: 'Guide', on: 'first' }),
        ...vector('M1', { joint: 'Guide', on: 'first', of: 'moment' }),
        ...vector('M2', { joint: 'Guide', of: 'moment' }),
      ]),
    });
    const run = runModel(m),
      weight = 2 * 9.80665,
      at = (g: string) => run.gauge(g).at(-1)!;
    expect(at('F1 z')).toBeCloseTo(-weight, 9);
    expect(at('M2 y')).toBeCloseTo(0, 9);
    expect(at('M1 y')).toBeCloseTo(0.3 * weight, 9); // r × F = (0.3, 0, 0) × (0, 0, −W)
  });
  it('in the axes of any body: along the rod the pin of a light rod pulls only', () => {
    const heavy = sliderCrank();
    const light: Model = {
      ...heavy,
      bodies: heavy.bodies.map((b) => (b.name === 'Rod' ? { ...b, mass: 1e-6, inertia: [1e-9, 1e-9, 1e-9] } : b)) as Model['bodies'],
      gauges: e([...vector('rod', { joint: 'Wrist', axes: 'body', along: 'Rod' }), { name: 'size', kind: 'reaction', joint: 'Wrist' }]),
    };
    const run = runModel(light);
    expect(off(run.gauge('rod x').map(Math.abs), run.gauge('size'))).toBeLessThan(1e-4);
    expect(Math.max(...run.gauge('rod y').map(Math.abs)) / Math.max(...run.gauge('size'))).toBeLessThan(1e-4);
  });
});

describe('what loads tell of themselves', () => {
  it('a spring: deflection, its rate and tension follow the law typed in', () => {
    const m = model('Hanger', {
      run: { until: 1, every: 0.01 },
      points: e([{ name: 'Hook' }, { name: 'Eye', body: 'Weight', at: [0, 0, -0.2] }]),
      bodies: e([{ name: 'Weight', mass: 3, centre: [0, 0, -0.2], inertia: [0.1, 0.1, 0.1], velocity: [0.4, 0, 0] }]),
      loads: e([
        { name: 'Gravity', kind: 'gravity' },
        {
          name: 'Coil',
          kind: 'spring',
          bodies: ['Ground', 'Weight'],
          at: ['Hook', 'Eye'],
          stiffness: 900,
          damping: 12,
          free: 0.15,
          preload: 5,
        },
      ]),
      gauges: e([
        ...['effort', 'deflection', 'rate'].map((of) => ({ name: of, kind: 'load', load: 'Coil', of })),
        { name: 'length', kind: 'distance', bodies: ['Ground', 'Weight'], at: ['Hook', 'Eye'] },
        { name: 'force', kind: 'load-force', load: 'Coil', body: 'Weight' },
      ]),
    });
    const run = runModel(m),
      x = run.gauge('deflection'),
      v = run.gauge('rate'),
      f = run.gauge('effort');
    expect(
      off(
        x,
        run.gauge('length').map((l) => l - 0.15),
      ),
    ).toBeLessThan(1e-12);
    expect(
      off(
        f,
        x.map((q, i) => 900 * q + 12 * v[i]! + 5),
      ),
    ).toBeLessThan(1e-12);
    expect(off(f.map(Math.abs), run.gauge('force'))).toBeLessThan(1e-12);
    expect(Math.max(...x) - Math.min(...x)).toBeGreaterThan(0.01);
  });
  it('a bushing: six deflections, efforts by its rates; a cantilever of one beam segment: deflection F L³ / 3 E I', () => {
    const bush = model('Mount', {
      run: { until: 0.5, every: 0.01 },
      points: e([{ name: 'Foot' }]),
      bodies: e([{ name: 'Engine', mass: 4, centre: [0.02, 0.01, 0.05], inertia: [0.05, 0.06, 0.07], spin: [0.4, -0.2, 0.3] }]),
      loads: e([
        { name: 'Gravity', kind: 'gravity' },
        {
          name: 'Rubber',
          kind: 'bushing',
          bodies: ['Ground', 'Engine'],
          at: ['Foot'],
          stiffness: [4e4, 5e4, 6e4],
          damping: [40, 50, 60],
          torsion: [300, 400, 500],
        },
      ]),
      gauges: e(
        ['x', 'y', 'z', 'about-x', 'about-y', 'about-z']
          .flatMap((component) =>
            ['effort', 'deflection', 'rate'].map((of) => ({ name: `${of} ${component}`, kind: 'load', load: 'Rubber', of, component })),
          )
          .concat([
            { name: 'size', kind: 'load', load: 'Rubber', of: 'deflection', component: 'own' },
            ...['x', 'y', 'z'].map(
              (component) =>
                ({ name: `on ${component}`, kind: 'load-force', load: 'Rubber', of: 'force', component, body: 'Engine' }) as never,
            ),
          ]),
      ),
    });
    const run = runModel(bush),
      g = (n: string) => run.gauge(n);
    ['x', 'y', 'z'].forEach((k, i) => {
      const [x, v] = [g(`deflection ${k}`), g(`rate ${k}`)];
      expect(
        off(
          g(`effort ${k}`),
          x.map((q, n) => -(4e4 + 1e4 * i) * q - (40 + 10 * i) * v[n]!),
        ),
      ).toBeLessThan(1e-12);
      // the first body is the ground: its axes are the ground's
      expect(off(g(`effort ${k}`), g(`on ${k}`))).toBeLessThan(1e-12);
      expect(
        off(
          g(`effort about-${k}`),
          g(`deflection about-${k}`).map((q) => -(300 + 100 * i) * q),
        ),
      ).toBeLessThan(0.02); // small turns
    });
    expect(
      off(
        g('size'),
        g('size').map((_, n) => Math.hypot(g('deflection x')[n]!, g('deflection y')[n]!, g('deflection z')[n]!)),
      ),
    ).toBeLessThan(1e-12);

    const [L, EI, P] = [0.8, 120, 5];
    const beam = model('Cantilever', {
      run: { until: 1, every: 1 },
      points: e([{ name: 'Wall' }, { name: 'Tip', at: [L, 0, 0] }]),
      bodies: e([{ name: 'Head', origin: 'Tip', mass: 1, inertia: [0.01, 0.01, 0.01] }]),
      loads: e([
        { name: 'Bar', kind: 'beam', bodies: ['Ground', 'Head'], at: ['Wall', 'Tip'], axial: 1e6, bendingY: EI, bendingZ: EI, torsion: 90 },
        { name: 'Pull', kind: 'force', body: 'Head', at: 'Tip', direction: [0, 0, -1], magnitude: P },
      ]),
      gauges: e([
        { name: 'z', kind: 'load', load: 'Bar', of: 'deflection', component: 'z' },
        { name: 'M', kind: 'load', load: 'Bar', of: 'effort', component: 'z' },
        { name: 'P', kind: 'load', load: 'Pull' },
      ]),
    });
    const still = runModel(beam, { analysis: 'static' } as never);
    expect(still.gauge('z').at(-1)! / (-(P * L * L * L) / (3 * EI))).toBeCloseTo(1, 3); // small deflection
    expect(still.gauge('M').at(-1)).toBeCloseTo(P, 6);
    expect(still.gauge('P').at(-1)).toBe(P);
  });
  it('a stop tells how far it is pressed in, and nothing before', () => {
    const m = model('Fall', {
      run: { until: 1.2, every: 0.001 },
      points: e([{ name: 'Top' }]),
      bodies: e([{ name: 'Ram', mass: 2, inertia: [0.1, 0.1, 0.1] }]),
      joints: e([{ name: 'Way', kind: 'prismatic', bodies: ['Ground', 'Ram'], at: ['Top'], axis: [0, 0, 1] }]),
      loads: e([
        { name: 'Gravity', kind: 'gravity' },
        { name: 'Buffer', kind: 'joint-stop', joint: 'Way', lower: -1, stiffness: 5e4, damping: 100 },
      ]),
      gauges: e([
        { name: 'q', kind: 'joint', joint: 'Way' },
        { name: 'in', kind: 'load', load: 'Buffer', of: 'deflection' },
        { name: 'push', kind: 'load', load: 'Buffer' },
        { name: 'v', kind: 'joint', joint: 'Way', of: 'rate' },
      ]),
    });
    const run = runModel(m),
      q = run.gauge('q'),
      v = run.gauge('v');
    expect(
      off(
        run.gauge('in'),
        q.map((x) => Math.min(0, x + 1)),
      ),
    ).toBeLessThan(1e-12);
    expect(
      off(
        run.gauge('push'),
        q.map((x, i) => (x < -1 ? Math.max(0, 5e4 * (-1 - x) - 100 * v[i]!) : 0)),
      ),
    ).toBeLessThan(1e-9);
    expect(Math.max(...run.gauge('push'))).toBeGreaterThan(100);
  });
  it('an actuator tells the effort that its limit leaves; a user’s torque its law', () => {
    const m = model('Arm', {
      run: { until: 1, every: 0.01 },
      points: e([{ name: 'Pivot' }]),
      bodies: e([{ name: 'Arm', mass: 2, inertia: [0.5, 0.5, 0.5] }]),
      joints: e([{ name: 'Hinge', kind: 'revolute', bodies: ['Ground', 'Arm'], at: ['Pivot'] }]),
      loads: e([
        { name: 'Motor', kind: 'actuator', joint: 'Hinge', effort: '3 N*m', limit: '2 N*m', topSpeed: '20 rad/s' },
        { name: 'Brake', kind: 'torque', body: 'Arm', direction: [0, 0, 1], magnitude: '-0.2 N*m*s*{speed}' },
      ]),
      gauges: e([
        { name: 'speed', kind: 'joint', joint: 'Hinge', of: 'rate' },
        { name: 'motor', kind: 'load', load: 'Motor' },
        { name: 'brake', kind: 'load', load: 'Brake' },
      ]),
    });
    const run = runModel(m),
      w = run.gauge('speed');
    expect(
      off(
        run.gauge('motor'),
        w.map((x) => Math.min(3, 2 * (1 - x / 20))),
      ),
    ).toBeLessThan(1e-12);
    expect(
      off(
        run.gauge('brake'),
        w.map((x) => -0.2 * x),
      ),
    ).toBeLessThan(1e-12);
  });
  it('what a load does not have is named before any run, and left out', () => {
    const m = withGauges(
      {
        ...sliderCrank(),
        loads: e([
          { name: 'Gravity', kind: 'gravity' },
          { name: 'Push', kind: 'force', body: 'Slider', at: 'Slide pin', magnitude: 3 },
        ]),
      },
      [
        { name: 'A', kind: 'load', load: 'Gravity' },
        { name: 'B', kind: 'load', load: 'Push', of: 'deflection' },
        { name: 'C', kind: 'load', load: 'Push', component: 'x' },
        { name: 'D', kind: 'load', load: 'Gone' },
      ],
    );
    expect(errors(m)).toEqual(expect.arrayContaining(['gauge-nothing A', 'gauge-nothing B', 'gauge-part C', 'reference-missing D']));
  });
});

it('energies of single bodies sum to those of the machine, where gravity is all that stores any', () => {
  const m = withGauges(doublePendulum('2 s'), [
    { name: 'Potential', kind: 'energy', of: 'potential' },
    ...['Upper', 'Lower'].flatMap((body) =>
      ['kinetic', 'potential', 'total'].map((of) => ({ name: `${body} ${of}`, kind: 'energy', of, body })),
    ),
  ]);
  const run = runModel(m),
    g = (n: string) => run.gauge(n);
  for (const [of, whole] of [
    ['kinetic', 'Kinetic'],
    ['potential', 'Potential'],
    ['total', 'Energy'],
  ] as const)
    expect(
      off(
        g(`Upper ${of}`).map((x, i) => x + g(`Lower ${of}`)[i]!),
        g(whole),
      ),
    ).toBeLessThan(1e-12);
});
