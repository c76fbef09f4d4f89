/** Machines as linear systems: against closed forms, against differences along the constraints, and against a run. */
import { describe, expect, it } from 'vitest';
import { type Mechanism, type Model, type RawElement, Refusal, assemble, build, runModel } from '../src';
import { equilibrium, frequencyResponse, linearSystem, poles, zeros } from '../src/analyses';
import { Leading } from '../src/solve/leading';
import { type FreeMotion, freeMotions } from '../src/solve/motions';
import { MACHINES, random } from './machines';
import { model } from './models';

const e = (list: object[]) => list as RawElement[];
function standing(of: Model): Mechanism {
  const { mechanism, diagnoses } = build(of);
  if (!mechanism) throw new Error(JSON.stringify(diagnoses));
  mechanism.system.K.load(assemble(mechanism).y);
  return mechanism;
}
const [m, c, k] = [2, 3, 50];
const oscillator = (force: string | number = 0): Model =>
  model('Oscillator', {
    run: { until: 24, every: 0.005, accuracy: 1e-8 },
    points: e([{ name: 'O' }]),
    bodies: e([{ name: 'Block', mass: m, inertia: [1, 1, 1] }]),
    joints: e([{ name: 'S', kind: 'prismatic', bodies: ['Ground', 'Block'], at: ['O'], axis: [1, 0, 0] }]),
    loads: e([
      { name: 'Spring', kind: 'joint-spring', joint: 'S', stiffness: k, damping: c },
      { name: 'Push', kind: 'force', body: 'Block', at: 'O', direction: [1, 0, 0], magnitude: force },
    ]),
    gauges: e([
      { name: 'x', kind: 'joint', joint: 'S' },
      { name: 'v', kind: 'joint', joint: 'S', of: 'rate' },
      { name: 'a', kind: 'point', body: 'Block', at: 'O', of: 'acceleration', component: 'x' },
    ]),
  });

describe('a block on a spring', () => {
  const s = linearSystem(standing(oscillator()), 0, ['Push'], ['x', 'v', 'a']);
  it('has the matrices of its equation', () => {
    expect(s.states).toEqual(['S slides', 'S slides, rate']);
    const near = (got: number[][], want: number[][]) => got.flat().forEach((x, i) => expect(x).toBeCloseTo(want.flat()[i]!, 9));
    near(s.A, [
      [0, 1],
      [-k / m, -c / m],
    ]);
    near(s.B, [[0], [1 / m]]);
    near(s.C, [
      [1, 0],
      [0, 1],
      [-k / m, -c / m],
    ]);
    near(s.D, [[0], [0], [1 / m]]);
  });
  it('has its poles; no zero of its place, one at nothing of its rate, two of its acceleration', () => {
    const [p] = poles(s);
    expect(p!.re).toBeCloseTo(-c / (2 * m), 9);
    expect(Math.abs(p!.im)).toBeCloseTo(Math.sqrt(k / m - (c / (2 * m)) ** 2), 9);
    expect(zeros(s, 0, 0)).toEqual([]);
    expect(zeros(s, 0, 1)).toHaveLength(1);
    expect(Math.abs(zeros(s, 0, 1)[0]!.re)).toBeLessThan(1e-9);
    expect(zeros(s, 0, 2)).toHaveLength(2);
  });
  it('answers to swings as 1/(k − m ω² + i c ω) says, and as a run does', () => {
    const f = 0.6,
      w = 2 * Math.PI * f,
      [h] = frequencyResponse(s, [f])[0]!.map((r) => r[0]!),
      [a, b] = [k - m * w * w, c * w],
      d = a * a + b * b;
    expect(h!.re).toBeCloseTo(a / d, 12);
    expect(h!.im).toBeCloseTo(-b / d, 12);
    const r = runModel(oscillator(`0.2 N * sin(${w} rad/s * t)`)),
      x = r.gauge('x');
    // the last cycles, when what it began with is gone
    const most = Math.max(...[...x].filter((_, i) => r.time[i]! > 24 - 2 / f).map(Math.abs));
    expect(most / (0.2 * Math.hypot(h!.re, h!.im))).toBeCloseTo(1, 3);
  });
});

describe('a pendulum on a cart', () => {
  const [M, mass, l, J, G] = [1.5, 0.4, 0.3, 0.01, 9.81],
    cart = (drives: object[] = [], up = true): Model =>
      model('Cart', {
        points: e([{ name: 'O' }]),
        bodies: e([
          { name: 'Cart', mass: M, inertia: [1, 1, 1] },
          { name: 'Pole', mass, centre: [0, up ? l : -l, 0], inertia: [J, J, J] },
        ]),
        joints: e([
          { name: 'Track', kind: 'prismatic', bodies: ['Ground', 'Cart'], at: ['O'], axis: [1, 0, 0] },
          { name: 'Pin', kind: 'revolute', bodies: ['Cart', 'Pole'], at: ['O'] },
        ]),
        drives: e(drives),
        loads: e([
          { name: 'Gravity', kind: 'gravity', acceleration: [0, -G, 0] },
          { name: 'Push', kind: 'force', body: 'Cart', at: 'O', direction: [1, 0, 0], magnitude: 0 },
        ]),
        gauges: e([
          { name: 'x', kind: 'joint', joint: 'Track' },
          { name: 'q', kind: 'joint', joint: 'Pin' },
        ]),
      });
  it('upright, pushed: poles and zeros of the textbook', () => {
    const s = linearSystem(standing(cart()), 0, ['Push'], ['x', 'q']),
      I = J + mass * l * l,
      fast = Math.sqrt(((M + mass) * mass * G * l) / ((M + mass) * I - (mass * l) ** 2)),
      real = (list: { re: number; im: number }[]) => list.map((p) => p.re).sort((a, b) => a - b),
      p = real(poles(s));
    expect(p[0]).toBeCloseTo(-fast, 8);
    expect(p[3]).toBeCloseTo(fast, 8);
    expect(Math.abs(p[1]!) + Math.abs(p[2]!)).toBeLessThan(1e-6);
    const z = real(zeros(s, 0, 0)),
      own = Math.sqrt((mass * G * l) / I);
    expect(z).toHaveLength(2);
    expect(z[0]).toBeCloseTo(-own, 7);
    expect(z[1]).toBeCloseTo(own, 7);
  });
  it('hanging from a cart that is driven, swings by the acceleration asked for', () => {
    const s = linearSystem(standing(cart([{ name: 'Motor', joint: 'Track', value: '0.3 m/s' }], false)), 0, ['Motor'], ['q', 'x']),
      I = J + mass * l * l,
      w2 = (mass * G * l) / I;
    expect(s.states).toEqual(['Pin turns', 'Motor (drive)', 'Pin turns, rate', 'Motor (drive), rate']);
    expect(s.A[2]![0]).toBeCloseTo(-w2, 9);
    expect(s.A[2]![1]).toBeCloseTo(0, 9);
    // a push to the right of the pin swings what hangs back to the left of it: by the right hand about z
    expect(s.B[2]![0]).toBeCloseTo((-mass * l) / I, 9);
    expect(s.B[3]![0]).toBe(1);
    expect(s.C[1]).toEqual([0, 1, 0, 0].map((x) => expect.closeTo(x, 9) as number));
  });
});

describe('names that do not fit are refused, and told what would', () => {
  const of = standing(oscillator());
  it.each([
    [['Nobody'], ['x'], 'input-unknown'],
    [['Spring'], ['x'], 'input-unknown'],
    [['Push'], ['y'], 'output-unknown'],
  ])('%j to %j', (inputs, outputs, code) => {
    try {
      linearSystem(of, 0, inputs, outputs);
      expect.unreachable();
    } catch (error) {
      expect((error as Refusal).diagnoses[0]).toMatchObject({ code });
      expect((error as Refusal).diagnoses[0]!.remedy).toContain(code === 'input-unknown' ? 'Push' : 'x');
    }
  });
});

describe.each(MACHINES.filter(([name]) => !name.includes('rub') && name !== 'a chain' && !name.includes('without inertia')))(
  '%s',
  (name, machine) => {
    it('moves about a state as by differences along its constraints', () => {
      const mechanism = standing(machine()),
        { system } = mechanism,
        next = random(5);
      system.segment(0, Infinity);
      for (let i = 0; i < system.K.v.length - 3; i++) system.K.v[i] = 0.2 * next();
      for (let i = 0; i < system.K.w.length - 3; i++) system.K.w[i] = 0.2 * next();
      system.linearise();
      system.projectVelocities(0);
      const leaders = freeMotions(mechanism);
      if (leaders.length === 0) return;
      const exact = new Leading(mechanism, 0, leaders).linear,
        // what is pressed by 50 µm has another law where it is pressed no more
        about = byHand(mechanism, leaders, name.includes('fruit-drop') ? 2e-6 : 1e-4);
      for (const key of ['stiffness', 'damping'] as const) {
        const size = Math.max(1, ...about[key].flatMap((r) => Array.from(r, Math.abs)));
        exact[key].forEach((r, i) => r.forEach((x, j) => expect(Math.abs(x - about[key][i]![j]!) / size).toBeLessThan(1e-6)));
      }
    });
  },
);

/** Accelerations of leaders by differences of fourth order: postures brought onto the constraints, and motions to the rates that leaders are to have. */
function byHand(mechanism: Mechanism, leaders: readonly FreeMotion[], h: number): { stiffness: Float64Array[]; damping: Float64Array[] } {
  const { system } = mechanism,
    { K } = system,
    state = new Float64Array(K.whole.size),
    rates = () =>
      leaders.map(({ leads }) => {
        if ('freedom' in leads) return leads.freedom.rate(K);
        const [b, x] = [Math.floor(leads.entry / 6), leads.entry % 6];
        return x < 3 ? K.v[3 * b + x]! : K.w[3 * b + x - 3]!;
      });
  K.storeWhole(state);
  const asked = rates(),
    at = (j: number, what: 'stiffness' | 'damping', h: number) => {
      K.loadWhole(state);
      if (what === 'stiffness') K.displace(leaders[j]!.shape, h);
      system.linearise();
      system.projectPositions(0, 1e-14);
      for (let round = 0; round < 12; round++) {
        rates().forEach((x, i) => K.quicken(leaders[i]!.shape, asked[i]! + (what === 'damping' && i === j ? h : 0) - x));
        system.linearise();
        system.projectVelocities(0, 1e-14);
      }
      system.accelerate(0);
      return leaders.map((l) => l.acceleration(K, system.acceleration));
    },
    of = (what: 'stiffness' | 'damping') => {
      const columns = leaders.map((_, j) => {
        const [a, b, c, d] = [h, -h, 2 * h, -2 * h].map((x) => at(j, what, x)) as [number[], number[], number[], number[]];
        return a.map((x, i) => (8 * (x - b[i]!) - (c[i]! - d[i]!)) / (12 * h));
      });
      return leaders.map((_, i) => Float64Array.from(columns, (c) => c[i]!));
    };
  return { stiffness: of('stiffness'), damping: of('damping') };
}

it('a balanced posture is linear without a word, another is told', () => {
  const arm = model('Arm', {
    points: e([{ name: 'O' }]),
    bodies: e([{ name: 'Arm', mass: 1, centre: [0.2, 0, 0], inertia: [0.1, 0.1, 0.1] }]),
    joints: e([{ name: 'Pin', kind: 'revolute', bodies: ['Ground', 'Arm'], at: ['O'] }]),
    loads: e([
      { name: 'Gravity', kind: 'gravity', acceleration: [0, -9.81, 0] },
      { name: 'Motor', kind: 'torque', body: 'Arm', direction: [0, 0, 1], magnitude: 0 },
    ]),
    gauges: e([{ name: 'q', kind: 'joint', joint: 'Pin' }]),
  });
  const of = standing(arm);
  expect(linearSystem(of, 0, ['Motor'], ['q']).diagnoses.map((d) => d.code)).toEqual(['linear-unbalanced']);
  equilibrium(of);
  expect(linearSystem(of, 0, ['Motor'], ['q']).diagnoses).toEqual([]);
});

it('at a singular posture it is refused by name, next to it not', () => {
  // a parallelogram laid flat: it could go on as one, or crossed
  const four = (angle: number): Model => {
    const [c, s] = [Math.cos(angle), Math.sin(angle)],
      bar = (name: string, origin: string, length: number, turned: number) => ({
        ...{ name, origin, mass: 1, centre: [length / 2, 0, 0], inertia: [0.01, 0.01, 0.01], rotation: [0, 0, turned] },
      });
    return model('Flat four-bar', {
      points: e([
        { name: 'A' },
        { name: 'D', at: [1, 0, 0] },
        { name: 'B', at: [0.4 * c, 0.4 * s, 0] },
        { name: 'C', at: [1 + 0.4 * c, 0.4 * s, 0] },
      ]),
      bodies: e([bar('Crank', 'A', 0.4, angle), bar('Coupler', 'B', 1, 0), bar('Rocker', 'D', 0.4, angle)]),
      joints: e([
        { name: 'Left', kind: 'revolute', bodies: ['Ground', 'Crank'], at: ['A'] },
        { name: 'Up left', kind: 'spherical', bodies: ['Crank', 'Coupler'], at: ['B'] },
        { name: 'Up right', kind: 'cylindrical', bodies: ['Coupler', 'Rocker'], at: ['C'] },
        { name: 'Right', kind: 'revolute', bodies: ['Ground', 'Rocker'], at: ['D'] },
      ]),
      loads: e([{ name: 'Motor', kind: 'torque', body: 'Crank', direction: [0, 0, 1], magnitude: 0 }]),
      gauges: e([{ name: 'q', kind: 'joint', joint: 'Left' }]),
    });
  };
  try {
    linearSystem(standing(four(0)), 0, ['Motor'], ['q']);
    expect.unreachable();
  } catch (error) {
    expect((error as Refusal).diagnoses[0]).toMatchObject({ code: 'posture-singular' });
  }
  expect(linearSystem(standing(four(0.3)), 0, ['Motor'], ['q']).states).toHaveLength(2);
});
