import { Bushing } from '../../equations/bushing';
import { IDENTITY, mul, transpose, triad } from '../../geometry/vector';
import { refs, vector } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { load } from './load';

export const bushing = load({
  kind: 'bushing', label: 'Bushing',
  help: 'An elastic mount between two bodies: stiffness and damping along and about three axes, right for large rotation.',
  fields: {
    bodies: refs('bodies', 2, 2, 'Between', 'The two bodies; the axes are fixed in the first.'),
    at: refs('points', 1, 2, 'At', 'The point where both meet unloaded; or two points, one in each body.'),
    axis: vector(D.none, 'Its z axis', 'Direction of the third of its axes as drawn, ground axes. With z upwards its x and y are those of the ground.', { direction: true, default: [0, 0, 1] }),
    stiffness: vector(D.stiffness, 'Stiffness', 'Along its axes.', { default: [0, 0, 0] }),
    damping: vector(D.damping, 'Damping', 'Along its axes.', { default: [0, 0, 0] }),
    torsion: vector(D.torsionStiffness, 'Torsional stiffness', 'About its axes.', { default: [0, 0, 0] }),
    torsionDamping: vector(D.torsionDamping, 'Torsional damping', 'About its axes.', { default: [0, 0, 0] }),
    preload: vector(D.force, 'Preload', 'Force on the first body along its axes when undeflected.', { default: [0, 0, 0] }),
  },
  force(v, m) {
    const [first, second] = v.bodies as [string, string];
    const [pa, pb] = v.at as [string, string?];
    const upright = v.axis[0] === 0 && v.axis[1] === 0 && v.axis[2] > 0;
    const frame = upright ? IDENTITY : triad(v.axis);
    const inBody = (body: string) => mul(transpose(m.body(body).turn), frame);
    return new Bushing(m.index(first), m.place(pa, first), inBody(first), m.index(second), m.place(pb ?? pa, second), inBody(second), v.stiffness, v.damping, v.torsion, v.torsionDamping, v.preload);
  },
  outline: (v, m) => ({ type: 'none', at: { body: m.index(v.bodies[0]!), at: m.place(v.at[0]!, v.bodies[0]!) } }),
});
