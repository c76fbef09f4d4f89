/**
 * The baselines of the bench: machines in their least number of coordinates or velocities, written by hand, with the same Dormand-Prince method, asked
 * tolerance and recording interval: in C (gcc -O3), and in Python with NumPy and SciPy's DOP853 (bench/baselines).
 */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Model, assemble, build } from '../core/src';
import { A, C, D, E3, E5, type Row } from '../core/src/solve/dop853-coefficients';

/** What a baseline says: the time of a run, ns, and the coordinate at its end by which it is seen that it is the same machine. */
export interface Baseline {
  ns: number;
  end: number;
}
const said = (out: string): Baseline => {
  const [ns, , end] = out.split(' ').map(Number);
  return { ns: ns!, end: end! };
};

/** @returns undefined when there is no compiler. */
export function inC(name: string, tolerance: number, bars?: Bars): Baseline | undefined {
  const dir = mkdtempSync(join(tmpdir(), 'pivot-bench-'));
  const list = (x: readonly number[]) => `{${x.map((v) => v.toExponential(17)).join(',')}}`;
  const full = (r: Row) => list(Array.from({ length: 16 }, (_, i) => r.find(([k]) => k === i)?.[1] ?? 0));
  writeFileSync(
    join(dir, 'coefficients.h'),
    `static const double C[16] = ${list(C)};
static const double A[16][16] = {${A.map(full).join(',')}};
static const double E5[16] = ${full(E5)};
static const double E3[16] = ${full(E3)};
static const double D[4][16] = {${D.map(full).join(',')}};
`,
  );
  if (bars)
    writeFileSync(
      join(dir, 'bars.h'),
      Object.entries(bars)
        .map(([key, x]) => {
          const size = typeof x === 'number' ? '' : x.length === 9 ? '[3][3]' : `[${x.length}]`;
          return `static const double ${key}${size} = ${typeof x === 'number' ? x.toExponential(17) : list(x)};\n`;
        })
        .join(''),
    );
  try {
    execFileSync('gcc', ['-O3', '-march=native', '-w', '-I', dir, '-o', join(dir, name), `bench/baselines/${name}.c`, '-lm']);
    return said(execFileSync(join(dir, name), [String(tolerance)], { encoding: 'utf8' }));
  } catch (e) {
    console.error(`no C baseline: ${(e as Error).message.split('\n')[0]}`);
    return undefined;
  }
}

/** @returns undefined without NumPy and SciPy (Debian: python3-numpy python3-scipy). */
export function inPython(name: string, tolerance: number, bars?: Bars): Baseline | undefined {
  const file = join(mkdtempSync(join(tmpdir(), 'pivot-bench-')), 'bars.json');
  if (bars) writeFileSync(file, JSON.stringify(bars));
  try {
    return said(execFileSync('python3', [`bench/baselines/${name}.py`, String(tolerance), file], { encoding: 'utf8' }));
  } catch (e) {
    console.error(`no Python baseline: ${(e as Error).message.split('\n')[0]}`);
    return undefined;
  }
}

/** Two bars on ball joints: masses, inertias, places from joint to joint and to the centres of mass (axes of each bar), and the start. */
export type Bars = Readonly<Record<'m1' | 'm2', number> & Record<'J1' | 'J2' | 'c1' | 'k1' | 'c2' | 'start', number[]>>;

/** The same of a model of such bars. */
export function barsOf(model: Model): Bars {
  const m = build(model).mechanism!,
    { K } = m.system;
  K.load(assemble(m).y);
  const [hip, knee] = m.joints.map((j) => j.sides),
    [upper, lower] = m.bodies;
  const c1 = hip!.sb.map((x) => -x);
  return {
    m1: upper!.mass,
    m2: lower!.mass,
    J1: [...upper!.inertia],
    J2: [...lower!.inertia],
    c1,
    k1: c1.map((x, i) => x + knee!.sa[i]!),
    c2: knee!.sb.map((x) => -x),
    start: [...K.q.subarray(0, 8), ...K.w.subarray(0, 6)],
  };
}
