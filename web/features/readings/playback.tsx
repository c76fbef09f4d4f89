'use client';
import { StepBack, StepForward } from 'lucide-react';
import { useDocument } from '@/state/document/document';
import { setLoop, useReadings } from '@/state/readings/readings';
import { setSpeed, setTime, stepFrame, timeShown, useRuns } from '@/state/runs/runs';
import { show, useOverlays } from '@/state/scene/overlays';
import { Menu, MenuItem, MenuLabel, MenuRule } from '@/ui/menu';
import { Segmented } from '@/ui/segmented';
import type { ReadCurve } from '@/state/runs/curves';
import { Slide } from '@/ui/slide';

const QUIET = 'rounded-md border border-line bg-sheet px-2 py-0.5 font-medium hover:border-ink-2 disabled:opacity-45';
const on = (yes: boolean) => `${QUIET} ${yes ? 'bg-calm-soft text-calm' : ''}`;
const LOOPS = [
  ['stop', 'Once'],
  ['loop', 'Loop'],
  ['to and fro', 'To and fro'],
] as const;

/**
 * How a run is played, and what the scene shows of it besides the machine.
 * @param camera whether it can go with a body: tiles of a sheet have cameras of their own
 */
export function Playback({ curves, camera = false }: { curves: readonly ReadCurve[]; camera?: boolean }) {
  const ready = useRuns((s) => !!s.current);
  return (
    <div role="group" aria-label="Playback" className="flex flex-wrap items-center gap-1.5 border-t border-line px-3 py-1.5 text-xs">
      <Steps ready={ready} />
      <Peaks curves={curves} ready={ready} />
      <Ghosts ready={ready} />
      <Paths ready={ready} />
      <Arrows ready={ready} />
      {camera && <CameraMenu />}
    </div>
  );
}

/** From record to record, what happens at the end, and how fast. */
function Steps({ ready }: { ready: boolean }) {
  const loop = useReadings((s) => s.loop);
  const speed = useRuns((s) => s.speed);
  return (
    <>
      <button aria-label="One record back" disabled={!ready} className={`${QUIET} px-1`} onClick={() => stepFrame(-1)}>
        <StepBack size={14} aria-hidden="true" />
      </button>
      <button aria-label="One record on" disabled={!ready} className={`${QUIET} px-1`} onClick={() => stepFrame(1)}>
        <StepForward size={14} aria-hidden="true" />
      </button>
      <Segmented label="At the end" value={loop} options={LOOPS} onChange={(v) => setLoop(v as 'stop')} />
      <label className="flex items-center gap-1 text-ink-2">
        Speed{' '}
        <input
          aria-label="Speed of playback"
          key={speed}
          type="number"
          min={0.001}
          max={1000}
          step="any"
          defaultValue={speed}
          onBlur={(e) => Number(e.target.value) > 0 && setSpeed(Number(e.target.value))}
          onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
          className="w-14 rounded border border-line bg-sheet px-1 py-0.5 font-mono text-ink"
        />
        ×
      </label>
    </>
  );
}

/** The time of the highest and lowest value of a curve. */
function Peaks({ curves, ready }: { curves: readonly ReadCurve[]; ready: boolean }) {
  const goTo = (c: ReadCurve, high: boolean) => {
    let k = 0;
    for (let i = 1; i < c.values.length; i++) if (high ? c.values[i]! > c.values[k]! : c.values[i]! < c.values[k]!) k = i;
    if (c.time.length > 0) setTime(c.time[k]!);
  };
  return (
    <Menu
      trigger={
        <button className={QUIET} disabled={!ready || curves.length === 0}>
          Go to a peak…
        </button>
      }
    >
      {curves.map((c) => (
        <span key={c.gauge}>
          <MenuItem onSelect={() => goTo(c, true)} hint="highest">
            {c.gauge}
          </MenuItem>
          <MenuItem onSelect={() => goTo(c, false)} hint="lowest">
            {c.gauge}
          </MenuItem>
        </span>
      ))}
    </Menu>
  );
}

/** The machine as it stood at other times, and in other runs. */
function Ghosts({ ready }: { ready: boolean }) {
  const s = useOverlays();
  const overlaid = useRuns((r) => r.overlaid.length);
  return (
    <>
      <button
        className={on(s.ghosts.length > 0)}
        disabled={!ready}
        title="The machine as it stands now stays in the scene"
        onClick={() => show({ ghosts: [...s.ghosts, timeShown()].slice(-8) })}
      >
        Ghost here{s.ghosts.length > 0 ? ` (${s.ghosts.length})` : ''}
      </button>
      {s.ghosts.length > 0 && (
        <button className="underline" onClick={() => show({ ghosts: [] })}>
          no ghosts
        </button>
      )}
      <button
        className={on(s.others)}
        aria-pressed={s.others}
        disabled={overlaid === 0 && !s.others}
        title={overlaid === 0 ? 'Overlay a run first: the eye in the list of runs' : 'Runs that are overlaid move along as ghosts'}
        onClick={() => show({ others: !s.others })}
      >
        Overlaid runs
      </button>
    </>
  );
}

function Paths({ ready }: { ready: boolean }) {
  const points = useDocument((s) => s.model?.points) ?? [];
  const s = useOverlays();
  return (
    <Menu
      trigger={
        <button className={on(s.paths.length > 0)} disabled={!ready}>
          Paths…
        </button>
      }
    >
      <MenuLabel>Points whose paths are drawn</MenuLabel>
      {points.map((p) => (
        <MenuItem
          key={p.name}
          onSelect={() => show({ paths: s.paths.includes(p.name) ? s.paths.filter((x) => x !== p.name) : [...s.paths, p.name] })}
          hint={s.paths.includes(p.name) ? 'drawn' : ''}
        >
          {p.name}
        </MenuItem>
      ))}
      {s.paths.length > 0 && <MenuRule />}
      {s.paths.length > 0 && <MenuItem onSelect={() => show({ paths: [] })}>None</MenuItem>}
    </Menu>
  );
}

/** Forces and speeds as arrows. */
function Arrows({ ready }: { ready: boolean }) {
  const s = useOverlays();
  return (
    <>
      <button
        className={on(s.forces)}
        aria-pressed={s.forces}
        disabled={!ready}
        title="What each joint passes to its second body (orange), and what each load does (dark). With a body selected: all that acts on it"
        onClick={() => show({ forces: !s.forces })}
      >
        Forces
      </button>
      <button
        className={on(s.speeds)}
        aria-pressed={s.speeds}
        disabled={!ready}
        title="The speeds of all points of moving bodies"
        onClick={() => show({ speeds: !s.speeds })}
      >
        Speeds
      </button>
      {(s.forces || s.speeds) && (
        <label className="flex items-center gap-1 text-ink-2">
          Arrows{' '}
          <Slide
            label="Length of arrows"
            min={-2}
            max={2}
            step={0.1}
            value={Math.log2(s.scale)}
            onChange={(v) => show({ scale: 2 ** v })}
            className="w-20"
          />
        </label>
      )}
    </>
  );
}

function CameraMenu() {
  const bodies = useDocument((s) => s.model?.bodies) ?? [];
  const s = useOverlays();
  return (
    <Menu
      trigger={
        <button className={on(s.follow !== undefined)}>
          {s.follow === undefined ? 'Camera…' : `Camera ${s.turning ? 'on' : 'follows'} ${s.follow}`}
        </button>
      }
    >
      <MenuItem onSelect={() => show({ follow: undefined })}>Stands still</MenuItem>
      {bodies
        .filter((b) => !b.off)
        .map((b) => (
          <span key={b.name}>
            <MenuItem onSelect={() => show({ follow: b.name, turning: false })} hint="follows it">
              {b.name}
            </MenuItem>
            <MenuItem onSelect={() => show({ follow: b.name, turning: true })} hint="fixed to it">
              {b.name}
            </MenuItem>
          </span>
        ))}
    </Menu>
  );
}
