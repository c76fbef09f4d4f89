/** Dragging on a row of the timeline, and the keys that do the same. */
import { useRef } from 'react';
import type { Timeline } from '@vim-pivot/core/timeline';
import { gesture } from '@/state/document/document';
import type { RowScale } from './row-scale';
import { putLine, writeLine } from './track';

/** What a drag to a time and a value makes of a timeline. @param pressed the time at which it began */
export type Change = (line: Timeline, t: number, v: number, pressed: number) => Timeline;

export function useRowHand(name: string, line: Timeline | undefined, { at, snap }: RowScale) {
  const hand = useRef<{ hand: ReturnType<typeof gesture>; begun: Timeline; pressed: number; change: Change }>(undefined);
  const label = `Timeline of ${name}`;
  /** Handlers of what begins to be dragged. @param first what pressing does besides */
  const dragged = (change: Change, first?: () => void) => ({
    onPointerDown: (e: React.PointerEvent<SVGElement>) => {
      first?.();
      if (e.button !== 0 || !line) return;
      e.currentTarget.setPointerCapture(e.pointerId);
      hand.current = { hand: gesture(), begun: line, pressed: placeOf(e, at).t, change };
      e.stopPropagation();
    },
    onPointerMove: (e: React.PointerEvent<SVGElement>) => {
      const h = hand.current;
      if (!h) return;
      const { t, v } = placeOf(e, at);
      const next = h.change(h.begun, e.altKey ? t : snap(t), v, h.pressed);
      h.hand.set(label, (m) => putLine(m, name, next));
    },
    onPointerUp: () => void (hand.current = undefined),
  });
  /** By arrow keys what dragging does. */
  const keyed = (change: (l: Timeline, sign: 1 | -1) => Timeline) => (e: React.KeyboardEvent) => {
    const sign = e.key === 'ArrowRight' || e.key === 'ArrowUp' ? 1 : e.key === 'ArrowLeft' || e.key === 'ArrowDown' ? -1 : 0;
    if (sign === 0 || !line) return;
    e.preventDefault();
    e.stopPropagation();
    writeLine(name, change(line, sign), label);
  };
  return { dragged, keyed };
}

/** Time and value under the pointer. */
export function placeOf(e: React.MouseEvent<SVGElement>, at: RowScale['at']): { t: number; v: number } {
  const { left, top } = e.currentTarget.ownerSVGElement!.getBoundingClientRect();
  return at(e.clientX - left, e.clientY - top);
}
