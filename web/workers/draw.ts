/** What the scene needs of a mechanism: all meshes in one, every corner in the axes of its body. */
import type { JointSides, Mechanism } from '@vim-pivot/core';
import type { DrawnJoint, DrawnPoint, DrawnShape, Picture, Side } from './protocol';

const NOWHERE = { turn: [1, 0, 0, 0, 1, 0, 0, 0, 1], origin: [0, 0, 0], centre: [0, 0, 0] } as const;

/** Machines of more shapes than this are drawn with fewer facets to a turn. */
const MANY = 150;
const COARSE = 20;

export function draw(m: Mechanism, start: Float64Array): Picture {
  const index = (i: number) => (i === m.bodies.length ? -1 : i);
  const at = new Map(m.bodies.map((b, i) => [b.name, i]));
  const colours = new Map(
    [...m.resolution.elements.bodies, ...m.resolution.elements.shapes].map((e) => [
      `${e.family}/${e.name}`,
      (e.values as { colour?: string }).colour,
    ]),
  );
  const round = m.shapes.length > MANY ? COARSE : undefined;
  const meshes = m.shapes.map((s) => s.mesh(round));
  const total = (f: (x: (typeof meshes)[number]) => number) => meshes.reduce((n, x) => n + f(x), 0);
  const position = new Float32Array(total((x) => x.positions.length)),
    normal = new Float32Array(position.length);
  const triangles = new Uint32Array(total((x) => x.indices.length)),
    edge = new Uint32Array(total((x) => x.edges.length));
  let v = 0,
    t = 0,
    e = 0;
  const shapes = m.shapes.map((s, k): DrawnShape => {
    const mesh = meshes[k]!,
      body = at.get(s.body) ?? -1;
    const { turn, origin, centre } = m.bodies[body] ?? NOWHERE;
    inBody(mesh.positions, turn, origin, centre, position, 3 * v);
    inBody(mesh.normals, turn, NOWHERE.origin, NOWHERE.centre, normal, 3 * v);
    for (let i = 0; i < mesh.indices.length; i++) triangles[t + i] = mesh.indices[i]! + v;
    for (let i = 0; i < mesh.edges.length; i++) edge[e + i] = mesh.edges[i]! + v;
    const colour = colours.get(`shapes/${s.name}`);
    const drawn: DrawnShape = {
      name: s.name,
      body,
      ...(colour ? { colour } : {}),
      vertex: [v, mesh.positions.length / 3],
      triangle: [t, mesh.indices.length],
      edge: [e, mesh.edges.length],
      box: boxOf(position, v, mesh.positions.length / 3),
    };
    v += mesh.positions.length / 3;
    t += mesh.indices.length;
    e += mesh.edges.length;
    return drawn;
  });
  const points = m.resolution.elements.points.map((p): DrawnPoint => {
    const body = (p.values as { body?: string }).body ?? m.model.ground;
    return { name: p.name, body: at.get(body) ?? -1, at: [...m.assembly.place(p.name, body)] };
  });
  const driven = new Set(m.drives.flatMap((d) => (d.joint ? [d.joint.name] : [])));
  // A joint is drawn where it is on its first body; a sliding one on its second, with which it travels.
  const joints = m.joints.map((j): DrawnJoint => ({
    name: j.name,
    kind: j.kind.kind,
    a: index(j.sides.a),
    b: index(j.sides.b),
    sides: [side(j.sides, 'a', index), side(j.sides, 'b', index)],
    place: j.freedoms.has('translation')
      ? { body: index(j.sides.b), at: [...j.sides.sb] }
      : { body: index(j.sides.a), at: [...j.sides.sa] },
    axis: [j.sides.fa[2], j.sides.fa[5], j.sides.fa[8]],
    driven: driven.has(j.name),
  }));
  return {
    bodies: m.bodies.map((b) => b.name),
    colours: m.bodies.map((b) => colours.get(`bodies/${b.name}`)),
    centres: m.bodies.map((b) => [...b.centre]),
    points,
    shapes,
    mesh: { position, normal, triangles, edge },
    joints,
    outlines: m.outlines.map((o) => ({ ...o })),
    posture: start.slice(0, 7 * m.bodies.length),
    size: m.size,
  };
}

function boxOf(position: Float32Array, from: number, count: number): DrawnShape['box'] {
  const low: [number, number, number] = [Infinity, Infinity, Infinity],
    high: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  for (let i = 3 * from, k = 0; i < 3 * (from + count); i++, k = k === 2 ? 0 : k + 1) {
    const x = position[i]!;
    if (x < low[k]!) low[k] = x;
    if (x > high[k]!) high[k] = x;
  }
  return [low, high];
}

/** The buffers of a picture, to hand them over rather than copy them. */
export const buffersOf = ({ mesh: { position, normal, triangles, edge } }: Picture): Transferable[] =>
  [position.buffer, normal.buffer, triangles.buffer, edge.buffer] as Transferable[];

/** One side of a joint for its symbol: the frame's x leads along a further direction where the joint has one. */
function side(s: JointSides, on: 'a' | 'b', index: (i: number) => number): Side {
  const f = on === 'a' ? s.fa : s.fb;
  if (on === 'a' || !s.second) return { body: index(s[on]), at: on === 'a' ? [...s.sa] : [...s.sb], frame: [...f] };
  const [x, y, z] = s.second,
    [a, b, c] = [f[2], f[5], f[8]];
  return { body: index(s.b), at: [...s.sb], frame: [x, b * z - c * y, a, y, c * x - a * z, b, z, a * y - b * x, c] };
}

/** Points in ground axes as drawn, to the axes of a body: turnᵀ (p − origin) − centre. */
function inBody(
  list: Float32Array,
  turn: readonly number[],
  origin: readonly number[],
  centre: readonly number[],
  out: Float32Array,
  first: number,
): void {
  const [a, b, c, d, e, f, g, h, i] = turn as [number, number, number, number, number, number, number, number, number];
  const [ox, oy, oz] = origin as [number, number, number],
    [cx, cy, cz] = centre as [number, number, number];
  for (let p = 0; p < list.length; p += 3) {
    const x = list[p]! - ox,
      y = list[p + 1]! - oy,
      z = list[p + 2]! - oz;
    out[first + p] = a * x + d * y + g * z - cx;
    out[first + p + 1] = b * x + e * y + h * z - cy;
    out[first + p + 2] = c * x + f * y + i * z - cz;
  }
}
