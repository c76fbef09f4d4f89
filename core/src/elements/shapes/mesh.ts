import { refuse } from '../../diagnosis';
import { place } from '../../geometry/mass';
import { moved, movedSurface } from '../../geometry/solid';
import { geometryNamed } from '../../geometry/store';
import { ref, text } from '../../model/fields';
import { SHAPE, shape } from './shape';

export const mesh = shape({
  kind: 'mesh',
  label: 'Imported geometry',
  handed: true,
  help: 'A part from a file. Its mass is that enclosed by its triangles; its coordinates are those of its body.',
  fields: {
    ...SHAPE,
    geometry: text('Geometry', 'Name of the stored geometry.', { stored: true }),
    at: ref('points', 'Origin at', 'Point to which the origin of its coordinates is shifted. Left out: the origin of its body.', {
      optional: true,
    }),
  },
  solid(v, drawing) {
    const g = geometryNamed(v.geometry);
    if (!g)
      return refuse({
        code: 'geometry-missing',
        message: `The geometry “${v.geometry}” is not here.`,
        remedy: 'Open the project file that was exported with it, or import the part again.',
      });
    const { origin, turn } = drawing.body(v.body);
    const shift = v.at === undefined ? origin : drawing.point(v.at);
    const { positions, indices } = g.mesh;
    return {
      // what is open has no inside
      ...(g.report.open + g.report.touching === 0 ? { forms: [{ form: { type: 'facets', positions, indices }, turn, shift }] } : {}),
      mass: place(g.mass, turn, shift),
      mesh: () => moved(g.mesh, turn, shift),
      surface: () => movedSurface(g.mesh, turn, shift),
    };
  },
});
