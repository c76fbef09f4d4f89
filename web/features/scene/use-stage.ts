/** The stage in its canvas, and the tools that come once the scene is worked in. */
import { type RefObject, useCallback, useEffect, useRef, useState } from 'react';
import { useDocument } from '@/state/document/document';
import { drawers, useDisplayed } from '@/state/scene/displayed';
import { drawCompass } from './compass';
import { inks, token } from '@/ui/ink';
import { Stage } from './stage';
import type { EdgePicker, Labels, Mover } from './tools';

export interface Tools {
  mover: Mover;
  edgePicker: EdgePicker;
  labels: Labels;
}

export interface OnStage {
  canvas: RefObject<HTMLCanvasElement | null>;
  /** Where names of elements are written. */
  names: RefObject<HTMLDivElement | null>;
  compass: RefObject<SVGSVGElement | null>;
  stage: RefObject<Stage | null>;
  tools: RefObject<Tools | null>;
  /** The stage once its tools are there. */
  ready: Stage | undefined;
  /** Brings the tools: handles, names, feeling for edges. */
  bring: () => void;
}

/** @param compact a picture without tools @param say shows words over the scene */
export function useStage(compact: boolean, say: (words: string | undefined) => void): OnStage {
  const canvas = useRef<HTMLCanvasElement>(null);
  const names = useRef<HTMLDivElement>(null);
  const compass = useRef<SVGSVGElement>(null);
  const stage = useRef<Stage>(null);
  const tools = useRef<Tools>(null);
  const [ready, setReady] = useState<Stage>();

  useEffect(() => {
    const element = canvas.current!;
    const made = new Stage(element, inks(), () => {
      drawCompass(compass.current, made.camera, useDocument.getState().model);
      tools.current?.labels.place();
    });
    stage.current = made;
    const observer = new ResizeObserver(([entry]) => made.resize(entry!.contentRect.width, entry!.contentRect.height));
    observer.observe(element.parentElement!);
    const draw = () => made.now();
    useDisplayed.setState({ draw });
    drawers.set(element, draw);
    tellTests(made);
    return () => {
      observer.disconnect();
      tools.current?.mover.dispose();
      tools.current?.edgePicker.dispose();
      tools.current = null;
      made.dispose();
      if (useDisplayed.getState().draw === draw) useDisplayed.setState({ draw: undefined });
      stage.current = null;
    };
  }, []);

  const bring = useCallback(() => {
    if (compact || tools.current) return;
    void import('./tools').then(({ Mover, EdgePicker, Labels }) => {
      const s = stage.current;
      if (!s || tools.current) return;
      tools.current = {
        mover: new Mover(s, say, ['#9B4540', '#6F8A50', '#5C7B94', token('accent')]),
        edgePicker: new EdgePicker(s, token('accent')),
        labels: new Labels(s, names.current!),
      };
      setReady(s);
    });
  }, [compact, say]);
  return { canvas, names, compass, stage, tools, ready, bring };
}

/** What is drawn on a canvas no document tells: tests ask the stage. */
function tellTests(stage: Stage): void {
  Object.assign(window, {
    vimPivotFrames: () => stage.frames,
    vimPivotCalls: () => stage.calls,
    vimPivotPosture: () => stage.shownPosture(),
    vimPivotSpot: (body: string) => stage.spot(body),
    vimPivotPoint: (point: string) => stage.pointSpot(point),
    vimPivotTurn: (a: number, b: number) => stage.turn(a, b),
  });
}
