/** What the Motion panel found, and the posture or motion of it that the scene shows. */
import { create } from 'zustand';
import { type Diagnosis, Refusal } from '@vim-pivot/core/page';
import { exploreWorker } from '../../workers/client';
import type { Exploration, Explored } from '../../workers/protocol';
import { useDocument } from '../document/document';

interface MotionState {
  open: boolean;
  /** Drives are left out of what is sought. */
  letGo: boolean;
  busy: Exploration | undefined;
  found: Partial<Record<Exploration, readonly Explored[]>>;
  /** What is to be said of what was found, or why it could not be. */
  told: Partial<Record<Exploration, readonly Diagnosis[]>>;
  /** What the scene plays: postures, seven numbers a body each. */
  shown: Explored | undefined;
  /** Frame at hand. */
  frame: number;
}

export const useMotion = create<MotionState>(() => ({
  open: false,
  letGo: false,
  busy: undefined,
  found: {},
  told: {},
  shown: undefined,
  frame: 0,
}));
const { getState: get, setState: set } = useMotion;

// What was found is of the model as it was.
useDocument.subscribe((now, before) => {
  if (now.model !== before.model) {
    set({ found: {}, told: {}, shown: undefined });
    springBack();
  }
});

export const openMotion = (open: boolean): void => set({ open, ...(open ? {} : { shown: undefined }) });

export const setLetGo = (letGo: boolean): void => set({ letGo, found: {}, told: {}, shown: undefined });

export async function findOut(what: Exploration, joint?: string): Promise<void> {
  const { model } = useDocument.getState();
  if (!model || get().busy) return;
  const tell = (list: readonly Diagnosis[]) => set((s) => ({ told: { ...s.told, [what]: list } }));
  set({ busy: what });
  tell([]);
  const asked = get().letGo ? { ...model, drives: [], gauges: [] } : model;
  try {
    const { items, diagnoses } = await exploreWorker().ask(
      { type: 'explore', model: asked, what, ...(joint ? { joint } : {}) },
      'explored',
    );
    if (useDocument.getState().model !== model) return;
    set((s) => ({ found: { ...s.found, [what]: items } }));
    tell(diagnoses);
  } catch (e) {
    if (!(e instanceof Refusal)) throw e;
    tell(e.diagnoses);
  } finally {
    set({ busy: undefined });
  }
}

/** Shows an item, or puts the machine back when it is shown already. */
export function show(item: Explored | undefined): void {
  set((s) => ({ shown: s.shown === item ? undefined : item, frame: 0 }));
}

/** The posture shown at a frame: forth and back for a motion between two sides, round and round for a swing. */
export function postureAt({ frames, swing, loop }: Explored, bodies: number, frame: number): Float64Array {
  const n = 7 * bodies,
    count = frames.length / n;
  const i = count === 1 ? 0 : loop ? frame % count : swing ? bounce(frame + Math.floor(count / 2), count) : 0;
  return frames.subarray(n * i, n * (i + 1));
}
const bounce = (i: number, count: number): number => {
  const k = i % (2 * count - 2);
  return k < count ? k : 2 * count - 2 - k;
};

/** What is dragged: the posture it has come to. */
export const useDrag = create<{ posture: Float64Array | undefined; moved: boolean }>(() => ({ posture: undefined, moved: false }));

/** Lets the machine spring back to its start posture. */
export const springBack = (): void => useDrag.setState({ posture: undefined, moved: false });

export const nextFrame = (): void => set((s) => ({ frame: s.frame + 1 }));
