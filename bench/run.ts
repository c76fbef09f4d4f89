/**
 * Performance, as ratios to stated baselines measured in the same run; writes docs/performance.md.
 * Usage: npm run bench  (browser figures too: npm run bench -- --browser)
 *
 * Baselines: bench/baselines.ts.
 */
import { readFileSync, writeFileSync } from 'node:fs';
import { cpus } from 'node:os';
import { type FinishedRun, type Model, type RawElement, assemble, build, check, pull, runModel } from '../core/src';
import { readModel } from '../core/src/model/file';
import { analyse } from '../core/src/solve/run';
import { leaveOut } from '../core/src/solve/leave-out';
import { compiled } from '../core/src/system/compiled/machine';
import { COMPILER } from '../core/src/system/compiler';
import { fourBars } from '../core/test/benchmarks';
import { chainOf as chain } from '../core/test/chain';
import { doublePendulum, sliderCrank } from '../core/test/models';
import { type Bars, barsOf, inC, inPython } from './baselines';
import { gradient } from './gradient';
import { stiff } from './stiff';

/** Median of several timings, ms; the first two warm the compiler up. */
function median(work: () => void, times = 9, warm = 2): number {
  const all: number[] = [];
  for (let i = 0; i < times + warm; i++) {
    const from = performance.now();
    work();
    if (i >= warm) all.push(performance.now() - from);
  }
  return all.sort((a, b) => a - b)[Math.floor(all.length / 2)]!;
}

/** A run of a machine that has been checked before, ms, and a coordinate at its end. */
function runOf(model: Model, end: (run: FinishedRun) => number, asked: { until: number; every: number }): { ms: number; end: number } {
  const all: number[] = [];
  for (let i = 0; i < 25; i++) {
    const { mechanism } = check(model).built;
    const from = performance.now();
    for (const e of analyse(mechanism!, { ...mechanism!.resolution.run, ...asked })) void e;
    if (i >= 10) all.push(performance.now() - from);
  }
  return { ms: all.sort((x, y) => x - y)[7]!, end: end(runModel(model, asked)) };
}

/** One right-hand side, µs: what the integrator calls, loads and energy books included. */
function rightHandSide(m: Parameters<typeof check>[0]): { us: number; bodies: number } {
  const mechanism = check(m).built.mechanism!,
    { system } = mechanism,
    { y: assembled } = assemble(mechanism);
  // what joints never allow is left out, as in a run
  system.K.load(assembled);
  leaveOut(mechanism);
  system.compile(COMPILER);
  const [y, dy] = system.vectors().row(2) as [Float64Array, Float64Array];
  system.K.store(y);
  const times = Math.max(3, Math.round(4000 / system.bodies));
  // until the engine has made its best code of it
  for (const until = performance.now() + 600; performance.now() < until;) system.evaluate(0, y, dy);
  const ms = median(() => {
    for (let i = 0; i < times; i++) system.evaluate(0, y, dy);
  }, 7);
  return { us: (1000 * ms) / times, bodies: system.bodies };
}

/** From a machine that has been assembled to its first right-hand side by code of its own, ms: of a structure that has not been met before. */
function codeFor(m: Model): number {
  const mechanism = check(m).built.mechanism!,
    { system } = mechanism;
  system.K.load(assemble(mechanism).y);
  leaveOut(mechanism);
  // what was compiled for comparison does not count
  const fresh = check(m).built.mechanism!,
    { system: own } = fresh;
  own.K.load(assemble(fresh).y);
  const fold = system.K.layout.fold;
  if (fold) own.fold(fold);
  own.compile({ ...COMPILER, kernels: compiled });
  const [y, dy] = own.vectors().row(2) as [Float64Array, Float64Array];
  own.K.store(y);
  const from = performance.now();
  own.evaluate(0, y, dy);
  if (!own.compiled && !own.byKinds) throw new Error(`${m.name} was not compiled`);
  return performance.now() - from;
}

/** A spring from the hook to the end of every bar of a chain. */
const withSprings = (m: ReturnType<typeof chain>): ReturnType<typeof chain> => ({
  ...m,
  loads: [
    ...m.loads,
    ...m.bodies.map(
      ({ name }, i) =>
        ({ name: `Spring ${i}`, kind: 'spring', bodies: ['Ground', name], at: ['Hook', `P${i}`], stiffness: 10 }) as RawElement,
    ),
  ],
});

/** The same, every bar driven at its joint and pushed at its end by a formula of its speed. */
const withEverything = (m: ReturnType<typeof chain>): ReturnType<typeof chain> => ({
  ...withSprings(m),
  drives: m.joints.map(
    ({ name }, i) =>
      ({ name: `Drive ${i}`, joint: name, prescribes: 'position', value: `0.2 rad * sin(${1 + (i % 3)} rad/s * t)` }) as RawElement,
  ),
  gauges: m.bodies.map(
    ({ name }, i) => ({ name: `Speed ${i}`, kind: 'point', body: name, at: `P${i}`, of: 'velocity', component: 'y' }) as RawElement,
  ),
  loads: [
    ...withSprings(m).loads,
    ...m.bodies.map(
      ({ name }, i) =>
        ({
          ...{ name: `Brake ${i}`, kind: 'force', body: name, at: `P${i}`, direction: [0, 1, 0] },
          magnitude: `-0.3 N*s/m * {Speed ${i}} * (1 + cos(2 rad/s * t))`,
        }) as RawElement,
    ),
  ],
});

interface Line {
  what: string;
  ours: string;
  baseline: string;
  ratio: string;
  target: string;
}
const lines: Line[] = [];
const put = (what: string, ours: string, baseline = '', ratio = '', target = '') => {
  lines.push({ what, ours, baseline, ratio, target });
  console.log([what, ours, baseline, ratio, target].filter(Boolean).join('  |  '));
};

const TOLERANCE = 1e-8; // what the solver itself uses for the default accuracy of 1e-6
const ms = (ns: number) => `${(ns / 1e6).toFixed(3)} ms`;

/** A machine against both baselines: the same end is reached, and what it takes. */
function against(what: string, name: string, model: Model, end: (run: FinishedRun) => number, until: number, bars?: Bars): void {
  const [c, python] = [inC(name, TOLERANCE, bars), inPython(name, TOLERANCE, bars)],
    ours = runOf(model, end, { until, every: 1e-3 }),
    sparse = runOf(model, end, { until, every: 0.1 });
  for (const b of [c, python])
    if (b && Math.abs(b.end - ours.end) > 1e-4 * Math.max(1, Math.abs(b.end)))
      throw new Error(`${what}: ${ours.end}, and the baseline ${b.end}`);
  const shown = `${ours.ms.toFixed(1)} ms`;
  if (c)
    put(
      `${what}, ${until} s, recorded every 1 ms`,
      shown,
      `C, gcc -O3: ${ms(c.ns)}`,
      `${((ours.ms * 1e6) / c.ns).toPrecision(3)} x`,
      'at most 10 x',
    );
  if (python)
    put(
      'the same',
      shown,
      `NumPy/SciPy: ${ms(python.ns)}`,
      `${(python.ns / 1e6 / ours.ms).toPrecision(3)} times faster than it`,
      'at least 5 times faster',
    );
  put(
    'the same, recorded every 0.1 s',
    `${sparse.ms.toFixed(1)} ms`,
    '',
    c ? `${((sparse.ms * 1e6) / c.ns).toPrecision(3)} x` : '',
    'what the steps alone cost',
  );
}
const free = sliderCrank();
free.drives = [];
free.gauges = free.gauges.filter((g) => g.drive === undefined);
against('free slider-crank', 'slider_crank', free, (r) => r.gauge('Angle').at(-1)!, 2);
const bars = doublePendulum('5 s');
// reading a gauge leaves the last record in the system: x of the centre of the second bar
against(
  'two bars on ball joints in space',
  'double_pendulum',
  bars,
  (r) => (r.gauge('Toe x'), r.mechanism.system.K.r[3]!),
  5,
  barsOf(bars),
);
put('check of the slider-crank, after every edit', `${median(() => void check(free)).toFixed(1)} ms`);

const gate = readModel(readFileSync('examples/sorting-gate.pivot.json', 'utf8'));
put('sorting gate, 4 s, recorded every 1 ms', `${median(() => void runModel(gate), 5).toFixed(0)} ms`, '', '', '500 ms in the browser');
put('check and assemble the sorting gate', `${median(() => void check(gate)).toFixed(1)} ms`, '', '', 'after every edit');
{
  // twenty bodies in coupled four-bar loops, a place of one drawn to and fro
  const m = build(fourBars(10)).mechanism!;
  m.system.K.load(assemble(m).y);
  let i = 0;
  put(
    'dragging a mechanism of 21 bodies, a step of the pointer',
    `${median(() => pull(m, 0, [0.5, 0, 0], [0.1 * Math.sin(++i), 1, 0]), 30).toFixed(1)} ms`,
    '',
    '',
    '33 ms',
  );
}
put('check of 100 bodies', `${median(() => void check(chain(100)), 5).toFixed(0)} ms`, '', '', '100 ms, after every edit');
const cold = (() => {
  const from = performance.now();
  runModel(sliderCrank(), { until: 0.1 });
  return performance.now() - from;
})();
put('first result of a three-body machine after Run', `${cold.toFixed(0)} ms`, '', '', '100 ms for under ten bodies');

const sides = [10, 100, 1000].map((n) => ({ n, ...rightHandSide(chain(n)) }));
for (const s of sides)
  put(
    `right-hand side, open chain of ${s.n}`,
    `${s.us.toFixed(1)} us`,
    '',
    `${(s.us / s.n).toFixed(2)} us a body`,
    'at most 0.5 us a body',
  );
put(
  'growth of its cost from 10 to 1,000 bodies',
  '',
  '',
  `exponent ${(Math.log(sides[2]!.us / sides[0]!.us) / Math.log(100)).toFixed(3)}`,
  'at most 1.1',
);
for (const n of [10, 30, 100, 300, 1000]) {
  const bare = rightHandSide(chain(n)),
    sprung = rightHandSide(withSprings(chain(n))),
    full = rightHandSide(withEverything(chain(n)));
  put(
    `the same of ${n}, with a spring to every body`,
    `${sprung.us.toFixed(1)} us`,
    `bare: ${bare.us.toFixed(1)} us`,
    `${(sprung.us / bare.us).toFixed(2)} times the bare one`,
    'at most twice, at any size',
  );
  put(
    `and a drive and a formula of a gauge to every body`,
    `${full.us.toFixed(1)} us`,
    `bare: ${bare.us.toFixed(1)} us`,
    `${(full.us / bare.us).toFixed(2)} times the bare one`,
    'at most twice, at any size',
  );
}
for (const n of [1, 10, 40, 300]) {
  const side = rightHandSide(fourBars(n));
  put(
    `right-hand side of ${n} coupled four-bars, in their plane (${side.bodies} bodies)`,
    `${side.us.toFixed(2)} us`,
    '',
    `${(side.us / side.bodies).toFixed(2)} us a body`,
    'at most 0.1 us a body',
  );
}
for (const [what, m, target] of [
  ['10 bodies in space', chain(10), 10],
  ['78 bodies in space', chain(78), 150],
  ['81 bodies in a plane', fourBars(40), 150],
  ['601 bodies in a plane', fourBars(300), 1000],
] as const)
  put(`code made for ${what}, until its first right-hand side`, `${codeFor(m).toFixed(0)} ms`, '', '', `at most ${target} ms`);
const gateSide = rightHandSide(gate);
put(
  'right-hand side of the sorting gate (43 rows, 6 redundant)',
  `${gateSide.us.toFixed(1)} us`,
  '',
  `${(gateSide.us / gateSide.bodies).toFixed(2)} us a body`,
  'at most 0.4 us a body',
);

const held = () => {
  const { heapUsed, arrayBuffers } = process.memoryUsage();
  return (heapUsed + arrayBuffers) / 1e6;
};
const before = held();
const long = (() => {
  const from = performance.now();
  const r = runModel(chain(1000), { until: 0.2 });
  return {
    ms: performance.now() - from,
    steps: r.end.statistics.steps,
    status: r.end.status,
    run: r,
    record: (r.chunks[0]!.length / r.time.length) * 8,
  };
})();
put(
  'open chain of 1,000 bodies, 0.2 s',
  `${(long.ms / 1000).toFixed(1)} s`,
  '',
  `${(long.ms / long.steps).toFixed(0)} ms a step`,
  `${long.status}`,
);
const memory = held() - before;
const loops = (() => {
  const from = performance.now();
  const r = runModel(fourBars(300), { until: 1, every: 0.1 }),
    ms = performance.now() - from;
  // once more, as after an edit of a number: its code is there
  const { mechanism } = check(fourBars(300)).built,
    again = performance.now();
  for (const e of analyse(mechanism!, { ...mechanism!.resolution.run, until: 1, every: 0.1 })) void e;
  return { ms, again: performance.now() - again, steps: r.end.statistics.steps, status: r.end.status };
})();
put(
  '300 coupled four-bar loops (601 bodies), 1 s',
  `${(loops.ms / 1000).toFixed(1)} s`,
  '',
  `${(loops.ms / loops.steps).toFixed(0)} ms a step`,
  `${loops.status}, check and code included`,
);
put('the same once more, a run alone', `${(loops.again / 1000).toFixed(2)} s`, '', '', 'at most 0.15 s');
put(
  'memory held by the chain of 1,000 bodies, solver and run',
  `${Math.max(0, memory).toFixed(0)} MB`,
  '',
  `${(long.record / 1e3).toFixed(0)} kB a record`,
);

stiff(put);
gradient(put);

if (process.argv.includes('--browser')) {
  const { browserFigures, curveFigures, importFigures, kitFigures, largeFigures, longFigures, taskFigures } = await import('./browser');
  for (const [what, figure, baseline, ratio, note] of [
    ...(await browserFigures()),
    ...(await taskFigures()),
    ...(await largeFigures()),
    ...(await kitFigures()),
    ...(await importFigures()),
    ...(await curveFigures()),
    ...(await longFigures()),
  ])
    put(what!, figure!, baseline ?? '', ratio ?? '', note ?? '');
}

const cell = (l: Line) => `| ${l.what} | ${l.ours} | ${l.baseline} | ${l.ratio} | ${l.target} |`;
writeFileSync(
  'docs/performance.md',
  `# Performance

<!-- written by \`npm run bench -- --browser\`; do not edit by hand -->

Measured on ${cpus()[0]?.model.trim() ?? 'this machine'}, Node ${process.versions.node}, medians of warm runs. Baselines are measured in the same run: a free slider-crank in its one
minimal coordinate and two bars in space in their six velocities, written by hand, with the same method, tolerance (${TOLERANCE}) and recording interval, in C (gcc -O3) and in Python with NumPy and
SciPy (\`bench/baselines\`); they end where ours do, or the bench fails. Against them stands a run alone, of a machine that has been checked.

| What | Ours | Baseline | Ratio | Target or note |
|---|---|---|---|---|
${lines.map(cell).join('\n')}

${readFileSync('bench/limits.md', 'utf8').trim()}
`,
);
