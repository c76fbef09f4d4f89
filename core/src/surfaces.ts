/** Hands what measures gaps to the geometry. Apart from the rest, because it is seldom needed. */
import { Gap, Surface } from './geometry/gap';
import { provideGaps } from './geometry/gaps';

/** From now on gaps can be measured. */
export const bringGaps = (): void => provideGaps((a, b) => new Gap(new Surface(a.corners, a.indices), new Surface(b.corners, b.indices)));
