import { polygon } from '../../geometry/outline';
import { extruded } from '../../geometry/sweeps';
import { quantity } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { PROFILE, cornersOf, frameOf } from './profile';
import { shape } from './shape';

export const extrudedProfile = shape({
  kind: 'extruded',
  label: 'Extruded profile',
  help: 'An outline of your own, extruded half to each side of its plane.',
  fields: { ...PROFILE, thickness: quantity(D.length, 'Thickness', 'Along the normal.', { range: 'positive', default: '10 mm' }) },
  solid: (v, drawing) => extruded(polygon(cornersOf(v)), [], v.thickness, frameOf(v, drawing), drawing.point(v.at)),
});
