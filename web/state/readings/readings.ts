/** What is measured in runs: cursors, scores, what passes its limits. Light: what computes it comes when it is wanted. */
import { create } from 'zustand';
import type { Diagnosis, Dimension } from '@vim-pivot/core/page';

export interface ScoreRow {
  name: string;
  gauge: string;
  value?: number;
  dim?: Dimension;
  unit?: string;
  at?: number;
  /** Why there is none. */
  fault?: string;
}

export interface ViolationRow {
  limit: string;
  gauge: string;
  from: number;
  to: number;
  worst: number;
  at: number;
  dim: Dimension;
  unit: string;
}

/** How a limit fared: kept, passed, or why that is not known. */
export interface LimitRow {
  name: string;
  fault?: string;
  worst?: ViolationRow;
}

/** A value worked out by hand, and what was measured. */
export interface WorkingRow {
  name: string;
  hand?: number;
  measured?: number;
  dim?: Dimension;
  unit?: string;
  /** Relative to the value by hand. */
  difference?: number;
  /** The difference is larger than it may be. */
  bad?: boolean;
  fault?: string;
}

/** Bounds of the limits of a gauge, SI. */
export interface Bound {
  limit: string;
  gauge: string;
  level: number;
}

interface ReadingsState {
  /** Times of the cursors, s, in order. */
  cursors: readonly number[];
  scores: readonly ScoreRow[];
  violations: readonly ViolationRow[];
  bounds: readonly Bound[];
  limits: readonly LimitRow[];
  workings: readonly WorkingRow[];
  /** The run they are of. */
  run: string | undefined;
  /** Part of the time that charts show; left out: all of it. */
  span: readonly [number, number] | undefined;
  /** What playback does at its end. */
  loop: 'stop' | 'loop' | 'to and fro';
  /** A video is being made: how far, 0 to 1. */
  filming: number | undefined;
}

export const useReadings = create<ReadingsState>(() => ({
  cursors: [],
  scores: [],
  violations: [],
  bounds: [],
  limits: [],
  workings: [],
  run: undefined,
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
