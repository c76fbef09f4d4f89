/** What the scene needs of a mechanism, with every mesh in the axes of its body. */
import type { JointSides, Mechanism } from '@vim-pivot/core';
import type { DrawnJoint, DrawnPoint, DrawnShape, Picture, Side } from './protocol';

type Row9 = readonly number[];

export function draw(m: Mechanism, start: Float64Array): Picture {
  const index = (i: number) => (i === m.bodies.length ? -1 : i);
  const at = new Map(m.bodies.map((b, i) => [b.name, i]));
  const colours = new Map([...m.resolution.elements.bodies, ...m.resolution.elements.shapes].map((e) => [`${e.family}/${e.name}`, (e.values as { colour?: string }).colour]));
  const shapes = m.shapes.map((s): DrawnShape => {
    const i = at.get(s.body) ?? -1;
    const b = m.bodies[i];
    const colour = colours.get(`shapes/${s.name}`);
    return {
      name: s.name, body: i, indices: s.mesh.indices, ...(colour ? { colour } : {}),
      positions: b ? inBody(s.mesh.positions, b.turn, b.origin, b.centre) : s.mesh.positions,
      normals: b ? inBody(s.mesh.normals, b.turn, [0, 0, 0], [0, 0, 0]) : s.mesh.normals,
    };
  });
  const points = m.resolution.elements.points.map((p): DrawnPoint => {
    const body = (p.values as { body?: string }).body ?? m.model.ground;
    return { name: p.name, body: at.get(body) ?? -1, at: [...m.assembly.place(p.name, body)] };
  });
  const driven = new Set(m.drives.flatMap((d) => (d.joint ? [d.joint.name] : [])));
  // A joint is drawn where it is on its first body; a sliding one on its second, with which it travels.
  const joints = m.joints.map((j): DrawnJoint => ({
    name: j.name, kind: j.kind.kind, a: index(j.sides.a), b: index(j.sides.b), sides: [side(j.sides, 'a', index), side(j.sides, 'b', index)],
    place: j.freedoms.has('translation') ? { body: index(j.sides.b), at: [...j.sides.sb] } : { body: index(j.sides.a), at: [...j.sides.sa] }, axis: [j.sides.fa[2], j.sides.fa[5], j.sides.fa[8]], driven: driven.has(j.name),
  }));
  return { bodies: m.bodies.map((b) => b.name), colours: m.bodies.map((b) => colours.get(`bodies/${b.name}`)), centres: m.bodies.map((b) => [...b.centre]), points, shapes, joints, outlines: m.outlines.map((o) => ({ ...o })), posture: start.slice(0, 7 * m.bodies.length), size: m.size };
}

/** One side of a joint for its symbol: the frame's x leads along a further direction where the joint has one. */
function side(s: JointSides, on: 'a' | 'b', index: (i: number) => number): Side {
  const f = on === 'a' ? s.fa : s.fb;
  if (on === 'a' || !s.second) return { body: index(s[on]), at: on === 'a' ? [...s.sa] : [...s.sb], frame: [...f] };
  const [x, y, z] = s.second, [a, b, c] = [f[2], f[5], f[8]];
  return { body: index(s.b), at: [...s.sb], frame: [x, b * z - c * y, a, y, c * x - a * z, b, z, a * y - b * x, c] };
}

/** Points in ground axes as drawn, to the axes of a body: turnᵀ (p − origin) − centre. */
function inBody(list: Float32Array, turn: Row9, origin: readonly number[], centre: readonly number[]): Float32Array {
  const out = new Float32Array(list.length);
  for (let p = 0; p < list.length; p += 3) {
    const x = list[p]! - origin[0]!, y = list[p + 1]! - origin[1]!, z = list[p + 2]! - origin[2]!;
    for (let k = 0; k < 3; k++) out[p + k] = turn[k]! * x + turn[3 + k]! * y + turn[6 + k]! * z - centre[k]!;
  }
  return out;
}
