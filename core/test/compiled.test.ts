/** Whole machines compiled: against their equations evaluated one by one, and against the same code in plain JavaScript. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Mechanism, type Model, type RawElement, Refusal, assemble, build, kindsOf, runModel } from '../src';
import { KernelMemory } from '../src/kernel/memory';
import { kernelsOf } from '../src/system/compiled/machine';
import { leaveOut } from '../src/solve/leave-out';
import { COMPILER } from '../src/system/compiler';
import type { System } from '../src/system/system';
import { bricard, fourBars } from './benchmarks';
import { oneJoint } from './every-joint';
import { LOADS, loaded } from './every-load';
import { ALONG, MACHINES, disturb, random } from './machines';
import { chainOf } from './chain';
import { model } from './models';

const answers = (s: System) => {
  s.accelerate(0.1);
  const { tightest } = s.ldlt,
    redundant = [...s.ldlt.redundant],
    solution = s.solution.slice();
  return { solution, redundant, tightest, phi: s.residual(0.1), rate: s.velocityResidual(0.1) };
};

it('a memory that is full to the last number does not stop what works in it', () => {
  const { system, joints } = build(bricard()).mechanism!;
  // equations of these kinds are made ready when they are first asked for
  system.K.memory.take(system.K.memory.left);
  system.accelerate(0);
  expect(system.residual(0)).toBeLessThan(1);
  for (const j of joints) for (const f of j.freedoms.values()) expect(f.rate(system.K)).toBe(0);
});

describe.each(MACHINES)('%s', (_, model) => {
  it.each([
    ['as a whole', undefined],
    ['kind by kind', 0],
  ])(
    'compiled %s moves as by its equations one by one: accelerations, multipliers, redundant rows, residuals (random states)',
    (_how, most) => {
      const one = build(model()).mechanism!,
        other = build(model()).mechanism!,
        { y } = assemble(one);
      assemble(other);
      other.system.compile(COMPILER, most);
      let settled = 0;
      // friction is settled to 1e-13 of the largest force
      const exact = one.system.reacting ? 1e-10 : 1e-11;
      for (let i = 0; i < 20; i++) {
        disturb(one.system, y, random(i));
        disturb(other.system, y, random(i));
        const a = answers(one.system),
          b = answers(other.system);
        const size = Math.max(...a.solution.map(Math.abs));
        // where it all but jams, friction and what constraints carry do not settle to rounding
        if (one.system.unsettled || other.system.unsettled) continue;
        settled++;
        a.solution.forEach((x, k) => expect(Math.abs(x - b.solution[k]!)).toBeLessThanOrEqual(exact * size));
        expect(b.redundant).toEqual(a.redundant);
        expect(b.tightest).toBeCloseTo(a.tightest, 12);
        expect(b.phi).toBeCloseTo(a.phi, 12);
        expect(Math.abs(b.rate - a.rate)).toBeLessThan(1e-12 * (1 + a.rate));
      }
      expect(settled).toBeGreaterThan(5);
      expect(other.system.compiled).toBe(most === undefined);
    },
  );

  it('gives the same numbers compiled and in plain JavaScript, to the last bit', () => {
    const { system } = build(model()).mechanism!,
      { y } = assemble(build(model()).mechanism!);
    system.compile(COMPILER);
    disturb(system, y, random(7));
    system.accelerate(0.1);
    const { room, structure } = system,
      { memory } = room.K,
      plain = new KernelMemory(memory.numbers.length, undefined);
    plain.numbers.set(memory.numbers);
    const end = room.scratch,
      kernels = kernelsOf(structure);
    for (const kernel of Object.values(kernels)) for (const m of [plain, memory]) kernel.at(m, room.scratch)(room.K.at.r, room.from);
    for (let k = room.K.at.r; k < end; k++) expect(Object.is(plain.numbers[k], memory.numbers[k]), `number ${k}`).toBe(true);
  });
});

/** A hub from which bars go out, each on balls at both ends: all loops meet in the hub. */
const star = (n: number): Model => {
  const bars = Array.from({ length: n }, (_, i) => i),
    list = (k: object[]) => k as RawElement[],
    at = (i: number, r: number, z: number) => [r * Math.cos((2 * Math.PI * i) / n), r * Math.sin((2 * Math.PI * i) / n), z];
  return model('Star', {
    points: list([
      { name: 'Middle' },
      ...bars.flatMap((i) => [
        { name: `In ${i}`, at: at(i, 1, 0) },
        { name: `Out ${i}`, at: at(i, 2, 0.3 + 0.01 * i) },
      ]),
    ]),
    bodies: list([
      { name: 'Hub', mass: 5, inertia: [1, 1, 2] },
      ...bars.map((i) => ({ name: `Bar ${i}`, origin: `In ${i}`, centre: [0.5, 0, 0.1], mass: 1, inertia: [0.1, 0.2, 0.2] })),
    ]),
    joints: list([
      ...bars.map((i) => ({ name: `Inner ${i}`, kind: 'spherical', bodies: ['Hub', `Bar ${i}`], at: [`In ${i}`] })),
      ...bars.map((i) => ({ name: `Outer ${i}`, kind: 'spherical', bodies: ['Ground', `Bar ${i}`], at: [`Out ${i}`] })),
    ]),
    loads: list([{ name: 'Gravity', kind: 'gravity', acceleration: [0, 0, -9.81] }]),
  });
};
it.each([6, 30])('a hub with %i bars, of which the blocks touch many others, moves as by its equations one by one', (n) => {
  const [one, kinds] = [build(star(n)).mechanism!, build(star(n)).mechanism!],
    { y } = assemble(one);
  assemble(kinds);
  kinds.system.compile(COMPILER, 0);
  for (let i = 0; i < 5; i++) {
    for (const m of [one, kinds]) disturb(m.system, y, random(i));
    const [a, b] = [answers(one.system), answers(kinds.system)],
      size = Math.max(...a.solution.map(Math.abs));
    expect(b.redundant).toEqual(a.redundant);
    a.solution.forEach((x, k) => expect(Math.abs(x - b.solution[k]!)).toBeLessThanOrEqual(1e-11 * size));
  }
  expect(kinds.system.byKinds).toBe(true);
});

it('a machine too large to be compiled as a whole is run all the same, and the run says so', () => {
  const small = runModel(chainOf(12), { until: 0.01 }),
    large = runModel(chainOf(100), { until: 0.01 });
  expect(small.end).toMatchObject({ status: 'done', statistics: { oneByOne: false } });
  expect(large.end).toMatchObject({ status: 'done', statistics: { oneByOne: true } });
  // in a plane the same number of bodies is not too large
  const planar = runModel(fourBars(50), { until: 0.01 });
  expect(planar.end.statistics).toMatchObject({ oneByOne: false, folded: 101 });
  // it is read by its equations in space, for which it is
  planar.gauge('energy');
  expect(planar.mechanism.system.compiled).toBe(false);
});

const e = (list: object[]) => list as RawElement[];
describe('drives in code of the whole machine', () => {
  const term = fc.letrec<{ x: string }>((tie) => ({
    x: fc.oneof(
      { depthSize: 'small' },
      fc.constantFrom('1.3', '0.4', 't/(1 s)', '(t/(1 s) + 0.2)'),
      fc.tuple(fc.constantFrom('cos', 'sin', 'exp', '-', '-cos', '-sin'), tie('x')).map(([f, x]) => `(${f}(${x}))`),
      fc.tuple(tie('x'), fc.constantFrom('+', '-', '*'), tie('x')).map(([a, f, b]) => `(${a} ${f} ${b})`),
    ),
  })).x;
  const UNITS = { position: 'm', speed: 'm/s', acceleration: 'm/s^2' } as const;
  it.each(Object.keys(UNITS) as (keyof typeof UNITS)[])(
    'follow their formulas whatever signs stand in them, as equations one by one do: %s (random formulas)',
    (prescribes) => {
      fc.assert(
        fc.property(term, fc.constantFrom('', '-'), (x, sign) => {
          const { mechanism: m } = build(
            model('Driven', {
              points: e([{ name: 'O' }]),
              bodies: e([
                { name: 'Table', mass: 5, inertia: [1, 1, 1] },
                { name: 'Block', mass: 2, inertia: [1, 1, 1] },
              ]),
              joints: e([
                { name: 'Track', kind: 'prismatic', bodies: ['Ground', 'Table'], at: ['O'], axis: [1, 0, 0] },
                { name: 'S', kind: 'prismatic', bodies: ['Table', 'Block'], at: ['O'], axis: [1, 0, 0] },
              ]),
              loads: e([{ name: 'Spring', kind: 'joint-spring', joint: 'S', stiffness: 50 }]),
              drives: e([{ name: 'Shaker', joint: 'Track', prescribes, value: `${sign}0.01 ${UNITS[prescribes]}*${x}` }]),
            }),
          );
          if (!m) return; // a formula that is no number at the start
          assemble(m);
          const { system } = m,
            told = (t: number) => {
              system.segment(0, Infinity);
              system.accelerate(t);
              system.linearise();
              return [...system.solution, system.residual(t), system.velocityResidual(t, true)];
            },
            plain = [0, 0.3, 1.1].map(told);
          system.compile(COMPILER);
          [0, 0.3, 1.1].map(told).forEach((list, i) =>
            list.forEach((got, k) => {
              const want = plain[i]![k]!;
              if (Number.isFinite(want)) expect(Math.abs(got - want)).toBeLessThanOrEqual(1e-12 * Math.max(1, Math.abs(want)));
            }),
          );
        }),
        { numRuns: 100 },
      );
    },
  );
});

describe('loads on joints in code of a machine', () => {
  const cases = Object.entries(LOADS).flatMap(([kind, list]) =>
    list.flatMap((x) => {
      if (typeof x.joint !== 'string') return [];
      const without = (keys: readonly string[]) => Object.fromEntries(Object.entries(x).filter(([key]) => !keys.includes(key))),
        notes = ['loses', 'coded', 'joint'],
        joint = x.joint === 'Pin' ? 'revolute' : 'prismatic';
      // what is 0 belongs to the structure of a machine
      return [without(notes), without([...notes, 'rest', 'preload'])].map((f) => [kind, joint, f] as const);
    }),
  );
  it.each(cases)('%s on a %s joint %j: alike whichever way its axis points and its bodies are named', (kind, joint, fields) => {
    for (const axis of ALONG)
      for (const [first, second] of [
        ['Ground', 'One'],
        ['One', 'Ground'],
        ['One', 'Two'],
        ['Two', 'One'],
      ]) {
        const other = first === 'Ground' || second === 'Ground' ? 'Two' : 'One',
          make = () => {
            const m = build(
              model('Joined', {
                points: e([{ name: 'O' }]),
                tables: e([
                  {
                    name: 'Curve',
                    from: 'm',
                    to: 'N',
                    data: [
                      [-2, -300],
                      [0, 10],
                      [2, 150],
                    ],
                  },
                ]),
                bodies: e([
                  { name: 'One', mass: 2, inertia: [0.1, 0.2, 0.3] },
                  { name: 'Two', mass: 3, inertia: [0.3, 0.2, 0.1] },
                ]),
                joints: e([
                  { name: 'J', kind: joint, bodies: [first, second], at: ['O'], axis },
                  { name: 'Other', kind: 'fixed', bodies: ['Ground', other], at: ['O'] },
                ]),
                loads: e([{ name: 'L', kind, ...fields, joint: 'J' }]),
                starts: e([{ name: 's', joint: 'J', position: 0.13, speed: 0.4 }]),
              }),
            ).mechanism!;
            assemble(m);
            return m;
          },
          solved = (compile: (s: System) => void) => {
            const { system } = make();
            compile(system);
            system.segment(0, Infinity);
            system.accelerate(0);
            return [...system.acceleration];
          },
          plain = solved(() => undefined);
        for (const most of [undefined, 0])
          solved((s) => s.compile(COMPILER, most)).forEach((x, i) =>
            expect(Math.abs(x - plain[i]!), `${first} ${second} ${axis.join()}`).toBeLessThanOrEqual(
              1e-12 * Math.max(1, Math.abs(plain[i]!)),
            ),
          );
      }
  });
});

describe('machines that lie along the axes', () => {
  // what is 0 or ±1 belongs to the structure of their code
  /** Accelerations one by one, by code of the whole, kind by kind, and of the whole with what the joints never allow left out. */
  const ways = (of: () => Model) => {
    const at = (compile: (m: Mechanism) => void) => {
      const m = build(of()).mechanism!;
      assemble(m);
      compile(m);
      const { system } = m;
      system.segment(0, Infinity);
      system.accelerate(0.07);
      system.linearise();
      return [...system.acceleration, system.residual(0.07), system.velocityResidual(0.07)];
    };
    return {
      plain: at(() => undefined),
      others: [at((m) => m.system.compile(COMPILER)), at((m) => m.system.compile(COMPILER, 0)), at((m) => void leaveOut(m))],
    };
  };
  const agree = (of: () => Model, what: string) => {
    let found: ReturnType<typeof ways>;
    try {
      found = ways(of);
    } catch (error) {
      // along some axes it does not close
      if (error instanceof Refusal) return;
      throw error;
    }
    const { plain, others } = found,
      largest = Math.max(1, ...plain.map(Math.abs).filter(Number.isFinite));
    others.forEach((list, w) =>
      list.forEach((x, i) =>
        expect(Math.abs(x - plain[i]!), `${what}, way ${w}, number ${i}: ${x} ${plain[i]}`).toBeLessThan(
          (w === 2 ? 1e-7 : 1e-10) * largest,
        ),
      ),
    );
  };
  it.each(kindsOf('joints').map((k) => k.kind))('a joint of kind %s', (kind) => {
    for (const axis of ALONG)
      for (const turned of [true, false]) {
        agree(() => {
          const m = oneJoint(kind, axis);
          return turned ? m : { ...m, bodies: m.bodies.map((b) => ({ ...b, rotation: ['0 deg', '0 deg', '0 deg'] })) };
        }, `${kind} ${axis.join()}`);
      }
  });
  const aligned = (load: Readonly<Record<string, unknown>>, axis: readonly number[], slide: readonly number[]): Model => {
    const m = loaded(load);
    const put: Record<string, readonly number[]> = {
      P: [0.4, 0, 0],
      'One middle': [0.2, 0, 0],
      Q: [0, 0.2, 0],
      T1: [-2, 0, 0],
      T2: [0, 1, 0],
      T3: [2, 0, 0],
    };
    return {
      ...m,
      points: m.points.map((p) => (put[p.name] ? { ...p, at: put[p.name] } : p)) as RawElement[],
      joints: m.joints.map((j) => ({ ...j, ...(j.name === 'Pin' ? { axis } : j.name === 'Slide' ? { axis: slide } : {}) })) as RawElement[],
      starts: [
        { name: 'a', joint: 'Pin', position: 0.2, speed: 0.7 },
        { name: 'b', joint: 'Slide', position: 0.03, speed: -0.4 },
      ] as RawElement[],
    };
  };
  it.each(Object.entries(LOADS).flatMap(([kind, list]) => list.map((x) => [kind, JSON.stringify(x), x] as const)))(
    'a load of kind %s: %s',
    (kind, _text, fields) => {
      ALONG.forEach((axis, i) => {
        const slide = ALONG[(2 * i + 1) % ALONG.length]!;
        agree(() => aligned({ kind, ...fields }, axis, slide), `${kind} ${axis.join()} ${slide.join()}`);
      });
    },
  );
});
