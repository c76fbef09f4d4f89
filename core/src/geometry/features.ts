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
  const count = indices.length / 3;
  const weld = welded(positions);
  const corner = (t: number, k: number): number => weld.of[indices[3 * t + k]!]!;
  const at = (v: number): Vec3 => [weld.at[3 * v]!, weld.at[3 * v + 1]!, weld.at[3 * v + 2]!];
  const normals: Vec3[] = [],
    areas = new Float64Array(count);
  for (let t = 0; t < count; t++) {
    const a = at(corner(t, 0)),
      n = cross(sub(at(corner(t, 1)), a), sub(at(corner(t, 2)), a)),
      l = norm(n);
    areas[t] = l / 2;
    normals.push(l > 0 ? scale(n, 1 / l) : [0, 0, 0]);
  }
  const neighbours = adjacency(count, corner, weld.count);
  const faceOf = new Int32Array(count).fill(-1);
  const faces: MeshFace[] = [];
  const tolerance = 2e-4 * weld.size;

  /** Triangles reached from one over edges for which `enter` says yes, that have no face yet. */
  const grow = (seed: number, enter: (from: number, to: number) => boolean, face: number): number[] => {
    const found = [seed];
    faceOf[seed] = face;
    for (let i = 0; i < found.length; i++) {
      for (let k = 0; k < 3; k++) {
        const n = neighbours[3 * found[i]! + k]!;
        if (n < 0 || faceOf[n]! >= 0 || areas[n] === 0 || !enter(found[i]!, n)) continue;
        faceOf[n] = face;
        found.push(n);
      }
    }
    return found;
  };
  const release = (list: readonly number[]): void => list.forEach((t) => (faceOf[t] = -1));
  const smooth = (a: number, b: number) => dot(normals[a]!, normals[b]!) > SHARP;
  const level = (a: number, b: number) => norm(cross(normals[a]!, normals[b]!)) < FLAT && dot(normals[a]!, normals[b]!) > 0;
  const total = (list: readonly number[]) => list.reduce((s, t) => s + areas[t]!, 0);
  const middle = (list: readonly number[]): Vec3 =>
    scale(
      list.reduce<Vec3>((s, t) => add(s, scale(add(add(at(corner(t, 0)), at(corner(t, 1))), at(corner(t, 2))), areas[t]! / 3)), [0, 0, 0]),
      1 / (total(list) || 1),
    );
  const verticesOf = (list: readonly number[]) => [...new Set(list.flatMap((t) => [corner(t, 0), corner(t, 1), corner(t, 2)]))];

  // spheres: a smooth region all of whose corners are at one distance
  const seen = new Uint8Array(count);
  for (let seed = 0; seed < count; seed++) {
    if (seen[seed] || areas[seed] === 0) continue;
    const found = grow(seed, smooth, faces.length);
    for (const t of found) seen[t] = 1;
    const ball = distinct(found.slice(0, 12).map((t) => normals[t]!)) > 2 ? sphereThrough(verticesOf(found).map(at)) : undefined;
    // the rims of a short cylinder lie on a sphere too, but its normals all lie in one plane
    const widest = found
      .map((t) => cross(normals[seed]!, normals[t]!))
      .reduce((best, c) => (norm(c) > norm(best) ? c : best), [0, 0, 0] as Vec3);
    const round = norm(widest) > 0 && found.some((t) => Math.abs(dot(normals[t]!, unit(widest))) > 0.02);
    if (ball && ball.error < Math.max(tolerance, 3e-4 * ball.radius) && round)
      faces.push({
        type: 'sphere',
        at: ball.centre,
        radius: ball.radius,
        hollow: dot(normals[seed]!, sub(at(corner(seed, 0)), ball.centre)) < 0,
        area: total(found),
      });
    else release(found);
  }
  // cylinders, from two facets that meet at a slight angle along a line that is the axis' direction; narrow facets first, so that a flat side between
  // two rounds is not taken for one
  const order = Array.from({ length: count }, (_, t) => t).sort((a, b) => areas[a]! - areas[b]!);
  for (const seed of order) {
    if (faceOf[seed]! >= 0 || areas[seed] === 0) continue;
    for (let k = 0; k < 3; k++) {
      const other = neighbours[3 * seed + k]!;
      if (other < 0 || faceOf[other]! >= 0 || areas[other] === 0 || !smooth(seed, other) || level(seed, other)) continue;
      const axis = unit(cross(normals[seed]!, normals[other]!));
      const round = circleThrough(verticesOf([seed, other]).map(at), axis);
      if (!round || !(round.error < tolerance)) continue;
      const on = (t: number) =>
        Math.abs(dot(normals[t]!, axis)) < 5e-3 &&
        [0, 1, 2].every(
          (c) =>
            Math.abs(norm(across(sub(at(corner(t, c)), round.centre), axis)) - round.radius) <
            Math.max(0.5 * tolerance, 3e-4 * round.radius),
        );
      const found = grow(seed, (a, b) => smooth(a, b) && on(b), faces.length);
      const facets = distinct(found.map((t) => normals[t]!));
      const fitted = facets < FEWEST ? undefined : circleThrough(verticesOf(found).map(at), axis);
      if (!fitted) {
        release(found);
        continue;
      }
      const along = verticesOf(found).map((v) => dot(sub(at(v), fitted.centre), axis));
      const half = (Math.min(...along) + Math.max(...along)) / 2;
      const outward = found.reduce((s, t) => s + dot(normals[t]!, sub(at(corner(t, 0)), fitted.centre)), 0);
      faces.push({
        type: 'cylinder',
        at: add(fitted.centre, scale(axis, half)),
        axis,
        radius: fitted.radius,
        hollow: outward < 0,
        area: total(found),
      });
      break;
    }
  }
  // planes, and what is left
  for (let seed = 0; seed < count; seed++) {
    if (faceOf[seed]! >= 0) continue;
    if (areas[seed] === 0) {
      faceOf[seed] = -1;
      continue;
    }
    const flat = grow(seed, level, faces.length);
    const bent = flat.some((t) =>
      [0, 1, 2].some((k) => {
        const n = neighbours[3 * t + k]!;
        return n >= 0 && faceOf[n] === -1 && areas[n]! > 0 && smooth(t, n) && !level(t, n);
      }),
    );
    if (!bent) {
      faces.push({ type: 'plane', at: middle(flat), axis: normals[seed]!, area: total(flat) });
      continue;
    }
    release(flat);
    const found = grow(seed, smooth, faces.length);
    faces.push({ type: 'other', at: middle(found), area: total(found) });
  }
  return { faces, edges: edgesBetween(count, corner, at, neighbours, faceOf, tolerance), faceOf };
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
