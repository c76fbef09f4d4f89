import { refuse } from '../../diagnosis';
import { polygon } from '../../geometry/outline';
import { revolved } from '../../geometry/sweeps';
import { column, fromColumns } from '../../geometry/vector';
import { PROFILE, cornersOf, frameOf } from './profile';
import { shape } from './shape';

export const revolvedProfile = shape({
  kind: 'revolved',
  label: 'Revolved profile',
  help: 'An outline of your own, revolved about its y axis: x is the radius.',
  fields: PROFILE,
  solid(v, drawing) {
    const corners = cornersOf(v);
    if (corners.some(([x]) => x < 0))
      refuse({ code: 'profile-axis', message: 'The outline reaches over its axis: x is a radius and cannot be negative.' });
    const f = frameOf(v, drawing);
    return revolved(polygon(corners), fromColumns(column(f, 2), column(f, 0), column(f, 1)), drawing.point(v.at));
  },
});
