/**
 * A machine as a linear system about a posture and motion: ẋ = A x + B u, y = C x + D u. States are the coordinates that lead its free motions with their
 * rates, and the place and rate of each drive that is an input; inputs are what loads take in, accelerations of drives and numbers of the model; outputs are
 * gauges. A and B are exact (`leading.ts`), C and D by differences of fourth order of what gauges read, and so is all that a number does (`by-number.ts`).
 */
import { EigenvalueDecomposition, Matrix } from 'ml-matrix';
import { type Diagnosis, refuse } from '../diagnosis';
import type { Channel, Snapshot } from '../elements/declarations';
import { PRESCRIPTIONS } from '../elements/drives/drive';
import type { Force } from '../equations/forces';
import { StatedForce } from '../equations/laws/stated-force';
import { balanceMatrix } from '../linear/balance';
import { ComplexLu } from '../linear/dense';
import type { Model } from '../model/document';
import { type ModelNumber, mostTelling, numbersOf } from '../model/numbers';
import { TWO_PI } from '../quantity/elementary';
import { D, type Dimension } from '../quantity/dimension';
import type { BuiltDrive } from '../system/build/drives';
import type { Mechanism } from '../system/mechanism';
import { byNumber, dimensionOf } from './by-number';
import { type Answer, Leading } from './leading';
import { freeMotions } from './motions';
import { refuseSingular } from './singular';
import { snapshotOf } from './snapshot';

export interface LinearSystem {
  /** In words; displacements first, then their rates in the same order. */
  states: string[];
  inputs: LinearInput[];
  outputs: { name: string; dim: Dimension }[];
  /** Row by row, in SI units. */
  A: number[][];
  B: number[][];
  C: number[][];
  D: number[][];
  diagnoses: Diagnosis[];
  /** How all bodies are displaced, and how fast they go, by each of the states. */
  motion: readonly Pick<Answer, 'dq' | 'du'>[];
}
export interface LinearInput {
  name: string;
  /** Of what B and D count. */
  dim: Dimension;
  /** What swings in a frequency response: of a drive what it prescribes, of which the input is this derivative in time; else the input itself. */
  swings: { dim: Dimension; derivative: 0 | 1 | 2 };
}

/** Change of a state by which gauges are read, in parts of the machine's size or rad, and as a rate. */
const STEP = 1e-4;

type Input = { name: string; dim: Dimension } & ({ load: number } | { drive: BuiltDrive } | { number: ModelNumber; model: Model });

function inputOf(m: Mechanism, name: string, nth: number, model: Model | undefined): Input {
  const load = m.assembly.forces.find((f) => f.name === name)?.force;
  if (load instanceof StatedForce) {
    const dim = load.inputs.at(-1)?.programs?.[0]?.dim;
    if (dim) return { name, dim, load: nth };
  }
  const drive = m.drives.find((d) => d.name === name);
  if (drive) return { name, dim: drive.freedom.type === 'rotation' ? D.angularAcceleration : D.acceleration, drive };
  const number = model && numbersOf(model).find((n) => n.name === name);
  if (number) return { name, dim: dimensionOf(number), number, model };
  return refuse({
    code: 'input-unknown',
    message: `“${name}” is no input: neither a drive, nor a load with a magnitude or an effort, nor a number of the model.`,
    remedy: `Name one of these: ${inputsOf(m).join(', ') || 'the model has none'}; or a number of the model, such as “Spring, stiffness”.`,
  });
}

/** What can be an input of a machine: drives, loads that take in a value, and numbers of its model. */
export const inputsOf = (m: Mechanism, model?: Model): string[] => [
  ...m.drives.map((d) => d.name),
  ...m.assembly.forces.filter(({ force }) => force instanceof StatedForce && force.inputs.at(-1)?.programs?.[0]).map((f) => f.name),
  ...(model ? [...new Set(mostTelling(numbersOf(model), Infinity).map((n) => n.name))] : []),
];

/**
 * About the posture and motion in K.
 * @param model as it is written: its numbers may be inputs @throws Refusal for names that are no inputs or gauges
 */
export function linearSystem(m: Mechanism, t: number, inputs: readonly string[], outputs: readonly string[], model?: Model): LinearSystem {
  const { system } = m;
  if (system.own.list.length > 0)
    refuse({
      code: 'linear-own',
      message: 'A machine of bodies with coordinates of their own is not made a linear system.',
      why: 'Their derivatives are not known exactly.',
    });
  refuseSingular(m, t);
  let loads = 0;
  const forces: Force[] = [],
    asked = inputs.map((name) => {
      const input = inputOf(m, name, loads, model);
      if ('load' in input) {
        forces.push(m.assembly.forces.find((f) => f.name === name)!.force);
        loads++;
      }
      return input;
    }),
    drives = asked.flatMap((i) => ('drive' in i ? [i.drive] : [])),
    channels = outputs.map((name) => ({ name, channel: gaugeOf(m, name) }));
  system.linearise();
  const leading = new Leading(m, t, freeMotions(m), forces),
    { leaders } = leading,
    d = leaders.length,
    q = drives.length,
    half = d + q;
  // in the order of the states: leaders, drives; their rates
  const answers: Answer[] = [
      ...leaders.map((_, j) => leading.byPlace(j)),
      ...drives.map((x) => leading.byDrive(x.constraint, 0)),
      ...leaders.map((_, j) => leading.byRate(j)),
      ...drives.map((x) => leading.byDrive(x.constraint, 1)),
    ],
    driven = asked.map((i) => {
      if ('number' in i) return byNumber(m, t, i, leaders, outputs);
      return 'load' in i ? leading.byInput(i.load) : leading.byDrive(i.drive.constraint, 2);
    });
  const row = (n: number) => new Array<number>(n).fill(0),
    A = Array.from({ length: 2 * half }, (_, i) => {
      const out = row(2 * half);
      if (i < half) out[half + i] = 1;
      else if (i - half < d) answers.forEach((a, j) => (out[j] = a.leaders[i - half]!));
      return out;
    }),
    B = Array.from({ length: 2 * half }, (_, i) =>
      asked.map((input, j) => {
        if (i < half) return 0;
        if (i - half < d) return driven[j]!.leaders[i - half]!;
        return 'drive' in input && drives[i - half - d] === input.drive ? 1 : 0;
      }),
    );
  const read = readers(m, t, channels),
    rowsOf = (columns: readonly ArrayLike<number>[]) => channels.map((_, k) => columns.map((c) => c[k]!)),
    [C, D2] = [rowsOf(answers.map(read)), rowsOf(driven.map((a) => ('outputs' in a ? a.outputs : read(a))))];
  const rest = leading.linear.rest.some((x) => Math.abs(x) > 1e-6 * Math.max(1e-12, ...A.flat().map(Math.abs)));
  return {
    states: [
      ...[...leaders.map((l) => l.name), ...drives.map((x) => `${x.name} (drive)`)].flatMap((n) => [n]),
      ...[...leaders.map((l) => l.name), ...drives.map((x) => `${x.name} (drive)`)].map((n) => `${n}, rate`),
    ],
    inputs: asked.map((i) => ({ name: i.name, dim: i.dim, swings: swingsOf(i) })),
    motion: answers,
    outputs: channels.map(({ name, channel }) => ({ name, dim: channel.dim })),
    ...{ A, B, C, D: D2 },
    diagnoses: [
      ...asked.filter((_, j) => 'moves' in driven[j]! && driven[j].moves).map(({ name }) => slowly(name)),
      ...(rest
        ? [
            {
              code: 'linear-unbalanced',
              severity: 'warning',
              message: 'The posture is not an equilibrium: the machine accelerates there.',
              why: 'The linear system holds only for motions much quicker than that.',
              remedy: 'Take it about the static equilibrium.',
            } as const,
          ]
        : []),
    ],
  };
}

const DERIVATIVES = { position: 2, speed: 1, acceleration: 0 } as const;
const swingsOf = (i: Input): LinearInput['swings'] =>
  'drive' in i
    ? { dim: PRESCRIPTIONS[i.drive.prescribes][i.drive.freedom.type], derivative: DERIVATIVES[i.drive.prescribes] }
    : { dim: i.dim, derivative: 0 };

const slowly = (name: string): Diagnosis => ({
  code: 'linear-slowly',
  severity: 'note',
  message: `“${name}” moves places of joints or centres of mass.`,
  why: 'What it does at each of its values is in the linear system; what its own speed and acceleration would do is not.',
});

function gaugeOf(m: Mechanism, name: string): Channel {
  if (!m.gauges.includes(name))
    refuse({
      code: 'output-unknown',
      message: `There is no gauge “${name}”.`,
      remedy: `Name one of these: ${m.gauges.join(', ') || 'the model has none'}.`,
    });
  const channel = m.channel(name);
  if (channel.after)
    refuse({
      code: 'output-course',
      message: `“${name}” is made of a whole course, and has no value of its own at a posture.`,
      element: { family: 'gauges', name },
    });
  return channel;
}

/** How readings change with an answer: by differences of fourth order. The state in K is left as it was. */
function readers(m: Mechanism, t: number, channels: readonly { channel: Channel }[]): (a: Answer) => number[] {
  const { system } = m,
    { K } = system,
    state = new Float64Array(K.whole.size),
    base = system.solution.slice();
  K.storeWhole(state);
  const snapshot = (a: Answer, h: number): Snapshot => {
    K.loadWhole(state);
    K.displace(a.dq, h);
    K.quicken(a.du, h);
    system.jacobian();
    return snapshotOf(
      m,
      t,
      base.map((x, i) => x + h * a.ds[i]!),
    );
  };
  return (a) => {
    const size = Math.max(...[...a.dq, ...a.du].map(Math.abs), 1e-300),
      h = size > 1e-200 ? STEP / Math.max(1, size) : 1,
      at = (x: number) => channels.map(({ channel }) => channel.read(snapshot(a, x))),
      [p, q, r, s] = [h, -h, 2 * h, -2 * h].map(at) as [number[], number[], number[], number[]],
      out = channels.map((_, k) => (8 * (p[k]! - q[k]!) - (r[k]! - s[k]!)) / (12 * h));
    K.loadWhole(state);
    system.accelerate(t);
    return out;
  };
}

export interface Root {
  re: number;
  im: number;
}

/** Eigenvalues of A, 1/s, by size. */
export function poles({ A }: LinearSystem): Root[] {
  const balanced = A.map((r) => Float64Array.from(r));
  balanceMatrix(balanced);
  return rootsOf(balanced);
}
function rootsOf(A: readonly Float64Array[]): Root[] {
  if (A.length === 0) return [];
  const e = new EigenvalueDecomposition(new Matrix(A.map((r) => [...r])));
  return e.realEigenvalues.map((re, k) => ({ re, im: e.imaginaryEigenvalues[k]! })).sort((a, b) => size(a) - size(b) || b.im - a.im);
}
const size = ({ re, im }: Root): number => Math.sqrt(re * re + im * im);

/** Part of what its factors come to below which a product of them is none: readings are known to it. */
const NONE = 1e-9;

/**
 * Zeros between one input and one output, 1/s: the motions that the input can keep from the output. With r the first number for which C Aʳ⁻¹ B ≠ 0 these are
 * the eigenvalues of A − B (C Aʳ⁻¹ B)⁻¹ C Aʳ where C x = C A x = … = C Aʳ⁻¹ x = 0 (Isidori, Nonlinear Control Systems, sec. 4.1).
 */
export function zeros({ A: given, B, C, D: feed }: LinearSystem, input: number, output: number): Root[] {
  const n = given.length,
    A = given.map((r) => Float64Array.from(r)),
    scale = balanceMatrix(A),
    b = Float64Array.from(B, (r, i) => r[input]! / scale[i]!),
    times = (c: Float64Array) => Float64Array.from(c, (_, j) => c.reduce((s, x, i) => s + x * A[i]![j]!, 0)),
    dot = (x: Float64Array, y: Float64Array) => x.reduce((s, v, i) => s + v * y[i]!, 0),
    length = (x: Float64Array) => Math.sqrt(dot(x, x));
  let c = Float64Array.from(C[output]!, (x, i) => x * scale[i]!),
    gain = feed[output]![input]!;
  const kept: Float64Array[] = [],
    fed = Math.abs(gain) > NONE * Math.max(1e-300, length(c) * length(b));
  if (!fed) {
    for (let r = 0; r <= n; r++) {
      if (r === n) return [];
      kept.push(c);
      gain = dot(c, b);
      const through = Math.abs(gain) > NONE * length(c) * length(b);
      c = times(c);
      if (through) break;
    }
  }
  const Z = A.map((r, i) => r.map((x, j) => x - (b[i]! * c[j]!) / gain)),
    free = apartFrom(kept, n),
    M = free.map((x) => Float64Array.from(Z, (r) => dot(r, x)));
  return rootsOf(free.map((row) => Float64Array.from(M, (image) => dot(row, image))));
}

/** Unit vectors square to each other and to some. */
function apartFrom(some: readonly Float64Array[], n: number): Float64Array[] {
  const basis: Float64Array[] = [],
    add = (x: Float64Array, least: number): boolean => {
      const before = Math.sqrt(x.reduce((s, v) => s + v * v, 0));
      for (let pass = 0; pass < 2; pass++)
        for (const u of basis) {
          const c = x.reduce((s, v, i) => s + v * u[i]!, 0);
          for (let i = 0; i < n; i++) x[i] = x[i]! - c * u[i]!;
        }
      const size = Math.sqrt(x.reduce((s, v) => s + v * v, 0));
      if (!(size > least * before)) return false;
      basis.push(x.map((v) => v / size));
      return true;
    };
  for (const x of some) add(x.slice(), 0);
  const first = basis.length;
  while (basis.length < n) {
    // the axis that is least told by what there is
    const told = Array.from({ length: n }, (_, i) => basis.reduce((s, u) => s + u[i]! * u[i]!, 0)),
      at = told.indexOf(Math.min(...told));
    const x = new Float64Array(n);
    x[at] = 1;
    if (!add(x, 1e-8)) break;
  }
  return basis.slice(first);
}

/** States by an input that swings, (iω − A)⁻¹ B (iω)ᵏ of each, at a frequency, Hz; undefined where it meets an undamped pole. */
function statesAt({ A, B, inputs }: LinearSystem, f: number): (readonly [re: Float64Array, im: Float64Array])[] | undefined {
  const n = A.length,
    omega = TWO_PI * f,
    lu = new ComplexLu(n);
  for (let i = 0; i < n; i++) {
    for (let j = 0; j < n; j++) lu.R[i * n + j] = -A[i]![j]!;
    lu.I[i * n + i] = omega;
  }
  if (n > 0 && !lu.factorise()) return undefined;
  return inputs.map((input, k) => {
    const { re, im } = derived(input, omega),
      column = Float64Array.from(B, (r) => r[k]!),
      x = [column.map((b) => b * re), column.map((b) => b * im)] as const;
    if (n > 0) lu.solve(...x);
    return x;
  });
}
/** (iω)ᵏ: the input by what swings. */
function derived({ swings: { derivative } }: LinearInput, omega: number): Root {
  if (derivative === 0) return { re: 1, im: 0 };
  return derivative === 1 ? { re: 0, im: omega } : { re: -omega * omega, im: 0 };
}

/** What an output answers to an input that swings: C (iω − A)⁻¹ B + D, of a drive to what it prescribes. @param f frequencies, Hz */
export function frequencyResponse(s: LinearSystem, f: readonly number[]): Root[][][] {
  return f.map((x) => {
    const states = statesAt(s, x),
      by = s.inputs.map((i) => derived(i, TWO_PI * x));
    return s.C.map((c, o) =>
      s.inputs.map((_, k): Root => {
        if (!states) return { re: Infinity, im: 0 };
        const [re, im] = states[k]!,
          feed = s.D[o]![k]!;
        return c.reduce((sum, y, i) => ({ re: sum.re + y * re[i]!, im: sum.im + y * im[i]! }), {
          re: feed * by[k]!.re,
          im: feed * by[k]!.im,
        });
      }),
    );
  });
}

/**
 * A state from which a run of the machine begins as the linear system swings, when A cos(2πft) is added to what an input asks for: with all it remembers.
 * @param m at the posture of the linear system, at rest; it is left there
 */
export function swinging(m: Mechanism, s: LinearSystem, input: number, amplitude: number, f: number): Float64Array {
  const { K } = m.system,
    home = new Float64Array(K.whole.size),
    out = new Float64Array(K.whole.size + m.memories.cells),
    x = statesAt(s, f)?.[input]?.[0];
  K.storeWhole(home);
  s.motion.forEach(({ dq, du }, i) => {
    if (!x) return;
    K.displace(dq, amplitude * x[i]!);
    K.quicken(du, amplitude * x[i]!);
  });
  K.storeWhole(out.subarray(0, home.length));
  m.memories.keep(out, home.length);
  K.loadWhole(home);
  return out;
}
