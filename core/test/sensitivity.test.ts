import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { type Model, type RawElement, runModel } from '../src';
import { check } from '../src/checks/check';
import { readModel } from '../src/model/file';
import { type ModelNumber, numbersOf, withChanged } from '../src/model/numbers';
import { measured } from '../src/results/measures';
import type { RunOptions } from '../src/solve/run-events';
import { mayChange, neededRecords } from '../src/studies/needed';
import { type Sensitivities, type Way, sensitivities } from '../src/studies/sensitivity';
import { bricard, fourBars } from './benchmarks';
import { chainOf } from './chain';
import { MACHINES, random } from './machines';
import { model, sliderCrank } from './models';
import { DYNAMICS } from './verification/dynamics';
import { EVENTS } from './verification/events';
import { MECHANISMS } from './verification/mechanisms';
import { modelsOf } from './verification/problem';

const ACCURACY = 1e-10;
/** Part by which numbers differ in differences of whole runs. */
const STEP = 5e-4;
const e = (list: object[]): RawElement[] => list as RawElement[];

function moved(m: Model, numbers: readonly ModelNumber[], options: Partial<RunOptions> = {}, way?: Way): Sensitivities {
  const steps = sensitivities(m, numbers, { accuracy: ACCURACY, ...options }, [], way);
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}
const named = (m: Model, ...names: string[]) => names.map((name) => numbersOf(m).find((n) => n.name === name)!);

function scoresOf(m: Model, options: Partial<RunOptions>): number[] {
  const ran = runModel(m, { accuracy: ACCURACY, ...options });
  return measured({
    resolution: ran.mechanism.resolution,
    unitOf: () => undefined,
    series: (g) => ({ time: ran.time, values: ran.gauge(g), dim: ran.mechanism.channel(g).dim }),
  }).scores.map((s) => s.value ?? NaN);
}
/** Derivatives of scores by differences of whole runs, of fourth order, and how far two of them are from each other. */
function differences(m: Model, n: ModelNumber, options: Partial<RunOptions>): { slope: number; noise: number; score: number }[] {
  const { size } = check(m).built.mechanism!,
    at = (part: number) => scoresOf(withChanged(m, n, part, size), options),
    by = (h: number) => {
      const [less, more] = [at(-h), at(h)];
      return less.map((x, i) => (more[i]! - x) / (2 * h));
    },
    [a, b, c, score] = [by(2 * STEP), by(STEP), by(STEP / 2), at(0)];
  return b.map((x, i) => {
    const [far, near] = [(4 * x - a[i]!) / 3, (4 * c[i]! - x) / 3];
    return { slope: near, noise: Math.abs(far - near), score: score[i]! };
  });
}

/** Scores of which the derivatives are smooth. */
const scored = (m: Model): Model => ({
  ...m,
  scores: e(
    m.gauges.slice(0, 2).flatMap(({ name: gauge }) => [
      { name: `${gauge} at the end`, gauge, of: 'final' },
      { name: `${gauge} on average`, gauge, of: 'mean' },
    ]),
  ),
});
const problem = (title: string): Model => {
  const found = [...EVENTS, ...DYNAMICS, ...MECHANISMS].find((p) => p.title === title);
  return scored(modelsOf(found!, 1e-5)[0]!);
};
const example = (name: string): Model => scored(readModel(readFileSync(`examples/${name}.pivot.json`, 'utf8')));

/** Machines with stops, friction, switched drives, joints that let go, closed loops, impacts, and stiff ones, with numbers of theirs. */
const TEN: readonly [string, Model, readonly string[], Partial<RunOptions>?][] = [
  ['friction that stops', problem('Block sliding down and up an incline with friction'), ['Push, speed', 'Rub, sliding coefficient']],
  [
    'friction that slips',
    problem('Block pushed harder and harder until it slips'),
    ['Rub, static coefficient', 'Block, mass', 'F, magnitude'],
  ],
  [
    'dry friction',
    problem('Oscillator with dry friction: comes to rest off centre'),
    ['Spring, stiffness', 'Rub, preload', 'Pull, position'],
  ],
  [
    'a stop',
    problem('Ball joint arm falling on an elastic stop'),
    ['End, stiffness', 'Weight, mass', 'Gravity, acceleration y', 'Up, position'],
  ],
  ['a strap', problem('Weight caught by a strap that only pulls'), ['Weight, mass', 'Gravity, acceleration y']],
  ['a latch', problem('Latch opens when a gauge passes a value'), ['Weight, mass', 'Latch, formula']],
  [
    'a stiff mount',
    problem('Very stiff damped mount (implicit method)'),
    ['Mount, stiffness', 'Mount, damping', 'Push, magnitude, number 2'],
  ],
  ['a closed loop', problem('Four-bar linkage: output angle'), []],
  ['a spatial loop', problem('Spatial slider-crank'), []],
  ['a gate', example('sorting-gate'), ['gate_speed', 'arm', 'Motor, formula, number 2', 'Crank pin z'], { until: 1 }],
  ['a hoist', example('hoist-hook'), ['drop', 'slew', 'Slew bearing, axis x', 'Hook pin damping, damping'], { until: 3 }],
];

describe('what moves the scores of a run', () => {
  it.each(TEN)('agrees with differences of runs: %s', (_, m, names, options = {}) => {
    const all = numbersOf(m),
      numbers = names.length > 0 ? named(m, ...names) : all.filter((_n, i) => i % Math.ceil(all.length / 3) === 0),
      found = moved(m, numbers, options, 'forward'),
      others = (['backward', 'beside'] as const).map((way) => moved(m, numbers, options, way));
    expect(numbers).not.toContain(undefined);
    let compared = 0;
    for (const { number, moves, fault } of found.numbers) {
      expect(fault, number.name).toBeUndefined();
      const other = others.map((x) => x.numbers.find((n) => n.number === number)!.moves!);
      differences(m, number, options).forEach(({ slope, noise, score }, i) => {
        for (const ours of [moves!, ...other].map((x) => x[i]!.whole)) {
          compared++;
          expect(Math.abs(ours - slope), `${number.name} of ${found.scores[i]!.name}: ${ours} against ${slope}`).toBeLessThan(
            // what runs of this accuracy leave open of differences
            1e-6 * Math.abs(slope) + noise + ((0.1 * ACCURACY) / STEP) * Math.abs(score) + 1e-9,
          );
        }
      });
    }
    expect(compared).toBeGreaterThan(0);
  });

  it('agrees with the closed form of a swinging weight', () => {
    const [m0, k, c, x0, until] = [2, 50, 3, 0.3, 1.7],
      m = model('Swing', {
        run: { until, every: 0.01 },
        points: e([{ name: 'O' }]),
        bodies: e([{ name: 'Block', mass: m0, inertia: [1, 1, 1] }]),
        joints: e([{ name: 'S', kind: 'prismatic', bodies: ['Ground', 'Block'], at: ['O'], axis: [1, 0, 0] }]),
        starts: e([{ name: 'Pull', joint: 'S', position: x0 }]),
        loads: e([{ name: 'Spring', kind: 'joint-spring', joint: 'S', stiffness: k, damping: c }]),
        gauges: e([{ name: 'x', kind: 'joint', joint: 'S' }]),
        scores: e([{ name: 'End', gauge: 'x', of: 'final' }]),
      }),
      at = (mass: number, stiffness: number, damping: number, start: number) => {
        const d = damping / (2 * mass),
          w = Math.sqrt(stiffness / mass - d * d);
        return start * Math.exp(-d * until) * (Math.cos(w * until) + (d / w) * Math.sin(w * until));
      },
      given = [m0, k, c, x0] as const,
      slopes = given.map((x, i) => {
        const h = 1e-3 * x,
          by = (f: number) => at(...(given.map((y, j) => (i === j ? y + f * h : y)) as unknown as typeof given));
        return (8 * (by(1) - by(-1)) - (by(2) - by(-2))) / (12 * h);
      });
    for (const [method, way, enough] of [
      ['explicit', 'beside', 1e-7],
      ['implicit', 'beside', 1e-7],
      ['implicit', 'forward', 1e-8],
      ['explicit', 'forward', 1e-9],
      ['explicit', 'backward', 1e-9],
    ] as const) {
      const numbers = named(m, 'Block, mass', 'Spring, stiffness', 'Spring, damping', 'Pull, position'),
        found = moved(m, numbers, { method }, way);
      numbers.forEach((n, i) => {
        const ours = found.numbers.find((x) => x.number === n)!;
        expect(ours.exactly).toBe({ beside: undefined, forward: 'forth', backward: 'back' }[way]);
        expect(Math.abs(ours.moves![0]!.slope / slopes[i]! - 1), `${method}, ${way}, ${n.name}`).toBeLessThan(enough);
      });
    }
  });

  it('tells how gauges change over the run', () => {
    const m = example('sorting-gate'),
      steps = sensitivities(m, named(m, 'arm'), { accuracy: ACCURACY, until: 0.5 }, ['Pusher travel']);
    let step = steps.next();
    while (!step.done) step = steps.next();
    const { time, numbers } = step.value,
      [curve] = numbers[0]!.curves!,
      runs = [59.99, 60.01].map((x) =>
        runModel(
          { ...m, parameters: m.parameters.map((p) => (p.name === 'arm' ? { ...p, value: `${x} mm` } : p)) },
          { accuracy: ACCURACY, until: 0.5 },
        ).gauge('Pusher travel'),
      );
    expect(curve!.length).toBe(time.length);
    curve!.forEach((x, i) => expect(Math.abs(x - (runs[1]![i]! - runs[0]![i]!) / 0.02)).toBeLessThan(1e-8));
  });

  it('asks only of the records on which the scores hang, and says the same as of all', () => {
    const m = example('sorting-gate'),
      peaks = {
        ...m,
        scores: e(
          m.gauges
            .slice(0, 3)
            .flatMap(({ name: gauge }) => ['peak', 'lowest', 'final'].map((of) => ({ name: `${gauge} ${of}`, gauge, of }))),
        ),
      } as Model,
      asked = named(peaks, 'arm', 'rod_length', 'Steel, density'),
      all = (gauges: readonly string[]) => {
        const steps = sensitivities(peaks, asked, { accuracy: 1e-8, until: 2 }, gauges);
        for (let step = steps.next(); ; step = steps.next()) if (step.done) return step.value;
      },
      // curves that are asked for need every record
      [few, every] = [all([]), all([m.gauges[0]!.name])];
    expect(every.numbers[0]!.curves).toBeDefined();
    few.numbers.forEach((n) => {
      const other = every.numbers.find((x) => x.number.name === n.number.name)!;
      expect(n.moves!.length).toBe(peaks.scores.length);
      n.moves!.forEach((x, k) => {
        expect(other.moves![k]!.whole).not.toBeUndefined();
        expect(Math.abs(x!.whole - other.moves![k]!.whole)).toBeLessThan(1e-9 * (1e-3 + Math.abs(x!.whole)));
      });
    });
  });

  it('asks many numbers in several runs, and says the same of each as if it were asked alone', () => {
    const m = example('sorting-gate'),
      options = { until: 0.05, accuracy: 1e-7 },
      asked = numbersOf(m).slice(0, 55),
      all = moved(m, asked, options, 'forward');
    expect(all.numbers.length).toBe(asked.length);
    for (const name of ['arm', 'Yoke tip z', asked.at(-1)!.name]) {
      const [number] = named(m, name),
        alone = moved(m, [number!], options, 'forward').numbers[0]!;
      // the others only share its steps
      expect(all.numbers.find((x) => x.number.name === name)!.moves).toEqual(alone.moves);
    }
  });

  it('counts that a limit ends the run earlier or later', () => {
    // a weight falls until it has gone a way h: it is then as fast as √(2 g h), after √(2 h/g)
    const [g, h] = [9.81, 1.3],
      m = model('Fall', {
        run: { until: 2, every: 0.1 },
        points: e([{ name: 'O' }]),
        bodies: e([{ name: 'Weight', mass: 2, inertia: [1, 1, 1] }]),
        joints: e([{ name: 'S', kind: 'prismatic', bodies: ['Ground', 'Weight'], at: ['O'], axis: [1, 0, 0] }]),
        loads: e([{ name: 'Gravity', kind: 'gravity', acceleration: [g, 0, 0] }]),
        gauges: e([
          { name: 'x', kind: 'joint', joint: 'S' },
          { name: 'v', kind: 'joint', joint: 'S', of: 'rate' },
        ]),
        scores: e([
          { name: 'Speed', gauge: 'v', of: 'final' },
          { name: 'Way', gauge: 'x', of: 'final' },
        ]),
        limits: e([{ name: 'Down', gauge: 'x', high: `${h} m`, then: 'stop' }]),
      }),
      asked = named(m, 'Gravity, acceleration x');
    for (const which of ['forward', 'backward', 'beside'] as const) {
      const { end, numbers } = moved(m, asked, {}, which);
      expect(end.status).toBe('stopped');
      const [speed, way] = numbers[0]!.moves!;
      expect(speed!.slope).toBeCloseTo(Math.sqrt(h / (2 * g)), 6);
      expect(way!.slope).toBeCloseTo(0, 6);
    }
  });

  it('derives a mean of a large machine exactly, however many records it hangs on', () => {
    const bars = 12,
      m = {
        ...chainOf(bars),
        gauges: e([{ name: 'Tip', kind: 'point', body: `B${bars - 1}`, at: `P${bars - 1}`, component: 'x' }]),
        scores: e([{ name: 'Mean', gauge: 'Tip', of: 'mean' }]),
      },
      options = { until: 0.2, every: 5e-5 },
      found = moved(m, named(m, 'B3, mass'), options, 'forward').numbers[0]!,
      beside = moved(m, named(m, 'B3, mass'), options, 'beside').numbers[0]!;
    expect(found.exactly).toBe('forth');
    expect(Math.abs(found.moves![0]!.slope / beside.moves![0]!.slope - 1)).toBeLessThan(1e-5);
  });

  it('sees a bar swing out of its plane when its axis is a little askew', () => {
    // along the axis (δ, 0, 1) nothing of the bar moves: from (L, 0, 0) its end comes to z = δ (L − x)
    const m = model('Askew', {
        run: { until: 0.7, every: 0.1 },
        points: e([{ name: 'O' }, { name: 'End', body: 'Bar', at: [1.5, 0, 0] }]),
        bodies: e([{ name: 'Bar', mass: 2, centre: [0.75, 0, 0], inertia: [0.1, 0.4, 0.4] }]),
        joints: e([{ name: 'Hinge', kind: 'revolute', bodies: ['Ground', 'Bar'], at: ['O'], axis: [0, 0, 1] }]),
        loads: e([{ name: 'Gravity', kind: 'gravity', acceleration: [0, -9.81, 0] }]),
        gauges: e(['x', 'z'].map((component) => ({ name: component, kind: 'point', body: 'Bar', at: 'End', component }))),
        scores: e([{ name: 'Aside', gauge: 'z', of: 'final' }]),
      }),
      x = runModel(m, { accuracy: 1e-10 }).gauge('x').at(-1)!;
    for (const way of ['forward', 'backward', 'beside'] as const) {
      const found = moved(m, named(m, 'Hinge, axis x'), { accuracy: 1e-9 }, way).numbers[0]!;
      expect(found.moves![0]!.sides).toBeUndefined();
      expect(found.moves![0]!.slope, way).toBeCloseTo(1.5 - x, 7);
    }
  });

  it('asks no limits and no workings', () => {
    const m = {
      ...example('sorting-gate'),
      limits: e([{ name: 'Torque', gauge: 'Crank torque', high: '1 N*m' }]),
      workings: e([{ name: 'By hand', value: '3 mm', score: 'Pusher travel at the end' }]),
    };
    expect(moved(m, named(m, 'arm'), { until: 0.1 }).numbers[0]!.moves![0]!.slope).toBeDefined();
  });

  it('leaves the run alone', () => {
    const m = problem('Ball joint arm falling on an elastic stop'),
      alone = runModel(m, { accuracy: 1e-7 }),
      { end } = moved(m, numbersOf(m).slice(0, 3), { accuracy: 1e-7 });
    expect(end.happenings).toEqual(alone.end.happenings);
    expect(end.statistics.steps).toBe(alone.end.statistics.steps);
    expect(end.statistics.rejected).toBe(alone.end.statistics.rejected);
  });

  it('tells kinks with both slopes', () => {
    // a weight that a lock holds exactly at the level from which on a spring pulls: more of the level, and nothing pulls
    const m = model('Level', {
      run: { until: 1, every: 0.1 },
      parameters: e([{ name: 'level', value: 0.25 }]),
      points: e([{ name: 'O' }]),
      bodies: e([{ name: 'Block', mass: 2, inertia: [1, 1, 1] }]),
      joints: e([{ name: 'S', kind: 'prismatic', bodies: ['Ground', 'Block'], at: ['O'], axis: [1, 0, 0] }]),
      loads: e([{ name: 'Push', kind: 'force', body: 'Block', at: 'O', direction: [1, 0, 0], magnitude: 'max(0, level - 0.25) * 8 N' }]),
      gauges: e([{ name: 'x', kind: 'joint', joint: 'S' }]),
      scores: e([{ name: 'End', gauge: 'x', of: 'final' }]),
    });
    for (const way of ['forward', 'backward', 'beside'] as const) {
      const [less, more] = moved(m, named(m, 'level'), {}, way).numbers[0]!.moves![0]!.sides!;
      expect(less).toBeCloseTo(0, 9);
      expect(more).toBeCloseTo(2, 6);
    }
  });

  it('tells of a number that makes another machine, and goes on with the others', () => {
    const m = example('sorting-gate'),
      asked = named(m, 'arm', 'Yoke tip y');
    for (const way of ['forward', 'backward', 'beside'] as const) {
      const found = moved(m, asked, { until: 0.2 }, way);
      expect(found.numbers.find((n) => n.number.name === 'arm')!.moves).toBeDefined();
      expect(found.numbers.find((n) => n.number.name === 'Yoke tip y')!.fault!.code).toBe('sensitivity-structure');
    }
  });

  /** Its lengths by its parameters. */
  const byParameters = (m: Model): Model => ({
    ...m,
    parameters: e([
      { name: 'arm', value: `${(m.parameters[0] as unknown as { value: number }).value} m` },
      { name: 'rod', value: `${(m.parameters[1] as unknown as { value: number }).value} m` },
    ]) as never,
    points: m.points.map((p) =>
      p.name === 'Crank pin' ? { ...p, at: ['arm', 0, 0] } : p.name === 'Rod end' ? { ...p, at: ['rod', 0, 0] } : p,
    ) as RawElement[],
  });
  it.each(['kinematic', 'dynamic'] as const)('a driven slider-crank, %s: as its closed form', (analysis) => {
    const [r, l] = [0.05, 0.2],
      crank = byParameters(sliderCrank(r, l)),
      m = {
        ...crank,
        run: { ...crank.run, until: 0.33, analysis },
        scores: e(['highest', 'final', 'range'].map((of) => ({ name: of, gauge: 'x', of }))),
      } as Model,
      found = moved(m, named(m, 'arm', 'rod'), { accuracy: 1e-9 } as never),
      by = (name: string) => found.numbers.find((n) => n.number.name === name)!.moves!.map((x) => x!.slope),
      angle = 10 * Math.PI * 0.33,
      [c, s] = [Math.cos(angle), Math.sin(angle)],
      root = Math.sqrt(l * l - r * r * s * s);
    // its place is r cos θ + √(l² − r² sin² θ)
    [1, c - (r * s * s) / root, 2].forEach((x, k) => expect(Math.abs(by('arm')[k]! - x)).toBeLessThan(1e-6));
    [1, l / root, 0].forEach((x, k) => expect(Math.abs(by('rod')[k]! - x)).toBeLessThan(1e-6));
  });
  it('where a weight hangs at rest: what it weighs moves it as much as its spring, the other way', () => {
    const m = model('Hanging', {
        run: { until: 1, every: 0.5, analysis: 'static' },
        points: e([{ name: 'O' }]),
        bodies: e([{ name: 'Weight', mass: 2, inertia: [1, 1, 1] }]),
        joints: e([{ name: 'S', kind: 'prismatic', bodies: ['Ground', 'Weight'], at: ['O'], axis: [0, 0, 1] }]),
        loads: e([
          { name: 'Gravity', kind: 'gravity', acceleration: [0, 0, -9.81] },
          { name: 'K', kind: 'joint-spring', joint: 'S', stiffness: 300 },
        ]),
        gauges: e([{ name: 'x', kind: 'joint', joint: 'S' }]),
        scores: e([{ name: 'Sag', gauge: 'x', of: 'final' }]),
      }),
      { numbers, end } = moved(m, named(m, 'Weight, mass', 'K, stiffness'));
    expect(end.status).toBe('done');
    for (const n of numbers) {
      const up = n.number.name === 'K, stiffness' ? 1 : -1;
      expect(n.moves![0]!.whole / ((up * 2 * 9.81) / 300)).toBeCloseTo(1, 9);
      expect(n.moves![0]!.percent).toBeCloseTo(up, 8);
    }
  });
  it('tells of a number with which another kind of run cannot start', () => {
    const crank = byParameters(sliderCrank(0.05, 0.05001)),
      m = {
        ...crank,
        run: { ...crank.run, until: 0.05, analysis: 'kinematic' },
        scores: e([{ name: 'x', gauge: 'x', of: 'final' }]),
      } as Model,
      [arm] = moved(m, named(m, 'arm')).numbers;
    // a longer crank does not get past its rod
    expect(arm!.fault?.code).toBe('sensitivity-structure');
  });
});

describe('numbers of a model', () => {
  const every: readonly [string, Model][] = [
    ...MACHINES.map(([name, make]): [string, Model] => [name, make()]),
    ['loops', fourBars(2)],
    ['Bricard', bricard()],
  ];
  it.each(every)('can each be changed alone: %s', (_, m) => {
    const next = random(7);
    for (const n of numbersOf(m)) {
      if (Math.abs(next()) > 0.2) continue;
      const changed = withChanged(m, n, 0.5, 1),
        now = numbersOf(changed),
        before = numbersOf(m),
        differ = now.flatMap((x, i) => (x.value === before[i]!.value ? [] : [before[i]!.name]));
      expect(now.length).toBe(before.length);
      expect(differ).toEqual([n.name]);
    }
  });
  it('are named as they are found, coordinates measured against the machine, exponents left alone', () => {
    const m = model('Names', {
      parameters: e([
        { name: 'arm', value: '80 mm' },
        { name: 'area', value: '3 * (20 mm)^2 + arm^2' },
      ]),
      points: e([{ name: 'Pin', at: ['-0.2 m', 'arm + 3 mm', 0] }]),
      tables: e([
        {
          name: 'lift',
          data: [
            [0, 1],
            [2, -4],
          ],
        },
      ]),
    });
    expect(numbersOf(m).map(({ name, text, against, scale }) => [name, text, against, scale])).toEqual([
      ['arm', '80 mm', 'itself', 80],
      ['area, number 1', '3', 'itself', 3],
      ['area, number 2', '20 mm', 'itself', 20],
      ['lift, rows, row 1, column 1', '0', 'column', 2],
      ['lift, rows, row 1, column 2', '1', 'column', 4],
      ['lift, rows, row 2, column 1', '2', 'column', 2],
      ['lift, rows, row 2, column 2', '-4', 'column', 4],
      ['Pin x', '0.2 m', 'size', -1],
      ['Pin y', '3 mm', 'itself', 3],
      ['Pin z', '0', 'size', 1],
    ]);
  });
});

describe('records on which scores hang', () => {
  const time = Float64Array.from({ length: 500 }, (_, i) => i / 100),
    wave = time.map((t) => Math.sin(2 * t) + 0.3 * Math.sin(7 * t));
  const max = (c: Float64Array) => c.reduce((a, b) => Math.max(a, b), -Infinity);
  it('a largest value: those around it; a last value: the last; a mean: all', () => {
    const kept = wave.slice(),
      of = (score: (c: Float64Array) => number) => neededRecords([wave], () => [score(wave)]);
    const peak = of(max)!,
      at = wave.indexOf(max(wave));
    expect(peak[at]).toBe(1);
    expect(peak.reduce((a, b) => a + b, 0)).toBeLessThan(40);
    expect(of((c) => c.at(-1)!)!.reduce((a, b) => a + b, 0)).toBeLessThan(16);
    expect(of((c) => c.reduce((a, b) => a + b, 0) / c.length)).toBeUndefined();
    expect(wave).toEqual(kept);
  });
  it('what it leaves out has no part in the score, however it changes by a little', () => {
    for (let seed = 1; seed <= 20; seed++) {
      const next = random(seed),
        c = wave.map((x, i) => x + 0.2 * Math.sin(i * (0.05 + 0.1 * next()))),
        score = (x: Float64Array) => [max(x), -max(x.map((y) => -y))],
        known = score(c),
        which = neededRecords([c], () => score(c))!;
      const changed = c.map((x, i) => (which[i] ? x : x + mayChange(c) * 0.1 * (2 * next() - 1)));
      expect(score(changed)).toEqual(known);
    }
  });
});
