/** The hand on a chart over the time: a click goes there, the wheel zooms, dragging shifts or moves a cursor, a double click shows all. */
import type { Chart } from 'chart.js';
import { type RefObject, useEffect, useRef } from 'react';
import { type SnapPlace, snapPlaces, snapTo } from '@vim-pivot/core/plots';
import { moveCursor, useReadings, zoomTo } from '@/state/readings/readings';
import { setTime, useRuns } from '@/state/runs/runs';
import type { Across, Trace } from './trace';

/** A cursor is caught and snaps within so many pixels; less than a drag is a click. */
const CATCH = 6,
  SNAP = 10,
  CLICK = 4;

interface Hand {
  x: number;
  span: readonly [number, number];
  cursor?: number;
  places?: SnapPlace[];
}

/** @param end of the curves */
export function useHand(
  canvas: RefObject<HTMLCanvasElement | null>,
  chart: RefObject<Chart | null>,
  traces: readonly Trace[],
  across: Across,
  end: number,
) {
  /** The last press became a drag, and is no click. */
  const dragged = useRef(false);
  const hand = useRef<Hand>(undefined);
  const last = end || 1;
  const ends = (): readonly [number, number] => {
    // as it is now: several turns of the wheel may come before the page is drawn anew
    const s = useReadings.getState().span;
    return [s?.[0] ?? 0, s?.[1] ?? last];
  };
  // the wheel is listened to directly: it must be able to keep the page from scrolling
  useEffect(() => {
    const element = canvas.current!;
    const wheel = (e: WheelEvent) => {
      const scale = chart.current?.scales.x;
      if (!scale || across.of !== 'time' || !(e.ctrlKey || e.shiftKey || e.altKey)) return;
      e.preventDefault();
      const at = scale.getValueForPixel(e.offsetX) ?? 0,
        [from, to] = ends(),
        k = Math.exp(Math.sign(e.deltaY || e.deltaX) * 0.25);
      zoomTo(at - (at - from) * k, at + (to - at) * k, last);
    };
    element.addEventListener('wheel', wheel, { passive: false });
    return () => element.removeEventListener('wheel', wheel);
  });

  const xOf = (e: React.MouseEvent<HTMLElement>) => e.clientX - e.currentTarget.getBoundingClientRect().left;
  const handlers = {
    onPointerDown: (e: React.PointerEvent<HTMLCanvasElement>) => {
      if (across.of !== 'time') return;
      dragged.current = false;
      const pixelOf = (t: number) => chart.current?.scales.x?.getPixelForValue(t) ?? NaN;
      const near = useReadings.getState().cursors.findIndex((t) => Math.abs(pixelOf(t) - xOf(e)) <= CATCH);
      hand.current = { x: e.clientX, span: ends() };
      if (near < 0) return;
      Object.assign(hand.current, { cursor: near, places: placesOf(traces[0]) });
      e.currentTarget.setPointerCapture(e.pointerId);
    },
    onPointerMove: (e: React.PointerEvent<HTMLCanvasElement>) => {
      const h = hand.current,
        area = chart.current?.chartArea,
        scale = chart.current?.scales.x;
      if (!h || !area || !scale || Math.abs(e.clientX - h.x) < CLICK) return;
      const secondsPerPixel = (h.span[1] - h.span[0]) / Math.max(1, area.right - area.left);
      if (h.cursor !== undefined) {
        dragged.current = true;
        const t = scale.getValueForPixel(xOf(e)) ?? 0;
        const at = e.altKey ? t : (snapTo(h.places ?? [], t, secondsPerPixel * SNAP)?.at ?? t);
        h.cursor = moveCursor(h.cursor, Math.max(0, Math.min(end, at)));
      } else if (useReadings.getState().span) {
        dragged.current = true;
        const shift = (h.x - e.clientX) * secondsPerPixel;
        zoomTo(h.span[0] + shift, h.span[1] + shift, last);
      }
    },
    onPointerUp: () => (hand.current = undefined),
    onPointerLeave: () => (hand.current = undefined),
    onClick: (e: React.MouseEvent<HTMLCanvasElement>) => {
      const scale = chart.current?.scales.x,
        t = scale?.getValueForPixel(xOf(e));
      if (scale && t !== undefined && across.of === 'time' && !dragged.current) setTime(Math.max(0, Math.min(t, scale.max)));
    },
    onDoubleClick: () => across.of === 'time' && zoomTo(0, Infinity, last),
  };
  return handlers;
}

/** Where cursors snap to: records and extremes of a curve, what happened, where limits are passed. */
function placesOf(t: Trace | undefined): SnapPlace[] {
  if (!t) return [];
  const { runs, current } = useRuns.getState(),
    run = runs.find((r) => r.id === current);
  return snapPlaces(
    { time: t.x, values: t.y, dim: [0, 0, 0, 0, 0, 0] },
    (run?.happenings ?? []).map((h) => h.t),
    useReadings.getState().violations.map((v) => v.from),
  );
}
