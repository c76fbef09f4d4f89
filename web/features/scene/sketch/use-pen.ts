/** The pointer on the sheet: press and drag draws, a click picks as ever, what draws nothing moves the view. */
import { type RefObject, useRef } from 'react';
import type { Stage } from '../stage';
import type { Px } from './marks';
import type { Sheet } from './use-sheet';
import type { Stroke } from './use-stroke';

/** Pointers that move less are clicks, CSS pixels. */
const CLICK = 4;
const near = (a: Px, b: Px) => Math.hypot(a[0] - b[0], a[1] - b[1]) < CLICK;

export interface Clicks {
  /** A click that draws nothing picks as ever. */
  onClick: (p: { x: number; y: number }, also: boolean) => void;
  onMenu: (p: { x: number; y: number }) => void;
}

export function usePen(
  stage: Stage,
  layer: RefObject<SVGSVGElement | null>,
  { fromPx }: Sheet,
  stroke: Stroke,
  { onClick, onMenu }: Clicks,
) {
  const pressed = useRef<Px>(undefined);
  const { placed, typed, setPlaced, setCursor, setSaid, finish } = stroke;
  const at = (e: React.PointerEvent | React.MouseEvent): Px => {
    const { left, top } = layer.current!.getBoundingClientRect();
    return [e.clientX - left, e.clientY - top];
  };
  /** What turns no bar moves the view, as without the sheet. */
  const through = (e: React.PointerEvent | React.WheelEvent) =>
    void stage.canvas.dispatchEvent(new (e.nativeEvent.constructor as typeof PointerEvent)(e.nativeEvent.type, e.nativeEvent));
  return {
    onPointerDown: (e: React.PointerEvent<SVGSVGElement>) => {
      const p = (pressed.current = at(e));
      if (e.button !== 0) return through(e);
      const spot = fromPx(...p);
      setSaid(undefined);
      e.currentTarget.focus();
      e.currentTarget.setPointerCapture(e.pointerId);
      if (placed.length === 0 && spot) setPlaced([spot]);
      setCursor(spot);
    },
    onPointerMove: (e: React.PointerEvent) => setCursor(fromPx(...at(e))),
    onPointerUp: (e: React.PointerEvent) => {
      const p = at(e),
        begun = pressed.current;
      if (e.button !== 0 || !begun) return;
      const spot = fromPx(...p);
      if (near(p, begun) && placed.length === 1) {
        setPlaced([]);
        onClick({ x: p[0], y: p[1] }, e.shiftKey || e.ctrlKey || e.metaKey);
      } else if (spot && e.shiftKey) setPlaced([...placed, spot]);
      else if (spot && placed.length > 0) finish([...placed, spot], typed);
    },
    onPointerLeave: () => {
      if (placed.length === 0) setCursor(undefined);
    },
    onWheel: through,
    onContextMenu: (e: React.MouseEvent) => {
      e.preventDefault();
      const p = at(e);
      if (placed.length > 0) setPlaced([]);
      else if (pressed.current && near(p, pressed.current)) onMenu({ x: p[0], y: p[1] });
    },
  };
}
