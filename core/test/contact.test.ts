/** Contact against closed forms: impacts, sliding, sticking, rest, sets, and what is touched from inside. */
import { describe, expect, it } from 'vitest';
import { type Model, type RawElement, check, runModel } from '../src';
import { lossOf } from '../src/equations/contact/law';
import { random } from './machines';
import { G, TURN, solids, BALL, MASS, FLOOR, weight, touching, type Given, machine, done } from './touching';

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

describe.each([
  ['a slab', FLOOR()],
  ['a floor without end', { kind: 'floor', at: 'Origin' }],
])('A body on %s', (_, ground) => {
  const CUBE = { kind: 'box', length: '100 mm', depth: '100 mm', height: '100 mm' };
  const SLOPE = Math.PI / 9;
  const down = weight(G * Math.sin(SLOPE), -G * Math.cos(SLOPE));
  const placed = (shape: object, height: number, velocity?: readonly number[], spin?: readonly number[]) =>
    solids({ Part: { at: [0, 0, height], shape, ...(velocity ? { velocity } : {}), ...(spin ? { spin } : {}) } }, [ground]);
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
  it('is moved out by what is offered, and then just touches', () => {
    const m = machine(
        solids({ Part: { at: [0.1, 0, 0.047], shape: BALL } }, [FLOOR()]),
        [weight(0, -G), touching(['Part'], ['Ground'], {})],
        ['Part'],
        { until: '1 ms' },
      ),
      { fix } = check(m).diagnoses.find((d) => d.code === 'contact-deep')!;
    expect(fix!.changes).toEqual([{ family: 'points', name: 'Part at', field: 'at', value: [0.1, 0, expect.closeTo(0.05, 9)] }]);
    const mended = { ...m, points: m.points.map((p) => (p.name === 'Part at' ? { ...p, at: fix!.changes[0]!.value } : p)) } as Model;
    expect(check(mended).diagnoses.filter((d) => d.severity !== 'note')).toEqual([]);
  });
  it('keeps the formulas of what is moved out, and moves nothing that other things stand on', () => {
    const m = machine(solids({ Part: { at: [0, 0, 0.047], shape: BALL } }, [FLOOR()]), [touching(['Part'], ['Ground'], {})], [], {
        until: '1 ms',
      }),
      at = (z: unknown) => ({ ...m, points: m.points.map((p) => (p.name === 'Part at' ? { ...p, at: [0, 0, z] } : p)) }) as Model,
      found = (x: Model) => check(x).diagnoses.find((d) => d.code === 'contact-deep')?.fix?.changes[0]?.value;
    expect(found(at('2*20 mm + 7 mm'))).toEqual([0, 0, '2*20 mm + 7 mm + 3 mm']);
    expect(found(at('47 mm'))).toEqual([0, 0, '50 mm']);
    const shared = { ...m, shapes: m.shapes.map((s) => (s.body === 'Ground' ? { ...s, centre: 'Part at' } : s)) } as Model;
    expect(check(shared).diagnoses.some((d) => d.code === 'contact-deep')).toBe(true);
    expect(found(shared)).toBeUndefined();
  });
  it('is told to be held so by joints that let nothing part it', () => {
    const m = machine(
        solids({ Part: { at: [0, 0, 0.047], shape: BALL }, Base: { at: [0, 0, 2], shape: BALL } }, [FLOOR()]),
        [touching(['Part'], ['Ground'], {})],
        [],
        { until: '1 ms' },
      ),
      joined = (axis: readonly number[], kind: string): Model => ({
        ...m,
        joints: [
          { name: 'Weld', kind: 'fixed', bodies: ['Ground', 'Base'], at: ['Base at'] },
          { name: 'Guide', kind, bodies: ['Base', 'Part'], at: ['Part at'], ...(kind === 'prismatic' ? { axis } : {}) },
        ] as unknown as RawElement[],
      }),
      codes = (x: Model) =>
        check(x)
          .diagnoses.map((d) => d.code)
          .filter((c) => c.startsWith('contact'));
    expect(codes(joined([1, 0, 0], 'prismatic'))).toEqual(['contact-held']);
    expect(codes(joined([], 'fixed'))).toEqual(['contact-empty']);
    expect(codes(joined([0, 0, 1], 'prismatic'))).toEqual(['contact-deep']);
  });
  it('is not, where it just rests', () => expect(at(0.05 - 1e-6).map((d) => d.code)).not.toContain('contact-deep'));
});

describe('A body without a shape', () => {
  it('is named, and where its shape is switched off, that is said', () => {
    const m = machine(
        solids({ Part: { at: [0, 0, 0.2], shape: BALL }, Other: { at: [1, 0, 0.2], shape: BALL } }, [FLOOR()]),
        [touching(['Part', 'Other'], ['Ground'], {})],
        [],
        { until: '1 s' },
      ),
      bare = {
        ...m,
        bodies: m.bodies.map((b) => ({ ...b, mass: '1 kg', inertia: ['1 kg*m^2', '1 kg*m^2', '1 kg*m^2'] })),
      } as unknown as Model,
      told = (shapes: RawElement[]) =>
        check({ ...bare, shapes })
          .diagnoses.filter((d) => d.code === 'contact-shapeless')
          .map((d) => d.message);
    expect(told(m.shapes)).toEqual([]);
    expect(told(m.shapes.filter((s) => s.body !== 'Other'))).toEqual(['“Other” has no shape that could touch.']);
    expect(told(m.shapes.map((s) => (s.body === 'Other' ? { ...s, off: true } : s)))).toEqual([
      '“Other” has no shape that could touch: it is switched off.',
    ]);
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
  it('leave out bodies that are fixed to one another over others', () => {
    const given = solids(Object.fromEntries(['One', 'Two', 'Three'].map((n, i) => [n, { at: [0.3 * i, 0, 0], shape: BALL }]))),
      fixed = (a: string, b: string) => ({ name: `${a} ${b}`, kind: 'fixed', bodies: [a, b], at: ['Origin'] }),
      m = { ...machine(given, [touching(['One'], ['Three'], {})], ['One'], { until: '10 ms' }) },
      codes = (joints: object[]) => check({ ...m, joints: joints as unknown as RawElement[] }).diagnoses.map((d) => d.code);
    expect(codes([fixed('One', 'Two'), fixed('Two', 'Three')])).toContain('contact-empty');
    expect(codes([fixed('One', 'Two')])).not.toContain('contact-empty');
  });
  it('by some shapes alone hold those, and what two contacts name belongs to the later one', () => {
    const ball = (name: string, at: string, body: string, radius: string) => ({ name, kind: 'sphere', body, centre: at, radius }),
      given = solids({ One: { at: [0, 0, 0.2], shape: BALL } }, [FLOOR()]),
      m = machine(
        { ...given, shapes: [...given.shapes, ball('Nose', 'One middle', 'One', '80 mm')] as unknown as RawElement[] },
        [weight(0, -G), touching(['One'], ['Ground'], { restitution: 0.2, stiffness: '1e6 N/m' })],
        ['One'],
        { until: '2 s', accuracy: 1e-5 },
      ),
      rests = (by: object, more: readonly object[] = []) =>
        done({ ...m, loads: [m.loads[0]!, { ...m.loads[1]!, ...by }, ...more] as unknown as RawElement[] }).last('One z');
    expect(rests({})).toBeCloseTo(0.08, 3);
    expect(rests({ by: ['One shape'] })).toBeCloseTo(0.05, 3);
    expect(rests({ by: ['Nose'] })).toBeCloseTo(0.08, 3);
    // a softer one of the same shapes: a hundred times as deep, and not held by the first as well
    const soft = { ...m.loads[1]!, name: 'Softer', stiffness: '10000 N/m', by: ['Nose'] },
      mass = 7800 * (4 / 3) * Math.PI * (0.05 ** 3 + 0.08 ** 3);
    expect(rests({}, [soft])).toBeCloseTo(0.08 - (mass * G) / 10000, 3);
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
