import { refuse } from '../../diagnosis';
import { rackAndPinion } from '../../equations/teeth';
import { column } from '../../geometry/vector';
import { quantity, ref } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { tan } from '../../quantity/elementary';
import type { CouplingKind } from '../declarations';
import { freedomOf } from '../freedoms';

const FIELDS = {
  pinion: ref('joints', 'Pinion’s pin', 'The pin on which the pinion turns.'),
  rack: ref('joints', 'Rack’s slide', 'The slide in which the rack moves, square to the pin.'),
  radius: quantity(
    D.length,
    'Pitch radius',
    'Travel per angle of the pinion; negative when the rack lies on the other side of the pinion.',
  ),
  pressure: quantity(D.angle, 'Pressure angle', 'Of the teeth; it presses rack and pinion apart.', {
    default: '20 deg',
    range: 'not negative',
  }),
} as const;

export const rack: CouplingKind<typeof FIELDS> = {
  family: 'couplings',
  kind: 'rack',
  label: 'Rack and pinion',
  handed: true,
  help: 'A pinion in mesh with a rack, with the tooth forces their bearings feel.',
  fields: FIELDS,
  relation(v, m) {
    if (v.radius === 0) refuse({ code: 'rack-radius', message: 'The pitch radius is zero.' });
    const [p, s] = [m.joint(v.pinion), m.joint(v.rack)];
    const turning = freedomOf(p, 'rotation', 'for a pinion'),
      travel = freedomOf(s, 'translation', 'for a rack');
    return {
      terms: [
        { joint: v.pinion, freedom: turning, factor: -v.radius },
        { joint: v.rack, freedom: travel, factor: 1 },
      ],
      teeth: {
        meshing: rackAndPinion(
          { body: p.sides.b, centre: p.sides.sb, axis: column(p.sides.fb, 2) },
          { body: s.sides.b, centre: s.sides.sb, axis: column(s.sides.fb, 2) },
          v.radius,
        ),
        pressure: tan(v.pressure),
        helix: 0,
      },
    };
  },
};
