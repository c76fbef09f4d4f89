/**
 * Modes fitted to curves of a free motion: frequency and damping from a decay, and a linear system of given order behind several channels.
 * The eigensystem realisation algorithm of Juang & Pappa (J. Guidance 8 (1985) 620-627): block Hankel matrices of the samples, truncated at the order asked,
 * give the discrete system matrix; its eigenvalues are the modes. Amplitudes, and the value about which the channels swing, follow by least squares.
 */
import { EigenvalueDecomposition, Matrix, SingularValueDecomposition } from 'ml-matrix';
import { refuse } from '../diagnosis';
import * as E from '../quantity/elementary';
import { type Series, valueAt } from './scores';

/** A mode common to all channels. */
export interface FittedMode {
  /** Eigenvalue, 1/s; a mode that does not swing has no imaginary part. */
  re: number;
  im: number;
  /** |λ|/2π, Hz. */
  frequency: number;
  /** −Re λ / |λ|. */
  damping: number;
  /** Amplitude in each channel at the beginning, in its unit, and its phase as of a cosine, rad. */
  shape: { amplitude: number; phase: number }[];
}

export interface Identified {
  modes: FittedMode[];
  /** The value about which each channel swings. */
  rest: number[];
  /** Share of the variance of each channel that the fit explains, at most 1. */
  explained: number[];
  /** Singular values of the Hankel matrix, the largest being 1: they fall where the order is enough. */
  singular: number[];
  /** x(k+1) = A x(k), y(k) − rest = C x(k) at steps of dt; rows first. */
  A: number[][];
  C: number[][];
  x0: number[];
  /** s */
  dt: number;
  /** Number of samples used. */
  samples: number;
  /** The fitted channels at the samples, from `from` on in steps of dt. */
  from: number;
  fitted: Float64Array[];
}

/** Samples taken of a curve at most: the work grows with the cube of their number. */
const MOST = 300;
/** So many samples to a swing of the channel that swings quickest are plenty. */
const EACH_SWING = 24;
/** Singular values below this share of the largest are rounding. */
const NOISE = 1e-11;
/** Rounds in which the value about which channels swing is found together with the modes. */
const ROUNDS = 8;

/**
 * @param channels over the same time, each with at least a handful of records
 * @param order of the system: two for each mode that swings
 * @throws Refusal where the curves hold too little for that order
 */
export function identify(channels: readonly Series[], order: number): Identified {
  if (channels.length === 0)
    refuse({ code: 'fit-none', message: 'There is no curve to fit modes to.', remedy: 'Tick one or several curves.' });
  if (!Number.isInteger(order) || order < 1 || order > 40)
    refuse({ code: 'fit-order', message: 'The order is a whole number from 1 to 40.', remedy: 'Two for each mode that swings.' });
  const { from, dt, y } = sampled(channels),
    m = channels.length,
    count = y[0]!.length;
  // rows and columns of the Hankel matrix: as square as the samples allow
  const rows = Math.max(2, Math.floor(count / (m + 1))),
    columns = count - rows;
  if (order > Math.min(rows * m, columns))
    refuse({
      code: 'fit-short',
      message: `The curves have ${count} samples in this span, too few for order ${order}.`,
      remedy: 'Widen the span, record more finely, or lower the order.',
    });
  const spread = y.map((c) => deviation(c));
  const still = spread.findIndex((s) => !(s > 0));
  if (still >= 0)
    refuse({ code: 'fit-still', message: `Curve ${still + 1} does not move in this span.`, remedy: 'Take it out, or take another span.' });
  let rest = y.map((c) => mean(c)),
    found = realise(y, rest, spread, order, rows, columns),
    fit = amplitudes(y, found.poles);
  for (let k = 0; k < ROUNDS && Math.max(...rest.map((r, c) => Math.abs(r - fit.rest[c]!) / spread[c]!)) > 1e-9; k++) {
    rest = fit.rest;
    found = realise(y, rest, spread, order, rows, columns);
    fit = amplitudes(y, found.poles);
  }
  const modes = found.poles.map((p, k): FittedMode => {
    const size = length(p.re, p.im);
    return { re: p.re / dt, im: p.im / dt, frequency: size / dt / E.TWO_PI, damping: size > 0 ? -p.re / size : 0, shape: fit.shapes[k]! };
  });
  // the mode that moves the channels most comes first
  const weight = (f: FittedMode) => f.shape.reduce((s, x, c) => s + x.amplitude / spread[c]!, 0);
  modes.sort((a, b) => weight(b) - weight(a));
  const explained = y.map((c, k) => 1 - residual(c, fit.fitted[k]!) / (spread[k]! * spread[k]!));
  return {
    modes,
    rest: fit.rest,
    explained,
    singular: found.singular,
    A: found.A,
    C: found.C,
    x0: found.x0,
    dt,
    samples: count,
    from,
    fitted: fit.fitted,
  };
}

const length = (a: number, b: number): number => Math.sqrt(a * a + b * b);
const mean = (c: Float64Array): number => c.reduce((s, v) => s + v, 0) / c.length;
const deviation = (c: Float64Array): number => {
  const middle = mean(c);
  return Math.sqrt(c.reduce((s, v) => s + (v - middle) * (v - middle), 0) / c.length);
};
const residual = (a: Float64Array, b: Float64Array): number => a.reduce((s, v, i) => s + (v - b[i]!) * (v - b[i]!), 0) / a.length;

/** How often a course passes its mean. */
function passages({ values }: Series): number {
  const middle = mean(values);
  let n = 0;
  for (let i = 1; i < values.length; i++) if ((values[i]! - middle) * (values[i - 1]! - middle) < 0) n++;
  return n;
}

/** Even samples of all channels over the time they share. */
function sampled(channels: readonly Series[]): { from: number; dt: number; y: Float64Array[] } {
  const from = Math.max(...channels.map((c) => c.time[0] ?? 0)),
    to = Math.min(...channels.map((c) => c.time.at(-1) ?? 0));
  const records = Math.min(...channels.map((c) => c.time.length));
  if (!(to > from) || records < 8)
    return refuse({
      code: 'fit-short',
      message: 'The curves share too short a time, or too few records.',
      remedy: 'Widen the span, or record more finely.',
    });
  const swings = Math.max(1, ...channels.map((c) => passages(c) / 2)),
    finest = (to - from) / (records - 1);
  // a step as fine as the quickest swing needs, not finer than was recorded; of a long curve its beginning, where a decay tells most
  const wanted = Math.max(finest, Math.min((to - from) / swings / EACH_SWING, (to - from) / 60)),
    stride = Math.max(1, Math.floor(wanted / finest + 1e-9));
  // even records are taken as they are: between them a straight line would add what no mode explains
  const even = channels.every(
    (c) => c.time.length === channels[0]!.time.length && c.time.every((t, i) => Math.abs(t - from - i * finest) < 1e-6 * finest),
  );
  const dt = even ? stride * finest : wanted,
    count = Math.min(MOST, Math.floor((to - from) / dt + 1e-9) + 1);
  return {
    from,
    dt,
    y: channels.map((c) => Float64Array.from({ length: count }, (_, i) => (even ? c.values[i * stride]! : valueAt(c, from + i * dt)))),
  };
}

interface Pole {
  re: number;
  im: number;
}

/** The discrete system of an order, and its poles as λ·dt (of conjugate pairs one). */
function realise(
  y: readonly Float64Array[],
  rest: readonly number[],
  spread: readonly number[],
  order: number,
  rows: number,
  columns: number,
): { poles: Pole[]; singular: number[]; A: number[][]; C: number[][]; x0: number[] } {
  const m = y.length,
    hankel = (shift: number) => {
      const h = Matrix.zeros(rows * m, columns);
      for (let i = 0; i < rows; i++)
        for (let c = 0; c < m; c++) for (let j = 0; j < columns; j++) h.set(i * m + c, j, (y[c]![i + j + shift]! - rest[c]!) / spread[c]!);
      return h;
    };
  const svd = new SingularValueDecomposition(hankel(0), { autoTranspose: true });
  const s = svd.diagonal,
    U = svd.leftSingularVectors,
    V = svd.rightSingularVectors,
    largest = s[0] ?? 0;
  if (!(s[order - 1]! > NOISE * largest))
    refuse({ code: 'fit-rank', message: `The curves hold fewer than ${order} independent motions.`, remedy: 'Lower the order.' });
  const roots = Array.from({ length: order }, (_, k) => Math.sqrt(s[k]!));
  const Un = U.subMatrix(0, rows * m - 1, 0, order - 1),
    Vn = V.subMatrix(0, columns - 1, 0, order - 1);
  const shifted = Un.transpose().mmul(hankel(1)).mmul(Vn);
  const A = Matrix.zeros(order, order);
  for (let i = 0; i < order; i++) for (let j = 0; j < order; j++) A.set(i, j, shifted.get(i, j) / (roots[i]! * roots[j]!));
  const C = Array.from({ length: m }, (_, c) => roots.map((r, k) => Un.get(c, k) * r * spread[c]!)),
    x0 = roots.map((r, k) => r * Vn.get(0, k));
  const eig = new EigenvalueDecomposition(A),
    poles: Pole[] = [];
  eig.realEigenvalues.forEach((re, k) => {
    const im = eig.imaginaryEigenvalues[k]!,
      size = length(re, im);
    // what dies within a step is no mode, and of a pair one is enough
    if (!(size > 1e-9) || im < -1e-12 * size) return;
    const turn = E.atan2(im, re);
    poles.push({ re: E.ln(size), im: Math.abs(turn) < 1e-12 ? 0 : turn });
  });
  return { poles, singular: s.slice(0, 40).map((v) => v / largest), A: A.to2DArray(), C, x0 };
}

/** Amplitudes of given poles in each channel, and the value about which it swings: linear least squares. */
function amplitudes(
  y: readonly Float64Array[],
  poles: readonly Pole[],
): { shapes: { amplitude: number; phase: number }[][]; rest: number[]; fitted: Float64Array[] } {
  const count = y[0]!.length,
    width = poles.reduce((n, p) => n + (p.im === 0 ? 1 : 2), 1);
  const basis = Matrix.zeros(count, width);
  for (let i = 0; i < count; i++) {
    let k = 0;
    basis.set(i, k++, 1);
    for (const p of poles) {
      // a growing mode is scaled to its end, so that the columns are of like size
      const e = E.exp(p.re > 0 ? p.re * (i - count + 1) : p.re * i);
      basis.set(i, k++, e * E.cos(p.im * i));
      if (p.im !== 0) basis.set(i, k++, e * E.sin(p.im * i));
    }
  }
  const values = Matrix.zeros(count, y.length);
  y.forEach((c, j) => c.forEach((v, i) => values.set(i, j, v)));
  const x = new SingularValueDecomposition(basis, { autoTranspose: true }).solve(values),
    fitted = basis.mmul(x);
  const shapes = poles.map((): { amplitude: number; phase: number }[] => []);
  y.forEach((_, j) => {
    let k = 1;
    poles.forEach((p, n) => {
      const back = p.re > 0 ? E.exp(-p.re * (count - 1)) : 1,
        a = x.get(k++, j) * back,
        b = p.im === 0 ? 0 : x.get(k++, j) * back;
      shapes[n]!.push({ amplitude: length(a, b), phase: E.atan2(-b, a) });
    });
  });
  return {
    shapes,
    rest: y.map((_, j) => x.get(0, j)),
    fitted: y.map((_, j) => Float64Array.from({ length: count }, (_v, i) => fitted.get(i, j))),
  };
}
