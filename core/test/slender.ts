/** Slender parts of beams with mass of their own in a row: the bodies between them have nothing. */
import type { Model, RawElement } from '../src';
import { model } from './models';

const e = (list: object[]) => list as RawElement[];

export interface Slender {
  pieces: number;
  length: number;
  /** Mass per length. */
  mass: number;
  EA: number;
  EI: number;
  GJ: number;
  shear?: number;
  held: readonly ('clamped' | 'free')[];
  gravity?: number;
}
export const SLENDER: Slender = { pieces: 4, length: 1.2, mass: 0.4, EA: 4e7, EI: 90, GJ: 70, held: ['clamped', 'free'] };

/** Beams in a row along x; the bodies between them have nothing of their own. */
export function slender({ pieces: n, length, mass, EA, EI, GJ, shear, held, gravity }: Slender, more: Partial<Model> = {}): Model {
  const all = Array.from({ length: n + 1 }, (_, i) => i),
    fixed = (i: number) => (i === 0 && held[0] === 'clamped') || (i === n && held[1] === 'clamped'),
    body = (i: number) => (fixed(i) ? 'Ground' : `N${i}`);
  return model('Slender', {
    points: e(
      all.flatMap((i) => {
        const at = [(i * length) / n, 0, 0];
        return fixed(i)
          ? [{ name: `P${i}`, at }]
          : [
              { name: `Q${i}`, at },
              { name: `P${i}`, body: `N${i}` },
            ];
      }),
    ),
    bodies: e(all.filter((i) => !fixed(i)).map((i) => ({ name: `N${i}`, origin: `Q${i}` }))),
    loads: e([
      ...all.slice(1).map((i) => ({
        ...{ name: `B${i}`, kind: 'beam', bodies: [body(i - 1), body(i)], at: [`P${i - 1}`, `P${i}`], mass },
        ...{ axial: EA, bendingY: EI, torsion: GJ, ...(shear ? { shear } : {}) },
      })),
      ...(gravity ? [{ name: 'Gravity', kind: 'gravity', acceleration: [0, 0, -gravity] }] : []),
    ]),
    ...more,
  });
}
