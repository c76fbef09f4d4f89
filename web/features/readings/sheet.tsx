'use client';
import 'react-grid-layout/css/styles.css';
import 'react-resizable/css/styles.css';
import { Ellipsis } from 'lucide-react';
import ReactGridLayout, { useContainerWidth } from 'react-grid-layout';
import { useMemo } from 'react';
import type { RawElement } from '@vim-pivot/core/page';
import { edit, select, useDocument } from '@/state/document/document';
import { removeElement } from '@/state/document/elements';
import { type Place, arrange, changeTile, choiceOf, namesOf, placeOf, tilesOn } from '@/state/readings/sheets';
import { freeName } from '@/state/document/elements';
import { Menu, MenuItem, MenuRule } from '@/ui/menu';
import { ChartTile } from './chart-tile';
import { type SheetReads, useSheetReads } from './sheet-reads';
import { MotionTile, NoteTile, NumberTile, PictureTile, TableTile } from './tiles';

const ROW = 30,
  GAP = 10,
  COLUMNS = 12;

/** A sheet: tiles that are arranged by dragging their heads, and made larger at their corners. */
export function Sheet({ name }: { name: string }) {
  const model = useDocument((s) => s.model);
  const selected = useDocument((s) => s.selected);
  const tiles = useMemo(() => tilesOn(model, name), [model, name]);
  const gauges = useMemo(
    () => [...new Set(tiles.flatMap((t) => [...namesOf(t, 'gauges'), choiceOf(t, 'over'), choiceOf(t, 'gauge')]).filter((n) => n !== ''))],
    [tiles],
  );
  const reads = useSheetReads(gauges);
  const { width, containerRef, mounted } = useContainerWidth();
  const layout = useMemo(
    () =>
      tiles.map((t) => {
        const [x, y, w, h] = placeOf(t);
        return {
          i: t.name,
          x: Math.max(0, Math.min(COLUMNS - 1, x)),
          y: Math.max(0, y),
          w: Math.max(1, Math.min(COLUMNS, w)),
          h: Math.max(2, h),
          minW: 2,
          minH: 2,
        };
      }),
    [tiles],
  );
  const moved = (list: readonly { i: string; x: number; y: number; w: number; h: number }[]) =>
    arrange(new Map(list.map((l): [string, Place] => [l.i, [l.x, l.y, l.w, l.h]])));
  return (
    <div ref={containerRef} className="min-h-full" data-testid="sheet">
      {tiles.length === 0 && (
        <p className="p-4 text-ink-2">
          An empty sheet. Add a chart, the moving machine, a table, a number, a note or a picture with “Add tile”.
        </p>
      )}
      {mounted && (
        <ReactGridLayout
          width={width}
          layout={layout}
          gridConfig={{ cols: COLUMNS, rowHeight: ROW, margin: [GAP, GAP], containerPadding: [GAP, GAP] }}
          dragConfig={{ enabled: true, handle: '.tile-head', cancel: 'button' }}
          resizeConfig={{ enabled: true, handles: ['se'] }}
          onDragStop={(l) => moved(l)}
          onResizeStop={(l) => moved(l)}
        >
          {tiles.map((t) => {
            const on = selected?.family === 'tiles' && selected.name === t.name;
            return (
              <article
                key={t.name}
                aria-label={t.name}
                data-tile={t.kind}
                className={`flex flex-col overflow-hidden rounded-lg border bg-sheet ${on ? 'border-accent' : 'border-line'}`}
              >
                <header className="tile-head flex shrink-0 cursor-grab items-center gap-2 px-2.5 pt-1">
                  <button
                    className="min-w-0 truncate text-left font-semibold hover:text-accent"
                    title="Its settings, on the Card"
                    onClick={() => select(on ? undefined : { family: 'tiles', name: t.name })}
                  >
                    {t.name}
                  </button>
                  <span className="min-w-2 flex-1 self-stretch" title="Drag to move the tile" />
                  <TileMenu tile={t} />
                </header>
                <div className="min-h-0 flex-1 px-2 pb-1.5">
                  <Content tile={t} reads={reads} />
                </div>
              </article>
            );
          })}
        </ReactGridLayout>
      )}
      {reads.failures.map((f) => (
        <p key={f} className="m-2 rounded-md bg-warn-soft px-3 py-1.5 text-warn">
          {f}
        </p>
      ))}
    </div>
  );
}

/** What each kind of tile shows. */
const CONTENT: Readonly<Record<string, (p: { tile: RawElement; reads: SheetReads }) => React.ReactNode>> = {
  chart: ChartTile,
  motion: MotionTile,
  table: TableTile,
  number: NumberTile,
  note: NoteTile,
  picture: PictureTile,
};
function Content(p: { tile: RawElement; reads: SheetReads }) {
  const Kind = CONTENT[String(p.tile.kind)];
  return Kind ? <Kind {...p} /> : null;
}

const canvasesOf = (tile: string): HTMLCanvasElement[] => [
  ...document.querySelectorAll<HTMLCanvasElement>(`article[data-tile][aria-label="${CSS.escape(tile)}"] [data-chart] canvas`),
];

function TileMenu({ tile }: { tile: RawElement }) {
  const chart = tile.kind === 'chart';
  const save = (how: 'saveSvg' | 'savePng') =>
    void import('@/state/readings/chart-files').then((f) =>
      canvasesOf(tile.name).forEach((c, i, all) => f[how](c, all.length > 1 ? `${tile.name} ${i + 1}` : tile.name)),
    );
  const twin = () =>
    edit(`Duplicate ${tile.name}`, (m) => {
      const [x, y, w, h] = placeOf(tile);
      m.tiles.push({ ...tile, name: freeName('tiles', tile.name, m), place: [[x, y + h, w, h]] } as never);
    });
  /** By keyboard what dragging does. */
  const nudge = (dx: number, dy: number, dw: number, dh: number) => {
    const [x, y, w, h] = placeOf(tile);
    changeTile(tile.name, 'Arrange tiles', {
      place: [
        [Math.max(0, Math.min(COLUMNS - w, x + dx)), Math.max(0, y + dy), Math.max(2, Math.min(COLUMNS - x, w + dw)), Math.max(2, h + dh)],
      ],
    });
  };
  return (
    <Menu
      align="end"
      trigger={
        <button aria-label={`Menu of ${tile.name}`} className="grid h-6 w-6 shrink-0 place-items-center rounded text-ink-2 hover:text-ink">
          <Ellipsis size={15} aria-hidden="true" />
        </button>
      }
    >
      <MenuItem onSelect={() => select({ family: 'tiles', name: tile.name })}>Settings</MenuItem>
      <MenuItem onSelect={twin}>Duplicate</MenuItem>
      {chart && <MenuRule />}
      {chart && <MenuItem onSelect={() => save('saveSvg')}>Save as SVG</MenuItem>}
      {chart && <MenuItem onSelect={() => save('savePng')}>Save as PNG</MenuItem>}
      <MenuRule />
      <MenuItem onSelect={() => nudge(-1, 0, 0, 0)}>Move left</MenuItem>
      <MenuItem onSelect={() => nudge(1, 0, 0, 0)}>Move right</MenuItem>
      <MenuItem onSelect={() => nudge(0, 0, 1, 0)}>Wider</MenuItem>
      <MenuItem onSelect={() => nudge(0, 0, -1, 0)}>Narrower</MenuItem>
      <MenuItem onSelect={() => nudge(0, 0, 0, 1)}>Taller</MenuItem>
      <MenuItem onSelect={() => nudge(0, 0, 0, -1)}>Shorter</MenuItem>
      <MenuRule />
      <MenuItem danger onSelect={() => removeElement('tiles', tile.name)}>
        Delete
      </MenuItem>
    </Menu>
  );
}
