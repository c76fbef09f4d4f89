/**
 * What an engineer sees in a mesh: faces (plane, cylinder, sphere), edges (straight, circular) and their centres and axes. Regions are grown
 * over smooth edges from a seed of two facets, and fitted by least squares (circle: I. Kåsa, IEEE Trans. Instrum. Meas. 25, 1976).
 */
import { sameCorners, sideKey } from './corners';
import { type Vec3, add, cross, dot, norm, scale, sub, unit } from './vector';

export interface MeshFace {
  type: 'plane' | 'cylinder' | 'sphere' | 'other';
  /** A place on it, m: centroid of a plane, middle of the axis of a cylinder, centre of a sphere. */
  at: Vec3;
  /** Normal of a plane, axis of a cylinder. */
  axis?: Vec3;
  radius?: number;
  /** The material is outside: a hole. */
  hollow?: boolean;
  /** m² */
  area: number;
}

export interface MeshEdge {
  type: 'straight' | 'circle' | 'arc' | 'curve';
  /** Corners along it, three numbers each, m. */
  line: number[];
  /** Middle of a straight edge, centre of a circle, m. */
  at: Vec3;
  axis?: Vec3;
  radius?: number;
  /** m */
  length: number;
  faces: [number, number];
}

export interface Features {
  faces: MeshFace[];
  edges: MeshEdge[];
  /** The face of each triangle. */
  faceOf: Int32Array;
}

/** Cosine of the angle beyond which an edge is sharp (35°). */
const SHARP = 0.8191520442889918;
/** Sine of the angle below which neighbours are one plane (0.06°). */
const FLAT = 1e-3;
/** Facets a cylinder has at least. */
const FEWEST = 4;

/** @param positions three numbers a vertex, m @param indices three a triangle */
export function findFeatures(positions: Float32Array, indices: Uint32Array): Features {
  const regions = new Regions(positions, indices);
  findSpheres(regions);
  findCylinders(regions);
  findPlanes(regions);
  const { faces, faceOf, count, corner, at, neighbours, tolerance } = regions;
  return { faces, edges: edgesBetween(count, corner, at, neighbours, faceOf, tolerance), faceOf };
}

/** Triangles of a mesh, and the faces they have been given to so far. */
class Regions {
  readonly count: number;
  readonly normals: Vec3[] = [];
  readonly areas: Float64Array;
  readonly neighbours: Int32Array;
  readonly faceOf: Int32Array;
  readonly faces: MeshFace[] = [];
  /** Distances below this are none, m. */
  readonly tolerance: number;
  private readonly weld: ReturnType<typeof welded>;

  constructor(
    positions: Float32Array,
    private readonly indices: Uint32Array,
  ) {
    this.count = indices.length / 3;
    this.weld = welded(positions);
    this.areas = new Float64Array(this.count);
    for (let t = 0; t < this.count; t++) {
      const [a, b, c] = this.corners(t),
        n = cross(sub(b, a), sub(c, a)),
        l = norm(n);
      this.areas[t] = l / 2;
      this.normals.push(l > 0 ? scale(n, 1 / l) : [0, 0, 0]);
    }
    this.neighbours = adjacency(this.count, this.corner, this.weld.count);
    this.faceOf = new Int32Array(this.count).fill(-1);
    this.tolerance = 2e-4 * this.weld.size;
  }

  readonly corner = (t: number, k: number): number => this.weld.of[this.indices[3 * t + k]!]!;
  readonly at = (v: number): Vec3 => [this.weld.at[3 * v]!, this.weld.at[3 * v + 1]!, this.weld.at[3 * v + 2]!];
  corners(t: number): [Vec3, Vec3, Vec3] {
    return [this.at(this.corner(t, 0)), this.at(this.corner(t, 1)), this.at(this.corner(t, 2))];
  }
  /** Corners of some triangles, each once. */
  places(list: readonly number[]): Vec3[] {
    return [...new Set(list.flatMap((t) => [this.corner(t, 0), this.corner(t, 1), this.corner(t, 2)]))].map(this.at);
  }
  area(list: readonly number[]): number {
    return list.reduce((s, t) => s + this.areas[t]!, 0);
  }
  /** Centroid. */
  middle(list: readonly number[]): Vec3 {
    const sum = list.reduce<Vec3>(
      (s, t) => {
        const [a, b, c] = this.corners(t);
        return add(s, scale(add(add(a, b), c), this.areas[t]! / 3));
      },
      [0, 0, 0],
    );
    return scale(sum, 1 / (this.area(list) || 1));
  }
  /** How many normals differ among some triangles. */
  bends(list: readonly number[]): number {
    return distinct(list.map((t) => this.normals[t]!));
  }
  /** It has an area, and belongs to no face yet. */
  free(t: number): boolean {
    return this.faceOf[t]! < 0 && this.areas[t]! > 0;
  }

  /** Triangles reached from one over edges for which `enter` says yes, that have no face yet; they are given to the next face. */
  grow(seed: number, enter: (from: number, to: number) => boolean): number[] {
    const found = [seed];
    this.faceOf[seed] = this.faces.length;
    for (let i = 0; i < found.length; i++) {
      for (let k = 0; k < 3; k++) {
        const n = this.neighbours[3 * found[i]! + k]!;
        if (n < 0 || !this.free(n) || !enter(found[i]!, n)) continue;
        this.faceOf[n] = this.faces.length;
        found.push(n);
      }
    }
    return found;
  }
  release(list: readonly number[]): void {
    for (const t of list) this.faceOf[t] = -1;
  }
  readonly smooth = (a: number, b: number): boolean => dot(this.normals[a]!, this.normals[b]!) > SHARP;
  readonly level = (a: number, b: number): boolean => {
    const [n, m] = [this.normals[a]!, this.normals[b]!];
    return norm(cross(n, m)) < FLAT && dot(n, m) > 0;
  };
}

/** A smooth region all of whose corners are at one distance from a centre. */
function findSpheres(r: Regions): void {
  const seen = new Uint8Array(r.count);
  for (let seed = 0; seed < r.count; seed++) {
    if (seen[seed] || r.areas[seed] === 0) continue;
    const found = r.grow(seed, r.smooth);
    for (const t of found) seen[t] = 1;
    const ball = r.bends(found.slice(0, 12)) > 2 ? sphereThrough(r.places(found)) : undefined;
    if (!ball || !(ball.error < Math.max(r.tolerance, 3e-4 * ball.radius)) || !roundBothWays(r, seed, found)) {
      r.release(found);
      continue;
    }
    const hollow = dot(r.normals[seed]!, sub(r.corners(seed)[0], ball.centre)) < 0;
    r.faces.push({ type: 'sphere', at: ball.centre, radius: ball.radius, hollow, area: r.area(found) });
  }
}

/** The rims of a short cylinder lie on a sphere too, but its normals all lie in one plane. */
function roundBothWays({ normals }: Regions, seed: number, found: readonly number[]): boolean {
  const widest = found
    .map((t) => cross(normals[seed]!, normals[t]!))
    .reduce((best, c) => (norm(c) > norm(best) ? c : best), [0, 0, 0] as Vec3);
  return norm(widest) > 0 && found.some((t) => Math.abs(dot(normals[t]!, unit(widest))) > 0.02);
}

/**
 * From two facets that meet at a slight angle along a line that is the axis' direction; narrow facets first, so that a flat side between two rounds
 * is not taken for one.
 */
function findCylinders(r: Regions): void {
  const order = Array.from({ length: r.count }, (_, t) => t).sort((a, b) => r.areas[a]! - r.areas[b]!);
  for (const seed of order) {
    if (!r.free(seed)) continue;
    for (let k = 0; k < 3; k++) {
      const other = r.neighbours[3 * seed + k]!;
      if (other < 0 || !r.free(other) || !r.smooth(seed, other) || r.level(seed, other)) continue;
      if (cylinderFrom(r, seed, other)) break;
    }
  }
}

function cylinderFrom(r: Regions, seed: number, other: number): boolean {
  const { normals, tolerance } = r;
  const axis = unit(cross(normals[seed]!, normals[other]!));
  const round = circleThrough(r.places([seed, other]), axis);
  if (!round || !(round.error < tolerance)) return false;
  const off = Math.max(0.5 * tolerance, 3e-4 * round.radius);
  const on = (t: number) =>
    Math.abs(dot(normals[t]!, axis)) < 5e-3 &&
    r.corners(t).every((c) => Math.abs(norm(across(sub(c, round.centre), axis)) - round.radius) < off);
  const found = r.grow(seed, (a, b) => r.smooth(a, b) && on(b));
  const fitted = r.bends(found) < FEWEST ? undefined : circleThrough(r.places(found), axis);
  if (!fitted) {
    r.release(found);
    return false;
  }
  const along = r.places(found).map((p) => dot(sub(p, fitted.centre), axis));
  const half = (Math.min(...along) + Math.max(...along)) / 2;
  const outward = found.reduce((s, t) => s + dot(normals[t]!, sub(r.corners(t)[0], fitted.centre)), 0);
  r.faces.push({
    type: 'cylinder',
    at: add(fitted.centre, scale(axis, half)),
    axis,
    radius: fitted.radius,
    hollow: outward < 0,
    area: r.area(found),
  });
  return true;
}

/** Planes, and what is left: regions that bend otherwise. */
function findPlanes(r: Regions): void {
  const bends = (t: number) =>
    [0, 1, 2].some((k) => {
      const n = r.neighbours[3 * t + k]!;
      return n >= 0 && r.free(n) && r.smooth(t, n) && !r.level(t, n);
    });
  for (let seed = 0; seed < r.count; seed++) {
    if (!r.free(seed)) continue;
    const flat = r.grow(seed, r.level);
    if (!flat.some(bends)) {
      r.faces.push({ type: 'plane', at: r.middle(flat), axis: r.normals[seed]!, area: r.area(flat) });
      continue;
    }
    r.release(flat);
    const found = r.grow(seed, r.smooth);
    r.faces.push({ type: 'other', at: r.middle(found), area: r.area(found) });
  }
}

/** Corners at one place made one, and the largest extent. */
function welded(positions: Float32Array): { of: Uint32Array; at: Float64Array; count: number; size: number } {
  const { one, kept } = sameCorners(positions);
  const at = new Float64Array(3 * kept.length),
    lo = [Infinity, Infinity, Infinity],
    hi = [-Infinity, -Infinity, -Infinity];
  kept.forEach((i, v) => {
    for (let k = 0; k < 3; k++) {
      const x = (at[3 * v + k] = positions[3 * i + k]!);
      lo[k] = Math.min(lo[k]!, x);
      hi[k] = Math.max(hi[k]!, x);
    }
  });
  return { of: one, at, count: kept.length, size: Math.max(...hi.map((x, k) => x - lo[k]!), 1e-9) };
}

/** The triangle across each side of each triangle; −1 at a border. */
function adjacency(count: number, corner: (t: number, k: number) => number, vertices: number): Int32Array {
  const open = new Map<number, number>();
  const out = new Int32Array(3 * count).fill(-1);
  for (let t = 0; t < count; t++) {
    if (corner(t, 0) === corner(t, 1) || corner(t, 1) === corner(t, 2) || corner(t, 2) === corner(t, 0)) continue;
    for (let k = 0; k < 3; k++) {
      const a = corner(t, k),
        b = corner(t, (k + 1) % 3);
      const key = sideKey(a, b, vertices);
      const mate = open.get(key);
      if (mate === undefined) open.set(key, 3 * t + k);
      else {
        out[3 * t + k] = Math.floor(mate / 3);
        out[mate] = t;
        open.delete(key);
      }
    }
  }
  return out;
}

/** Sides between different faces, joined into runs and told apart. */
function edgesBetween(
  count: number,
  corner: (t: number, k: number) => number,
  at: (v: number) => Vec3,
  neighbours: Int32Array,
  faceOf: Int32Array,
  tolerance: number,
): MeshEdge[] {
  const runs = new Map<string, { faces: [number, number]; sides: [number, number][] }>();
  for (let t = 0; t < count; t++) {
    for (let k = 0; k < 3; k++) {
      const n = neighbours[3 * t + k]!;
      const f = faceOf[t]!,
        g = n < 0 ? -1 : faceOf[n]!;
      if (f < 0 || f === g || (n >= 0 && n < t)) continue;
      const key = `${Math.min(f, g)}/${Math.max(f, g)}`;
      const run = runs.get(key) ?? { faces: [Math.min(f, g), Math.max(f, g)] as [number, number], sides: [] };
      run.sides.push([corner(t, k), corner(t, (k + 1) % 3)]);
      runs.set(key, run);
    }
  }
  return [...runs.values()].flatMap(({ faces, sides }) =>
    chains(sides).flatMap((chain) => (shape(chain.map(at), tolerance) ?? []).map((e) => ({ ...e, faces }))),
  );
}

/** Sides joined end to end. */
function chains(sides: readonly [number, number][]): number[][] {
  const at = new Map<number, number[]>();
  sides.forEach(([a, b], i) => {
    for (const v of [a, b]) at.set(v, [...(at.get(v) ?? []), i]);
  });
  const used = new Set<number>();
  const follow = (from: number, first: number): number[] => {
    const line = [from];
    let here = from,
      side: number | undefined = first;
    while (side !== undefined && !used.has(side)) {
      used.add(side);
      const [a, b]: [number, number] = sides[side]!;
      here = a === here ? b : a;
      line.push(here);
      side = at.get(here)!.length === 2 ? at.get(here)!.find((s) => !used.has(s)) : undefined;
    }
    return line;
  };
  const out: number[][] = [];
  // open runs begin at an end; what is left are rings
  for (const ends of [true, false]) {
    sides.forEach(([a, b], i) => {
      if (used.has(i)) return;
      const start = ends ? [a, b].find((v) => at.get(v)!.length !== 2) : a;
      if (start !== undefined) out.push(follow(start, i));
    });
  }
  return out;
}

/** A run as straight pieces, a circle, an arc or a curve. */
function shape(line: readonly Vec3[], tolerance: number): Omit<MeshEdge, 'faces'>[] | undefined {
  if (line.length < 2) return undefined;
  const flat = line.flatMap((p) => [...p]);
  const length = line.slice(1).reduce((s, p, i) => s + norm(sub(p, line[i]!)), 0);
  const [first, last] = [line[0]!, line[line.length - 1]!];
  const chord = sub(last, first),
    span = norm(chord);
  if (span > 0 && line.every((p) => norm(across(sub(p, first), scale(chord, 1 / span))) < tolerance))
    return [{ type: 'straight', line: flat, at: scale(add(first, last), 0.5), axis: scale(chord, 1 / span), length }];
  if (line.length > 4) {
    const middle = line[Math.floor(line.length / 3)]!,
      normal = cross(sub(middle, first), sub(line[Math.floor((2 * line.length) / 3)]!, first));
    if (norm(normal) > 0) {
      const axis = unit(normal);
      const closed = span < tolerance;
      const fit = circleThrough(closed ? line.slice(1) : line, axis);
      if (fit && fit.error < Math.max(tolerance, 2e-3 * fit.radius) && line.every((p) => Math.abs(dot(sub(p, first), axis)) < tolerance))
        return [
          {
            type: closed ? 'circle' : 'arc',
            line: flat,
            at: add(fit.centre, scale(axis, dot(sub(first, fit.centre), axis))),
            axis,
            radius: fit.radius,
            length,
          },
        ];
    }
  }
  // a run with corners falls into its straight pieces
  const pieces: Vec3[][] = [[first]];
  for (let i = 1; i < line.length; i++) {
    const run = pieces[pieces.length - 1]!;
    const bends =
      run.length > 1 && dot(unit(sub(line[i]!, run[run.length - 1]!)), unit(sub(run[run.length - 1]!, run[run.length - 2]!))) < SHARP;
    if (bends) pieces.push([run[run.length - 1]!]);
    pieces[pieces.length - 1]!.push(line[i]!);
  }
  if (pieces.length > 1) return pieces.flatMap((p) => shape(p, tolerance) ?? []);
  return [{ type: 'curve', line: flat, at: line[Math.floor(line.length / 2)]!, length }];
}

const across = (v: Vec3, axis: Vec3): Vec3 => sub(v, scale(axis, dot(v, axis)));

function distinct(normals: readonly Vec3[]): number {
  const seen: Vec3[] = [];
  for (const n of normals) if (!seen.some((m) => norm(cross(m, n)) < 0.02 && dot(m, n) > 0)) seen.push(n);
  return seen.length;
}

/** Circle through points seen along an axis: x² + y² = 2 a x + 2 b y + c, in least squares. */
function circleThrough(points: readonly Vec3[], axis: Vec3): { centre: Vec3; radius: number; error: number } | undefined {
  const u = unit(cross(axis, Math.abs(axis[0]) < 0.6 ? [1, 0, 0] : [0, 1, 0])),
    v = cross(axis, u);
  const o = points[0]!;
  const list = points.map((p): [number, number] => [dot(sub(p, o), u), dot(sub(p, o), v)]);
  const solution = leastSquares(
    list.map(([x, y]) => [2 * x, 2 * y, 1]),
    list.map(([x, y]) => x * x + y * y),
  );
  if (!solution) return undefined;
  const [a, b, c] = solution as [number, number, number];
  const radius = Math.sqrt(Math.max(0, c + a * a + b * b));
  const error = Math.max(...list.map(([x, y]) => Math.abs(Math.sqrt((x - a) * (x - a) + (y - b) * (y - b)) - radius)));
  return { centre: add(o, add(scale(u, a), scale(v, b))), radius, error };
}

function sphereThrough(points: readonly Vec3[]): { centre: Vec3; radius: number; error: number } | undefined {
  const o = points[0]!;
  const list = points.map((p) => sub(p, o));
  const solution = leastSquares(
    list.map(([x, y, z]) => [2 * x, 2 * y, 2 * z, 1]),
    list.map((p) => dot(p, p)),
  );
  if (!solution) return undefined;
  const centre: Vec3 = [solution[0]!, solution[1]!, solution[2]!];
  const radius = Math.sqrt(Math.max(0, solution[3]! + dot(centre, centre)));
  return { centre: add(o, centre), radius, error: Math.max(...list.map((p) => Math.abs(norm(sub(p, centre)) - radius))) };
}

/** Normal equations with pivoting; undefined where the points leave it open. */
function leastSquares(rows: readonly number[][], right: readonly number[]): number[] | undefined {
  const n = rows[0]!.length;
  const m = Array.from({ length: n }, (_, i) => [
    ...Array.from({ length: n }, (_x, j) => rows.reduce((s, r) => s + r[i]! * r[j]!, 0)),
    rows.reduce((s, r, k) => s + r[i]! * right[k]!, 0),
  ]);
  // scaled, so that a pivot tells of the points and not of the units
  const size = m.map((r, i) => Math.sqrt(r[i]!) || 1);
  for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) m[i]![j]! /= size[i]! * size[j]!;
  for (let i = 0; i < n; i++) m[i]![n]! /= size[i]!;
  for (let i = 0; i < n; i++) {
    let p = i;
    for (let r = i + 1; r < n; r++) if (Math.abs(m[r]![i]!) > Math.abs(m[p]![i]!)) p = r;
    if (Math.abs(m[p]![i]!) < 1e-9) return undefined;
    [m[i], m[p]] = [m[p]!, m[i]!];
    for (let r = 0; r < n; r++) {
      if (r === i) continue;
      const f = m[r]![i]! / m[i]![i]!;
      for (let c = i; c <= n; c++) m[r]![c]! -= f * m[i]![c]!;
    }
  }
  return m.map((r, i) => r[n]! / r[i]! / size[i]!);
}
