/**
 * What is known of a closed surface of triangles that may touch: its flat faces, its sharp edges and corners, and the normals by which inside is told from
 * outside wherever the nearest place is (J. A. Bærentzen, H. Aanæs, IEEE TVCG 11, 2005).
 */
import { acos } from '../../quantity/elementary';
import { Surface } from '../gap';
import { sameCorners } from '../corners';
import { eachSide, sidesOf } from '../sides';
import { type Vec3, add, cross, dot, norm, scale, sub } from '../vector';
import { BallTree } from './ball-tree';
import type { StraightEdge } from './straight-edge';
import type { Form } from './form';

export type FacetForm = Extract<Form, { type: 'facets' }>;

/** Cosine between two triangles from which on they are one flat face: places are known to single precision. */
const FLAT = 1 - 2e-6;
/** Cosine below which an edge is sharp, 15°: what is less is a round side that was drawn with facets. */
const SHARP = 0.9659258262890683;

/** A side that two triangles share: how their faces stand to one another. */
interface Fold {
  readonly ends: readonly [number, number];
  readonly faces: readonly [number, number];
  readonly cosine: number;
  readonly convex: boolean;
}

const known = new WeakMap<object, Facets>();

export class Facets {
  /** Triangles in a tree. */
  readonly surface: Surface;
  /** Of each triangle of the tree: normals of its face, of its three corners and of its three sides, which begin at them; 21 numbers. */
  readonly normals: Float64Array;
  /** Of each the flat face that it belongs to, and the part of the surface that is met alone. */
  readonly face: Int32Array;
  readonly part: Int32Array;
  /** How many parts there are: walls of corners that go in are of several. */
  readonly parts: number;
  readonly corners: readonly Vec3[];
  /** The same in a tree. */
  readonly tree: BallTree;
  readonly edges: readonly StraightEdge[];
  /** Whether every side belongs to two triangles: only then is there an inside. */
  readonly closed: boolean;
  /** Whether it has sides that are round, and are drawn with facets. */
  readonly round: boolean;
  /** Lowest and highest coordinates, m; area, m², and volume, m³. */
  readonly low: Vec3;
  readonly high: Vec3;
  readonly area: number;
  readonly volume: number;

  /** Found once for all that share the geometry. */
  static of({ positions, indices }: FacetForm): Facets {
    const made = known.get(positions) ?? new Facets(positions, indices);
    known.set(positions, made);
    return made;
  }

  private constructor(positions: ArrayLike<number>, given: Uint32Array) {
    const { one, kept } = sameCorners(positions),
      at = (v: number): Vec3 => [positions[3 * kept[v]!]!, positions[3 * kept[v]! + 1]!, positions[3 * kept[v]! + 2]!],
      indices = withArea(Uint32Array.from(given, (c) => one[c]!)),
      n = indices.length / 3,
      count = kept.length,
      corner = (t: number, k: number) => indices[3 * t + k]!;
    const vectors = Array.from({ length: n }, (_, t) => {
        const a = at(corner(t, 0));
        return scale(cross(sub(at(corner(t, 1)), a), sub(at(corner(t, 2)), a)), 0.5);
      }),
      unit = vectors.map((v) => (norm(v) > 0 ? scale(v, 1 / norm(v)) : v));
    this.area = vectors.reduce((s, v) => s + norm(v), 0);
    this.volume = vectors.reduce((s, v, t) => s + dot(v, at(corner(t, 0))) / 3, 0);
    const all = Array.from({ length: count }, (_, v) => at(v));
    this.low = [0, 1, 2].map((k) => all.reduce((m, p) => Math.min(m, p[k as 0]), Infinity)) as unknown as Vec3;
    this.high = [0, 1, 2].map((k) => all.reduce((m, p) => Math.max(m, p[k as 0]), -Infinity)) as unknown as Vec3;

    const folds: Fold[] = [];
    let closed = true;
    const sideNormal = new Map<number, Vec3>();
    eachSide(sidesOf(indices, count), (low, high, sides, from, to) => {
      if (to - from !== 2) closed = false;
      const [s, r] = [Math.floor(sides[from]! / 3), Math.floor(sides[to - 1]! / 3)],
        [u, v] = [unit[s]!, unit[r]!],
        far = [0, 1, 2].map((k) => corner(r, k)).find((c) => c !== low && c !== high) ?? low;
      folds.push({ ends: [low, high], faces: [s, r], cosine: dot(u, v), convex: dot(sub(at(far), at(low)), u) <= 0 });
      sideNormal.set(low * count + high, add(u, v));
    });
    this.closed = closed && n > 0;
    const flat = groups(n, folds.filter((f) => f.cosine > FLAT).map((f) => f.faces)); // prettier-ignore
    const cornerNormal = all.map((): Vec3 => [0, 0, 0]);
    for (let t = 0; t < n; t++)
      for (let k = 0; k < 3; k++) {
        const [p, q, r] = [0, 1, 2].map((j) => at(corner(t, (k + j) % 3))) as [Vec3, Vec3, Vec3],
          [x, y] = [sub(q, p), sub(r, p)],
          angle = acos(Math.max(-1, Math.min(1, dot(x, y) / (norm(x) * norm(y) || 1))));
        cornerNormal[corner(t, k)] = add(cornerNormal[corner(t, k)]!, scale(unit[t]!, angle));
      }
    const { edges, corners } = outline(all, folds, flat, unit);
    this.edges = edges;
    this.corners = corners;
    this.tree = new BallTree(corners.map((centre) => ({ centre, radius: 0 })));
    const part = partsOfFaces(n, folds, flat);
    this.parts = part.reduce((m, p) => Math.max(m, p + 1), 0);

    this.round = folds.some((f) => f.cosine <= FLAT && f.cosine >= SHARP);
    this.surface = new Surface(all.flat(), indices);
    const { order } = this.surface;
    this.face = Int32Array.from(order, (t) => flat[t]!);
    this.part = Int32Array.from(order, (t) => part[t]!);
    this.normals = new Float64Array(21 * order.length);
    order.forEach((t, i) => {
      const c = [0, 1, 2].map((k) => corner(t, k)),
        side = (k: number) => {
          const [a, b] = [c[k]!, c[(k + 1) % 3]!];
          return sideNormal.get(Math.min(a, b) * count + Math.max(a, b))!;
        };
      [unit[t]!, ...c.map((v) => cornerNormal[v]!), side(0), side(1), side(2)].forEach((v, k) => {
        const long = norm(v) || 1;
        for (let j = 0; j < 3; j++) this.normals[21 * i + 3 * k + j] = v[j as 0] / long;
      });
    });
  }
}

/** Triangles of which no two corners are one. */
function withArea(indices: Uint32Array): Uint32Array {
  const out: number[] = [];
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [indices[t]!, indices[t + 1]!, indices[t + 2]!];
    if (a !== b && b !== c && c !== a) out.push(a, b, c);
  }
  return Uint32Array.from(out);
}

/** Members that pairs bring together: of each the number of its group. */
function groups(n: number, pairs: readonly (readonly [number, number])[]): Int32Array {
  const root = Int32Array.from({ length: n }, (_, i) => i),
    find = (i: number): number => {
      let r = i;
      while (root[r] !== r) r = root[r]!;
      for (let k = i; root[k] !== r;) [k, root[k]] = [root[k]!, r];
      return r;
    };
  for (const [a, b] of pairs) root[find(a)] = find(b);
  const number = new Map<number, number>();
  return Int32Array.from({ length: n }, (_, i) => {
    const r = find(i);
    if (!number.has(r)) number.set(r, number.size);
    return number.get(r)!;
  });
}

/** Sharp edges that stick out, straight runs as one; and corners that may touch: not those within a face or along an edge, nor where all goes in. */
function outline(
  at: readonly Vec3[],
  folds: readonly Fold[],
  flat: Int32Array,
  unit: readonly Vec3[],
): { edges: StraightEdge[]; corners: Vec3[] } {
  const bent = folds.filter((f) => flat[f.faces[0]] !== flat[f.faces[1]]),
    around: Fold[][] = at.map(() => []);
  for (const f of bent) for (const v of f.ends) around[v]!.push(f);
  const way = (f: Fold, v: number): Vec3 => {
      const other = f.ends[0] === v ? f.ends[1] : f.ends[0],
        d = sub(at[other]!, at[v]!);
      return scale(d, 1 / norm(d));
    },
    along = around.map((list, v) => list.length === 2 && dot(way(list[0]!, v), way(list[1]!, v)) < -FLAT),
    corners = at.filter((_, v) => !along[v] && around[v]!.some((f) => f.convex)),
    sharp = bent.filter((f) => f.convex && f.cosine < SHARP),
    number = new Map(sharp.map((f, i) => [f, i])),
    pairs = around.flatMap((list, v): [number, number][] => {
      const [a, b] = list.map((f) => number.get(f));
      return along[v] && a !== undefined && b !== undefined ? [[a, b]] : [];
    }),
    runs = new Map<number, Fold[]>();
  groups(sharp.length, pairs).forEach((g, i) => runs.set(g, [...(runs.get(g) ?? []), sharp[i]!]));
  const edges = [...runs.values()].map((run): StraightEdge => {
    const ends = run.flatMap((f) => f.ends),
      [from, to] = ends.filter((v) => ends.filter((x) => x === v).length === 1),
      [f] = run;
    return {
      type: 'straight',
      from: at[from ?? f!.ends[0]]!,
      to: at[to ?? f!.ends[1]]!,
      normals: [unit[f!.faces[0]]!, unit[f!.faces[1]]!],
    };
  });
  return { edges, corners };
}

/** Parts of which no two faces meet in a sharp edge that goes in: each of its own, and as few as that takes when they are filled one after the other. */
function partsOfFaces(n: number, folds: readonly Fold[], flat: Int32Array): Int32Array {
  const inwards = folds.filter((f) => !f.convex && f.cosine < SHARP);
  if (inwards.length === 0) return new Int32Array(n);
  const faces = flat.reduce((m, f) => Math.max(m, f + 1), 0),
    next: number[][] = Array.from({ length: faces }, () => []),
    against: number[][] = Array.from({ length: faces }, () => []);
  for (const f of folds) {
    const [a, b] = [flat[f.faces[0]]!, flat[f.faces[1]]!];
    if (a === b) continue;
    const list = !f.convex && f.cosine < SHARP ? against : next;
    list[a]!.push(b);
    list[b]!.push(a);
  }
  const part = new Int32Array(faces).fill(-1);
  let count = 0;
  for (let seed = 0; seed < faces; seed++) {
    if (part[seed]! >= 0) continue;
    const queue = [seed];
    for (let f = queue.pop(); f !== undefined; f = queue.pop()) {
      if (part[f]! >= 0 || against[f]!.some((x) => part[x] === count)) continue;
      part[f] = count;
      queue.push(...next[f]!);
    }
    count++;
  }
  return Int32Array.from(flat, (f) => part[f]!);
}
