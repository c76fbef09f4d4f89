import { BEAMS } from './beams';
import { CONTACT } from './contact';
import { DYNAMICS } from './dynamics';
import { EVENTS } from './events';
import { FLEXIBLE } from './flexible';
import { GEARS } from './gears';
import { MECHANISMS } from './mechanisms';
import type { Problem } from './problem';
import { PUBLISHED } from './published';
import { STATICS } from './statics';

export const FAMILIES_OF_PROBLEMS: readonly { title: string; problems: readonly Problem[] }[] = [
  { title: 'Published problems', problems: PUBLISHED },
  { title: 'Mechanisms', problems: MECHANISMS },
  { title: 'Gears, racks, screws', problems: GEARS },
  { title: 'Free and forced motion', problems: DYNAMICS },
  { title: 'Friction, stops, switches', problems: EVENTS },
  { title: 'Contact', problems: CONTACT },
  { title: 'Equilibria, modes, ranges', problems: STATICS },
  { title: 'Stiff and flexible machines', problems: FLEXIBLE },
  { title: 'Beams with mass', problems: BEAMS },
];
