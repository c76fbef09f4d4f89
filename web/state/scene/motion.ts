/** What the Motion panel asks and has found, and the posture or motion of it that the scene shows. */
import { create } from 'zustand';
import type { Diagnosis, Model } from '@vim-pivot/core/page';
import type { About, Declared, Found, Item, Shown } from '@vim-pivot/core/analyses';
import { exploreWorker } from '../../workers/client';
import { useDocument } from '../document/document';

/** What is asked of an analysis, as it is typed. */
export interface Typed {
  about?: About;
  at?: string;
  settings: Readonly<Record<string, string | readonly string[] | undefined>>;
}
const NOTHING: Typed = { settings: {} };

interface MotionState {
  open: boolean;
  /** Drives are left out of what is sought. */
  letGo: boolean;
  analyses: readonly Declared[];
  typed: Readonly<Record<string, Typed>>;
  /** The analysis that is worked out, and how far it has come, from 0 to 1. */
  busy: string | undefined;
  part: number;
  found: Readonly<Record<string, Found | undefined>>;
  /** Why something could not be found. */
  told: Readonly<Record<string, readonly Diagnosis[] | undefined>>;
  /** What the scene plays, and the item of an analysis that it is of. */
  shown: Shown | undefined;
  item: Item | undefined;
  /** Frame at hand. */
  frame: number;
  /** How far a swing goes, in parts of the furthest. */
  amplitude: number;
}

export const useMotion = create<MotionState>(() => ({
  open: false,
  letGo: false,
  analyses: [],
  typed: {},
  busy: undefined,
  part: 0,
  found: {},
  told: {},
  shown: undefined,
  item: undefined,
  frame: 0,
  amplitude: 0.5,
}));
const { getState: get, setState: set } = useMotion;

/** How long the hand rests before the names of a changed model are fetched, ms. */
const REST = 300;
let resting: ReturnType<typeof setTimeout> | undefined;
const GONE = { found: {}, told: {}, shown: undefined, item: undefined };

// What was found is of the model as it was.
useDocument.subscribe((now, before) => {
  if (now.model === before.model) return;
  leave();
  set(GONE);
  springBack();
  if (!get().open) return;
  clearTimeout(resting);
  resting = setTimeout(() => void bring(), REST);
});

/** The model that is asked about. */
const asked = (model: Model): Model => (get().letGo ? { ...model, drives: [] } : model);

/** Fetches the analyses, and the names there are for their settings. */
async function bring(): Promise<void> {
  const { model } = useDocument.getState();
  if (!model) return;
  const { list } = await exploreWorker().ask({ type: 'analyses', model: asked(model) }, 'analyses');
  set({ analyses: list });
}

export function openMotion(open: boolean): void {
  set({ open, ...(open ? {} : { shown: undefined, item: undefined }) });
  if (open) void bring();
}

export function setLetGo(letGo: boolean): void {
  leave();
  set({ letGo, ...GONE });
  void bring();
}

export const typedOf = (what: string): Typed => get().typed[what] ?? NOTHING;
/** Changes what is asked of an analysis. */
export const type = (what: string, change: Partial<Typed>): void =>
  set((s) => ({ typed: { ...s.typed, [what]: { ...(s.typed[what] ?? NOTHING), ...change } } }));

/** Gives up what is being worked out. */
export function leave(): void {
  if (!get().busy) return;
  set({ busy: undefined });
  exploreWorker().stream({ type: 'leave-explore' }, () => true);
}

export function findOut({ name, settings }: Declared): void {
  const { model } = useDocument.getState();
  if (!model || get().busy) return;
  const typed = typedOf(name),
    // of one name that is asked for the first stands there
    first = Object.fromEntries(settings.flatMap((s) => (s.type === 'name' && !s.several && s.names[0] ? [[s.key, s.names[0]]] : [])));
  set((s) => ({ busy: name, part: 0, told: { ...s.told, [name]: undefined } }));
  exploreWorker().stream(
    { type: 'explore', model: asked(model), what: name, given: { ...typed, settings: { ...first, ...typed.settings } } },
    (r) => {
      const stands = useDocument.getState().model === model && get().busy === name;
      if (r.type === 'moving') {
        if (stands) set({ part: r.part });
        return false;
      }
      if (!stands) return true;
      if (r.type === 'explored') set((s) => ({ found: { ...s.found, [name]: r.found }, busy: undefined }));
      else if (r.type === 'refused')
        set((s) => ({ told: { ...s.told, [name]: r.diagnoses }, found: { ...s.found, [name]: undefined }, busy: undefined }));
      return true;
    },
  );
}

/** Shows an item, or puts the machine back when it is shown already. */
export const show = (item: Item): void =>
  set((s) => (s.item === item ? { item: undefined, shown: undefined } : { item, shown: item.shown, frame: 0 }));

/** The posture shown at a frame: forth and back for a motion between two sides, round and round for a swing. */
export function postureAt({ frames, swing, home }: Shown, bodies: number, frame: number): Float64Array {
  const n = 7 * bodies,
    count = frames.length / n,
    i = count === 1 ? 0 : swing ? bounce(frame + Math.floor(count / 2), count) : frame % count,
    posture = frames.subarray(n * i, n * (i + 1));
  return home ? between(home, posture, get().amplitude) : posture;
}
const bounce = (i: number, count: number): number => {
  const k = i % (2 * count - 2);
  return k < count ? k : 2 * count - 2 - k;
};
/** Part of the way from one posture to another. */
function between(from: Float64Array, to: Float64Array, part: number): Float64Array {
  const out = from.map((x, i) => x + part * (to[i]! - x));
  for (let q = 3; q < out.length; q += 7) {
    const length = Math.hypot(out[q]!, out[q + 1]!, out[q + 2]!, out[q + 3]!);
    for (let k = 0; k < 4; k++) out[q + k] = out[q + k]! / length;
  }
  return out;
}

/** What is dragged: the posture it has come to. */
export const useDrag = create<{ posture: Float64Array | undefined; moved: boolean }>(() => ({ posture: undefined, moved: false }));

/** Lets the machine spring back to its start posture. */
export const springBack = (): void => useDrag.setState({ posture: undefined, moved: false });

export const nextFrame = (): void => set((s) => ({ frame: s.frame + 1 }));
export const setAmplitude = (amplitude: number): void => set({ amplitude });
