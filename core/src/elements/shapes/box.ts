import { box as boxSolid } from '../../geometry/solid';
import { place } from '../../geometry/mass';
import { apply } from '../../geometry/vector';
import { quantity, ref } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { SHAPE, shape } from './shape';

export const box = shape({
  kind: 'box', label: 'Box',
  help: 'A box round a point, its edges along the axes of its body.',
  fields: {
    ...SHAPE,
    centre: ref('points', 'Centre', 'Middle of the box.'),
    length: quantity(D.length, 'Length x', 'Along the body’s x.', { range: 'positive' }),
    depth: quantity(D.length, 'Depth y', 'Along the body’s y.', { range: 'positive' }),
    height: quantity(D.length, 'Height z', 'Along the body’s z.', { range: 'positive' }),
  },
  solid(v, drawing) {
    const centre = drawing.point(v.centre);
    const { turn } = drawing.body(v.body);
    const s = boxSolid([0, 0, 0], [v.length, v.depth, v.height]);
    const move = (list: Float32Array, shift: readonly number[]) => {
      const out = new Float32Array(list.length);
      for (let i = 0; i < list.length; i += 3) {
        const p = apply(turn, [list[i]!, list[i + 1]!, list[i + 2]!]);
        for (let k = 0; k < 3; k++) out[i + k] = p[k as 0 | 1 | 2] + shift[k]!;
      }
      return out;
    };
    return {
      mass: place(s.mass, turn, centre),
      mesh: { positions: move(s.mesh.positions, centre), normals: move(s.mesh.normals, [0, 0, 0]), indices: s.mesh.indices },
    };
  },
});
