'use client';
import dynamic from 'next/dynamic';
import { type ComponentProps, useEffect, useState } from 'react';
import { sketch, useSketch } from '@/state/asking';
import { useDocument } from '@/state/document/document';
import { useRuns } from '@/state/runs/runs';
import { usePlaces } from '@/state/scene/places';
import { Compass } from './compass';
import { Passed } from './passed';
import { SceneBar } from './scene-bar';
import { sceneKey } from './scene-keys';
import type { View } from './stage';
import { useMarks } from './use-marks';
import { useLook } from './use-look';
import { usePhotograph } from './use-photograph';
import { usePointing } from './use-pointing';
import { reached, usePosture } from './use-posture';
import { useStage } from './use-stage';

const ViewPanel = dynamic(() => import('./view-panel').then((m) => m.ViewPanel), { ssr: false });
const SketchPad = dynamic(() => import('./sketch/sketch-pad').then((m) => m.SketchPad), { ssr: false });
const SceneMenu = dynamic(() => import('./scene-menu').then((m) => m.SceneMenu), { ssr: false });

/** The machine in three dimensions, at the model's start posture or at a time of the current run. */
export function Scene({
  compact = false,
  from = 'iso',
  follow,
  turning = false,
}: {
  compact?: boolean;
  from?: View;
  follow?: string;
  turning?: boolean;
}) {
  const [view, setView] = useState<View | ''>('iso');
  const [said, setSaid] = useState<string>();
  const [panel, setPanel] = useState<Pick<ComponentProps<typeof ViewPanel>, 'box' | 'from'>>();
  const [menu, setMenu] = useState<Omit<ComponentProps<typeof SceneMenu>, 'onClose'>>();
  const picture = useDocument((s) => s.picture);
  const picked = useDocument((s) => s.picked);
  const model = useDocument((s) => s.model);
  const mode = useRuns((s) => s.view);
  const current = useRuns((s) => s.current);
  const run = useRuns((s) => s.runs.find((r) => r.id === s.current));
  const ownPicture = useRuns((s) => (s.current ? s.pictures.get(s.current) : undefined));
  const places = usePlaces((s) => s.picked);
  const sketching = useSketch((s) => s.on) && !compact && !!model;
  // a sketch begins on the face that is picked, else in a standard view
  const [sketched, setSketched] = useState(false);
  if (sketched !== sketching) {
    setSketched(sketching);
    if (sketching) setView(places.at(-1)?.type === 'plane' ? '' : view === 'iso' || view === '' ? 'front' : view);
  }
  const up = model?.up ?? 'z';
  const shown = mode === 'run' && run && run.model !== model ? (ownPicture ?? picture) : picture;

  const onStage = useStage(compact, setSaid);
  const { canvas, names, compass, stage, tools, ready, bring } = onStage;
  useEffect(() => {
    if (sketching) bring();
  }, [sketching, bring]);
  usePhotograph(stage, !compact);
  useLook(onStage, shown, { compact, from, follow, turning });
  usePosture(stage, shown, run?.layout.bodies);
  useMarks(onStage, shown);
  const { handlers, label, felt, press, menuAt } = usePointing(onStage, shown, { compact, sketching, onMenu: setMenu });

  const ran = mode === 'run' && current !== undefined;
  /** @param motion all that the machine reaches in the run, not the posture alone */
  const fit = (motion: boolean) => {
    if (motion && ran) stage.current?.fitMotion(reached(current));
    else stage.current?.fit();
  };
  const lookFrom = (v: View) => {
    setView(v);
    if (v === 'iso') sketch(false);
    stage.current?.fit(v);
  };
  const key = (e: React.KeyboardEvent) =>
    sceneKey(e, { stage: stage.current, tools: tools.current, up, felt: felt(), places, picked, fit, onMenu: setMenu });

  return (
    <div className="relative h-full w-full overflow-hidden bg-stage" data-testid="scene">
      <canvas
        ref={canvas}
        className="block h-full w-full touch-none"
        role="application"
        aria-roledescription="three-dimensional scene"
        tabIndex={compact ? -1 : 0}
        aria-label={`The machine ${model?.name ?? ''}, drawn in three dimensions. Arrow keys turn the view, plus and minus zoom, F shows all. E goes through edges and faces of the selected body. With Alt, arrow and page keys move the selected point, or the body that has handles.`}
        onPointerEnter={bring}
        onKeyDown={key}
        {...handlers}
      />
      {sketching && ready && (
        <SketchPad stage={ready} view={view === '' || view === 'iso' ? undefined : view} onClick={press} onMenu={menuAt} />
      )}
      <div
        ref={names}
        className={`pointer-events-none absolute inset-0 overflow-hidden ${sketching ? 'hidden' : ''}`}
        data-testid="labels"
        aria-hidden="true"
      />
      <SceneBar
        compact={compact}
        sketching={sketching}
        view={view}
        panelOpen={!!panel}
        onView={lookFrom}
        onFit={fit}
        onPanel={() => setPanel(panel || !stage.current ? undefined : { box: stage.current.box(), from: stage.current.from() })}
      />
      {panel && <ViewPanel {...panel} onFitMotion={ran ? () => fit(true) : undefined} onClose={() => setPanel(undefined)} />}
      {menu && <SceneMenu {...menu} onClose={() => setMenu(undefined)} />}
      {label && !menu && <Under {...label} />}
      <Passed />
      {said && <Said words={said} />}
      <Compass ref={compass} />
    </div>
  );
}

/** What lies under the pointer, in words. */
function Under({ text, x, y }: { text: string; x: number; y: number }) {
  return (
    <div className="pointer-events-none absolute rounded bg-ink px-1.5 py-0.5 text-xs text-paper" style={{ left: x + 12, top: y + 8 }}>
      {text}
    </div>
  );
}

/** What dragging does, in words. */
function Said({ words }: { words: string }) {
  return (
    <div
      role="status"
      className="pointer-events-none absolute bottom-3 left-1/2 -translate-x-1/2 rounded-md bg-ink px-2.5 py-1 font-mono text-xs text-paper"
    >
      {words}
    </div>
  );
}
