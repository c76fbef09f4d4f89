/** What moves the scores: which score it is shown of, and what was found for the model as it is. */
import { create } from 'zustand';
import { type Diagnosis, type Model } from '@vim-pivot/core/page';
import { exploreWorker } from '../../workers/client';
import type { Reply } from '../../workers/protocol';
import { type Selected, select, useDocument } from '../document/document';

/** Numbers of a model that are asked at first. */
const FIRST = 40;
/** How long the hand rests before it is worked out anew, ms. */
const REST = 600;

type Found = Pick<Extract<Reply, { type: 'moves' }>, 'scores' | 'numbers' | 'count'> & { readonly model: Model };
interface MovesState {
  /** The score of which it is shown. */
  score: string | undefined;
  found: Found | undefined;
  /** How far it has come, from 0 to 1; undefined where nothing is being worked out. */
  part: number | undefined;
  /** Whether all numbers of the model are asked. */
  all: boolean;
  /** The element that was chosen there, to be changed while one reads. */
  chosen: Selected | undefined;
  /** Why it cannot be told. */
  told: readonly Diagnosis[];
}
export const useMoves = create<MovesState>(() => ({
  score: undefined,
  found: undefined,
  part: undefined,
  all: false,
  chosen: undefined,
  told: [],
}));
const { getState: get, setState: set } = useMoves;

let resting: ReturnType<typeof setTimeout> | undefined;
/** Whether anybody looks at it. */
let seen = false;
useDocument.subscribe((now, before) => {
  if (now.model === before.model || !seen) return;
  clearTimeout(resting);
  resting = setTimeout(workOut, REST);
});

/** Shows what moves a score, or puts that away. */
export const showMoves = (score: string | undefined): void => set({ score });
/** While it is looked at it is kept up to date. @returns what ends that */
export function watchMoves(): () => void {
  seen = true;
  if (get().found?.model !== useDocument.getState().model) workOut();
  return () => {
    seen = false;
    leave();
  };
}
export function askAll(): void {
  set({ all: true });
  workOut();
}
/** Puts an element on the Card. */
export function choose(element: Selected): void {
  set({ chosen: element });
  select(element);
}
/** Gives up what is being worked out. */
export function leave(): void {
  clearTimeout(resting);
  if (get().part === undefined) return;
  set({ part: undefined });
  exploreWorker().stream({ type: 'leave-moves' }, () => true);
}

export function workOut(): void {
  const { model } = useDocument.getState();
  if (!model || !seen) return;
  set({ part: 0, told: [] });
  exploreWorker().stream({ type: 'moves', model, most: get().all ? Infinity : FIRST }, (r) => {
    const stands = useDocument.getState().model === model && get().part !== undefined;
    if (r.type === 'moving') {
      if (stands) set({ part: r.part });
      return false;
    }
    if (!stands) return true;
    if (r.type === 'moves') set({ found: { model, scores: r.scores, numbers: r.numbers, count: r.count }, part: undefined });
    else if (r.type === 'refused') set({ told: r.diagnoses, part: undefined, found: undefined });
    return true;
  });
}
