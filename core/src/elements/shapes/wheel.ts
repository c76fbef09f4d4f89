import { polygon } from '../../geometry/outline';
import { revolved } from '../../geometry/sweeps';
import { quantity } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { ON_CENTRE, frameOn, inside } from './axis';
import { shape } from './shape';

const size = (label: string, help: string, fallback?: string) =>
  quantity(D.length, label, help, { range: 'positive', ...(fallback ? { default: fallback } : {}) });

export const wheel = shape({
  kind: 'wheel',
  label: 'Wheel',
  help: 'A rim, a web and a hub with a bore, turned from one piece.',
  fields: {
    ...ON_CENTRE,
    radius: size('Radius', 'Outer radius of the rim.'),
    rim: size('Rim thickness', 'Radially.'),
    width: size('Rim width', 'Along the axle.'),
    web: size('Web thickness', 'Along the axle.'),
    hub: size('Hub radius', 'Outer radius of the hub.'),
    hubWidth: size('Hub width', 'Along the axle.'),
    bore: quantity(D.length, 'Bore radius', 'Zero for none.', { range: 'not negative', default: 0 }),
  },
  solid(v, drawing) {
    const inner = v.radius - v.rim;
    inside(v.hub, inner, 'The hub', 'the inside of the rim');
    inside(v.bore, v.hub, 'The bore', 'the hub');
    inside(v.web, Math.min(v.width, v.hubWidth) * (1 + 1e-12), 'The web', 'the rim and the hub');
    const [w, t, h] = [v.width / 2, v.web / 2, v.hubWidth / 2];
    return revolved(
      polygon([
        [v.bore, -h],
        [v.hub, -h],
        [v.hub, -t],
        [inner, -t],
        [inner, -w],
        [v.radius, -w],
        [v.radius, w],
        [inner, w],
        [inner, t],
        [v.hub, t],
        [v.hub, h],
        [v.bore, h],
      ]),
      frameOn(v, drawing),
      drawing.point(v.centre),
    );
  },
});
