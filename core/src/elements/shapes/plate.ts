import { refuse } from '../../diagnosis';
import { type Vec3, cross, dot, fromColumns, norm, sub, unit } from '../../geometry/vector';
import { circle, polygon } from '../../geometry/outline';
import { extruded } from '../../geometry/sweeps';
import { quantity, refs } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { SHAPE, shape } from './shape';

/** Area vector of a closed polygon (Newell's method). */
function areaVector(corners: readonly Vec3[]): Vec3 {
  return corners.reduce<Vec3>(
    (s, a, k) => {
      const c = cross(sub(a, corners[0]!), sub(corners[(k + 1) % corners.length]!, corners[0]!));
      return [s[0] + c[0] / 2, s[1] + c[1] / 2, s[2] + c[2] / 2];
    },
    [0, 0, 0],
  );
}

export const plate = shape({
  kind: 'plate',
  label: 'Plate',
  help: 'A flat plate with its corners at points, the thickness half to each side.',
  fields: {
    ...SHAPE,
    corners: refs('points', 3, 200, 'Corners', 'Points round the outline, in order, all in one plane.'),
    holes: refs('points', 1, 200, 'Holes', 'Points round which holes go through; they lie inside the outline.', { optional: true }),
    bore: quantity(D.length, 'Hole diameter', 'Diameter of the holes.', { range: 'not negative', default: 0 }),
    thickness: quantity(D.length, 'Thickness', 'Thickness of the plate.', { range: 'positive', default: '8 mm' }),
  },
  solid(v, drawing) {
    const corners = v.corners.map((c) => drawing.point(c));
    const size = Math.max(...corners.map((c) => norm(sub(c, corners[0]!))));
    const area = areaVector(corners);
    if (norm(area) < 1e-9 * size * size) refuse({ code: 'shape-flat', message: 'The corners of the plate lie on one line.' });
    const z = unit(area);
    const away = corners.findIndex((c) => Math.abs(dot(sub(c, corners[0]!), z)) > 1e-6 * size);
    if (away >= 0) refuse({ code: 'shape-not-plane', message: `Corner “${v.corners[away]}” is not in the plane of the others.` });
    const x = unit(sub(corners[1]!, corners[0]!));
    const y = cross(z, x);
    const local = corners.map((c) => [dot(sub(c, corners[0]!), x), dot(sub(c, corners[0]!), y)] as const);
    const holes = (v.holes ?? []).map((h) => {
      const p = sub(drawing.point(h), corners[0]!);
      return circle([dot(p, x), dot(p, y)], v.bore / 2);
    });
    if (holes.length > 0 && v.bore === 0) refuse({ code: 'shape-sizes', message: 'The holes have no diameter.' });
    return extruded(polygon(local), holes, v.thickness, fromColumns(x, y, z), corners[0]!);
  },
});
