import { choice } from '../../model/fields';
import { D } from '../../quantity/dimension';
import type { Snapshot } from '../families';
import { gauge } from './gauge';

export const energy = gauge({
  kind: 'energy', label: 'Energy',
  help: 'Energy of the whole mechanism, or what the balance of all energies leaves unexplained.',
  fields: {
    of: choice({ total: 'total', kinetic: 'kinetic', potential: 'potential', closing: 'closing error of the balance' }, 'Reads', 'Kinetic, potential (gravity and springs), or both; the closing error tells how well the run can be trusted.'),
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
      read: read[v.of]!,
    };
  },
});
