/** Curves, by what is handed in when a machine has any (`curves.ts` beside the engine): most have none. */
import { refuse } from '../../diagnosis';
import type * as chords from '../../geometry/chords';
import type * as curve from '../../geometry/curve';
import type * as lines from '../../geometry/lines-and-arcs';
import type * as foot from './foot';
import type * as touching from './touching';

/** Curves through points, of lines and arcs, round wheels; chords along them; and where points and other curves are on them. */
export type Curves = Pick<typeof curve, 'Circle' | 'Spline'> &
  Pick<typeof lines, 'rounded' | 'roundWheels'> &
  Pick<typeof chords, 'chords' | 'fittingChord' | 'pathLength'> &
  Pick<typeof foot, 'AlongCurve' | 'OffCurve'> &
  Pick<typeof touching, 'Touching'>;

let given: Curves | undefined;
/** Brings what curves are made of. */
export const provideCurves = (c: Curves): void => void (given = c);

/** @throws Refusal where they are not at hand */
export const curves = (): Curves =>
  given ??
  refuse({
    code: 'curves-missing',
    message: 'Curves cannot be worked out here.',
    remedy: 'Reload the page.',
  });
