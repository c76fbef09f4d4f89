'use client';
import { titleOf } from '@/state/runs/title';
import { useDocument } from '@/state/document/document';
import { openMotion, springBack, useDrag, useMotion } from '@/state/scene/motion';
import { useRuns } from '@/state/runs/runs';

/** What the joints leave free and what the drives take, above the scene; and what the scene shows. */
export function Mobility({ children }: { children?: React.ReactNode }) {
  const mobility = useDocument((s) => s.mobility);
  const stale = useDocument((s) => s.stale);
  const own = useDocument((s) => s.model?.drives) ?? [],
    brought = useDocument((s) => s.brought.drives) ?? [];
  const drives = [...own.filter((d) => !d.off).map((d) => d.name), ...brought];
  const bodies = useDocument((s) => s.picture?.bodies.length ?? 0);
  const view = useRuns((s) => s.view);
  const open = useMotion((s) => s.open);
  const dragged = useDrag((s) => s.moved);
  const shown = useMotion((s) => s.item);
  const run = useRuns((s) => s.runs.find((r) => r.id === s.current));
  if (!mobility) return <div className="absolute left-3 top-3">{children}</div>;
  const left =
    mobility.joints === 0
      ? 'nothing can move'
      : drives.length === 0
        ? 'no drive'
        : mobility.free === 0
          ? `driven by ${drives.slice(0, 3).join(', ')}${drives.length > 3 ? ` and ${drives.length - 3} more` : ''}`
          : `${mobility.free} not driven: ${mobility.motions.slice(0, 2).join(', ')}${mobility.motions.length > 2 ? ', …' : ''}`;
  return (
    <div className="pointer-events-none absolute left-3 right-3 top-3 flex items-start gap-2 @min-[820px]:right-[504px] @max-[820px]:top-[52px]">
      <span className="pointer-events-auto shrink-0">{children}</span>
      {bodies > 0 && (
        <button
          onClick={() => openMotion(!open)}
          aria-pressed={open}
          className={`pointer-events-auto min-w-0 truncate rounded-full border px-2.5 py-1 font-medium hover:border-ink-2 ${mobility.joints === 0 || (mobility.free > 0 && drives.length > 0) ? 'border-warn bg-warn-soft text-warn' : 'border-calm/40 bg-calm-soft text-calm'}`}
          title={`Degrees of freedom left by the joints, by rank at this posture: ${left}. Click for each of them played, equilibria, modes and ranges`}
        >
          Mobility {mobility.joints} · {left}
        </button>
      )}
      {stale && (
        <span
          className="shrink-0 whitespace-nowrap rounded-full border border-accent bg-accent-soft px-2.5 py-1 font-medium text-accent"
          title="The model is in error: the machine stands as it last could be assembled"
        >
          Last good posture
        </span>
      )}
      {dragged && (
        <span className="pointer-events-auto flex shrink-0 items-center gap-2 rounded-full border border-accent bg-accent-soft px-2.5 py-0.5 font-medium text-ink">
          Dragged
          <button
            className="underline"
            title="Start from here: start values of the joints that lead, one undo step"
            onClick={() => void import('@/state/scene/drag').then((d) => d.keepPosture())}
          >
            Keep as start posture
          </button>
          <button className="underline" onClick={springBack}>
            Spring back
          </button>
        </span>
      )}
      {shown?.shown && (
        <span className="rounded-full border border-accent bg-accent-soft px-2.5 py-1 font-medium text-accent">{shown.label}</span>
      )}
      {!shown?.shown && !stale && view === 'run' && run && (
        <span className="shrink-0 rounded-full border border-line bg-sheet px-2.5 py-1 text-ink-2">{titleOf(run)}</span>
      )}
    </div>
  );
}
