/** What the scene shows just now, for those who measure in it: the picture, and the posture while somebody follows it. */
import { create } from 'zustand';
import type { Picture } from '../../workers/protocol';

interface Displayed {
  picture: Picture | undefined;
  posture: Float64Array | undefined;
  /** Handles to move or turn the selected body. */
  handles: 'move' | 'turn' | undefined;
  /** Draws the scene at once, for taking pictures of it. */
  draw: (() => HTMLCanvasElement) | undefined;
  follow(posture: Float64Array): void;
}

let watchers = 0,
  last: Float64Array | undefined,
  soon = false;
/** Canvases of scenes, and what draws each anew: what was drawn before is gone with its frame. */
export const drawers = new WeakMap<HTMLCanvasElement, () => HTMLCanvasElement>();

export const useDisplayed = create<Displayed>((set) => ({
  picture: undefined,
  posture: undefined,
  handles: undefined,
  draw: undefined,
  follow(posture) {
    last = posture;
    if (watchers === 0 || soon) return;
    soon = true;
    setTimeout(() => {
      soon = false;
      set({ posture: last?.slice() });
    }, 60);
  },
}));

/** While something measures, postures are told as they come. @returns how to stop */
export function watchPosture(): () => void {
  watchers++;
  useDisplayed.setState({ posture: last?.slice() });
  return () => {
    watchers--;
  };
}
