/** A natural motion as it is told: its shape turned and sized, and what moves in it and what stores its energy. */
import { TWO_PI } from '../quantity/elementary';
import type { Mechanism } from '../system/mechanism';
import type { Tangent } from '../system/tangent/tangent';
import { massTimes } from './reduced';

export interface Mode {
  /** Eigenvalue, 1/s. */
  re: number;
  im: number;
  /** Undamped natural frequency |λ|/2π, Hz; 0 where nothing pulls back. */
  frequency: number;
  /** −Re λ / |λ|: 1 and more does not swing, below 0 it grows. */
  damping: number;
  /** Displacements of all bodies as a motion (translation in ground axes, rotation in body axes): real and imaginary part, the largest being 1. */
  shape: { re: Float64Array; im: Float64Array };
  /** Shares of the kinetic energy by body and of the elastic energy by load, of one swing. */
  kinetic: { body: string; share: number }[];
  elastic: { load: string; share: number }[];
}

/** @param tangent about the posture at hand */
export function modeOf(m: Mechanism, tangent: Tangent, re: number, im: number, x: Float64Array, y: Float64Array): Mode {
  const magnitude = Math.sqrt(re * re + im * im),
    shape = normalised(x, y);
  return {
    re,
    im,
    frequency: magnitude / TWO_PI,
    damping: magnitude > 0 ? -re / magnitude : 0,
    shape,
    kinetic: kineticShares(m, shape),
    elastic: elasticShares(m, tangent, shape),
  };
}

/** Turned so that the largest component is real and 1. */
function normalised(re: Float64Array, im: Float64Array): { re: Float64Array; im: Float64Array } {
  let at = 0,
    most = 0;
  re.forEach((x, i) => {
    const s = x * x + im[i]! * im[i]!;
    if (s > most) {
      most = s;
      at = i;
    }
  });
  if (most === 0) return { re, im };
  const [a, b] = [re[at]! / most, -im[at]! / most];
  return { re: re.map((x, i) => x * a - im[i]! * b), im: im.map((y, i) => re[i]! * b + y * a) };
}

function kineticShares({ system, bodies }: Mechanism, { re, im }: Mode['shape']): Mode['kinetic'] {
  const parts = [re, im].map((v) => {
    const Mv = new Float64Array(v.length);
    massTimes(system, v, Mv);
    return bodies.map((_, i) => system.own.velocitiesOf(i).reduce((s, k) => s + v[k]! * Mv[k]!, 0));
  });
  const sum = bodies.map((_, i) => parts[0]![i]! + parts[1]![i]!);
  const total = sum.reduce((s, x) => s + x, 0) || 1;
  return bodies.map((b, i) => ({ body: b.name, share: sum[i]! / total })).sort((a, b) => b.share - a.share);
}

/** Work of what each load pushes back with, along the shape. */
function elasticShares(m: Mechanism, tangent: Tangent, { re, im }: Mode['shape']): Mode['elastic'] {
  const { forces } = m.assembly,
    sum = forces.map(({ force }) => Math.abs(tangent.pullOf(force, re) + tangent.pullOf(force, im))),
    total = sum.reduce((s, x) => s + x, 0) || 1;
  return forces.map((f, i) => ({ load: f.name, share: sum[i]! / total })).sort((x, z) => z.share - x.share);
}
