/** Gaps between surfaces, by what is handed in when it is needed (`surfaces.ts`): it is seldom asked for. */
import { refuse } from '../diagnosis';

/** A surface of triangles: three numbers a corner, m, and three corners a triangle. */
export interface Corners {
  readonly corners: ArrayLike<number>;
  readonly indices: ArrayLike<number>;
}
/** Of two surfaces. */
export interface GapMeter {
  /** @param R,p pose of the second as the first sees it @returns the smallest distance, m; 0 where they cross, Infinity where there is none */
  measure(R: Float64Array, p: Float64Array): number;
}
type Maker = (a: Corners, b: Corners) => GapMeter;

let maker: Maker | undefined;
/** Brings what measures gaps. */
export const provideGaps = (m: Maker): void => void (maker = m);

/** @throws Refusal where what measures is not at hand */
export const gapBetween: Maker = (a, b) =>
  (
    maker ??
    refuse({
      code: 'gaps-missing',
      message: 'Gaps cannot be measured here.',
      remedy: 'Reload the page.',
    })
  )(a, b);
