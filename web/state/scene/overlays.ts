/** What else the scene shows of a run: other postures, paths, forces, speeds; and how it is played. */
import { create } from 'zustand';
import { useDocument } from '../document/document';

interface Overlays {
  /** Postures that stay: times of the run shown, s. */
  ghosts: readonly number[];
  /** Runs that are overlaid on the charts stand beside it, at the same time. */
  others: boolean;
  /** Points whose paths are drawn. */
  paths: readonly string[];
  forces: boolean;
  speeds: boolean;
  /** Length of arrows: 1 makes the longest of the run a quarter of the machine. */
  scale: number;
  /** The camera of the large scene goes with this body. */
  follow: string | undefined;
  turning: boolean;
}

const NOTHING: Overlays = {
  ghosts: [],
  others: false,
  paths: [],
  forces: false,
  speeds: false,
  scale: 1,
  follow: undefined,
  turning: false,
};
export const useOverlays = create<Overlays>(() => NOTHING);
useDocument.subscribe((now, before) => {
  if (now.id !== before.id) useOverlays.setState(NOTHING);
});
export const show = (change: Partial<Overlays>): void => useOverlays.setState(change);
/** Whether anything of it is drawn. */
export const anyOverlay = (s: Overlays): boolean => s.ghosts.length > 0 || s.others || s.paths.length > 0 || s.forces || s.speeds;
