import { sixSprings } from '../../equations/laws/bushing';
import { ref, vector } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { load } from './load';
import { COINCIDING, betweenFrames, coincidingFrames } from './coinciding-frames';

const curve = (axis: string, torsion: boolean) =>
  ref(
    'tables',
    `${torsion ? 'Torque about' : 'Force along'} ${axis}`,
    `Table of ${torsion ? 'torque against angle' : 'force against deflection'}; counts instead of the stiffness.`,
    { optional: true },
  );

export const bushing = load({
  kind: 'bushing',
  label: 'Bushing',
  tells: ['effort', 'deflection', 'rate'],
  handed: true,
  help: 'An elastic connection between two bodies: stiffness and damping along and about three axes, right for large rotation.',
  fields: {
    ...COINCIDING,
    stiffness: vector(D.stiffness, 'Stiffness', 'Along its axes.', { default: [0, 0, 0] }),
    damping: vector(D.damping, 'Damping', 'Along its axes.', { default: [0, 0, 0] }),
    torsion: vector(D.torsionStiffness, 'Torsional stiffness', 'About its axes.', { default: [0, 0, 0] }),
    torsionDamping: vector(D.torsionDamping, 'Torsional damping', 'About its axes.', { default: [0, 0, 0] }),
    preload: vector(D.force, 'Preload', 'Force on the first body along its axes when undeflected.', { default: [0, 0, 0] }),
    torsionPreload: vector(D.torque, 'Torsional preload', 'Torque on the first body about its axes when undeflected.', {
      default: [0, 0, 0],
    }),
    curveX: curve('x', false),
    curveY: curve('y', false),
    curveZ: curve('z', false),
    curveAboutX: curve('x', true),
    curveAboutY: curve('y', true),
    curveAboutZ: curve('z', true),
  },
  force(v, m) {
    const { a, b } = coincidingFrames(v, m);
    const curves = [v.curveX, v.curveY, v.curveZ, v.curveAboutX, v.curveAboutY, v.curveAboutZ];
    const rates = [...v.stiffness, ...v.torsion],
      preloads = [...v.preload, ...v.torsionPreload];
    const tables = curves.map((name, k) =>
      name === undefined ? undefined : k < 3 ? m.table(name, D.length, D.force) : m.table(name, D.angle, D.torque),
    );
    return betweenFrames(sixSprings(tables), a, b, [...rates, ...preloads, ...v.damping, ...v.torsionDamping]);
  },
  outline: (v, m) => ({ type: 'none', at: { body: m.index(v.bodies[0]!), at: m.place(v.at[0]!, v.bodies[0]!) } }),
});
