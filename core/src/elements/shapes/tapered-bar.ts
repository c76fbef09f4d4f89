import { refuse } from '../../diagnosis';
import { circle, type Outline } from '../../geometry/outline';
import { extruded } from '../../geometry/sweeps';
import { add, apply, cross, dot, fromColumns, norm, perpendicular, scale, sub, unit } from '../../geometry/vector';
import { acos, cos, sin } from '../../quantity/elementary';
import { quantity, ref, vector } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { SHAPE, shape } from './shape';

/** Two round ends joined by their outer tangents. */
function outlineOf(length: number, r: number, s: number): Outline {
  const a = acos((r - s) / length); // from the bar's direction to the points of contact
  const at = (x: number, radius: number, angle: number): [number, number] => [x + radius * cos(angle), radius * sin(angle)];
  const turn = 6.283185307179586;
  return [
    { type: 'arc', centre: [0, 0], radius: r, from: a, to: turn - a },
    { type: 'line', from: at(0, r, -a), to: at(length, s, -a) },
    { type: 'arc', centre: [length, 0], radius: s, from: -a, to: a },
    { type: 'line', from: at(length, s, a), to: at(0, r, a) },
  ];
}

export const taperedBar = shape({
  kind: 'tapered-bar',
  label: 'Tapered bar',
  help: 'A flat bar with round ends of different widths, its sides tangent to both; with a hole at each end where a diameter is given.',
  fields: {
    ...SHAPE,
    from: ref('points', 'From', 'Centre of one end.'),
    to: ref('points', 'To', 'Centre of the other end.'),
    width: quantity(D.length, 'Width at first', 'Diameter of the first end.', { range: 'positive', default: '30 mm' }),
    end: quantity(D.length, 'Width at second', 'Diameter of the second end.', { range: 'positive', default: '16 mm' }),
    thickness: quantity(D.length, 'Thickness', 'Along the pins.', { range: 'positive', default: '8 mm' }),
    hole: quantity(D.length, 'Hole diameter', 'Of a hole at each end; zero for none.', { range: 'not negative', default: 0 }),
    flat: vector(D.none, 'Pin direction', 'Direction of the thickness, in the body’s axes.', { direction: true, default: [0, 1, 0] }),
  },
  solid(v, drawing) {
    const [a, b] = [drawing.point(v.from), drawing.point(v.to)];
    const length = norm(sub(b, a));
    if (length <= Math.abs(v.width - v.end) / 2)
      refuse({
        code: 'shape-flat',
        message: 'One round end lies wholly inside the other.',
        remedy: 'Move the ends apart, or use a cylinder.',
      });
    if (v.hole >= Math.min(v.width, v.end)) refuse({ code: 'shape-sizes', message: 'The hole is as wide as the bar’s end.' });
    const x = unit(sub(b, a)),
      flat = apply(drawing.body(v.body).turn, v.flat);
    const across = sub(flat, scale(x, dot(flat, x)));
    const z = norm(across) > 1e-9 * norm(flat) ? unit(across) : perpendicular(x);
    const holes = v.hole > 0 ? [circle([0, 0], v.hole / 2), circle([length, 0], v.hole / 2)] : [];
    return extruded(outlineOf(length, v.width / 2, v.end / 2), holes, v.thickness, fromColumns(x, cross(z, x), z), add(a, [0, 0, 0]));
  },
});
