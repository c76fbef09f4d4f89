import { refuse } from '../../diagnosis';
import { combine } from '../../geometry/mass';
import { type Mesh, type Solid, cylinder, sideBySide, sphere } from '../../geometry/solid';
import { norm, sub } from '../../geometry/vector';
import { quantity, refs } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { SHAPE, shape } from './shape';

export const wire = shape({
  kind: 'wire',
  label: 'Wire',
  help: 'A round wire or rod bent through points. Its mass is that of straight pieces from point to point, each corner counted once.',
  fields: {
    ...SHAPE,
    through: refs('points', 2, 500, 'Through', 'Points along the wire, in order.'),
    radius: quantity(D.length, 'Wire radius', 'Radius of the wire.', { range: 'positive', default: '3 mm' }),
  },
  solid(v, drawing) {
    const spots = v.through.map((p) => drawing.point(p));
    const pieces: Solid[] = spots.slice(1).map((p, k) => {
      if (norm(sub(p, spots[k]!)) < 1e-9)
        refuse({ code: 'shape-flat', message: `“${v.through[k]}” and “${v.through[k + 1]}” are the same place.` });
      return cylinder(spots[k]!, p, v.radius);
    });
    const elbows = spots.slice(1, -1).map((p) => sphere(p, v.radius));
    return {
      mass: combine(pieces.map((p) => p.mass)),
      mesh: (round = 16) => joined([...pieces, ...elbows].map((p) => p.mesh(round))),
      surface: (round) => sideBySide([...pieces, ...elbows].map((p) => p.surface(round))),
      forms: [...pieces, ...elbows].flatMap((p) => p.forms ?? []),
    };
  },
});

/** Several meshes as one. */
function joined(list: readonly Mesh[]): Mesh {
  const total = (f: (m: Mesh) => number) => list.reduce((s, m) => s + f(m), 0);
  const out: Mesh = {
    positions: new Float32Array(total((m) => m.positions.length)),
    normals: new Float32Array(total((m) => m.normals.length)),
    indices: new Uint32Array(total((m) => m.indices.length)),
    edges: new Uint32Array(total((m) => m.edges.length)),
  };
  let v = 0,
    t = 0,
    e = 0;
  for (const m of list) {
    out.positions.set(m.positions, v);
    out.normals.set(m.normals, v);
    for (const i of m.indices) out.indices[t++] = i + v / 3;
    for (const i of m.edges) out.edges[e++] = i + v / 3;
    v += m.positions.length;
  }
  return out;
}
