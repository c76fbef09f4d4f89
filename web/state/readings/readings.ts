/** What is measured in runs: cursors, scores, what passes its limits. Light: what computes it comes when it is wanted. */
import { create } from 'zustand';
import type { LimitMeasured, ScoreMeasured, WorkingMeasured } from '@vim-pivot/core/measures';
import type { Diagnosis, Dimension } from '@vim-pivot/core/page';
import type { Violation } from '@vim-pivot/core/scores';

/** A passage outside a limit. */
export interface ViolationRow extends Violation {
  limit: string;
  gauge: string;
  dim: Dimension;
  unit: string;
}

interface ReadingsState {
  /** Times of the cursors, s, in order. */
  cursors: readonly number[];
  scores: readonly ScoreMeasured[];
  workings: readonly WorkingMeasured[];
  limits: readonly LimitMeasured[];
  /** Of all limits, in order of time. */
  violations: readonly ViolationRow[];
  /** The run they are of. */
  run: string | undefined;
  /** Part of the time that charts show; left out: all of it. */
  span: readonly [number, number] | undefined;
  /** What playback does at its end. */
  loop: 'stop' | 'loop' | 'to and fro';
  /** A video is being made: how far, 0 to 1. */
  filming: number | undefined;
}

/** Nothing is measured. */
export const NOTHING: Pick<ReadingsState, 'scores' | 'workings' | 'limits' | 'violations' | 'run'> = {
  scores: [],
  workings: [],
  limits: [],
  violations: [],
  run: undefined,
};
export const useReadings = create<ReadingsState>(() => ({
  ...NOTHING,
  cursors: [],
  span: undefined,
  loop: 'stop',
  filming: undefined,
}));
const { setState: set } = useReadings;

export const addCursor = (t: number): void => set((s) => ({ cursors: [...s.cursors, t].sort((a, b) => a - b) }));
/** @returns its number afterwards: cursors stay in order */
export function moveCursor(i: number, t: number): number {
  const rest = useReadings.getState().cursors.filter((_, k) => k !== i),
    at = rest.filter((x) => x <= t).length;
  set({ cursors: [...rest.slice(0, at), t, ...rest.slice(at)] });
  return at;
}
export const dropCursor = (i: number): void => set((s) => ({ cursors: s.cursors.filter((_, k) => k !== i) }));
export const dropCursors = (): void => set({ cursors: [] });
/** Charts show a part of the time, all of them the same. @param end of the run, s */
export function zoomTo(from: number, to: number, end: number): void {
  const width = Math.min(to - from, end),
    a = Math.max(0, Math.min(from, end - width));
  set({ span: width >= end * (1 - 1e-9) || !(width > 0) ? undefined : [a, a + width] });
}
export const setLoop = (loop: ReadingsState['loop']): void => set({ loop });

const NONE: Diagnosis[] = [];
let told: { from: readonly ViolationRow[]; list: Diagnosis[] } | undefined;
/** What passes its limits, as findings. */
export function findingsOf(violations: readonly ViolationRow[], words: (v: ViolationRow) => string): Diagnosis[] {
  if (violations.length === 0) return NONE;
  if (told?.from !== violations) {
    const first = violations.filter((v, i) => violations.findIndex((x) => x.limit === v.limit) === i);
    told = {
      from: violations,
      list: first.map((v) => ({
        code: 'limit-passed',
        severity: 'warning',
        message: words(v),
        element: { family: 'limits', name: v.limit },
        time: v.at,
      })),
    };
  }
  return told.list;
}
