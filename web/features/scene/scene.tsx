'use client';
import { type Model, homeOf, kindOf } from '@vim-pivot/core/page';
import dynamic from 'next/dynamic';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { Box3, Camera } from 'three';
import { Vector3 } from 'three';
import { type Selected, pickAlso, select, useDocument } from '@/state/document/document';
import { postureAt, useDrag, useMotion } from '@/state/scene/motion';
import { type PickedPlace, forgetPlaces, pickPlace, usePlaces, wordsOf } from '@/state/scene/places';
import { useRuns } from '@/state/runs/runs';
import { drawers, useDisplayed } from '@/state/scene/displayed';
import { useTheme } from '@/state/theme';
import { look, useView } from '@/state/scene/view';
import { sketch, useSketch } from '@/state/asking';
import { Segmented } from '@/ui/segmented';
import { Stage, type View } from './stage';
import { usePassed, useOverlaysIn } from './use-overlays';
import type { EdgePicker, Labels, Mover } from './tools';

const ViewPanel = dynamic(() => import('./view-panel').then((m) => m.ViewPanel), { ssr: false });
const SketchPad = dynamic(() => import('./sketch/sketch-pad').then((m) => m.SketchPad), { ssr: false });
const SceneMenu = dynamic(() => import('./scene-menu').then((m) => m.SceneMenu), { ssr: false });

const drag = () => import('@/state/scene/drag');
const token = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(`--color-${name}`).trim();
const inks = () => ({ ink: token('ink'), sheet: token('sheet'), accent: token('accent'), calm: token('calm'), line: token('line') });
const NONE: ReadonlySet<number> = new Set();

/** Instants at which a whole motion is looked at when it is fitted. */
const INSTANTS = 200;
/** Postures through a run, evenly in time. */
function* reached(run: string): Generator<Float64Array> {
  const track = useRuns.getState().tracks.get(run);
  if (!track) return;
  const posture = new Float64Array(7 * track.bodies);
  for (let k = 0; k <= INSTANTS; k++) {
    track.at((track.end * k) / INSTANTS, posture);
    yield posture;
  }
}

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
  const canvas = useRef<HTMLCanvasElement>(null);
  const names = useRef<HTMLDivElement>(null);
  const stage = useRef<Stage>(null);
  const tools = useRef<{ mover: Mover; edgePicker: EdgePicker; labels: Labels }>(undefined);
  /** The stage once its tools are there. */
  const [ready, setReady] = useState<Stage>();
  const [view, setView] = useState<View | ''>('iso');
  const [label, setLabel] = useState<{ text: string; x: number; y: number }>();
  const [said, setSaid] = useState<string>();
  const [panel, setPanel] = useState<{ box: Box3; from: Vector3 }>();
  const [menu, setMenu] = useState<{ x: number; y: number; on: Selected | undefined }>();
  const compass = useRef<SVGSVGElement>(null);
  const picture = useDocument((s) => s.picture);
  const picked = useDocument((s) => s.picked);
  const model = useDocument((s) => s.model);
  const project = useDocument((s) => s.id);
  const mode = useRuns((s) => s.view);
  const current = useRuns((s) => s.current);
  const run = useRuns((s) => s.runs.find((r) => r.id === s.current));
  const ownPicture = useRuns((s) => (s.current ? s.pictures.get(s.current) : undefined));
  const theme = useTheme((s) => s.dark);
  const seen = useView();
  const places = usePlaces((s) => s.picked);
  const handles = useDisplayed((s) => s.handles);
  const sketching = useSketch((s) => s.on) && !compact && !!model;
  // a sketch begins on the face that is picked, else in a standard view
  const [sketched, setSketched] = useState(false);
  if (sketched !== sketching) {
    setSketched(sketching);
    if (sketching) setView(places.at(-1)?.type === 'plane' ? '' : view === 'iso' || view === '' ? 'front' : view);
  }
  const up = model?.up ?? 'z';
  const shown = mode === 'run' && run && run.model !== model ? (ownPicture ?? picture) : picture;

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
    Object.assign(window, {
      vimPivotFrames: () => made.frames,
      vimPivotCalls: () => made.calls,
      vimPivotPosture: () => made.shownPosture(),
      vimPivotSpot: (body: string) => made.spot(body),
      vimPivotPoint: (point: string) => made.pointSpot(point),
      vimPivotTurn: (a: number, b: number) => made.turn(a, b),
    });
    return () => {
      observer.disconnect();
      tools.current?.mover.dispose();
      tools.current?.edgePicker.dispose();
      tools.current = undefined;
      made.dispose();
      if (useDisplayed.getState().draw === draw) useDisplayed.setState({ draw: undefined });
      stage.current = null;
    };
  }, []);

  /** Handles, names and feeling for edges come when the scene is worked in. */
  const bring = useCallback(() => {
    if (compact || tools.current) return;
    void import('./tools').then(({ Mover, EdgePicker, Labels }) => {
      const s = stage.current;
      if (!s || tools.current) return;
      tools.current = {
        mover: new Mover(s, setSaid, ['#9B4540', '#6F8A50', '#5C7B94', token('accent')]),
        edgePicker: new EdgePicker(s, token('accent')),
        labels: new Labels(s, names.current!),
      };
      setReady(s);
    });
  }, [compact]);
  useEffect(() => {
    if (sketching) bring();
  }, [sketching, bring]);
  useEffect(() => {
    if (picked.length > 0 || seen.labels.length > 0) bring();
  }, [picked, seen.labels, bring]);

  // The project's picture for its shelf, taken in a quiet moment after it was kept.
  const savedAt = useDocument((s) => s.savedAt);
  const busy = useRuns((s) => !!s.running || s.playing);
  useEffect(() => {
    if (compact || busy || !project || !savedAt) return;
    const timer = setTimeout(() => {
      void import('./photograph')
        .then((p) => stage.current && p.photograph(stage.current, 320, 150, token('stage')))
        .then(async (picture) => {
          if (picture) await (await import('@/state/kept/db')).db.projects.update(project, { picture });
        })
        .catch(() => undefined); // a picture that cannot be taken is no loss
    }, 2500);
    return () => clearTimeout(timer);
  }, [savedAt, project, busy, compact]);

  useEffect(() => stage.current?.theme(inks()), [theme]);
  useEffect(() => stage.current?.erect(up), [up]);
  useEffect(() => {
    stage.current?.show(shown, project ?? '');
    useDisplayed.setState({ picture: shown });
  }, [shown, project]);
  useEffect(() => {
    if (from !== 'iso' || compact) stage.current?.fit(from);
  }, [from, compact]);
  const ran = mode === 'run' && current !== undefined;
  /** @param motion all that the machine reaches in the run, not the posture alone */
  const fit = (motion: boolean) => {
    const track = motion && ran ? reached(current) : undefined;
    if (track) stage.current?.fitMotion(track);
    else stage.current?.fit();
  };
  useOverlaysIn(stage, shown);
  useEffect(() => stage.current?.ride(follow, turning), [follow, turning, shown]);
  useEffect(() => stage.current?.see(compact ? { ...seen, cut: undefined } : seen), [seen, shown, compact]);

  // Posture: of the model, or of the run at the time cursor; followed outside React.
  useEffect(() => {
    const out = new Float64Array(7 * (shown?.bodies.length ?? 0));
    const pose = () => {
      if (!shown) return;
      const dragged = useDrag.getState().posture;
      const found = useMotion.getState();
      const s = useRuns.getState();
      const track = s.current ? s.tracks.get(s.current) : undefined;
      let posture = shown.posture;
      if (dragged && dragged.length === 7 * shown.bodies.length) posture = dragged;
      else if (found.shown && shown.bodies.length * 7 <= found.shown.frames.length)
        posture = postureAt(found.shown, shown.bodies.length, found.frame);
      else if (s.view === 'run' && track && track.count > 0 && run?.layout.bodies === shown.bodies.length) {
        track.at(s.time, out);
        posture = out;
      }
      stage.current?.pose(posture);
      useDisplayed.getState().follow(posture);
    };
    pose();
    const still = useMotion.subscribe((now, before) => {
      if (now.shown !== before.shown || now.frame !== before.frame) pose();
    });
    const held = useDrag.subscribe(pose);
    const runs = useRuns.subscribe((now, before) => {
      if (now.time !== before.time || now.view !== before.view || now.current !== before.current || now.tracks !== before.tracks) pose();
    });
    return () => {
      still();
      held();
      runs();
    };
  }, [shown, current, run?.layout.bodies]);

  useEffect(() => {
    if (!shown || !model) return;
    const bodies = new Set<number>(),
      joints: string[] = [],
      points: string[] = [];
    const add = (name: unknown) => bodies.add(shown.bodies.indexOf(String(name)));
    for (const p of picked) {
      const e = model[p.family].find((x) => x.name === p.name);
      if (p.family === 'instances') shown.bodies.forEach((b, i) => homeOf(model, 'bodies', b)?.name === p.name && bodies.add(i));
      else if (p.family === 'bodies') add(p.name);
      else if (p.family === 'shapes') add(e?.body);
      else if (p.family === 'joints') joints.push(p.name);
      else if (p.family === 'points') points.push(p.name);
      else if (e?.joint) joints.push(String(e.joint));
    }
    bodies.delete(-1);
    stage.current?.mark(bodies, joints, points);
    tools.current?.labels.choose(picked, seen.labels);
    const only = picked.length === 1 && mode === 'model' && places.length === 0 ? picked[0] : undefined;
    const movable =
      only && ((only.family === 'points' && model.points.some((p) => p.name === only.name)) || (only.family === 'bodies' && handles))
        ? only
        : undefined;
    tools.current?.mover.show(movable, only?.family === 'bodies' ? (handles ?? 'move') : 'move');
  }, [picked, shown, model, theme, seen.labels, handles, ready, mode, places]);
  useEffect(() => tools.current?.edgePicker.light(undefined, places), [places, ready]);

  const at = (e: React.PointerEvent | React.MouseEvent) => {
    const box = canvas.current!.getBoundingClientRect();
    return { x: e.clientX - box.left, y: e.clientY - box.top };
  };
  const down = useRef<{ x: number; y: number }>(null);
  const dragging = useRef<{ body: number; at: [number, number, number] }>(undefined);
  /** Bodies whose edges and faces answer: those that are picked. */
  const felt = (): ReadonlySet<number> =>
    compact || !shown
      ? NONE
      : new Set([
          ...picked.filter((p) => p.family === 'bodies').map((p) => shown.bodies.indexOf(p.name)),
          ...places.map((p) => p.body),
          ...(picked.some((p) => p.family === 'shapes') ? [-1] : []),
        ]);
  const feel = (p: { x: number; y: number }): PickedPlace | undefined => {
    const bodies = felt();
    return bodies.size > 0 && tools.current && !tools.current.mover.busy ? tools.current.edgePicker.feel(p.x, p.y, bodies) : undefined;
  };
  const under = (p: { x: number; y: number }, beneath = false): Selected | undefined => {
    const hit = stage.current?.pick(p.x, p.y, beneath);
    if (!hit) return undefined;
    // a joint that an instance brings has no Card of its own: the point it is at is meant
    if ('joint' in hit && !beneath && !model?.joints.some((j) => j.name === hit.joint)) {
      const point = under(p, true);
      if (point?.family === 'points') return point;
    }
    if ('joint' in hit) return { family: 'joints', name: hit.joint };
    if ('point' in hit) return { family: 'points', name: hit.point };
    const name = shown?.bodies[hit.body];
    return name ? { family: 'bodies', name } : hit.shape ? { family: 'shapes', name: hit.shape } : undefined;
  };

  const drawAs = (v: string) => {
    sketch(v === 'sketch');
    if (v !== 'sketch') look({ style: v as 'solid' });
  };
  /** A click. @param also picks further */
  const press = (p: { x: number; y: number }, also: boolean) => {
    if (tools.current?.mover.busy) return;
    // on the sheet, bodies answer as a whole
    const place = sketching ? undefined : feel(p);
    if (place) return pickPlace(place, also);
    if (!also) forgetPlaces();
    // a second click on a joint goes to the point under it
    const only = picked.length === 1 && picked[0]!.family === 'joints' ? picked[0]!.name : undefined;
    const first = under(p);
    const beneath = first?.family === 'joints' && first.name === only ? under(p, true) : undefined;
    const hit = beneath?.family === 'points' ? beneath : first;
    if (!hit) select(undefined);
    else (also ? pickAlso : select)(hit);
  };
  const menuAt = (p: { x: number; y: number }) => {
    const on = under(p);
    if (on && !picked.some((q) => q.family === on.family && q.name === on.name)) select(on);
    setMenu({ ...p, on });
  };

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
        onKeyDown={(e) => {
          const upward = 'xyz'.indexOf(up),
            across = upward === 0 ? 1 : 0,
            third = 3 - upward - across;
          const step = e.altKey
            ? (
                {
                  ArrowLeft: [across, -1],
                  ArrowRight: [across, 1],
                  ArrowDown: [upward, -1],
                  ArrowUp: [upward, 1],
                  PageDown: [third, -1],
                  PageUp: [third, 1],
                } as const
              )[e.key as 'ArrowUp']
            : undefined;
          if (step) {
            e.preventDefault();
            return void tools.current?.mover.nudge(step[0], step[1]);
          }
          if (e.key.toLowerCase() === 'e' && !e.ctrlKey && !e.metaKey && felt().size > 0) {
            e.preventDefault();
            return void tools.current?.edgePicker.next(felt(), places.at(-1), e.shiftKey).then((p) => p && pickPlace(p, false));
          }
          const turn = { ArrowLeft: [-0.15, 0], ArrowRight: [0.15, 0], ArrowUp: [0, 0.15], ArrowDown: [0, -0.15] }[e.key];
          if (turn) stage.current?.turn(turn[0]!, turn[1]!);
          else if (e.key === '+' || e.key === '=') stage.current?.zoom(1.2);
          else if (e.key === '-') stage.current?.zoom(1 / 1.2);
          else if (e.key.toLowerCase() === 'f' && !e.ctrlKey && !e.metaKey) fit(e.shiftKey);
          else if (e.key === 'ContextMenu' || (e.key === 'F10' && e.shiftKey)) setMenu({ x: 40, y: 60, on: picked.at(-1) });
          else return;
          e.preventDefault();
        }}
        onPointerDown={(e) => {
          const p = (down.current = at(e));
          if (e.button !== 0 || compact || e.shiftKey || e.ctrlKey) return;
          if (tools.current?.mover.grab(p.x, p.y)) return void e.currentTarget.setPointerCapture(e.pointerId);
          if (tools.current?.mover.busy) return;
          // a selected body is dragged, anything else turns the view
          const hold = stage.current?.hold(p.x, p.y);
          if (!hold || !shown || !picked.some((x) => x.family === 'bodies' && x.name === shown.bodies[hold.body])) return;
          dragging.current = hold;
          stage.current?.steady(true);
          e.currentTarget.setPointerCapture(e.pointerId);
          void drag().then((d) => d.grab());
        }}
        onPointerUp={() => {
          if (dragging.current) stage.current?.steady(false);
          dragging.current = undefined;
          tools.current?.mover.drop();
        }}
        onPointerMove={(e) => {
          const p = at(e);
          const hold = dragging.current;
          if (e.buttons) {
            if (label) setLabel(undefined);
            if (!hold) return tools.current?.mover.drag(p.x, p.y, e.altKey);
            const to = stage.current?.reach(p.x, p.y);
            if (to && down.current && Math.hypot(p.x - down.current.x, p.y - down.current.y) > 3)
              void drag().then((d) => d.pullTo({ ...hold, to }));
            return;
          }
          const place = feel(p);
          tools.current?.edgePicker.light(place, places);
          const hit = under(p);
          const text = place
            ? `${wordsOf(place)}${place.radius ? `, radius ${Number((1000 * place.radius).toFixed(3))} mm` : ''}`
            : hit?.family === 'shapes'
              ? model?.ground
              : hit?.name;
          setLabel(text ? { text, ...p } : undefined);
        }}
        onPointerLeave={() => setLabel(undefined)}
        onContextMenu={(e) => {
          e.preventDefault();
          const p = at(e);
          if (!compact && !(down.current && Math.hypot(p.x - down.current.x, p.y - down.current.y) > 4)) menuAt(p);
        }}
        onClick={(e) => {
          const p = at(e);
          if (down.current && Math.hypot(p.x - down.current.x, p.y - down.current.y) > 4) return;
          press(p, e.shiftKey || e.ctrlKey || e.metaKey);
        }}
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
      <div className="absolute right-3 top-3 flex gap-2">
        {!compact && (
          <Segmented
            label="Drawn as"
            value={sketching ? 'sketch' : seen.style}
            options={[
              ['solid', 'Solid'],
              ['skeleton', 'Skeleton'],
              ['sketch', 'Sketch'],
            ]}
            onChange={drawAs}
          />
        )}
        <button
          className="rounded-md border border-line bg-sheet px-2.5 py-1 font-medium hover:text-accent"
          onClick={(e) => fit(e.shiftKey)}
          title="Show the whole machine (F); with Shift: all it reaches in the run"
        >
          Fit
        </button>
        {!compact && (
          <>
            <Segmented
              label="Standard view"
              value={view}
              options={[
                ['iso', 'Iso'],
                ['front', 'Front'],
                ['top', 'Top'],
                ['side', 'Side'],
              ]}
              onChange={(v) => {
                setView(v as View);
                if (v === 'iso') sketch(false);
                stage.current?.fit(v as View);
              }}
            />
            <button
              aria-expanded={!!panel}
              onClick={() => setPanel(panel || !stage.current ? undefined : { box: stage.current.box(), from: stage.current.from() })}
              className={`rounded-md border border-line px-2.5 py-1 font-medium hover:text-accent ${panel || seen.cut || seen.hidden.length > 0 ? 'bg-calm-soft text-calm' : 'bg-sheet'}`}
              title="Up axis, lens, section, names, what is hidden"
            >
              View
            </button>
          </>
        )}
      </div>
      {panel && <ViewPanel {...panel} onFitMotion={ran ? () => fit(true) : undefined} onClose={() => setPanel(undefined)} />}
      {menu && <SceneMenu {...menu} onClose={() => setMenu(undefined)} />}
      {label && !menu && (
        <div
          className="pointer-events-none absolute rounded bg-ink px-1.5 py-0.5 text-xs text-paper"
          style={{ left: label.x + 12, top: label.y + 8 }}
        >
          {label.text}
        </div>
      )}
      <Passed />
      {said && (
        <div
          role="status"
          className="pointer-events-none absolute bottom-3 left-1/2 -translate-x-1/2 rounded-md bg-ink px-2.5 py-1 font-mono text-xs text-paper"
        >
          {said}
        </div>
      )}
      <svg
        ref={compass}
        className="pointer-events-none absolute bottom-2 left-2"
        width="84"
        height="84"
        viewBox="-42 -42 84 84"
        aria-hidden="true"
      >
        {(['x', 'y', 'z', 'g'] as const).map((k) => (
          <g
            key={k}
            data-axis={k}
            stroke={k === 'g' ? 'var(--color-accent)' : 'var(--color-ink-2)'}
            fill={k === 'g' ? 'var(--color-accent)' : 'var(--color-ink-2)'}
            strokeWidth={k === 'g' ? 2 : 1.4}
          >
            <line x1="0" y1="0" x2="0" y2="0" />
            <text stroke="none" fontSize="11" fontFamily="var(--font-mono)" textAnchor="middle" dominantBaseline="central">
              {k}
            </text>
          </g>
        ))}
      </svg>
    </div>
  );
}

/** Ground axes and the direction of gravity as the camera sees them. */
function drawCompass(svg: SVGSVGElement | null, camera: Camera, model: Model | undefined): void {
  if (!svg) return;
  const gravity = model?.loads.find((l) => !l.off && kindOf('loads', l)?.weighs !== undefined);
  const acceleration = gravity && gravity[kindOf('loads', gravity)!.weighs!];
  const parts = Array.isArray(acceleration) ? acceleration.map((x) => Number.parseFloat(String(x)) || 0) : [0, 0, -1];
  const axes = {
    x: new Vector3(1, 0, 0),
    y: new Vector3(0, 1, 0),
    z: new Vector3(0, 0, 1),
    g: gravity ? new Vector3(...(parts as [number, number, number])).normalize() : new Vector3(),
  };
  for (const [k, d] of Object.entries(axes)) {
    const g = svg.querySelector<SVGGElement>(`[data-axis="${k}"]`);
    if (!g) continue;
    const v = d.clone().transformDirection(camera.matrixWorldInverse);
    const shown = d.lengthSq() > 0 && Math.hypot(v.x, v.y) > 0.08;
    g.style.display = shown ? '' : 'none';
    const l = k === 'g' ? 24 : 28;
    const line = g.firstElementChild!,
      text = g.lastElementChild!;
    line.setAttribute('x2', String(v.x * l));
    line.setAttribute('y2', String(-v.y * l));
    text.setAttribute('x', String(v.x * (l + 8)));
    text.setAttribute('y', String(-v.y * (l + 8)));
  }
}

/** Names the limits that are passed at the time shown, over the scene. */
function Passed() {
  const passed = usePassed();
  if (passed.length === 0) return null;
  return (
    <ul aria-label="Limits passed now" className="pointer-events-none absolute bottom-3 right-3 grid gap-1 text-xs">
      {[...new Set(passed.map((v) => v.limit))].map((n) => (
        <li key={n} className="rounded-md bg-warn-soft px-2 py-0.5 font-medium text-warn">
          {n} is passed
        </li>
      ))}
    </ul>
  );
}
