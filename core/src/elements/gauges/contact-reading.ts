import { refuse } from '../../diagnosis';
import type { ContactReading } from '../../equations/contact/touches';
import { choice, ref } from '../../model/fields';
import { D, type Dimension, multiply } from '../../quantity/dimension';
import { usable } from '../usable';
import { gauge } from './gauge';

const WORDS: Readonly<Record<ContactReading, string>> = {
  normal: 'normal force',
  friction: 'friction force',
  depth: 'depth',
  slip: 'slip speed',
  places: 'places that touch',
  impulse: 'impulse since the start',
  wear: 'work of friction since the start',
};
const DIMS: Readonly<Record<ContactReading, Dimension>> = {
  normal: D.force,
  friction: D.force,
  depth: D.length,
  slip: D.speed,
  places: D.none,
  impulse: multiply(D.force, D.time),
  wear: D.energy,
};
const UNITS: Readonly<Partial<Record<ContactReading, string>>> = { impulse: 'N*s', wear: 'J' };
/** Reckoned along the run, of all places together. */
const SO_FAR: readonly ContactReading[] = ['impulse', 'wear'];
const SUMS: readonly ContactReading[] = ['normal', 'friction', 'places'];

export const contactReading = gauge({
  kind: 'contact',
  label: 'Contact reading',
  help: 'What a contact does, of all its places or of those of one body: forces that are summed in size, the deepest place, the fastest slip.',
  fields: {
    load: ref('loads', 'Contact', 'The contact read.', { that: 'touches' }),
    of: choice(
      WORDS,
      'Reads',
      'Forces of all places are added in size, not as vectors; of depth and slip the largest counts; impulse and work add up along the run.',
    ),
    body: ref('bodies', 'On', 'Only where this body touches. Left out: everywhere.', { optional: true }),
  },
  channel(v, m, name) {
    const of = v.of as ContactReading,
      { touches } = usable(m.forces, v.load, 'loads').force,
      body = v.body === undefined ? undefined : m.index(v.body);
    if (body !== undefined && SO_FAR.includes(of))
      refuse({
        code: 'gauge-part',
        message: `The ${WORDS[of]} is known of the whole contact alone.`,
        remedy: 'Leave the body out, or give that body a contact of its own.',
        element: { family: 'gauges', name },
      });
    if (!touches) return refuse({ code: 'gauge-nothing', message: `“${v.load}” is no contact.`, remedy: 'Choose a contact.' });
    return {
      dim: DIMS[of],
      positive:
        SUMS.includes(of) || SO_FAR.includes(of) ? 'Of all places together, never negative.' : 'The largest of all places, never negative.',
      ...(UNITS[of] ? { unit: UNITS[of] } : {}),
      read: ({ K }) => touches.read(K, of, body),
    };
  },
});
