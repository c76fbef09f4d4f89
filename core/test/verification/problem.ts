/** A verification problem: a model with a known answer, solved at any accuracy. `npm run verify` makes docs/verification.md of all of them. */
import type { Mechanism, Model, RawElement } from '../../src';
import { type FinishedRun, assemble, build, runModel } from '../../src';
import { modes } from '../../src/analyses';
import { model as make } from '../models';

export interface Compared {
  quantity: string;
  unit: string;
  reference: number;
  ours: number;
  /** Largest deviation found (over the whole run where a curve is compared), in the unit. Left out: that of the two values. */
  deviation?: number;
  /** Size of the quantity over the motion, against which the error counts. Left out: the reference. */
  scale?: number;
}

export interface Problem {
  title: string;
  /** Where the answer comes from. */
  source: string;
  solve(accuracy: number): Compared[];
  /** The answer does not depend on the asked accuracy (statics, modes, closed kinematics): its error stays below this. */
  exact?: number;
  /** How far the model itself is from the answer, however exactly it is run: a curve or a table through points. */
  floor?: number;
}

/** Error that is allowed of a problem at an accuracy. */
export const allowed = ({ exact, floor = 0 }: Problem, accuracy: number): number => exact ?? Math.max(accuracy, floor);

export const error = (c: Compared): number => (c.deviation ?? Math.abs(c.ours - c.reference)) / (c.scale ?? Math.abs(c.reference));

export const e = (list: object[]): RawElement[] => list as RawElement[];
export const model = (name: string, parts: Parameters<typeof make>[1]): Model => make(name, parts);
/** What all runs of problems are asked for beside, for the moment. */
let forced: object = {};
export function forcing<T>(options: object, what: () => T): T {
  forced = options;
  try {
    return what();
  } finally {
    forced = {};
  }
}
/** Models that are run meanwhile. */
let taken: Model[] | undefined;
export function modelsOf({ solve }: Problem, accuracy: number): Model[] {
  const list = (taken = [] as Model[]);
  try {
    solve(accuracy);
  } finally {
    taken = undefined;
  }
  return list;
}
export const run = (m: Model, accuracy: number, options: object = {}): FinishedRun => {
  taken?.push(m);
  const r = runModel(m, { accuracy, ...forced, ...options });
  if (r.end.status !== 'done') throw new Error(`${m.name}: ${JSON.stringify(r.end.diagnoses)}`);
  return r;
};

/** Compares a whole curve with a function of time: the value at the end is shown, the largest deviation counts. */
export function curve(r: FinishedRun, gauge: string, quantity: string, unit: string, f: (t: number) => number, from = 0): Compared {
  const v = r.gauge(gauge);
  let deviation = 0,
    lo = Infinity,
    hi = -Infinity;
  r.time.forEach((t, i) => {
    if (t < from) return;
    const x = f(t);
    lo = Math.min(lo, x);
    hi = Math.max(hi, x);
    deviation = Math.max(deviation, Math.abs(v[i]! - x));
  });
  return { quantity, unit, reference: f(r.time.at(-1)!), ours: v.at(-1)!, deviation, scale: Math.max(hi - lo, Math.abs(hi), Math.abs(lo)) };
}

/** A quantity that must stay what it is at the start. */
export function constant(r: FinishedRun, gauge: string, quantity: string, unit: string, scale: number): Compared {
  const v = r.gauge(gauge);
  return { quantity, unit, reference: v[0]!, ours: v.at(-1)!, deviation: v.reduce((m, x) => Math.max(m, Math.abs(x - v[0]!)), 0), scale };
}

export const G = 9.81;
export const gravity = (x: number, y: number, z: number) => ({ name: 'Gravity', kind: 'gravity', acceleration: [x, y, z] });
export const DOWN = gravity(0, -G, 0);
export const cube = (name: string, mass: number, extra: object = {}) => ({
  name,
  mass,
  inertia: [0.01 * mass, 0.01 * mass, 0.01 * mass],
  ...extra,
});

/** Complete elliptic integral of the first kind by the arithmetic-geometric mean; k is the modulus. */
export function ellipticK(k: number): number {
  let a = 1,
    b = Math.sqrt(1 - k * k);
  for (let i = 0; i < 40; i++) [a, b] = [(a + b) / 2, Math.sqrt(a * b)];
  return Math.PI / (2 * a);
}

/** Jacobi's sn, cn, dn for modulus k by descending Landen transformation (Abramowitz & Stegun, 16.4). */
export function jacobi(u: number, k: number): { sn: number; cn: number; dn: number } {
  const a = [1],
    c = [k];
  let b = Math.sqrt(1 - k * k);
  for (let n = 0; n < 12; n++) {
    a.push((a[n]! + b) / 2);
    c.push((a[n]! - b) / 2);
    b = Math.sqrt(a[n]! * b);
  }
  let phi = 2 ** 12 * a[12]! * u;
  for (let n = 12; n > 0; n--) phi = (phi + Math.asin((c[n]! * Math.sin(phi)) / a[n]!)) / 2;
  return { sn: Math.sin(phi), cn: Math.cos(phi), dn: Math.sqrt(1 - k * k * Math.sin(phi) ** 2) };
}

/** Reference integration of a small system of equations by the classical method of order 4 in many fixed steps. */
export function integrate(f: (t: number, y: number[]) => number[], y0: number[], until: number, steps: number): (t: number) => number[] {
  const h = until / steps,
    all: number[][] = [y0];
  let y = y0;
  const plus = (a: number[], s: number, b: number[]) => a.map((x, i) => x + s * b[i]!);
  for (let i = 0; i < steps; i++) {
    const t = i * h;
    const k1 = f(t, y),
      k2 = f(t + h / 2, plus(y, h / 2, k1)),
      k3 = f(t + h / 2, plus(y, h / 2, k2)),
      k4 = f(t + h, plus(y, h, k3));
    y = y.map((x, j) => x + (h / 6) * (k1[j]! + 2 * k2[j]! + 2 * k3[j]! + k4[j]!));
    all.push(y);
  }
  return (t) => all[Math.round(t / h)]!;
}

/** A machine that stands assembled. */
export const standing = (m: Model): Mechanism => {
  const { mechanism: built, diagnoses } = build(m);
  if (!built) throw new Error(JSON.stringify(diagnoses));
  built.system.K.load(assemble(built).y);
  return built;
};
/** A single quantity. */
export const at = (quantity: string, unit: string, reference: number, ours: number): Compared => ({ quantity, unit, reference, ours });
/** Of its modes, Hz. */
export const frequencies = (m: Mechanism): number[] => modes(m).modes.map((x) => x.frequency);
