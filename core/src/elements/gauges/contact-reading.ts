import { refuse } from '../../diagnosis';
import type { ContactReading } from '../../equations/contact/touches';
import { choice, ref } from '../../model/fields';
import { D, type Dimension } from '../../quantity/dimension';
import { usable } from '../usable';
import { gauge } from './gauge';

const WORDS: Readonly<Record<ContactReading, string>> = {
  normal: 'normal force',
  friction: 'friction force',
  depth: 'depth',
  slip: 'slip speed',
  places: 'places that touch',
};
const DIMS: Readonly<Record<ContactReading, Dimension>> = {
  normal: D.force,
  friction: D.force,
  depth: D.length,
  slip: D.speed,
  places: D.none,
};
const SUMS: readonly ContactReading[] = ['normal', 'friction', 'places'];

export const contactReading = gauge({
  kind: 'contact',
  label: 'Contact reading',
  help: 'What a contact does, of all its places or of those of one body: forces that are summed in size, the deepest place, the fastest slip.',
  fields: {
    load: ref('loads', 'Contact', 'The contact read.', { that: 'touches' }),
    of: choice(WORDS, 'Reads', 'Forces of all places are added in size, not as vectors; of depth and slip the largest counts.'),
    body: ref('bodies', 'On', 'Only where this body touches. Left out: everywhere.', { optional: true }),
  },
  channel(v, m) {
    const of = v.of as ContactReading,
      { touches } = usable(m.forces, v.load, 'loads').force,
      body = v.body === undefined ? undefined : m.index(v.body);
    if (!touches) return refuse({ code: 'gauge-nothing', message: `“${v.load}” is no contact.`, remedy: 'Choose a contact.' });
    return {
      dim: DIMS[of],
      positive: SUMS.includes(of) ? 'Of all places together, never negative.' : 'The largest of all places, never negative.',
      read: ({ K }) => touches.read(K, of, body),
    };
  },
});
