'use client';
import { useEffect, useRef, useState } from 'react';
import type { Camera } from 'three';
import { Vector3 } from 'three';
import { pickAlso, select, useDocument } from '@/state/document';
import { nextFrame, postureAt, useDrag, useMotion } from '@/state/motion';
import { advance, useRuns } from '@/state/runs';
import { useTheme } from '@/state/theme';
import { Segmented } from '@/ui/segmented';
import { Stage, type View } from './stage';

const drag = () => import('@/state/drag');
const token = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(`--color-${name}`).trim();
const inks = () => ({ ink: token('ink'), sheet: token('sheet'), accent: token('accent'), calm: token('calm'), line: token('line') });

/** The machine in three dimensions, at the model's start posture or at a time of the current run. */
export function Scene({ compact = false }: { compact?: boolean }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const stage = useRef<Stage>(null);
  const [view, setView] = useState<View | ''>('iso');
  const [label, setLabel] = useState<{ text: string; x: number; y: number }>();
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
  const shown = mode === 'run' && run && run.model !== model ? (ownPicture ?? picture) : picture;

  useEffect(() => {
    const element = canvas.current!;
    const made = new Stage(element, inks(), (camera) => drawCompass(compass.current, camera, useDocument.getState().model));
    stage.current = made;
    const observer = new ResizeObserver(([entry]) => made.resize(entry!.contentRect.width, entry!.contentRect.height));
    observer.observe(element.parentElement!);
    Object.assign(window, { vimPivotFrames: () => made.frames, vimPivotPosture: () => made.shownPosture(), vimPivotSpot: (body: string) => made.spot(body) });
    return () => {
      observer.disconnect();
      made.dispose();
      stage.current = null;
    };
  }, []);

  useEffect(() => stage.current?.theme(inks()), [theme]);
  useEffect(() => {
    stage.current?.show(shown, project ?? '');
  }, [shown, project]);

  // Posture: of the model, or of the run at the time cursor; followed outside React.
  useEffect(() => {
    const out = new Float64Array(7 * (shown?.bodies.length ?? 0));
    const pose = () => {
      if (!shown) return;
      const dragged = useDrag.getState().posture;
      if (dragged && dragged.length === 7 * shown.bodies.length) {
        stage.current?.pose(dragged);
        return;
      }
      const found = useMotion.getState();
      if (found.shown && shown.bodies.length * 7 <= found.shown.frames.length) {
        stage.current?.pose(postureAt(found.shown, shown.bodies.length, found.frame));
        return;
      }
      const s = useRuns.getState();
      const track = s.current ? s.tracks.get(s.current) : undefined;
      if (s.view === 'run' && track && track.count > 0 && run?.layout.bodies === shown.bodies.length) {
        track.at(s.time, out);
        stage.current?.pose(out);
      } else stage.current?.pose(shown.posture);
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
    const bodies = new Set<number>(), joints: string[] = [], points: string[] = [];
    const add = (name: unknown) => bodies.add(shown.bodies.indexOf(String(name)));
    for (const p of picked) {
      const e = model[p.family].find((x) => x.name === p.name);
      if (p.family === 'bodies') add(p.name);
      else if (p.family === 'shapes') add(e?.body);
      else if (p.family === 'joints') joints.push(p.name);
      else if (p.family === 'points') points.push(p.name);
      else if (e?.joint) joints.push(String(e.joint));
    }
    bodies.delete(-1);
    stage.current?.mark(bodies, joints, points);
  }, [picked, shown, model, theme]);

  const at = (e: React.PointerEvent | React.MouseEvent) => {
    const box = canvas.current!.getBoundingClientRect();
    return { x: e.clientX - box.left, y: e.clientY - box.top };
  };
  const down = useRef<{ x: number; y: number }>(null);
  const dragging = useRef<{ body: number; at: [number, number, number] }>(undefined);

  return (
    <div className="relative h-full w-full overflow-hidden bg-stage" data-testid="scene">
      <canvas
        ref={canvas}
        className="block h-full w-full touch-none"
        role="img"
        aria-label={`The machine ${model?.name ?? ''}, drawn in three dimensions`}
        onPointerDown={(e) => {
          const p = (down.current = at(e));
          // a selected body is dragged, anything else turns the view
          const hold = e.button === 0 && !compact && !e.shiftKey && !e.ctrlKey ? stage.current?.hold(p.x, p.y) : undefined;
          if (!hold || !shown || !picked.some((x) => x.family === 'bodies' && x.name === shown.bodies[hold.body])) return;
          dragging.current = hold;
          stage.current?.steady(true);
          e.currentTarget.setPointerCapture(e.pointerId);
          void drag().then((d) => d.grab());
        }}
        onPointerUp={() => {
          dragging.current = undefined;
          stage.current?.steady(false);
        }}
        onPointerMove={(e) => {
          const p = at(e);
          const hold = dragging.current;
          if (hold && e.buttons) {
            const to = stage.current?.reach(p.x, p.y);
            if (to && down.current && Math.hypot(p.x - down.current.x, p.y - down.current.y) > 3) void drag().then((d) => d.pullTo({ ...hold, to }));
            return;
          }
          if (e.buttons) return setLabel(undefined);
          const hit = stage.current?.pick(p.x, p.y);
          const text = !hit ? undefined : 'joint' in hit ? hit.joint : 'point' in hit ? hit.point : (shown?.bodies[hit.body] ?? model?.ground);
          setLabel(text ? { text, ...p } : undefined);
        }}
        onPointerLeave={() => setLabel(undefined)}
        onClick={(e) => {
          const p = at(e);
          if (down.current && Math.hypot(p.x - down.current.x, p.y - down.current.y) > 4) return;
          const hit = stage.current?.pick(p.x, p.y);
          const act = e.shiftKey || e.ctrlKey || e.metaKey ? pickAlso : select;
          if (!hit) select(undefined);
          else if ('joint' in hit) act({ family: 'joints', name: hit.joint });
          else if ('point' in hit) act({ family: 'points', name: hit.point });
          else {
            const name = shown?.bodies[hit.body];
            act(name ? { family: 'bodies', name } : { family: 'shapes', name: hit.shape });
          }
        }}
      />
      <div className="absolute right-3 top-3 flex gap-2">
        <button className="rounded-md border border-line bg-sheet px-2.5 py-1 font-medium hover:text-accent" onClick={() => stage.current?.fit()} title="Show the whole machine">
          Fit
        </button>
        {!compact && (
          <Segmented
            label="Standard view"
            value={view}
            options={[['iso', 'Iso'], ['front', 'Front'], ['top', 'Top'], ['side', 'Side']]}
            onChange={(v) => {
              setView(v as View);
              stage.current?.fit(v as View);
            }}
          />
        )}
      </div>
      {label && (
        <div className="pointer-events-none absolute rounded bg-ink px-1.5 py-0.5 text-xs text-paper" style={{ left: label.x + 12, top: label.y + 8 }}>
          {label.text}
        </div>
      )}
      <svg ref={compass} className="pointer-events-none absolute bottom-2 left-2" width="84" height="84" viewBox="-42 -42 84 84" aria-hidden="true">
        {(['x', 'y', 'z', 'g'] as const).map((k) => (
          <g key={k} data-axis={k} stroke={k === 'g' ? 'var(--color-accent)' : 'var(--color-ink-2)'} fill={k === 'g' ? 'var(--color-accent)' : 'var(--color-ink-2)'} strokeWidth={k === 'g' ? 2 : 1.4}>
            <line x1="0" y1="0" x2="0" y2="0" />
            <text stroke="none" fontSize="11" fontFamily="var(--font-mono)" textAnchor="middle" dominantBaseline="central">{k}</text>
          </g>
        ))}
      </svg>
      <Clock />
    </div>
  );
}

/** Ground axes and the direction of gravity as the camera sees them. */
function drawCompass(svg: SVGSVGElement | null, camera: Camera, model: { loads: readonly { kind?: string; off?: boolean; acceleration?: unknown }[] } | undefined): void {
  if (!svg) return;
  const gravity = model?.loads.find((l) => l.kind === 'gravity' && !l.off);
  const parts = Array.isArray(gravity?.acceleration) ? gravity.acceleration.map((x) => Number.parseFloat(String(x)) || 0) : [0, 0, -1];
  const axes = { x: new Vector3(1, 0, 0), y: new Vector3(0, 1, 0), z: new Vector3(0, 0, 1), g: gravity ? new Vector3(...(parts as [number, number, number])).normalize() : new Vector3() };
  for (const [k, d] of Object.entries(axes)) {
    const g = svg.querySelector<SVGGElement>(`[data-axis="${k}"]`);
    if (!g) continue;
    const v = d.clone().transformDirection(camera.matrixWorldInverse);
    const shown = d.lengthSq() > 0 && Math.hypot(v.x, v.y) > 0.08;
    g.style.display = shown ? '' : 'none';
    const l = k === 'g' ? 24 : 28;
    const line = g.firstElementChild!, text = g.lastElementChild!;
    line.setAttribute('x2', String(v.x * l));
    line.setAttribute('y2', String(-v.y * l));
    text.setAttribute('x', String(v.x * (l + 8)));
    text.setAttribute('y', String(-v.y * (l + 8)));
  }
}

/** Runs the playback clock while something plays, and nothing otherwise. */
function Clock() {
  const playing = useRuns((s) => s.playing);
  useEffect(() => {
    if (!playing) return;
    let last = performance.now(), handle = 0;
    const frame = (now: number) => {
      advance(Math.min(0.1, (now - last) / 1000));
      last = now;
      handle = requestAnimationFrame(frame);
    };
    handle = requestAnimationFrame(frame);
    return () => cancelAnimationFrame(handle);
  }, [playing]);
  const shown = useMotion((s) => s.shown);
  useEffect(() => {
    if (!shown || (!shown.swing && !shown.loop)) return;
    const timer = setInterval(nextFrame, 40);
    return () => clearInterval(timer);
  }, [shown]);
  return null;
}
