import { refuse } from '../../diagnosis';
import { elasticBeam } from '../../equations/laws/beam';
import { type BeamEnd, beamMass, rotaryInertia } from '../../equations/beam-mass';
import { type Vec3, column, fromColumns, mul, norm, perpendicular, cross, sub, transpose, unit } from '../../geometry/vector';
import { quantity, refs } from '../../model/fields';
import { D } from '../../quantity/dimension';
import type { Assembly } from '../declarations';
import { betweenFrames } from './coinciding-frames';
import { load } from './load';

/** Its length, and its ends: x along it, y level where it can be, square to x and to ground z. */
function ends(
  { bodies, at: [pa, pb] }: { bodies: readonly string[]; at: readonly string[] },
  m: Assembly,
): [length: number, a: BeamEnd, b: BeamEnd] {
  const along = sub(m.point(pb!), m.point(pa!)),
    length = norm(along);
  if (length < 1e-9)
    refuse({ code: 'beam-no-length', message: `The ends “${pa}” and “${pb}” are at the same place, so the beam has no length.` });
  const x = unit(along),
    y = Math.abs(x[2]) > 0.999 ? perpendicular(x) : unit(cross([0, 0, 1], x)),
    frame = fromColumns(x, y, cross(x, y));
  const end = (body: string, point: string): BeamEnd => ({
    body: m.index(body),
    at: m.place(point, body),
    frame: mul(transpose(m.body(body).turn), frame),
  });
  return [length, end(bodies[0]!, pa!), end(bodies[1]!, pb!)];
}

export const beam = load({
  kind: 'beam',
  label: 'Beam segment',
  tells: ['effort', 'deflection', 'rate'],
  handed: true,
  help:
    'A straight elastic beam between two bodies, clamped at both ends; it follows any rigid motion, its own bending stays small. ' +
    'Several in a row make a slender part; with mass per length the bodies between them need none.',
  fields: {
    bodies: refs('bodies', 2, 2, 'Between', 'The two bodies it is clamped in.'),
    at: refs('points', 2, 2, 'Ends', 'Its ends, one fixed in each body, as drawn without load.'),
    axial: quantity(D.force, 'Axial stiffness EA', 'Modulus of elasticity times area.', { range: 'positive' }),
    bendingY: quantity(D.bendingStiffness, 'Bending stiffness EI about y', 'For bending in its x-z plane.', { range: 'positive' }),
    bendingZ: quantity(D.bendingStiffness, 'Bending stiffness EI about z', 'For bending in its x-y plane. Left out: as about y.', {
      optional: true,
      range: 'positive',
    }),
    torsion: quantity(D.twistingStiffness, 'Torsional stiffness GJ', 'Shear modulus times torsion constant.', { range: 'positive' }),
    shear: quantity(
      D.force,
      'Shear stiffness κGA',
      'Shear modulus times area times its shear coefficient (5/6 of a rectangle). Left out: it gives way by bending alone, as slender parts do.',
      { optional: true, range: 'positive' },
    ),
    mass: quantity(D.massPerLength, 'Mass per length', 'Of the beam itself. Left out: it has none, and the bodies have it all.', {
      optional: true,
      range: 'positive',
    }),
    rotary: quantity(
      D.inertiaPerLength,
      'Moment of inertia per length',
      'Of its section about its axis, times density. Left out: of an even section, mass per length times (EIy + EIz)/EA.',
      { optional: true, range: 'positive' },
    ),
    damping: quantity(D.time, 'Damping ratio to stiffness', 'Damping is this time multiplied by the stiffness.', {
      default: 0,
      range: 'not negative',
    }),
  },
  massBy: 'mass',
  force(v, m) {
    const [length, a, b] = ends(v, m);
    const plane = (EI: number): [k: number, shear: number] => {
      const soft = v.shear === undefined ? 0 : (12 * EI) / (v.shear * length * length);
      return [EI / (length * (1 + soft)), soft];
    };
    const planes = [plane(v.bendingZ ?? v.bendingY), plane(v.bendingY)].flat();
    return betweenFrames(elasticBeam, a, b, [length, v.axial / length, v.torsion / length, ...planes, v.damping]);
  },
  carries(v, m) {
    const [length, a, b] = ends(v, m),
      [y, z] = [v.bendingY, v.bendingZ ?? v.bendingY],
      mass = v.mass! * length,
      polar = v.rotary === undefined ? (mass * (y + z)) / v.axial : v.rotary * length,
      about: Vec3 = [polar, (polar * y) / (y + z), (polar * z) / (y + z)],
      shear = v.shear === undefined ? 0 : (6 * (y + z)) / (v.shear * length * length);
    return {
      masses: beamMass(mass, length, shear, a, b),
      rotary: [a, b].map(({ body, frame }) => ({ body, inertia: rotaryInertia(about, frame) })),
    };
  },
  outline(v, m) {
    const [, a, b] = ends(v, m);
    return {
      type: 'bent',
      from: { body: a.body, at: a.at },
      to: { body: b.body, at: b.at },
      along: [column(a.frame, 0), column(b.frame, 0)],
    };
  },
});
