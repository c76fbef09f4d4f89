'use client';
import { D, type Dimension, identical } from '@vim-pivot/core/page';
import dynamic from 'next/dynamic';
import { useDocument } from '@/state/document/document';
import { useRuns } from '@/state/runs/runs';
import { titleOf } from '@/state/runs/title';
import { useRoom } from '@/ui/room';
import { GaugeTile } from './gauge-tile';
import { useLines } from './use-lines';

// comes with the first run
const OlderRun = dynamic(() => import('./older-run').then((m) => m.OlderRun), { ssr: false });

/** The first few gauges beside the scene: what a run shows while one builds. */
export function GaugeTiles() {
  const gauges = useDocument((s) => s.model?.gauges) ?? [];
  const names = gauges.filter((g) => !g.off).map((g) => g.name);
  const [watch, { height }] = useRoom();
  const known = useDocument((s) => s.gauges);
  const dimOf = (name: string) => known.find((g) => g.name === name)?.dim;
  const shown = pick(names, dimOf, Math.max(LEAST, Math.floor(height / EACH)));
  const current = useRuns((s) => s.current);
  const run = useRuns((s) => s.runs.find((r) => r.id === s.current));
  const { lines } = useLines(shown);
  return (
    <section ref={watch} aria-label="Curves" className="flex h-full flex-col gap-2 overflow-auto p-2">
      {current && <OlderRun />}
      {lines.map((g) => (
        <GaugeTile key={g.gauge} g={g} height={92} />
      ))}
      {lines.length === 0 && (
        <div className="px-2 py-3 text-ink-2">
          <h2 className="mb-1 font-semibold text-ink">{run ? titleOf(run) : 'Not run yet'}</h2>
          {names.length === 0 ? (
            <p>There is no gauge to read yet. Add one in the Ledger: a joint’s travel, a pin load, a drive’s torque.</p>
          ) : (
            <p>Press Run: {shown.join(', ')} will be drawn here and follow the time cursor.</p>
          )}
          <p className="mt-2">Click a body or a joint in the scene, or a row of the Ledger, to see and edit it here.</p>
        </div>
      )}
    </section>
  );
}

/** Tiles shown at least, and the height of one, px. */
const LEAST = 3,
  EACH = 150;

/** As many as there is room for: the first, the first torque and the first force, by which drives and bearings are chosen; then the others. */
function pick(names: readonly string[], dimOf: (name: string) => Dimension | undefined, most: number): string[] {
  const firstOf = (wanted: Dimension) =>
    names.find((n) => {
      const dim = dimOf(n);
      return dim && identical(dim, wanted);
    });
  const chosen = [names[0], firstOf(D.torque), firstOf(D.force)].filter((n) => n !== undefined);
  return [...new Set([...chosen, ...names])].slice(0, most);
}
