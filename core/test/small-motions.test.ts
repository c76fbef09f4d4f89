/** Modes, statics and equilibria by exact derivatives: slender parts of many pieces, free ones, unloaded ones; equilibria along a degree of freedom. */
import { describe, expect, it } from 'vitest';
import { type Mechanism, type Model, type RawElement, assemble, build } from '../src';
import { equilibria, equilibrium, modes } from '../src/analyses';
import { lowest } from '../src/solve/lowest';
import { setOff } from '../src/solve/start-motion';
import { freedomCount } from '../src/solve/reduced';
import { SmallMotions } from '../src/solve/small-motions';
import { BAR, bar, bending } from './beams';
import { model } from './models';

const e = (list: object[]) => list as RawElement[];
function standing(of: Model): Mechanism {
  const m = build(of).mechanism!;
  m.system.K.load(assemble(m).y);
  return m;
}
const codes = (list: readonly { code: string }[]) => list.map((d) => d.code);

describe('a bar of 40 pieces', () => {
  it('clamped, bends as its classical matrices say: eigenvalues to 1e-8, none that grows, none at zero', () => {
    const found = modes(standing(bar(BAR))),
      known = [...bending(BAR, BAR.EIy), ...bending(BAR, BAR.EIz)].sort((a, b) => a - b).slice(0, 8);
    expect(codes(found.diagnoses)).toEqual(['modes-some']);
    const all = found.modes.map((x) => x.frequency);
    for (const f of known) expect(Math.min(...all.map((x) => Math.abs(x / f - 1)))).toBeLessThan(1e-8);
    for (const x of found.modes) expect(x.re).toBe(0);
    expect(all[0]).toBeGreaterThan(1);
  });
  it('free, has six modes at exactly zero and then those of its matrices', () => {
    const free = { ...BAR, clamped: false, EIz: BAR.EIy },
      { modes: list, diagnoses } = modes(standing(bar(free))),
      [, , first, second] = bending(free, BAR.EIy);
    expect(list.filter((x) => x.frequency === 0)).toHaveLength(6);
    expect(list.slice(0, 6).every((x) => x.re === 0 && x.im === 0)).toBe(true);
    for (const [k, f] of [
      [6, first],
      [7, first],
      [8, second],
      [9, second],
    ] as const)
      expect(Math.abs(list[k]!.frequency / f! - 1)).toBeLessThan(1e-7);
    expect(codes(diagnoses)).not.toContain('modes-unstable');
  });
  it('has as many modes below a frequency as are found: Sylvester’s law counts them', () => {
    const m = standing(bar({ ...BAR, clamped: false })),
      of = new SmallMotions(m).at(0),
      found = lowest(of, freedomCount(m.system), 30).map((x) => x.square.value);
    for (const k of [5, 8, 12, 20, 28]) {
      const between = 0.37 * found[k]! + 0.63 * found[k + 1]!;
      if (found[k + 1]! - found[k]! > 1e-3 * found[k + 1]!) expect(of.shift(-between, true)).toBe(k + 1);
    }
  });
  it('damped in proportion to its stiffness, has the damping ratios ω τ/2', () => {
    const tau = 1e-5,
      { modes: list } = modes(standing(bar({ ...BAR, pieces: 12, damping: tau })));
    for (const x of list.slice(0, 8)) expect(Math.abs(x.damping / (Math.PI * x.frequency * tau) - 1)).toBeLessThan(1e-6);
  });
  it.each([
    ['unloaded', { ...BAR, pieces: 6, clamped: true }, []],
    ['under its weight', { ...BAR, pieces: 24, gravity: 9.81 }, []],
  ])('%s, rests and is pulled back in every way', (_, b, neutral) => {
    const found = equilibrium(standing(bar(b)));
    expect(found.stable).toBe(true);
    expect(found.neutral).toEqual(neutral);
  });
  it('under its weight, sags as the matrices of a clamped bar say', () => {
    // soft enough to be seen, stiff enough to stay straight
    const b = { ...BAR, pieces: 24, gravity: 1e-3 },
      m = standing(bar(b));
    equilibrium(m);
    const tip = m.system.K.r[3 * 23 + 2]!,
      w = (b.mass / b.length) * b.gravity,
      x = b.length * (1 - 0.5 / 24);
    // lumps instead of weight along it: to the square of a piece
    expect(tip / ((-w * x * x * (x * x - 4 * b.length * x + 6 * b.length * b.length)) / (24 * b.EIy))).toBeCloseTo(1, 2);
  });
  it('a machine of next to no size that sags by hundreds of that finds where', () => {
    const m = standing(
      model('Tiny', {
        points: e([{ name: 'O' }]),
        bodies: e([{ name: 'Bead', mass: 2, inertia: [1, 1, 1] }]),
        joints: e([{ name: 'S', kind: 'prismatic', bodies: ['Ground', 'Bead'], at: ['O'], axis: [0, 0, 1] }]),
        loads: e([
          { name: 'K', kind: 'joint-spring', joint: 'S', stiffness: 100 },
          { name: 'Gravity', kind: 'gravity', acceleration: [0, 0, -9.81] },
        ]),
      }),
    );
    expect(m.size).toBeLessThan(0.01);
    expect(equilibrium(m).stable).toBe(true);
    expect(m.system.K.r[2]).toBeCloseTo(-0.1962, 9);
  });
  it('free and unloaded, rests anywhere: six ways are named along which nothing pulls back', () => {
    const found = equilibrium(standing(bar({ ...BAR, pieces: 10, clamped: false })));
    expect(found.stable).toBe(true);
    expect(found.neutral).toHaveLength(6);
  });
});

const arm = (free: number, k = 420): Model =>
  model('Arm', {
    points: e([{ name: 'O' }, { name: 'Post', at: [0, 0.5, 0] }, { name: 'Eye', body: 'Arm', at: [0.35, 0, 0] }]),
    bodies: e([{ name: 'Arm', rotation: [0, 0, 0.2], mass: 4.3, centre: [0.362, 0, 0], inertia: [0.2, 0.2, 0.2] }]),
    joints: e([{ name: 'Pin', kind: 'revolute', bodies: ['Ground', 'Arm'], at: ['O'] }]),
    loads: e([
      { name: 'Gravity', kind: 'gravity', acceleration: [0, -9.81, 0] },
      { name: 'Spring', kind: 'spring', bodies: ['Ground', 'Arm'], at: ['Post', 'Eye'], stiffness: k, free },
    ]),
  });
/** The torque about the pin by hand; its zeros over a turn. */
const zeros = (free: number, k = 420) => {
  const torque = (q: number) => {
    const l = Math.hypot(0.35 * Math.cos(q), 0.35 * Math.sin(q) - 0.5);
    return -4.3 * 9.81 * 0.362 * Math.cos(q) + k * (1 - free / l) * 0.5 * 0.35 * Math.cos(q);
  };
  const out: number[] = [];
  for (let i = 0, n = 20_000; i < n; i++) {
    const [a, b] = [i, i + 1].map((x) => -Math.PI + 1e-5 + (2 * Math.PI * x) / n) as [number, number];
    if (torque(a) * torque(b) < 0) out.push((a + b) / 2);
  }
  return out;
};

describe('equilibria along a degree of freedom', () => {
  it.each([0.28, 0.1, 0.4])('all of them are found, however few starts there are (free length %d m)', (free) => {
    const { list, complete, diagnoses } = equilibria(standing(arm(free)), 0, 0),
      known = zeros(free),
      angle = (y: Float64Array) => 2 * Math.atan2(y[6]!, y[3]!),
      apart = (a: number, b: number) => Math.abs(Math.atan2(Math.sin(a - b), Math.cos(a - b)));
    expect(complete).toBe(true);
    expect(codes(diagnoses)).toEqual(['equilibria-all']);
    expect(list).toHaveLength(known.length);
    for (const q of known) expect(Math.min(...list.map((x) => apart(angle(x.y), q)))).toBeLessThan(1e-3);
    // hills and valleys by turns
    expect(list.filter((x) => x.stable).length).toBe(known.length / 2);
  });
  it('an arm in balance everywhere is found once, as neutral', () => {
    const c = 0.362,
      k = (4.3 * 9.81 * c) / (0.5 * 0.35),
      { list } = equilibria(standing(arm(0, k)), 0, 0);
    expect(list).toHaveLength(1);
    expect(list[0]).toMatchObject({ stable: true, neutral: ['Pin turns'] });
  });
  it('with more freedoms it says that there may be others', () => {
    const m = bar({ ...BAR, pieces: 3, gravity: 9.81 }),
      { complete, diagnoses } = equilibria(standing(m), 0, 1);
    expect(complete).toBe(false);
    expect(codes(diagnoses)).toEqual(['equilibria-some']);
  });
});

describe('equilibria of two joint coordinates', () => {
  const found = (of: Model) => {
    const m = standing(of),
      { list, complete, diagnoses } = equilibria(m, 0, 0);
    return { list, complete, codes: codes(diagnoses), said: diagnoses.map((d) => d.message).join() };
  };
  const chain = (loads: object[] = [], elbow = 'revolute'): Model =>
    model('Two', {
      points: e([
        { name: 'O' },
        { name: 'Elbow', at: [0.5, 0, 0] },
        { name: 'Post', at: [0.2, 0.9, 0] },
        { name: 'Hand', body: 'Low', at: [0.9, 0.1, 0] },
      ]),
      bodies: e([
        { name: 'Up', mass: 2, centre: [0.3, 0, 0], inertia: [0.01, 0.1, 0.1] },
        { name: 'Low', mass: 1, centre: [0.8, 0, 0], inertia: [0.01, 0.05, 0.05] },
      ]),
      joints: e([
        { name: 'A', kind: 'revolute', bodies: ['Ground', 'Up'], at: ['O'] },
        { name: 'B', kind: elbow, bodies: ['Up', 'Low'], at: ['Elbow'], ...(elbow === 'prismatic' ? { axis: [1, 0, 0] } : {}) },
      ]),
      loads: e([{ name: 'G', kind: 'gravity', acceleration: [0, -9.81, 0] }, ...loads]),
    });
  it('a double pendulum: four, hanging or standing, all the way round', () => {
    const { list, complete, said } = found(chain());
    expect(complete).toBe(true);
    expect(said).toMatch(/A and B \(all the way round\): proved/);
    const of = (up: number, low: number) => 9.81 * (up * (2 * 0.3 + 1 * 0.5) + low * 0.3);
    list.map((x) => x.energy).forEach((x, k) => expect(x).toBeCloseTo([of(-1, -1), of(-1, 1), of(1, -1), of(1, 1)][k]!, 9));
    expect(list.map((x) => x.stable)).toEqual([true, false, false, false]);
  });
  it('a spring in its elbow holds it straight from a stiffness on: then there are two', () => {
    const spring = (stiffness: number) => [{ name: 'K', kind: 'joint-spring', joint: 'B', stiffness }];
    // within a turn each way, as the spring counts turns; a soft one lets it fold
    expect(found(chain(spring(3.2))).list).toHaveLength(2);
    const soft = found(chain(spring(1)));
    expect(soft.complete).toBe(true);
    expect(soft.list.length).toBeGreaterThan(2);
    expect(soft.list.length % 2).toBe(0);
  });
  it('a slide in place of the elbow is followed each way', () => {
    const { list, complete, said } = found(chain([{ name: 'K', kind: 'joint-spring', joint: 'B', stiffness: 300 }], 'prismatic'));
    expect(complete).toBe(true);
    expect(list).toHaveLength(2);
    expect(said).toMatch(/B \(3 times the size of the machine each way\): proved/);
  });
  it('two arms that do not know of each other: as many as the product of their own', () => {
    const free = [0.28, 0.4],
      arms = free.map((f) => ({ of: arm(f), count: zeros(f).length })),
      both = model('Two arms', {
        points: e(
          arms.flatMap(({ of }, k) =>
            of.points.map((p) => ({ ...p, name: `${p.name} ${k}`, ...(p.body ? { body: `${String(p.body)} ${k}` } : {}) })),
          ),
        ),
        bodies: e(arms.flatMap(({ of }, k) => of.bodies.map((b) => ({ ...b, name: `${b.name} ${k}` })))),
        joints: e(arms.map((_, k) => ({ name: `Pin ${k}`, kind: 'revolute', bodies: ['Ground', `Arm ${k}`], at: [`O ${k}`] }))),
        loads: e([
          { name: 'Gravity', kind: 'gravity', acceleration: [0, -9.81, 0] },
          ...free.map((f, k) => ({
            name: `S${k}`,
            kind: 'spring',
            bodies: ['Ground', `Arm ${k}`],
            at: [`Post ${k}`, `Eye ${k}`],
            stiffness: 420,
            free: f,
          })),
        ]),
      }),
      { list, complete } = found(both);
    expect(complete).toBe(true);
    expect(list).toHaveLength(arms[0]!.count * arms[1]!.count);
    expect(list.filter((x) => x.stable)).toHaveLength((arms[0]!.count / 2) * (arms[1]!.count / 2));
  });
  it('with friction, or in a loop, it says that there may be others', () => {
    expect(found(chain([{ name: 'F', kind: 'joint-friction', joint: 'A', static: 0.2, sliding: 0.1, radius: '10 mm' }])).codes).toEqual([
      'equilibria-some',
    ]);
  });
});

describe('modes of machines that move', () => {
  /** A blade on a flap hinge at e from the axis of its hub, which turns at a speed. */
  const hinged = (speed: number, e0 = 0.1): Model =>
    model('Flap', {
      points: e([{ name: 'O' }, { name: 'Hinge', at: [e0, 0, 0] }]),
      bodies: e([
        { name: 'Hub', mass: 1, inertia: [1, 1, 1] },
        { name: 'Blade', mass: 2, centre: [e0 + 0.6, 0, 0], inertia: [1e-3, 0.24, 0.24] },
      ]),
      joints: e([
        { name: 'Axle', kind: 'revolute', bodies: ['Ground', 'Hub'], at: ['O'] },
        { name: 'Flap', kind: 'revolute', bodies: ['Hub', 'Blade'], at: ['Hinge'], axis: [0, 1, 0] },
      ]),
      drives: e([{ name: 'Motor', joint: 'Axle', prescribes: 'speed', value: `${speed} rad/s` }]),
      loads: e([{ name: 'K', kind: 'joint-spring', joint: 'Flap', stiffness: '5 N*m/rad' }]),
    });
  /** The same of a blade that only springs hold: nothing turns with it that could lead it. */
  const sprung = (speed: number): Model =>
    model('Sprung', {
      points: e([
        { name: 'O' },
        { name: 'Hub end', at: [1, 0, 0], body: 'Hub' },
        { name: 'Out', at: [1, 0, 0] },
        { name: 'Middle', body: 'Mass' },
      ]),
      bodies: e([
        { name: 'Hub', mass: 1, inertia: [1, 1, 1] },
        { name: 'Mass', origin: 'Out', mass: 2, inertia: [0.1, 0.1, 0.1], spin: [0, 0, speed], velocity: [0, speed, 0] },
      ]),
      joints: e([{ name: 'Axle', kind: 'revolute', bodies: ['Ground', 'Hub'], at: ['O'] }]),
      drives: e([{ name: 'Motor', joint: 'Axle', prescribes: 'speed', value: `${speed} rad/s` }]),
      loads: e([
        {
          name: 'K',
          kind: 'bushing',
          bodies: ['Hub', 'Mass'],
          at: ['Hub end', 'Middle'],
          stiffness: [9000, 800, 200],
          torsion: [50, 60, 70],
        },
      ]),
    });
  const moving = (of: Model): Mechanism => {
    const m = standing(of);
    setOff(m);
    return m;
  };
  it('a blade that is hinged on what turns: exact, at any speed', () => {
    for (const speed of [3, 20]) {
      const { modes: list, diagnoses } = modes(moving(hinged(speed)));
      expect(codes(diagnoses)).toEqual([]);
      const I = 0.24 + 2 * 0.36,
        // about the hinge: I + m e a outwards, less the thickness of the blade
        square = (5 + speed * speed * (I - 1e-3 + 2 * 0.1 * 0.6)) / I;
      expect(list[0]!.im / Math.sqrt(square)).toBeCloseTo(1, 9);
    }
  });
  it('one that is led by the ground’s axes: told to hold for an instant, but only where its turning counts', () => {
    const passes = (speed: number) => modes(moving(sprung(speed))).diagnoses.find((d) => d.code === 'modes-passing');
    expect(passes(2)?.severity).toBe('warning');
    expect(passes(1e-3)).toBeUndefined();
  });
});
