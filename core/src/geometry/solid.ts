/**
 * Solids by closed form. Mass properties are those of unit density (mass = volume); the mesh is for
 * looking at, and approximates round sides.
 */
import earcut from 'earcut';
import { cos, cube, sin, square } from '../quantity/elementary';
import type { Form, PlacedForm } from './contact/form';
import { sharpEdges } from './edges';
import { type Outline, type Rim, type Vec2, near, polygon } from './outline';
import { type MassProperties, place } from './mass';
import { type Mat3, type Vec3, add, apply, column, fromColumns, norm, scale, sub, triad } from './vector';

/** Triangles with normals; positions in m. */
export interface Mesh {
  positions: Float32Array;
  normals: Float32Array;
  indices: Uint32Array;
  /** Sharp edges: pairs of vertices. */
  edges: Uint32Array;
}

export interface Solid {
  mass: MassProperties;
  /** For looking at; made when it is asked for. @param round facets of a full turn */
  mesh(round?: number): Mesh;
  /** The same surface in double precision, for working with it. */
  surface(round?: number): { positions: Float64Array; indices: Uint32Array };
  /** What it is exactly, where it is no more than facets: left out. */
  readonly forms?: readonly PlacedForm[];
}

const PI = 3.141592653589793;
/** Facets of a full turn, where nothing else is asked for. */
const ROUND = 32;

export class MeshBuilder {
  private p: number[] = [];
  private n: number[] = [];
  private i: number[] = [];

  vertex(p: Vec3, n: Vec3): number {
    this.p.push(...p);
    this.n.push(...n);
    return this.p.length / 3 - 1;
  }
  triangle(a: number, b: number, c: number): void {
    this.i.push(a, b, c);
  }
  quad(a: number, b: number, c: number, d: number): void {
    this.i.push(a, b, c, a, c, d);
  }
  build(): Mesh {
    const positions = Float32Array.from(this.p),
      indices = Uint32Array.from(this.i);
    return { positions, normals: Float32Array.from(this.n), indices, edges: sharpEdges(positions, indices) };
  }
  surface(): { positions: Float64Array; indices: Uint32Array } {
    return { positions: Float64Array.from(this.p), indices: Uint32Array.from(this.i) };
  }
}

/** Meshes in their own axes by what they are made from: alike parts are drawn once. */
const drawn = new Map<string, Mesh>();
const MOST_DRAWN = 4000;

function own(key: string, draw: (m: MeshBuilder) => void): Mesh {
  const known = drawn.get(key);
  if (known) return known;
  const m = new MeshBuilder();
  draw(m);
  const mesh = m.build();
  if (drawn.size >= MOST_DRAWN) drawn.clear();
  drawn.set(key, mesh);
  return mesh;
}

/** A mesh turned and shifted; it shares its triangles with the one it is made from. */
export function moved({ positions, normals, indices, edges }: Mesh, turn: Mat3, shift: Vec3): Mesh {
  const p = new Float32Array(positions.length),
    n = new Float32Array(normals.length);
  const [a, b, c, d, e, f, g, h, i] = turn,
    [sx, sy, sz] = shift;
  for (let k = 0; k < positions.length; k += 3) {
    const x = positions[k]!,
      y = positions[k + 1]!,
      z = positions[k + 2]!;
    p[k] = a * x + b * y + c * z + sx;
    p[k + 1] = d * x + e * y + f * z + sy;
    p[k + 2] = g * x + h * y + i * z + sz;
    const u = normals[k]!,
      v = normals[k + 1]!,
      w = normals[k + 2]!;
    n[k] = a * u + b * v + c * w;
    n[k + 1] = d * u + e * v + f * w;
    n[k + 2] = g * u + h * v + i * w;
  }
  return { positions: p, normals: n, indices, edges };
}

/** A surface turned and shifted. */
export function movedSurface(
  { positions, indices }: { positions: ArrayLike<number>; indices: Uint32Array },
  turn: Mat3,
  shift: Vec3,
): { positions: Float64Array; indices: Uint32Array } {
  const out = new Float64Array(positions.length);
  for (let k = 0; k < out.length; k += 3) out.set(add(apply(turn, [positions[k]!, positions[k + 1]!, positions[k + 2]!]), shift), k);
  return { positions: out, indices };
}

/** Solids side by side, as one list of triangles. */
export function sideBySide(list: readonly { positions: Float64Array; indices: Uint32Array }[]): {
  positions: Float64Array;
  indices: Uint32Array;
} {
  const positions: number[] = [],
    indices: number[] = [];
  for (const s of list) {
    const first = positions.length / 3;
    for (const x of s.positions) positions.push(x);
    for (const i of s.indices) indices.push(first + i);
  }
  return { positions: Float64Array.from(positions), indices: Uint32Array.from(indices) };
}

/** An outer rim, counter-clockwise, and the rims of its holes, clockwise, extruded by ±half along z. */
export function prismMesh(m: MeshBuilder, rims: readonly (readonly Rim[])[], half: number): void {
  const corners: number[] = [],
    holes: number[] = [];
  rims.forEach((rim, i) => {
    const side = rim.map(
      (r) => [-half, half].map((z) => m.vertex([r.at[0], r.at[1], z], [r.normal[0], r.normal[1], 0])) as [number, number],
    );
    if (i > 0) holes.push(corners.length / 2);
    rim.forEach((r, k) => {
      const next = (k + 1) % rim.length,
        to = rim[next]!.at;
      if (near(r.at, to)) return;
      m.quad(side[k]![0], side[next]![0], side[next]![1], side[k]![1]);
      corners.push(r.at[0], r.at[1]);
    });
  });
  const faces = earcut(corners, holes);
  for (const side of [1, -1] as const) {
    const first = Array.from({ length: corners.length / 2 }, (_, k) =>
      m.vertex([corners[2 * k]!, corners[2 * k + 1]!, side * half], [0, 0, side]),
    );
    for (let k = 0; k < faces.length; k += 3) {
      const [a, b, c] = [first[faces[k]!]!, first[faces[k + 1]!]!, first[faces[k + 2]!]!];
      if (side > 0) m.triangle(a, b, c);
      else m.triangle(a, c, b);
    }
  }
}

/** @param key names what the mesh is made from @param draw makes it in its own axes @param form what it is exactly, in the same */
export function finish(
  mass: MassProperties,
  turn: Mat3,
  shift: Vec3,
  key: string,
  draw: (m: MeshBuilder, round: number) => void,
  form: Form,
): Solid {
  return {
    forms: [{ form, turn, shift }],
    mass: place(mass, turn, shift),
    mesh: (round = ROUND) =>
      moved(
        own(`${round} ${key}`, (m) => draw(m, round)),
        turn,
        shift,
      ),
    surface(round = ROUND) {
      const m = new MeshBuilder();
      draw(m, round);
      return movedSurface(m.surface(), turn, shift);
    },
  };
}

/** A diagonal matrix. */
export const diagonal = (x: number, y: number, z: number): Mat3 => [x, 0, 0, 0, y, 0, 0, 0, z];

/** Box, centre and full sizes in m. @param turn columns are the directions of its edges */
export function box(centre: Vec3, [x, y, z]: Vec3, turn: Mat3 = diagonal(1, 1, 1)): Solid {
  const volume = x * y * z;
  const k = volume / 12;
  return finish(
    { mass: volume, centre: [0, 0, 0], inertia: diagonal(k * (y * y + z * z), k * (x * x + z * z), k * (x * x + y * y)) },
    turn,
    centre,
    `box ${x} ${y} ${z}`,
    (m) => {
      const corner = (px: number, py: number): Vec2 => [(px * x) / 2, (py * y) / 2];
      const sides: [Vec2, Vec2, Vec2][] = [
        [corner(-1, -1), corner(1, -1), [0, -1]],
        [corner(1, -1), corner(1, 1), [1, 0]],
        [corner(1, 1), corner(-1, 1), [0, 1]],
        [corner(-1, 1), corner(-1, -1), [-1, 0]],
      ];
      prismMesh(
        m,
        [
          sides.flatMap(([a, b, normal]) => [
            { at: a, normal },
            { at: b, normal },
          ]),
        ],
        z / 2,
      );
    },
    { type: 'extruded', outlines: [rectangle(-x / 2, -y / 2, x / 2, y / 2)], half: z / 2 },
  );
}
/** Counter-clockwise, from its lowest corner to its highest. */
const rectangle = (a: number, b: number, c: number, d: number): Outline =>
  polygon([
    [a, b],
    [c, b],
    [c, d],
    [a, d],
  ]);

/** Cylinder between the centres of its two faces, m. */
export function cylinder(from: Vec3, to: Vec3, radius: number): Solid {
  const length = norm(sub(to, from));
  const volume = PI * radius * radius * length;
  const side = (volume * (3 * radius * radius + length * length)) / 12;
  const mass = { mass: volume, centre: [0, 0, 0] as Vec3, inertia: diagonal(side, side, (volume * radius * radius) / 2) };
  return finish(
    mass,
    triad(sub(to, from)),
    scale(add(from, to), 0.5),
    `cylinder ${radius} ${length}`,
    (m, round) => {
      const rim = Array.from({ length: round }, (_, k): Rim => {
        const a = (2 * PI * k) / round;
        return { at: [radius * cos(a), radius * sin(a)], normal: [cos(a), sin(a)] };
      });
      prismMesh(m, [rim], length / 2);
    },
    { type: 'revolved', outline: rectangle(0, -length / 2, radius, length / 2) },
  );
}

/** Sphere, m. */
export function sphere(centre: Vec3, radius: number): Solid {
  const volume = (4 / 3) * PI * cube(radius);
  const i = 0.4 * volume * radius * radius;
  return finish(
    { mass: volume, centre: [0, 0, 0], inertia: diagonal(i, i, i) },
    diagonal(1, 1, 1),
    centre,
    `sphere ${radius}`,
    (m, round) => {
      const rows = round / 2;
      for (let i = 0; i <= rows; i++) {
        for (let j = 0; j <= round; j++) {
          const a = (PI * i) / rows;
          const b = (2 * PI * j) / round;
          const n: Vec3 = [sin(a) * cos(b), sin(a) * sin(b), cos(a)];
          m.vertex(scale(n, radius), n);
        }
      }
      for (let i = 0; i < rows; i++) {
        for (let j = 0; j < round; j++) {
          const k = i * (round + 1) + j;
          m.quad(k, k + round + 1, k + round + 2, k + 1);
        }
      }
    },
    { type: 'ball', radius },
  );
}

/**
 * Flat bar with round ends: a rectangle from point to point and two half discs, extruded.
 * @param flat direction of the thickness, square to the bar after projection
 */
export function linkBar(from: Vec3, to: Vec3, width: number, thickness: number, flat: Vec3): Solid {
  const along = sub(to, from);
  const length = norm(along);
  const r = width / 2;
  const x = scale(along, 1 / length);
  const upright = sub(flat, scale(x, flat[0] * x[0] + flat[1] * x[1] + flat[2] * x[2]));
  const z = norm(upright) > 1e-9 * norm(flat) ? scale(upright, 1 / norm(upright)) : column(triad(x), 0);
  const y: Vec3 = [z[1] * x[2] - z[2] * x[1], z[2] * x[0] - z[0] * x[2], z[0] * x[1] - z[1] * x[0]];
  // Second moments of area about the centre: rectangle, plus two half discs whose centroids lie 4r/3π outside the pins.
  const disc = PI * r * r;
  const area = length * width + disc;
  const reach = (4 * r) / (3 * PI);
  const ix = (length * cube(width)) / 12 + (disc * r * r) / 4;
  const own = (disc * r * r) / 4 - disc * reach * reach;
  const iy = (width * cube(length)) / 12 + own + disc * square(length / 2 + reach);
  const t2 = (area * thickness * thickness) / 12;
  const mass = {
    mass: area * thickness,
    centre: [0, 0, 0] as Vec3,
    inertia: diagonal(thickness * (ix + t2), thickness * (iy + t2), thickness * (ix + iy)),
  };
  return finish(
    mass,
    fromColumns(x, y, z),
    scale(add(from, to), 0.5),
    `link ${length} ${width} ${thickness}`,
    (m, round) => {
      const half = round / 2;
      const end = (centre: number, start: number): Rim[] =>
        Array.from({ length: half + 1 }, (_, k) => {
          const a = start + (PI * k) / half;
          return { at: [centre + r * cos(a), r * sin(a)], normal: [cos(a), sin(a)] };
        });
      prismMesh(m, [[...end(length / 2, -PI / 2), ...end(-length / 2, PI / 2)]], thickness / 2);
    },
    { type: 'extruded', outlines: [stadium(length, r)], half: thickness / 2 },
  );
}
/** Two half circles and the lines between them, along x round the middle. */
const stadium = (length: number, radius: number): Outline => [
  { type: 'line', from: [-length / 2, -radius], to: [length / 2, -radius] },
  { type: 'arc', centre: [length / 2, 0], radius, from: -PI / 2, to: PI / 2 },
  { type: 'line', from: [length / 2, radius], to: [-length / 2, radius] },
  { type: 'arc', centre: [-length / 2, 0], radius, from: PI / 2, to: (3 * PI) / 2 },
];
