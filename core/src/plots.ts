/** What a page draws of curves: thinned, as spectrum, histogram or envelope; and where cursors snap to. */
export { Thinned } from './results/thinned';
export { type Spectrum, type WindowName, spectrum } from './results/spectrum';
export { type Histogram, histogram } from './results/histogram';
export { envelope } from './results/envelope';
export { type SnapKind, type SnapPlace, nextPlace, snapPlaces, snapTo } from './results/snap';
