import { choice, ref } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { gauge } from './gauge';

export const loadEnergy = gauge({
  kind: 'load-energy',
  label: 'Load energy',
  help: 'Energy stored in a load, or dissipated by it since the start.',
  fields: {
    load: ref('loads', 'Load', 'The load read.'),
    of: choice(
      { dissipated: 'dissipated energy', stored: 'stored energy' },
      'Reads',
      'What it has taken out of the machine for good, or what it holds now.',
    ),
  },
  channel: (v, m) => ({
    dim: D.energy,
    unit: 'J',
    positive:
      v.of === 'stored'
        ? 'Zero at rest length; for gravity, height counts from the ground origin.'
        : 'Positive when it takes energy out; a load that feeds energy in reads negative.',
    read: ({ K, t }) => (v.of === 'stored' ? m.energy.stored(v.load, K, t) : -m.energy.fed(v.load, K, t)),
  }),
});
