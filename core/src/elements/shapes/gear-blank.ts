import { polygon } from '../../geometry/outline';
import { revolved } from '../../geometry/sweeps';
import { apply, triad } from '../../geometry/vector';
import { quantity, ref, vector } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { inside } from './axis';
import { SHAPE, shape } from './shape';

export const gearBlank = shape({
  kind: 'gear-blank', label: 'Gear blank',
  help: 'A spur gear as a disc of its pitch radius, half module times teeth: teeth and gaps even out.',
  fields: {
    ...SHAPE,
    centre: ref('points', 'Centre', 'Middle of the gear.'),
    axis: vector(D.none, 'Axis', 'Direction of its axis, in the body’s axes.', { direction: true, default: [0, 1, 0] }),
    module: quantity(D.length, 'Module', 'Pitch diameter per tooth (ISO 54).', { range: 'positive', default: '2 mm' }),
    teeth: quantity(D.none, 'Teeth', 'Number of teeth.', { range: 'positive' }),
    width: quantity(D.length, 'Face width', 'Along the axis.', { range: 'positive' }),
    bore: quantity(D.length, 'Bore radius', 'Zero for none.', { range: 'not negative', default: 0 }),
  },
  solid(v, drawing) {
    const r = (v.module * v.teeth) / 2, h = v.width / 2;
    inside(v.bore, r, 'The bore', 'the pitch radius');
    return revolved(polygon([[v.bore, -h], [r, -h], [r, h], [v.bore, h]]), triad(apply(drawing.body(v.body).turn, v.axis)), drawing.point(v.centre));
  },
});
