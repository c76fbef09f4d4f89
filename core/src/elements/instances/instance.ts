/** What the kinds of instances share. */
import { type Pose } from '../../model/layout';
import { type InstanceKind } from '../../model/instances';
import { assigned, choice, quantity, ref, text, vector } from '../../model/fields';
import type { Fields } from '../../model/fields';
import { type Mat3, type Vec3, IDENTITY, addM, fromRollPitchYaw, scaleM, unit } from '../../geometry/vector';
import { D } from '../../quantity/dimension';
import { cos, sin } from '../../quantity/elementary';

/** Declares a kind of instance. */
export const instance = <const F extends Fields>(k: Omit<InstanceKind<F>, 'family'>): InstanceKind<F> => ({ family: 'instances', ...k });

/** The kit, and what it is given. */
export const OF_KIT = {
  kit: ref('kits', 'Kit', 'The kit of which it is made.'),
  values: assigned(
    'parameters',
    'Values',
    'Values of the kit’s parameters here: `arm = 80 mm; gap = 2 mm`. Those left out are as in the kit.',
  ),
  on: assigned('mounts', 'Mounted on', 'Bodies for the kit’s mounts: `Root = Frame`. Those left out are fastened to the ground.'),
} as const;

export const STANDING = {
  at: vector(D.length, 'At', 'Where the kit’s origin is put.', { default: [0, 0, 0] }),
  rotation: vector(D.angle, 'Rotation', 'The kit turned about x, then y, then z.', { default: [0, 0, 0] }),
} as const;

export const COUNT = { count: quantity(D.none, 'Number', 'How many there are.', { range: 'positive', default: 3 }) } as const;

/** Joints between neighbours. */
export const JOINED = {
  joined: choice(
    { none: 'nothing', revolute: 'revolute', spherical: 'spherical', universal: 'universal', fixed: 'fixed' },
    'Neighbours joined by',
    'A joint between each member and the one before it, at the member’s origin; its axis is the member’s z.',
  ),
  link: text('Joined body', 'The body of the kit that is joined to its neighbours. Left out: its first.', {
    optional: true,
    when: { field: 'joined', is: ['revolute', 'spherical', 'universal', 'fixed'] },
  }),
} as const;

/** The motion that puts the axes of a kit at a place (m), turned by roll, pitch and yaw (rad). */
export const standing = (v: { at: Vec3; rotation: Vec3 }): Pose => ({ origin: v.at, turn: fromRollPitchYaw(v.rotation) });

/** Rotation about an axis by an angle (Rodrigues). */
export function turnAbout(axis: Vec3, angle: number): Mat3 {
  const [x, y, z] = unit(axis),
    c = cos(angle),
    s = sin(angle);
  const outer: Mat3 = [x * x, x * y, x * z, y * x, y * y, y * z, z * x, z * y, z * z];
  return addM(addM(scaleM(IDENTITY, c), scaleM(outer, 1 - c)), scaleM([0, -z, y, z, 0, -x, -y, x, 0], s));
}
