'use client';
import { Plus } from 'lucide-react';
import dynamic from 'next/dynamic';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { type RawElement, formatNumber, kindOf, readUnit } from '@vim-pivot/core/page';
import { select, useDocument } from '@/state/document/document';
import { useRuns } from '@/state/runs/runs';
import { useMoves } from '@/state/readings/moves';
import { namesOf, toggleGauge, useSheets } from '@/state/readings/sheets';
import { useOverlays } from '@/state/scene/overlays';
import { Divider, Pane, Panes, useFold } from '@/ui/panes';
import { useRoom } from '@/ui/room';
import { CheckBox } from '@/ui/check';
import { Card } from '../card/card';
import { Scene } from '../scene/scene';
import { GaugeTile } from './gauge-tile';
import { HandOver } from './hand-over';
import { Cursors, Scores, Workings } from './measures';
import { Playback } from './playback';
import { OlderRun } from './older-run';
import { Runs } from './runs-list';
import { SheetBar } from './sheet-bar';
import { useLines } from './use-lines';

const GaugeFinder = dynamic(() => import('./gauge-finder').then((m) => m.GaugeFinder), { ssr: false });
const Sheet = dynamic(() => import('./sheet').then((m) => m.Sheet), { ssr: false });

/** Families whose elements are set on the Card while one reads. */
const ON_CARD: readonly string[] = ['gauges', 'scores', 'limits', 'workings', 'tiles', 'sheets'];

/** The Readings stage: gauges and runs at the left; beside them the moving machine with every gauge that is ticked, or a sheet. */
export function Readings() {
  const gauges = useDocument((s) => s.model?.gauges) ?? [];
  const brought = useDocument((s) => s.brought.gauges);
  const [hidden, setHidden] = useState<ReadonlySet<string>>(new Set());
  const names = [...gauges.filter((g) => !g.off).map((g) => g.name), ...(brought ?? [])];
  const { lines, failures } = useLines(names.filter((n) => !hidden.has(n)));
  const open = useSheets((s) => s.open);
  const sheet = useDocument((s) => s.model?.sheets.find((x) => x.name === open)?.name);
  const chosen = useMoves((s) => s.chosen);
  const card = useDocument(
    ({ selected: x }) => x !== undefined && (ON_CARD.includes(x.family) || (x.family === chosen?.family && x.name === chosen.name)),
  );
  const curves = lines.map((l) => l.current);
  const list = useFold(),
    picture = useFold(),
    side = useFold();
  return (
    <div className="flex h-full min-h-0 flex-col">
      <SheetBar open={sheet}>
        {sheet !== undefined && (
          <Popover.Root>
            <Popover.Trigger asChild>
              <button className="whitespace-nowrap rounded-md border border-line bg-sheet px-2 py-0.5 font-medium hover:border-ink-2">
                Playback…
              </button>
            </Popover.Trigger>
            <Popover.Portal>
              <Popover.Content
                align="end"
                sideOffset={4}
                className="z-50 w-[430px] rounded-lg border border-line bg-sheet text-ink shadow-lg [&>*]:border-t-0"
              >
                <Playback curves={curves} />
              </Popover.Content>
            </Popover.Portal>
          </Popover.Root>
        )}
        <HandOver curves={curves} />
      </SheetBar>
      <div className="px-3 pt-2 empty:hidden">
        <OlderRun />
      </div>
      <Panes id="readings" ids={['gauges', ...(sheet === undefined ? ['motion', 'charts'] : ['sheet']), ...(card ? ['card'] : [])]}>
        <Pane id="gauges" size="224px" min="150px" fold={list} className="h-full bg-sheet">
          <aside className="flex h-full flex-col overflow-auto">
            <Gauges names={names} hidden={hidden} onHidden={setHidden} sheet={sheet} />
            {/* above what grows as curves are read: a button does not move away from the pointer */}
            <Runs />
            <Cursors lines={lines} />
            <Scores lines={lines} />
            <Workings />
            <Ranges lines={lines} />
          </aside>
        </Pane>
        <Divider of={list} label="the gauges and runs" before />
        {sheet === undefined ? (
          <>
            <Pane id="motion" size="38%" min="200px" fold={picture} className="h-full p-3 pr-1.5">
              <Motion curves={curves} />
            </Pane>
            <Divider of={picture} label="the moving machine" before />
            <Pane id="charts" min="280px" className="h-full p-3 pl-1.5">
              <Charts lines={lines} failures={failures} />
            </Pane>
          </>
        ) : (
          <Pane id="sheet" min="320px" className="h-full overflow-auto p-3">
            <Sheet key={sheet} name={sheet} />
          </Pane>
        )}
        {card && <Divider of={side} label="the Card" />}
        {card && (
          <Pane id="card" size="300px" min="220px" fold={side} className="flex h-full flex-col bg-sheet">
            <button
              onClick={() => select(undefined)}
              className="border-b border-line px-3 py-1 text-right text-xs text-ink-2 hover:text-ink"
            >
              Close the Card
            </button>
            <div className="min-h-0 flex-1 overflow-auto">
              <Card />
            </div>
          </Pane>
        )}
      </Panes>
    </div>
  );
}

/** The machine as it moves with the cursor. */
function Motion({ curves }: { curves: ReturnType<typeof useLines>['lines'][number]['current'][] }) {
  const follow = useOverlays((s) => s.follow),
    turning = useOverlays((s) => s.turning);
  return (
    <div className="flex h-full min-h-0 flex-col overflow-hidden rounded-lg border border-line bg-sheet">
      <h2 className="px-3 py-1.5">
        <b className="font-semibold">Motion</b> <span className="text-ink-2">moves with the cursor</span>
      </h2>
      <div className="min-h-0 flex-1">
        <Scene compact {...(follow === undefined ? {} : { follow, turning })} />
      </div>
      <Playback curves={curves} camera />
    </div>
  );
}

/** A chart for each gauge that is ticked: side by side where there is room, and as high as there is room for. */
function Charts({ lines, failures }: ReturnType<typeof useLines>) {
  const hasRun = useRuns((s) => !!s.current);
  const [watch, { width, height }] = useRoom();
  const across = Math.max(1, Math.min(lines.length, Math.floor(width / WIDE))),
    down = Math.ceil(lines.length / across);
  const each = Math.max(LEAST, Math.floor(height / Math.max(1, down)) - AROUND);
  return (
    <div ref={watch} className="h-full min-h-0 overflow-auto" aria-label="Charts" role="group">
      <div className="grid content-start gap-2" style={{ gridTemplateColumns: `repeat(${across}, minmax(0, 1fr))` }}>
        {lines.map((g) => (
          <GaugeTile key={g.gauge} g={g} height={each} />
        ))}
      </div>
      {!hasRun && <p className="p-4 text-ink-2">Nothing has been run yet. Press Run: every gauge ticked at the left is drawn here.</p>}
      {failures.map((f) => (
        <p key={f} className="mt-2 rounded-md bg-warn-soft px-3 py-1.5 text-warn">
          {f}
        </p>
      ))}
    </div>
  );
}
/** Of a chart, px: the width from which on two stand side by side, the least height, and what stands round it in its tile. */
const WIDE = 440,
  LEAST = 150,
  AROUND = 46;

interface GaugesProps {
  names: readonly string[];
  hidden: ReadonlySet<string>;
  onHidden: (hidden: ReadonlySet<string>) => void;
  sheet: string | undefined;
}

/** The gauges; ticks say which are drawn, on a sheet which the selected tile shows. */
function Gauges({ names, hidden, onHidden, sheet }: GaugesProps) {
  const units = useDocument((s) => s.gauges);
  const tile = useDocument((s): RawElement | undefined =>
    sheet !== undefined && s.selected?.family === 'tiles'
      ? s.model?.tiles.find((t) => t.name === s.selected!.name && 'gauges' in (kindOf('tiles', t)?.fields ?? {}))
      : undefined,
  );
  const [filter, setFilter] = useState('');
  const [finding, setFinding] = useState(false);
  const ticked = (n: string) => (sheet === undefined ? !hidden.has(n) : !!tile && namesOf(tile, 'gauges').includes(n));
  const tick = (n: string) => {
    if (tile) return toggleGauge(tile, n);
    const next = new Set(hidden);
    if (!next.delete(n)) next.add(n);
    onHidden(next);
  };
  const dead = sheet !== undefined && !tile;
  return (
    <>
      <h2 className="flex items-center px-3 pb-1 pt-2 font-semibold">
        <span className="flex-1">Gauges</span>
        <button
          aria-label="Add a gauge"
          title="Search what the machine can tell"
          className="grid h-6 w-6 place-items-center rounded text-ink-2 hover:text-accent"
          onClick={() => setFinding(true)}
        >
          <Plus size={14} aria-hidden="true" />
        </button>
      </h2>
      {finding && <GaugeFinder onClose={() => setFinding(false)} />}
      <input
        aria-label="Filter gauges"
        placeholder="Filter"
        value={filter}
        onChange={(e) => setFilter(e.target.value)}
        className="mx-3 mb-1 rounded-md border border-line bg-sheet px-2 py-1"
      />
      <ul title={dead ? 'Select a chart or a table of the sheet: gauges are ticked for it' : undefined}>
        {names
          .filter((n) => n.toLowerCase().includes(filter.toLowerCase()))
          .map((n) => (
            <li key={n}>
              <label className={`flex items-center gap-2 px-3 py-1 ${dead ? '' : 'cursor-pointer hover:bg-paper'}`}>
                <CheckBox disabled={dead} checked={ticked(n)} onChange={() => tick(n)} />
                <span className="flex-1 truncate">{n}</span>
                <span className="font-mono text-xs text-ink-2">{units.find((d) => d.name === n)?.unit ?? ''}</span>
              </label>
            </li>
          ))}
      </ul>
      {names.length === 0 && (
        <p className="px-3 text-ink-2">No gauge yet. Add one with + above, or click a joint in the scene of the Build stage.</p>
      )}
    </>
  );
}

/** Smallest and largest value of each gauge shown. */
function Ranges({ lines }: { lines: ReturnType<typeof useLines>['lines'] }) {
  if (lines.length === 0) return null;
  return (
    <section aria-label="Ranges" className="mt-2 border-t border-line pb-3">
      <h2 className="px-3 pb-1 pt-2 font-semibold">Range over the run</h2>
      <dl>
        {lines.map((g) => {
          const { unit } = g;
          const factor = readUnit(unit)?.factor ?? 1;
          let lo = Infinity,
            hi = -Infinity;
          for (const v of g.current.values) {
            lo = Math.min(lo, v);
            hi = Math.max(hi, v);
          }
          // rounding noise beside a large range is nothing
          const show = (v: number) => formatNumber(Math.abs(v) < 1e-9 * (hi - lo) ? 0 : v / factor, 3);
          return (
            <div key={g.gauge} className="px-3 py-0.5">
              <dt className="truncate text-ink-2">{g.gauge}</dt>
              <dd className="text-right font-mono text-xs">{lo <= hi ? `${show(lo)} … ${show(hi)} ${unit}` : ''}</dd>
            </div>
          );
        })}
      </dl>
    </section>
  );
}
