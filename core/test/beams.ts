/** Slender parts made of lumps on beams without mass; and their bending as classical matrices, put together here. */
import { EigenvalueDecomposition, Matrix, inverse } from 'ml-matrix';
import type { Model, RawElement } from '../src';
import { model } from './models';

const list = (x: object[]) => x as RawElement[];

export interface Bar {
  pieces: number;
  length: number;
  mass: number;
  EA: number;
  EIy: number;
  EIz: number;
  GJ: number;
  /** Half across of the lumps' turning inertia, m. */
  radius: number;
  clamped: boolean;
  damping?: number;
  gravity?: number;
}
export const BAR: Bar = { pieces: 40, length: 1.2, mass: 4.86, EA: 1.05e8, EIy: 7875, EIz: 21875, GJ: 7465, radius: 0.01, clamped: true };

const lump = ({ pieces, mass, radius }: Bar) => {
  const m = mass / pieces;
  return { mass: m, inertia: [2 * m * radius * radius, m * radius * radius, m * radius * radius] };
};

/** Lumps in the middle of as many pieces: clamped at its left end by half a piece, or free. */
export function bar(b: Bar): Model {
  const h = b.length / b.pieces,
    all = Array.from({ length: b.pieces }, (_, i) => i),
    field = { kind: 'beam', axial: b.EA, bendingY: b.EIy, bendingZ: b.EIz, torsion: b.GJ, ...(b.damping ? { damping: b.damping } : {}) };
  return model('Bar', {
    points: list([
      { name: 'Root' },
      ...all.flatMap((i) => [
        { name: `Q${i}`, at: [(i + 0.5) * h, 0, 0] },
        { name: `P${i}`, body: `N${i}` },
      ]),
    ]),
    bodies: list(all.map((i) => ({ name: `N${i}`, origin: `Q${i}`, ...lump(b) }))),
    loads: list([
      ...all.flatMap((i) =>
        i === 0
          ? b.clamped
            ? [{ ...field, name: 'B0', bodies: ['Ground', 'N0'], at: ['Root', 'P0'] }]
            : []
          : [{ ...field, name: `B${i}`, bodies: [`N${i - 1}`, `N${i}`], at: [`P${i - 1}`, `P${i}`] }],
      ),
      ...(b.gravity ? [{ name: 'Gravity', kind: 'gravity', acceleration: [0, 0, -b.gravity] }] : []),
    ]),
  });
}

/** Its frequencies of bending in one plane, Hz, sorted: stiffness of Euler-Bernoulli pieces, two numbers to a lump. */
export function bending(b: Bar, EI: number): number[] {
  const n = b.pieces,
    h = b.length / n,
    K = Matrix.zeros(2 * n, 2 * n),
    { mass, inertia } = lump(b),
    piece = (i: number, j: number, l: number) => {
      const k = [
        [12, 6 * l, -12, 6 * l],
        [6 * l, 4 * l * l, -6 * l, 2 * l * l],
        [-12, -6 * l, 12, -6 * l],
        [6 * l, 2 * l * l, -6 * l, 4 * l * l],
      ];
      [2 * i, 2 * i + 1, 2 * j, 2 * j + 1].forEach((row, r) =>
        [2 * i, 2 * i + 1, 2 * j, 2 * j + 1].forEach((column, c) => {
          if (row >= 0 && column >= 0) K.set(row, column, K.get(row, column) + (EI / l ** 3) * k[r]![c]!);
        }),
      );
    };
  if (b.clamped) piece(-1, 0, 0.5 * h);
  for (let i = 1; i < n; i++) piece(i - 1, i, h);
  const scale = (k: number) => 1 / Math.sqrt(k % 2 === 0 ? mass : inertia[1]!);
  for (let i = 0; i < 2 * n; i++) for (let j = 0; j < 2 * n; j++) K.set(i, j, K.get(i, j) * scale(i) * scale(j));
  // the slowest are best known of the inverse, where the bar is free of a bar on soft springs; and then by what their shapes store
  const soft = b.clamped ? 0 : 100,
    stiffer = K.clone();
  for (let i = 0; i < 2 * n; i++) stiffer.set(i, i, K.get(i, i) + soft);
  const V = new EigenvalueDecomposition(inverse(stiffer), { assumeSymmetric: true }).eigenvectorMatrix,
    stored = (k: number) => {
      const x = V.getColumnVector(k);
      return x.transpose().mmul(K.mmul(x)).get(0, 0);
    };
  return Array.from({ length: 2 * n }, (_, k) => Math.sqrt(Math.max(0, stored(k))) / (2 * Math.PI)).sort((x, y) => x - y);
}
