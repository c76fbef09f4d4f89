/** Hands curves to the equations. Apart from the rest, because many machines have none. */
// what the engine has from the start stays in one piece, which is smaller
import './engine';
import { provideCurves } from './equations/curves/curves';
import { AlongCurve, OffCurve } from './equations/curves/foot';
import { Touching } from './equations/curves/touching';
import { chords, fittingChord, pathLength } from './geometry/chords';
import { Circle, Spline } from './geometry/curve';
import { rounded, roundWheels } from './geometry/lines-and-arcs';

/** From now on there can be curves. */
export const bringCurves = (): void =>
  provideCurves({ Circle, Spline, rounded, roundWheels, chords, fittingChord, pathLength, AlongCurve, OffCurve, Touching });
