import { refuse } from '../../diagnosis';
import { TurnAboutAxis } from '../../equations/constraints';
import { Freedom } from '../../equations/freedom';
import { type Gear, bevelGears, parallelGears } from '../../equations/teeth';
import { type Mat3, type Vec3, add, apply, applyT, column, cross, dot, mul, norm, scale, sub, transpose } from '../../geometry/vector';
import { choice, quantity, ref, refs } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { tan } from '../../quantity/elementary';
import type { Assembly, CouplingKind } from '../declarations';

const FIELDS = {
  joints: refs('joints', 2, 2, 'Bearings', 'The pin of the first gear, then that of the second.'),
  teeth: quantity(D.none, 'Teeth of first', 'Or its pitch radius: only the ratio counts.', { range: 'positive' }),
  otherTeeth: quantity(D.none, 'Teeth of second', 'In the same measure.', { range: 'positive' }),
  mesh: choice(
    { external: 'external', internal: 'internal', bevel: 'bevel' },
    'Mesh',
    'Internal: the one with more teeth is a ring. Bevel: the axes meet.',
  ),
  carrier: ref('bodies', 'Carrier', 'The body that holds both axes. Left out: the body both bearings share.', { optional: true }),
  at: ref('points', 'Pitch point', 'Where bevel teeth meet, on both pitch cones, as drawn.', { when: { field: 'mesh', is: ['bevel'] } }),
  pressure: quantity(D.angle, 'Pressure angle', 'Of the teeth; it presses the gears apart.', { default: '20 deg', range: 'not negative' }),
  helix: quantity(D.angle, 'Helix angle', 'Of the first gear’s teeth, right-hand positive; it pushes along the axes.', {
    default: 0,
    when: { field: 'mesh', is: ['external', 'internal'] },
  }),
} as const;

/** A gear with its axis and place as drawn. */
interface Drawn extends Gear {
  name: string;
  z: Vec3;
  place: Vec3;
}

function gearOf(m: Assembly, joint: string, carrier: string): Drawn {
  const j = m.joint(joint);
  if (!j.freedoms.has('rotation'))
    refuse({ code: 'gear-bearing', message: `The joint “${joint}” does not turn.`, remedy: 'Choose the pin on which the gear turns.' });
  const second = j.bodies[1] !== carrier;
  const name = j.bodies[second ? 1 : 0],
    body = second ? j.sides.b : j.sides.a;
  const frame: Mat3 = second ? j.sides.fb : j.sides.fa,
    at = second ? j.sides.sb : j.sides.sa;
  const pose = m.body(name);
  return {
    name,
    body,
    centre: at,
    axis: column(frame, 2),
    z: apply(pose.turn, column(frame, 2)),
    place: add(pose.origin, apply(pose.turn, sub(at, m.home(name)))),
  };
}

export const gearPair: CouplingKind<typeof FIELDS> = {
  family: 'couplings',
  kind: 'gear-pair',
  label: 'Gear pair',
  handed: true,
  help: 'Two gears in mesh, with the tooth forces their bearings feel. Also in a planetary gear: the carrier is then the arm.',
  fields: FIELDS,
  relation(v, m) {
    const [one, two] = v.joints as [string, string];
    const shared = m.joint(one).bodies.filter((b) => m.joint(two).bodies.includes(b));
    const carrier =
      v.carrier ??
      shared[0] ??
      refuse({ code: 'gear-carrier', message: 'The two bearings share no body that could hold both axes.', remedy: 'Name the carrier.' });
    const gears = [gearOf(m, one, carrier), gearOf(m, two, carrier)] as const;
    if (gears[0].name === gears[1].name || gears.some((g) => g.name === carrier))
      refuse({ code: 'gear-bodies', message: 'The two gears and the carrier must be three bodies.' });
    // the turning of each gear against the carrier
    const [c, turn] = [m.index(carrier), m.body(carrier).turn];
    const freedoms = gears.map((g, k) => {
      const j = m.joint(v.joints[k]!);
      const frame = j.bodies[1] === g.name ? j.sides.fb : j.sides.fa;
      const inCarrier = mul(transpose(turn), mul(m.body(g.name).turn, frame));
      return new Freedom(
        'rotation',
        new TurnAboutAxis(c, column(inCarrier, 0), column(inCarrier, 1), g.body, column(frame, 0), {
          f: 0,
          f1: 0,
          f2: 0,
          at() {},
        }),
      );
    }) as [Freedom, Freedom];
    const parallel = norm(cross(gears[0].z, gears[1].z)) < 1e-6;
    if (parallel === (v.mesh === 'bevel'))
      refuse({
        code: 'gear-axes',
        message: v.mesh === 'bevel' ? 'The axes are parallel: these are not bevel gears.' : 'The axes are not parallel.',
        remedy: v.mesh === 'bevel' ? 'Choose an external or internal mesh.' : 'Choose a bevel mesh.',
      });
    // which way the second turns when the first turns forward: both pitch points move alike
    let factors: readonly [number, number];
    let meshing;
    if (v.mesh === 'bevel') {
      const P = m.point(v.at!);
      const speeds = gears.map((g) => cross(g.z, sub(P, g.place)));
      const radii = speeds.map(norm);
      if (Math.abs(radii[0]! * v.otherTeeth - radii[1]! * v.teeth) > 0.01 * radii[1]! * v.teeth)
        refuse({
          code: 'gear-ratio',
          message: `The pitch point “${v.at!}” lies ${(radii[0]! / radii[1]!).toPrecision(4)} times as far from the first axis as from the second; the teeth say ${(v.teeth / v.otherTeeth).toPrecision(4)}.`,
          remedy: 'Move the point onto both pitch cones, or correct the teeth.',
        });
      const sense = Math.sign(dot(speeds[0]!, speeds[1]!));
      factors = [v.teeth, -sense * v.otherTeeth];
      const inCarrier = (p: Vec3) => sub(applyT(turn, sub(p, m.body(carrier).origin)), scale(m.home(carrier), -1));
      meshing = bevelGears(gears[0], gears[1], c, inCarrier(P), inCarrier(meetingPoint(gears[0], gears[1])));
    } else {
      if (v.mesh === 'internal' && v.teeth === v.otherTeeth)
        refuse({ code: 'gear-ratio', message: 'A ring and its pinion cannot have the same number of teeth.' });
      const sense = Math.sign(dot(gears[0].z, gears[1].z)) * (v.mesh === 'internal' ? 1 : -1);
      factors = [v.teeth, -sense * v.otherTeeth];
      meshing = parallelGears(gears[0], gears[1], [v.teeth, v.otherTeeth], v.mesh === 'internal');
    }
    return {
      terms: freedoms.map((freedom, k) => ({ joint: v.joints[k]!, freedom, factor: factors[k as 0] / v.teeth })),
      teeth: { meshing, pressure: tan(v.pressure), helix: tan(v.helix ?? 0) },
    };
  },
};

/** Where two axes meet, or are nearest. */
function meetingPoint(a: Drawn, b: Drawn): Vec3 {
  const w = sub(b.place, a.place),
    n = cross(a.z, b.z);
  const s = dot(cross(w, b.z), n) / dot(n, n),
    t = dot(cross(w, a.z), n) / dot(n, n);
  return scale(add(add(a.place, scale(a.z, s)), add(b.place, scale(b.z, t))), 0.5);
}
