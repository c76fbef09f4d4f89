/** What moves scores, found by going forth and back through a run, and beside it by differences: all must say the same. */
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import type { Model, RawElement } from '../src';
import { readModel } from '../src/model/file';
import { numbersOf } from '../src/model/numbers';
import { D } from '../src/quantity/dimension';
import { slopesOfScore } from '../src/results/score-slopes';
import { scoreOf } from '../src/results/scores';
import { rivalsOf } from '../src/studies/needed';
import { type Sensitivities, type Way, sensitivities } from '../src/studies/sensitivity';
import { model } from './models';
import { DYNAMICS } from './verification/dynamics';
import { EVENTS } from './verification/events';
import { MECHANISMS } from './verification/mechanisms';
import { modelsOf } from './verification/problem';

const e = (list: object[]): RawElement[] => list as RawElement[];
/** Scores that hang on the end, and on all of a run. */
const scored = (m: Model): Model => ({
  ...m,
  scores: e(
    m.gauges.slice(0, 2).flatMap(({ name: gauge }) => ['final', 'mean', 'rms'].map((of) => ({ name: `${gauge} ${of}`, gauge, of }))),
  ),
});
function moved(m: Model, most: number, way: Way | undefined, accuracy = 1e-8): Sensitivities {
  const all = numbersOf(m),
    steps = sensitivities(
      m,
      all.filter((_, i) => i % Math.ceil(all.length / most) === 0),
      { accuracy },
      [],
      way,
    );
  for (let step = steps.next(); ; step = steps.next()) if (step.done) return step.value;
}

/** Both ways, by number and score, with what they are measured against; and how many numbers were exactly derived in both. */
function both(
  m: Model,
  most: number,
  ways: readonly [Way, Way],
): { pairs: [along: number, back: number, size: number, what: string][]; went: number } {
  const [along, back] = ways.map((way) => moved(m, most, way)) as [Sensitivities, Sensitivities],
    key = (x: Sensitivities['numbers'][number]) => JSON.stringify([x.number.path, x.number.part]),
    other = new Map(back.numbers.map((x) => [key(x), x]));
  return {
    went: Math.min(...[along, back].map((x) => x.numbers.filter((n) => n.exactly).length)),
    pairs: along.numbers.flatMap((x) => {
      const y = other.get(key(x))!;
      expect(y.fault?.code).toBe(x.fault?.code);
      return (x.moves ?? []).flatMap((a, k): [number, number, number, string][] => {
        const b = y.moves![k];
        expect(b === undefined).toBe(a === undefined);
        const { gauge, name } = along.scores[k]!,
          size = along.scores.reduce(
            (most, s) => (s.gauge === gauge ? Math.max(most, Math.abs(s.value ?? 0)) : most),
            Math.abs(a?.whole ?? 0),
          );
        return a && b ? [[a.whole, b.whole, size, `${x.number.name} of ${name}`]] : [];
      });
    }),
  };
}

const problem = (title: string): Model =>
  modelsOf(
    [...EVENTS, ...DYNAMICS, ...MECHANISMS].find((p) => p.title === title)!,
    1e-8,
  )[0]!;
/** With how near differences beside the run come, which a fast spin or a far flight makes less exact. */
const MACHINES: readonly (readonly [string, number?])[] = [
  ['Block sliding down and up an incline with friction'],
  ['Block pushed harder and harder until it slips'],
  ['Oscillator with dry friction: comes to rest off centre', 1e-6],
  ['Ball joint arm falling on an elastic stop'],
  ['Weight caught by a strap that only pulls'],
  ['A pin lets go: the swinging weight flies off'],
  ['Heavy top in steady precession', 2e-5],
  ['Free body spun about its intermediate axis', 1e-5],
  ['Flyball governor at constant speed', 1e-6],
  ['Bead on a turning rod'],
  ['Fall with air resistance'],
  ['Damped oscillator under a step of force'],
  ['Central force by a formula of a gauge: elliptic orbit', 1e-5],
  ['Projectile with start values on a planar joint'],
  ['Slider-crank at constant speed: motion and loads'],
  ['Four-bar linkage: output angle'],
  ['Spatial slider-crank'],
  ['Scotch yoke: motion and driving torque'],
  ['Universal joint at a bend of 30°: speed ratio'],
  ['Constant-velocity joint at a bend of 35°'],
  ['Gyroscopic moment of a spinning wheel on a turning arm'],
];

/** To which going forth and going back agree. */
const EXACTLY = 1e-9;

describe('forth through a run, and back', () => {
  it.each(MACHINES.map(([title, enough = 1e-7]) => [title, enough] as const))('say the same: %s', (title, enough) => {
    const exact = both(scored(problem(title)), 9, ['forward', 'backward']),
      differences = both(scored(problem(title)), 9, ['beside', 'backward']);
    expect(exact.went).toBeGreaterThan(2);
    expect(exact.pairs.length).toBeGreaterThan(10);
    for (const [forth, back, size, what] of exact.pairs) expect(Math.abs(forth - back) / (size + 1e-9), what).toBeLessThan(EXACTLY);
    for (const [along, back, size, what] of differences.pairs) expect(Math.abs(along - back) / (size + 1e-9), what).toBeLessThan(enough);
  });
  it.each(['sorting-gate', 'hoist-hook'])('say the same: the example %s', (name) => {
    const m = readModel(readFileSync(`examples/${name}.pivot.json`, 'utf8')),
      short = { ...scored(m), run: { ...m.run, until: 0.8, every: 0.01 } };
    for (const [ways, enough] of [
      [['forward', 'backward'], EXACTLY],
      [['beside', 'backward'], 1e-7],
    ] as const) {
      const { pairs, went } = both(short, 25, ways);
      if (ways[0] === 'forward') expect(went).toBeGreaterThan(12);
      for (const [forth, back, size, what] of pairs) expect(Math.abs(forth - back) / (size + 1e-9), what).toBeLessThan(enough);
    }
  });

  it('of a free top that spins fast, the derivative by its spin does not fade with the number of steps', () => {
    // about its own axis it turns by ω t: the part of a line square to it along the ground's x is cos ω t
    const [spin, until] = [200, 2],
      m = model('Spin', {
        run: { until, every: 0.5 },
        bodies: e([{ name: 'Top', mass: 1, inertia: [1, 2, 3], spin: [0, 0, spin] }]),
        points: e([{ name: 'Rim', body: 'Top', at: [1, 0, 0] }]),
        gauges: e([{ name: 'x', kind: 'point', body: 'Top', at: 'Rim', component: 'x' }]),
        scores: e([{ name: 'End', gauge: 'x', of: 'final' }]),
      }),
      number = numbersOf(m).filter((n) => n.name.includes('spin z'));
    expect(number.map((n) => n.name)).toEqual(['Top, start spin z']);
    for (const [way, enough] of [
      ['beside', 1e-5],
      ['forward', 1e-8],
      ['backward', 1e-8],
    ] as const)
      for (const accuracy of [1e-7, 1e-10]) {
        const steps = sensitivities(m, number, { accuracy }, [], way);
        let step = steps.next();
        while (!step.done) step = steps.next();
        expect(Math.abs(step.value.numbers[0]!.moves![0]!.slope + until * Math.sin(spin * until)), `${way}, ${accuracy}`).toBeLessThan(
          enough * until + 1e2 * accuracy * until * spin,
        );
      }
  });

  it('goes back by itself where many numbers are asked, and forth with few', () => {
    const m = { ...scored(problem('Slider-crank at constant speed: motion and loads')) },
      few = { ...m, scores: m.scores.slice(0, 1) };
    expect(moved(few, 60, undefined).numbers.some((x) => x.exactly === 'back')).toBe(true);
    expect(moved(m, 1, undefined).numbers.map((x) => x.exactly)).toEqual(['forth']);
  });
  it('finds the other times that a score hangs on as much, and those alone', () => {
    const n = 401,
      time = Float64Array.from({ length: n }, (_, i) => i / 100),
      wave = time.map((t) => Math.sin(4 * Math.PI * t)),
      look = (values: Float64Array) => () => {
        const series = { time, values, dim: D.length };
        return { value: scoreOf({ of: 'highest' }, series).value, slopes: [slopesOfScore({ of: 'highest' }, series)!.own] };
      },
      top = (slopes: Float64Array) => slopes.reduce((sum, w, i) => sum + w * time[i]!, 0),
      rivals = (values: Float64Array) => rivalsOf([values], look(values)().slopes, look(values));
    const [first, others] = [look(wave)().slopes[0]!, rivals(wave)!];
    // sin 4πt is 1 at 1/8, 5/8, 9/8 … up to 29/8
    expect([first, ...others.map((x) => x[0]!)].map((x) => Math.round(8 * top(x))).sort((a, b) => a - b)).toEqual([
      1, 5, 9, 13, 17, 21, 25, 29,
    ]);
    for (let i = 30; i < n; i++) wave[i] = 0.99 * wave[i]!;
    expect(rivals(wave)).toEqual([]);
  });
  it('of a motion that repeats itself goes back from one of its tops; where they go otherwise, beside the run', () => {
    const swinging = (damping: string): Model =>
        ({
          ...model('Swing', {
            run: { until: 6, every: 0.01 },
            points: e([{ name: 'O' }]),
            bodies: e([{ name: 'Block', mass: 2, inertia: [1, 1, 1] }]),
            joints: e([{ name: 'S', kind: 'prismatic', bodies: ['Ground', 'Block'], at: ['O'], axis: [1, 0, 0] }]),
            starts: e([{ name: 'Push', joint: 'S', speed: 0.4 }]),
            loads: e([{ name: 'Spring', kind: 'joint-spring', joint: 'S', stiffness: 50, damping }]),
            gauges: e([{ name: 'x', kind: 'joint', joint: 'S' }]),
            scores: e([{ name: 'Top', gauge: 'x', of: 'highest' }]),
          }),
        }) as Model,
      known = moved(swinging('0'), 20, 'backward'),
      slope = (name: string) => known.numbers.find((x) => x.number.name === name)!;
    // v √(m/k)
    expect(slope('Push, speed').exactly).toBe('back');
    expect(slope('Push, speed').moves![0]!.slope).toBeCloseTo(0.2, 5);
    expect(slope('Spring, stiffness').moves![0]!.percent).toBeCloseTo(-0.5, 3);
    // with more of it the first is the highest, with less the last: none is told from one top alone
    expect(slope('Spring, damping').exactly).toBeUndefined();
  });

  it.each(['as', 'derivative', 'integral', 'mean', 'rms', 'low-pass'])('counts what is made of a whole course: %s', (then) => {
    const m = problem('Damped oscillator under a step of force'),
      squared = { kind: 'formula', name: 'Made', value: `{${m.gauges[0]!.name}}^2`, then, window: '0.1 s' },
      asked: Model = { ...m, gauges: e([...m.gauges, squared]), scores: e([{ name: 'End', gauge: 'Made', of: 'final' }]) },
      [beside, ...exact] = (['beside', 'forward', 'backward'] as const).map((way) => moved(asked, 7, way)) as [
        Sensitivities,
        Sensitivities,
        Sensitivities,
      ];
    for (const x of beside.numbers)
      for (const found of exact) {
        const y = found.numbers.find((n) => n.number.name === x.number.name)!,
          [a, b] = [x.moves![0]!.whole, y.moves![0]!.whole];
        expect(Math.abs(a - b), x.number.name).toBeLessThan(1e-7 * (Math.abs(found.scores[0]!.value!) + Math.abs(a)));
      }
    expect(exact.every((x) => x.numbers.some((n) => n.exactly && n.moves![0]!.whole !== 0))).toBe(true);
  });
});
