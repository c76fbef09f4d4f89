import { refuse } from '../../diagnosis';
import { sixMatrix } from '../../equations/laws/bushing';
import { beamStiffness } from '../../equations/beam-stiffness';
import { fromColumns, mul, norm, perpendicular, cross, sub, transpose, unit } from '../../geometry/vector';
import { quantity, refs } from '../../model/fields';
import { D, divide, dim } from '../../quantity/dimension';
import { betweenFrames } from './coinciding-frames';
import { load } from './load';

const BENDING = dim(3, 1, -2);

export const beam = load({
  kind: 'beam',
  label: 'Beam segment',
  tells: ['effort', 'deflection', 'rate'],
  handed: true,
  help: 'A straight elastic beam without mass between two bodies, clamped at both ends; it follows any rigid motion, its own bending stays small. Short and thick ones give way by shear as well. Several in a row make a slender part.',
  fields: {
    bodies: refs('bodies', 2, 2, 'Between', 'The two bodies it is clamped in.'),
    at: refs('points', 2, 2, 'Ends', 'Its ends, one fixed in each body, as drawn without load.'),
    axial: quantity(D.force, 'Axial stiffness EA', 'Modulus of elasticity times area.', { range: 'positive' }),
    bendingY: quantity(BENDING, 'Bending stiffness EI about y', 'For bending in its x-z plane.', { range: 'positive' }),
    bendingZ: quantity(BENDING, 'Bending stiffness EI about z', 'For bending in its x-y plane. Left out: as about y.', {
      optional: true,
      range: 'positive',
    }),
    torsion: quantity(divide(BENDING, D.angle), 'Torsional stiffness GJ', 'Shear modulus times torsion constant.', { range: 'positive' }),
    shear: quantity(
      D.force,
      'Shear stiffness κGA',
      'Shear modulus times area times its shear coefficient (5/6 of a rectangle). Left out: it gives way by bending alone, as slender parts do.',
      { optional: true, range: 'positive' },
    ),
    damping: quantity(D.time, 'Damping ratio to stiffness', 'Damping is this time multiplied by the stiffness.', {
      default: 0,
      range: 'not negative',
    }),
  },
  force(v, m) {
    const [pa, pb] = v.at as [string, string];
    const along = sub(m.point(pb), m.point(pa));
    const length = norm(along);
    if (length < 1e-9)
      refuse({ code: 'beam-no-length', message: `The ends “${pa}” and “${pb}” are at the same place, so the beam has no length.` });
    const x = unit(along);
    // its y axis is level where it can be: square to x and to ground z
    const y = Math.abs(x[2]) > 0.999 ? perpendicular(x) : unit(cross([0, 0, 1], x));
    const frame = fromColumns(x, y, cross(x, y));
    const inBody = (body: string) => mul(transpose(m.body(body).turn), frame);
    const K = beamStiffness({
      length,
      EA: v.axial,
      EIy: v.bendingY,
      EIz: v.bendingZ ?? v.bendingY,
      GJ: v.torsion,
      ...(v.shear === undefined ? {} : { shear: v.shear }),
    });
    const end = (k: 0 | 1) => {
      const body = v.bodies[k]!;
      return { body: m.index(body), at: m.place(v.at[k]!, body), frame: inBody(body) };
    };
    return betweenFrames(sixMatrix, end(0), end(1), [...K, ...K.map((k) => v.damping * k), length, 0, 0, 0, 0, 0]);
  },
  outline(v, m) {
    const end = (k: 0 | 1) => ({ body: m.index(v.bodies[k]!), at: m.place(v.at[k]!, v.bodies[k]!) });
    return { type: 'line', through: [end(0), end(1)] };
  },
});
