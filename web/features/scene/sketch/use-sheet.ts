/** The sheet on the screen: from its coordinates to pixels and back, and how fine it is at the zoom at hand. */
import { type RefObject, useEffect, useState } from 'react';
import { Plane, Vector3 } from 'three';
import { stepFor } from '@/state/scene/grid-step';
import { type SketchPlane, type Spot, inSpace, onSheet } from '@/state/scene/sketch/plane';
import type { Stage } from '../stage';
import type { Px } from './marks';

/** An end rests on a pin this near, CSS pixels. */
const REACH = 12;
/** Lines of the snapping grid, and of the drawn one, are at least this far apart, CSS pixels. */
const SNAP = 8,
  GRID = 44;

export interface Sheet {
  box: Px;
  /** Length of a pixel on the sheet, m. */
  pixel: number;
  /** Step of the snapping grid, m. */
  step: number;
  /** An end rests on a pin this near, m. */
  reach: number;
  toPx: (s: Spot) => Px;
  fromPx: (x: number, y: number) => Spot | undefined;
  /** Where the lines of the drawn grid are, CSS pixels. */
  grid: { across: number[]; up: number[] };
}

/** Follows the view. @param layer takes the focus at first */
export function useSheet(stage: Stage, plane: SketchPlane, layer: RefObject<SVGSVGElement | null>): Sheet {
  const [, redraw] = useState(0);
  useEffect(() => {
    const follow = () => redraw((n) => n + 1);
    stage.afterFrame.add(follow);
    follow();
    layer.current?.focus();
    return () => void stage.afterFrame.delete(follow);
  }, [stage, layer]);

  const pixel = stage.pixel(new Vector3(...plane.origin));
  const box = [stage.canvas.clientWidth, stage.canvas.clientHeight] as const;
  const toPx = (s: Spot): Px => stage.onScreen(new Vector3(...inSpace(plane, s)));
  const flat = new Plane().setFromNormalAndCoplanarPoint(new Vector3(...plane.normal), new Vector3(...plane.origin));
  const fromPx = (x: number, y: number): Spot | undefined => {
    const hit = stage.sight(x, y).ray.intersectPlane(flat, new Vector3());
    return hit ? onSheet(plane, hit.toArray()) : undefined;
  };
  const grid = gridOf(fromPx, toPx, box, stepFor(GRID * pixel));
  return { box, pixel, step: stepFor(SNAP * pixel), reach: REACH * pixel, toPx, fromPx, grid };
}

function gridOf(fromPx: Sheet['fromPx'], toPx: Sheet['toPx'], box: Px, step: number): Sheet['grid'] {
  const a = fromPx(0, box[1]),
    b = fromPx(box[0], 0);
  if (!a || !b) return { across: [], up: [] };
  const between = (k: 0 | 1) =>
    Array.from(
      { length: Math.max(0, Math.min(100, Math.floor(b[k] / step) - Math.ceil(a[k] / step) + 1)) },
      (_, i) => (Math.ceil(a[k] / step) + i) * step,
    );
  return { across: between(0).map((u) => toPx([u, a[1]])[0]), up: between(1).map((v) => toPx([a[0], v])[1]) };
}
