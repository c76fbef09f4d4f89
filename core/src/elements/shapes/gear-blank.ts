import { polygon } from '../../geometry/outline';
import { revolved } from '../../geometry/sweeps';
import { quantity } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { ON_CENTRE, frameOn, inside } from './axis';
import { shape } from './shape';

export const gearBlank = shape({
  kind: 'gear-blank',
  label: 'Gear blank',
  help: 'A spur gear as a disc of its pitch radius, half module times teeth: teeth and gaps even out.',
  fields: {
    ...ON_CENTRE,
    module: quantity(D.length, 'Module', 'Pitch diameter per tooth (ISO 54).', { range: 'positive', default: '2 mm' }),
    teeth: quantity(D.none, 'Teeth', 'Number of teeth.', { range: 'positive' }),
    width: quantity(D.length, 'Face width', 'Along the axis.', { range: 'positive' }),
    bore: quantity(D.length, 'Bore radius', 'Zero for none.', { range: 'not negative', default: 0 }),
  },
  solid(v, drawing) {
    const r = (v.module * v.teeth) / 2,
      h = v.width / 2;
    inside(v.bore, r, 'The bore', 'the pitch radius');
    return revolved(
      polygon([
        [v.bore, -h],
        [r, -h],
        [r, h],
        [v.bore, h],
      ]),
      frameOn(v, drawing),
      drawing.point(v.centre),
    );
  },
});
