/**
 * Performance, as ratios to stated baselines measured in the same run; writes docs/performance.md.
 * Usage: npm run bench  (browser figures too: npm run bench -- --browser)
 *
 * Baselines: the free slider-crank's equation of motion in its one minimal coordinate, written by hand, with the same Dormand-Prince method, asked
 * tolerance and recording interval: in C (gcc -O3), and in Python with NumPy and SciPy's DOP853 (bench/baselines).
 */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { cpus, tmpdir } from 'node:os';
import { join } from 'node:path';
import { type RawElement, assemble, build, check, pull, runModel } from '../core/src';
import { readModel } from '../core/src/model/file';
import { A, C, D, E3, E5, type Row } from '../core/src/solve/dop853-coefficients';
import { kernelsOf } from '../core/src/system/compiled/machine';
import { fourBars } from '../core/test/benchmarks';
import { chainOf as chain } from '../core/test/chain';
import { doublePendulum, sliderCrank } from '../core/test/models';

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

/** ns a run of the baseline in C; undefined when there is no compiler. */
function inC(tolerance: number): number | undefined {
  const dir = mkdtempSync(join(tmpdir(), 'pivot-bench-'));
  const full = (r: Row) =>
    `{${Array.from({ length: 16 }, (_, i) => r.find(([k]) => k === i)?.[1] ?? 0)
      .map((x) => x.toExponential(17))
      .join(',')}}`;
  writeFileSync(
    join(dir, 'coefficients.h'),
    `static const double C[16] = {${C.join(',')}};
static const double A[16][16] = {${A.map(full).join(',')}};
static const double E5[16] = ${full(E5)};
static const double E3[16] = ${full(E3)};
static const double D[4][16] = {${D.map(full).join(',')}};
`,
  );
  try {
    execFileSync('gcc', ['-O3', '-march=native', '-I', dir, '-o', join(dir, 'crank'), 'bench/baselines/slider_crank.c', '-lm']);
    return Number(execFileSync(join(dir, 'crank'), [String(tolerance)], { encoding: 'utf8' }).split(' ')[0]);
  } catch (e) {
    console.error(`no C baseline: ${(e as Error).message.split('\n')[0]}`);
    return undefined;
  }
}

/** ns a run of the baseline in Python; undefined without NumPy and SciPy (Debian: python3-numpy python3-scipy). */
function inPython(tolerance: number): number | undefined {
  try {
    return Number(execFileSync('python3', ['bench/baselines/slider_crank.py', String(tolerance)], { encoding: 'utf8' }).split(' ')[0]);
  } catch (e) {
    console.error(`no Python baseline: ${(e as Error).message.split('\n')[0]}`);
    return undefined;
  }
}

/** One right-hand side, µs: what the integrator calls, loads and energy books included. */
function rightHandSide(m: Parameters<typeof check>[0]): { us: number; bodies: number } {
  const mechanism = check(m).built.mechanism!,
    { system } = mechanism,
    { y } = assemble(mechanism),
    dy = new Float64Array(y.length);
  system.compile(kernelsOf);
  const times = Math.max(3, Math.round(4000 / system.bodies));
  const ms = median(() => {
    for (let i = 0; i < times; i++) system.evaluate(0, y, dy);
  }, 7);
  return { us: (1000 * ms) / times, bodies: system.bodies };
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
const free = sliderCrank();
free.drives = [];
free.gauges = free.gauges.filter((g) => g.drive === undefined);
const [c, python] = [inC(TOLERANCE), inPython(TOLERANCE)];
const ours = median(() => void runModel(free, { until: 2 }));
const ms = (ns: number | undefined) => (ns === undefined ? 'not at hand' : `${(ns / 1e6).toFixed(3)} ms`);
const times = (x: number, ns: number | undefined) => (ns === undefined ? '' : `${((x * 1e6) / ns).toPrecision(3)} x`);
put('free slider-crank, 2 s, recorded every 1 ms', `${ours.toFixed(1)} ms`, `C, gcc -O3: ${ms(c)}`, times(ours, c), 'at most 10 x');
put(
  'the same',
  `${ours.toFixed(1)} ms`,
  `NumPy/SciPy: ${ms(python)}`,
  python === undefined ? '' : `${(python / 1e6 / ours).toPrecision(3)} times faster than it`,
  'at least 5 times faster, never below half as fast',
);
const sparse = median(() => void runModel(free, { until: 2, every: 0.1 }));
put('the same, recorded every 0.1 s', `${sparse.toFixed(1)} ms`, '', times(sparse, c), 'what the steps alone cost');
const pendulum = median(() => void runModel(doublePendulum('5 s')), 5);
put('spatial double pendulum, 5 s', `${pendulum.toFixed(1)} ms`);

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
    'at most 0.4 us a body',
  );
put(
  'growth of its cost from 10 to 1,000 bodies',
  '',
  '',
  `exponent ${(Math.log(sides[2]!.us / sides[0]!.us) / Math.log(100)).toFixed(3)}`,
  'at most 1.1',
);
for (const n of [30, 100, 300]) {
  const bare = rightHandSide(chain(n)),
    sprung = rightHandSide(withSprings(chain(n)));
  put(
    `the same of ${n}, with a spring to every body`,
    `${sprung.us.toFixed(1)} us`,
    `bare: ${bare.us.toFixed(1)} us`,
    `${(sprung.us / bare.us).toFixed(2)} times the bare one`,
    'at most twice, at any size',
  );
}
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
  const r = runModel(fourBars(300), { until: 1, every: 0.1 });
  return { ms: performance.now() - from, steps: r.end.statistics.steps, status: r.end.status };
})();
put(
  '300 coupled four-bar loops (601 bodies), 1 s',
  `${(loops.ms / 1000).toFixed(1)} s`,
  '',
  `${(loops.ms / loops.steps).toFixed(0)} ms a step`,
  `${loops.status}`,
);
put(
  'memory held by the chain of 1,000 bodies, solver and run',
  `${Math.max(0, memory).toFixed(0)} MB`,
  '',
  `${(long.record / 1e3).toFixed(0)} kB a record`,
);

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

Measured on ${cpus()[0]?.model.trim() ?? 'this machine'}, Node ${process.versions.node}, medians of warm runs. Baselines are measured in the same run: the free slider-crank in its one minimal
coordinate, written by hand, with the same method, tolerance (${TOLERANCE}) and recording interval, in C (gcc -O3) and in Python with NumPy and SciPy (\`bench/baselines\`).

| What | Ours | Baseline | Ratio | Target or note |
|---|---|---|---|---|
${lines.map(cell).join('\n')}

${readFileSync('bench/limits.md', 'utf8').trim()}
`,
);
