/**
 * Amplitudes of the frequencies in a course. Windows and their gains: F. J. Harris, On the use of windows for harmonic
 * analysis with the discrete Fourier transform, Proc. IEEE 66 (1978); flat top: ISO 18431-2.
 */
import FFT from 'fft.js';
import { refuse } from '../diagnosis';
import { cos } from '../quantity/elementary';
import type { Series } from './scores';

export type WindowName = 'hann' | 'flat-top' | 'rectangular';

/** Coefficients of cos(2πk n/(N−1)), signs alternating. */
const WINDOWS: Readonly<Record<WindowName, readonly number[]>> = {
  rectangular: [1],
  hann: [0.5, 0.5],
  'flat-top': [1, 1.933, 1.286, 0.388, 0.0322],
};

export interface Spectrum {
  /** Hz, from 0 on, evenly. */
  frequency: Float64Array;
  /** Of a sine of this frequency, in the unit of the course; at 0 the mean, with its sign. */
  amplitude: Float64Array;
  /** Frequencies nearer than this are not told apart, Hz. */
  resolution: number;
}

/** Frequencies are read this many times as finely as they are told apart, so that a peak between two is not missed. */
const FINER = 4;
const LEAST = 8;

/** @throws Refusal for fewer than eight records */
export function spectrum({ time, values }: Series, window: WindowName = 'hann'): Spectrum {
  const n = time.length,
    span = time[n - 1]! - time[0]!;
  if (n < LEAST || !(span > 0))
    return refuse({
      code: 'spectrum-short',
      message: `A spectrum needs at least ${LEAST} records; here there are ${n}.`,
      remedy: 'Record more often, or run longer.',
    });
  // evenly, as records at events stand between the others
  const even = new Float64Array(n),
    dt = span / (n - 1);
  for (let i = 0, k = 0; i < n; i++) {
    const t = time[0]! + i * dt;
    while (k < n - 2 && time[k + 1]! < t) k++;
    const h = time[k + 1]! - time[k]!,
      x = h > 0 ? Math.min(1, Math.max(0, (t - time[k]!) / h)) : 0;
    even[i] = values[k]! + x * (values[k + 1]! - values[k]!);
  }
  const mean = even.reduce((s, v) => s + v, 0) / n;
  let size = 2;
  while (size < n * FINER) size *= 2;
  const data = new Float64Array(size),
    shape = WINDOWS[window];
  let gain = 0;
  for (let i = 0; i < n; i++) {
    let w = 0;
    for (let k = 0; k < shape.length; k++) w += (k % 2 === 0 ? 1 : -1) * shape[k]! * cos((2 * Math.PI * k * i) / n);
    gain += w;
    data[i] = w * (even[i]! - mean);
  }
  const fft = new FFT(size),
    out = new Float64Array(2 * size);
  fft.realTransform(out, data);
  const half = size / 2,
    frequency = new Float64Array(half),
    amplitude = new Float64Array(half);
  for (let k = 0; k < half; k++) {
    frequency[k] = k / (size * dt);
    amplitude[k] = (2 * Math.sqrt(out[2 * k]! * out[2 * k]! + out[2 * k + 1]! * out[2 * k + 1]!)) / gain;
  }
  amplitude[0] = mean;
  return { frequency, amplitude, resolution: 1 / span };
}
