import { choice, ref } from '../../model/fields';
import { D } from '../../quantity/dimension';
import type { Assembly, Snapshot } from '../declarations';
import { gauge } from './gauge';

/** ½ m v² + ½ ω·Jω of one body; none of the ground. */
function own(i: number, bodies: Assembly['bodies']): (s: Snapshot) => number {
  const b = bodies[i];
  if (!b) return () => 0;
  const { mass, inertia: J } = b;
  return ({ K: { v, w } }) => {
    const a = 3 * i,
      x = w[a]!,
      y = w[a + 1]!,
      z = w[a + 2]!;
    return (
      0.5 * mass * (v[a]! * v[a]! + v[a + 1]! * v[a + 1]! + v[a + 2]! * v[a + 2]!) +
      0.5 * (x * (J[0] * x + J[1] * y + J[2] * z) + y * (J[3] * x + J[4] * y + J[5] * z) + z * (J[6] * x + J[7] * y + J[8] * z))
    );
  };
}

/** Energies of one body: its own motion, and what loads that act on every body store in it. */
function ofBody(i: number, of: string, m: Assembly): (s: Snapshot) => number {
  const kinetic = own(i, m.bodies),
    potential = ({ K, t }: Snapshot): number => m.forces.reduce((e, { force }) => e + (force.energyOf?.(i, K, t) ?? 0), 0);
  return of === 'kinetic' ? kinetic : of === 'potential' ? potential : (s) => kinetic(s) + potential(s);
}

export const energy = gauge({
  kind: 'energy',
  label: 'Energy',
  help: 'Energy of the whole mechanism, or what the energy balance leaves unexplained.',
  fields: {
    of: choice(
      { total: 'total', kinetic: 'kinetic', potential: 'potential', closing: 'closing error of the energy balance' },
      'Reads',
      'Kinetic, potential (gravity and springs), or both; the closing error tells how well the run can be trusted.',
    ),
    body: ref('bodies', 'Of', 'Only of this body; its potential energy is that of gravity. Left out: of the whole machine.', {
      optional: true,
      when: { field: 'of', is: ['kinetic', 'potential', 'total'] },
    }),
  },
  reads: { choose: 'of', cases: { kinetic: D.energy } },
  channel(v, m) {
    const { kinetic, potential, closing } = m.energy;
    const read: Record<string, (s: Snapshot) => number> = {
      total: ({ K, t }) => kinetic(K) + potential(K, t),
      kinetic: ({ K }) => kinetic(K),
      potential: ({ K, t }) => potential(K, t),
      closing: ({ K }) => closing(K),
    };
    return {
      dim: D.energy,
      unit: 'J',
      positive: v.of === 'closing' ? 'Energy that is there but that nothing has put in.' : 'Height counts from the ground origin.',
      read: v.body === undefined || v.of === 'closing' ? read[v.of]! : ofBody(m.index(v.body), v.of, m),
    };
  },
});
