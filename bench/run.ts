/**
 * Performance, as ratios to a stated baseline measured in the same run. Usage: npm run bench  (browser figures: npm run bench -- --browser)
 *
 * Baseline: the slider-crank's equation of motion in its one minimal coordinate, written by hand and integrated in plain JavaScript with
 * the same Dormand-Prince method at the same tolerance and recording interval.
 */
import { readFileSync } from 'node:fs';
import { check, runModel } from '../core/src';
import { readModel } from '../core/src/model/file';
import { Dop853 } from '../core/src/solve/dop853';
import { sliderCrank } from '../core/test/models';

/** Median of several timings, ms; the first two warm the compiler up. */
function median(work: () => void, times = 9): number {
  const all: number[] = [];
  for (let i = 0; i < times + 2; i++) {
    const from = performance.now();
    work();
    if (i >= 2) all.push(performance.now() - from);
  }
  return all.sort((a, b) => a - b)[Math.floor(all.length / 2)]!;
}

/** Free slider-crank: the crank turns from rest under gravity; recorded every millisecond for two seconds. */
function handWritten(): number {
  const r = 0.05, l = 0.2, m1 = 1.2, m2 = 0.8, m3 = 1.5, J1 = 9e-4 + m1 * (r / 2) ** 2, J2 = 3e-3, c2 = 0.4 * l, g = 9.81;
  const f = (_t: number, y: Float64Array, dy: Float64Array) => {
    const q = y[0]!, w = y[1]!;
    const s = Math.sin(q), c = Math.cos(q), sb = (-r * s) / l, cb = Math.sqrt(1 - sb * sb);
    const b1 = (-r * c) / (l * cb), b2 = (r * s + l * sb * b1 * b1) / (l * cb); // per unit crank speed
    const x1 = -r * s - l * sb * b1, x2 = -r * c - l * cb * b1 * b1 - l * sb * b2;
    const ux = -r * s - c2 * sb * b1, ux2 = -r * c - c2 * (cb * b1 * b1 + sb * b2);
    const uy = r * c + c2 * cb * b1, uy2 = -r * s + c2 * (-sb * b1 * b1 + cb * b2);
    const M = J1 + m3 * x1 * x1 + m2 * (ux * ux + uy * uy) + J2 * b1 * b1;
    const K = m3 * x1 * x2 + m2 * (ux * ux2 + uy * uy2) + J2 * b1 * b2;
    dy[0] = w;
    dy[1] = (-K * w * w - g * ((m1 * r * c) / 2 + m2 * uy)) / M;
  };
  const method = new Dop853(2, f);
  const y = new Float64Array(2), out = new Float64Array(2);
  let t = 0, h = 1e-3, next = 1, sum = 0;
  while (t < 2) {
    f(t, y, method.k[0]!);
    h = Math.min(h, 2 - t, 0.02);
    method.attempt(t, y, h);
    const s5 = (method.error5[0]! / 1e-7) ** 2 + (method.error5[1]! / 1e-6) ** 2, s3 = (method.error3[0]! / 1e-7) ** 2 + (method.error3[1]! / 1e-6) ** 2;
    const error = s5 + s3 > 0 ? (h * s5) / Math.sqrt((s5 + 0.01 * s3) * 2) : 0;
    if (error <= 1) {
      method.prepareDense();
      for (; next * 1e-3 <= t + h; next++) {
        method.interpolate(next * 1e-3, out);
        sum += out[0]!;
      }
      t += h;
      y.set(method.y1);
    }
    h *= Math.min(6, Math.max(0.3, 0.9 * Math.max(error, 1e-10) ** -0.125));
  }
  return sum;
}

const rows: string[][] = [];
const free = sliderCrank();
free.drives = [];
free.gauges = free.gauges.filter((g) => g.drive === undefined);
const baseline = median(() => void handWritten());
const ours = median(() => void runModel(free, { until: 2 }));
rows.push(['free slider-crank, 2 s, recorded every 1 ms', `${ours.toFixed(1)} ms`, `${baseline.toFixed(2)} ms`, `${(ours / baseline).toFixed(0)} x`, 'minimal coordinate by hand, JavaScript']);

const gate = readModel(readFileSync('examples/sorting-gate.pivot.json', 'utf8'));
const gateRun = median(() => void runModel(gate), 5);
rows.push(['sorting gate, 4 s, recorded every 1 ms', `${gateRun.toFixed(0)} ms`, `${baseline.toFixed(2)} ms`, `${(gateRun / baseline).toFixed(0)} x`, 'the same']);

const system = check(gate).built.mechanism!.system;
const rhs = median(() => {
  for (let i = 0; i < 2000; i++) system.accelerate(0.1);
}) / 2;
rows.push(['one right-hand side of the sorting gate', `${rhs.toFixed(1)} us`, '', `${(rhs / 6).toFixed(2)} us a body`, '6 bodies, 43 rows']);

const assembleTime = median(() => void check(gate));
rows.push(['check and assemble the sorting gate', `${assembleTime.toFixed(1)} ms`, '', '', 'after every edit']);

if (process.argv.includes('--browser')) {
  const { browserFigures } = await import('./browser');
  rows.push(...(await browserFigures()));
}

const widths = [0, 1, 2, 3, 4].map((k) => Math.max(...rows.map((r) => r[k]!.length)));
for (const r of rows) console.log(r.map((c, k) => c.padEnd(widths[k]!)).join('  '));
