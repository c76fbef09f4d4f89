/** Contact against closed forms: rolling, belts, several places at once, friction that is let go, stiffness, and round sides. */
import { describe, expect, it } from 'vitest';
import { type Model, type RawElement, check, runModel } from '../src';
import { G, solids, BALL, MASS, FLOOR, weight, touching, machine, done } from './touching';

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

describe('A shaft with round ends across a narrower rail', () => {
  it('rests on both edges of that, level, and stays there', () => {
    const given = solids({ Shaft: { at: [0.01, 0, 0.053], shape: {}, spin: [0, 0.5, 0] } }, [
        { kind: 'box', centre: 'Slab middle', length: '100 mm', depth: '1 m', height: '100 mm' },
      ]),
      m = machine(
        {
          ...given,
          points: [
            ...given.points,
            { name: 'Left', body: 'Shaft', at: [-0.2, 0, 0] },
            { name: 'Right', body: 'Shaft', at: [0.2, 0, 0] },
          ] as unknown as RawElement[],
          shapes: given.shapes.map((s) =>
            s.body === 'Shaft' ? { name: 'Shaft', kind: 'capsule', body: 'Shaft', from: 'Left', to: 'Right', radius: '50 mm' } : s,
          ) as unknown as RawElement[],
        },
        [weight(0, -G), touching(['Shaft'], ['Ground'], { restitution: 0.2, stiffness: '1e6 N/m', sliding: 0.4 })],
        ['Shaft'],
        { until: '2 s', accuracy: 1e-6 },
      ),
      r = done(m),
      mass = 7800 * Math.PI * 0.05 ** 2 * (0.4 + (4 / 3) * 0.05);
    expect(r.last('Press')).toBeCloseTo(mass * G, 2);
    for (const k of ['wx', 'wy', 'vz']) expect(Math.abs(r.last(`Shaft ${k}`)), k).toBeLessThan(1e-6);
    // by the lever: off the middle by 10 mm of 100 one edge carries 60 %
    expect(r.last('Depth') / (((0.5 + r.last('Shaft x') / 0.1) * mass * G) / 1e6)).toBeCloseTo(1, 4);
  });
});

describe('What a spring holds on a belt', () => {
  it('sticks, slips and sticks again, as often and as far as the closed form says', () => {
    const [k, v, still, slides, stiff] = [400, 0.2, 0.6, 0.4, 1e8],
      mass = MASS,
      w = Math.sqrt(k / mass),
      more = ((still - slides) * mass * G) / k,
      middle = (slides * mass * G) / k,
      base = machine(
        solids({
          Part: { at: [0, 0, 0.05 - (mass * G) / stiff], shape: BALL, velocity: [v, 0, 0] },
          Belt: { at: [0, 0, -0.05], shape: { kind: 'box', length: '1 m', depth: '1 m', height: '100 mm' } },
        }),
        [
          weight(0, -G),
          touching(['Part'], ['Belt'], { stiffness: stiff, static: still, sliding: slides, runs: [v, 0, 0] }),
          {
            name: 'Spring',
            kind: 'spring',
            bodies: ['Ground', 'Part'],
            at: ['Anchor', 'Part middle'],
            stiffness: k,
            free: 1,
          } as unknown as RawElement,
        ],
        ['Part'],
        { until: '5 s', every: '2 ms', accuracy: 1e-6 },
      ),
      r = runModel({
        ...base,
        points: [...base.points, { name: 'Anchor', at: [-1, 0, 0.05 - (mass * G) / stiff] } as unknown as RawElement],
        joints: [
          { name: 'Held', kind: 'fixed', bodies: ['Ground', 'Belt'], at: ['Belt at'] },
          { name: 'Level', kind: 'same-orientation', bodies: ['Ground', 'Part'], at: ['Part at'] },
        ] as unknown as RawElement[],
      }),
      x = r.gauge('Part x'),
      // it passes the middle with the speed of the belt: straight between two records
      passes = [...x.keys()].flatMap((i) =>
        i > 0 && x[i - 1]! < middle && x[i]! >= middle && x[i]! - x[i - 1]! < 1.01 * v * 0.002
          ? [r.time[i - 1]! + ((middle - x[i - 1]!) / (x[i]! - x[i - 1]!)) * (r.time[i]! - r.time[i - 1]!)]
          : [],
      ),
      period = (2 * more) / v + (2 * (Math.PI - Math.atan((w * more) / v))) / w;
    expect(passes.length).toBeGreaterThan(4);
    // what sticks is held by a spring that is damped: it lets go a little late
    expect((passes.at(-1)! - passes[1]!) / (passes.length - 2) / period).toBeCloseTo(1, 3);
    expect(Math.max(...x.slice(Math.round(x.length / 3))) / (middle + Math.sqrt(more * more + (v / w) ** 2))).toBeCloseTo(1, 2.5);
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
  const dropped = (stiffness: number) =>
      machine(
        solids({ Ball: { at: [0, 0, 0.1], shape: BALL } }, [FLOOR()]),
        [weight(0, -G), touching(['Ball'], ['Ground'], { stiffness: `${stiffness} N/m`, restitution: 0.3 })],
        ['Ball'],
        { until: '1 s', every: '10 ms', accuracy: 1e-6 },
      ),
    fallen = (stiffness: number) => runModel(dropped(stiffness));
  it('is told beforehand where it is very stiff, with one that would do', () => {
    const found = (k: number) => check(dropped(k)).diagnoses.find((d) => d.code === 'contact-stiff');
    expect(found(1e9)).toBeUndefined();
    const told = found(1e15)!;
    // half a period of 4.1 kg on that, π √(m/k); and the stiffness that carries them 10 µm deep
    expect(told.message).toBe('It is very stiff for “Ball”: an impact lasts 2.0e-7 s.');
    expect(told.remedy).toMatch(/^With 4000 N\/mm|^With 4e\+?3 N\/mm/);
  });
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

describe('What a contact has done since the start', () => {
  const gauge = (of: string) => ({ name: of, kind: 'contact', load: 'Contact', of }) as unknown as RawElement;
  it('is the impulse that turned the momentum round and carried the weight', () => {
    const until = 0.9,
      { last, gauge: read } = done(
        machine(
          solids({ Part: { at: [0, 0, 0.55], shape: BALL } }, [FLOOR()]),
          [weight(0, -G), touching(['Part'], ['Ground'], { restitution: 0.7, stiffness: '1e6 N/m' })],
          ['Part'],
          { until: `${until} s` },
          [gauge('impulse')],
        ),
      );
    // Σ m Δv = ∫ N dt − m g t, with several impacts behind it
    expect(last('impulse') / (MASS * (last('Part vz') + G * until))).toBeCloseTo(1, 6);
    expect(Math.max(...read('impulse').map((x, i) => read('impulse')[Math.max(0, i - 1)]! - x))).toBeLessThan(1e-12);
  });
  it('is the work of friction that used up the speed of what slid to rest', () => {
    const { last } = done(
      machine(
        solids(
          {
            Part: {
              at: [0, 0, 0.05 - 1e-6],
              shape: { kind: 'box', length: '100 mm', depth: '100 mm', height: '100 mm' },
              velocity: [1, 0, 0],
            },
          },
          [FLOOR()],
        ),
        [weight(0, -G), touching(['Part'], ['Ground'], { restitution: 0.2, sliding: 0.4 })],
        ['Part'],
        { until: '0.6 s' },
        [gauge('wear')],
      ),
    );
    const mass = 7.8;
    expect(Math.abs(last('Part vx'))).toBeLessThan(1e-6);
    expect(last('wear') / (0.5 * mass)).toBeCloseTo(1, 3);
  });
  it('is refused of one body alone, in words', () => {
    const m = machine(
      solids({ Part: { at: [0, 0, 0.2], shape: BALL } }, [FLOOR()]),
      [touching(['Part'], ['Ground'], {})],
      ['Part'],
      { until: '1 s' },
      [{ ...gauge('impulse'), body: 'Part' } as RawElement],
    );
    expect(check(m).diagnoses.map((d) => d.code)).toContain('gauge-part');
  });
});

describe('Force over depth by a table', () => {
  const rows = (list: readonly (readonly number[])[], more: object = {}) =>
      ({ name: 'Pad', data: list, from: 'mm', to: 'N', between: 'monotone', beyond: 'extend', ...more }) as unknown as RawElement,
    PAD = rows([
      [0, 0],
      [0.5, 20],
      [1, 80],
      [2, 400],
      [4, 2500],
    ]),
    dropped = (table: RawElement, laws: object, run: object): Model => ({
      ...machine(
        solids({ Part: { at: [0, 0, 0.06], shape: BALL } }, [FLOOR()]),
        [weight(0, -G), touching(['Part'], ['Ground'], { curve: 'Pad', ...laws })],
        ['Part'],
        run,
      ),
      tables: [table],
    });
  it('gives back the restitution of a free impact, whatever its shape', () => {
    for (const restitution of [1, 0.6, 0.2]) {
      const m = dropped(PAD, { restitution }, { until: '0.2 s' }),
        free = { ...m, loads: m.loads.slice(1), bodies: m.bodies.map((b) => ({ ...b, velocity: [0, 0, -1.5] })) };
      expect(done(free).last('Part vz') / 1.5 / restitution).toBeCloseTo(1, 6);
    }
  });
  it('carries what rests at the depth of its row', () => {
    const { last } = done(dropped(PAD, { restitution: 0.1 }, { until: '2 s', accuracy: 1e-6 }));
    expect(last('Press')).toBeCloseTo(MASS * G, 3);
    // monotone between 0.5 mm, 20 N and 1 mm, 80 N
    expect(last('Depth')).toBeGreaterThan(0.0005);
    expect(last('Depth')).toBeLessThan(0.001);
  });
  it('that is straight does what a stiffness does', () => {
    const line = rows([[0, 0], [1, 1000]], { between: 'linear' }), // prettier-ignore
      by = (m: Model) => done(m).last('Part z'),
      plain = dropped(line, { restitution: 0.5, sliding: 0.3 }, { until: '0.3 s' });
    const stiff = {
      ...plain,
      loads: plain.loads.map((l) => (l.name === 'Contact' ? { ...l, curve: undefined, stiffness: '1000 N/mm' } : l)),
    };
    expect(by(plain)).toBeCloseTo(by(JSON.parse(JSON.stringify(stiff)) as Model), 9);
  });
  it('is refused where it falls, begins elsewhere or comes again', () => {
    const codes = (table: RawElement) => check(dropped(table, {}, { until: '1 s' })).diagnoses.map((d) => d.code);
    expect(codes(PAD)).not.toContain('contact-curve');
    expect(codes(rows([[0, 0], [1, 10], [2, 5]]))).toContain('contact-curve'); // prettier-ignore
    expect(codes(rows([[0, 1], [1, 10]]))).toContain('contact-curve'); // prettier-ignore
    expect(codes(rows([[-1, -10], [0, 0], [1, 10]]))).toContain('contact-curve'); // prettier-ignore
  });
});
