/** Where the numbers of a machine lie in a memory: its own, or a copy of it. */
import type { KinematicPlaces } from '../../equations/kinematics';
import type { Places } from './places';

export interface Site {
  readonly bodies: number;
  /** Its kinematics; and from where on the places of all else count. */
  readonly at: KinematicPlaces;
  readonly from: number;
  readonly own: Places['own'];
}
