'use client';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef, useState } from 'react';
import { D, formatNumber, formatQuantity } from '@vim-pivot/core/page';
import { useDocument } from '@/state/document';
import { type ImportChoice, cancelImport, finishImport, readAgain, useImport } from '@/state/import';
import { FINENESS, missing } from '@/workers/round';
import { Button, Dialog } from '@/ui/dialog';

const UNITS: readonly (readonly [string, number])[] = [['millimetres', 1e-3], ['centimetres', 1e-2], ['metres', 1], ['inches', 0.0254]];
/** Height of a part in the list, pixels. */
const ROW = 31;
type Target = ImportChoice['targets'][number];
const TARGETS: readonly (readonly [Target, string])[] = [['own', 'A body of its own'], ['together', 'Together with others'], ['ground', 'Fixed'], ['none', 'Leave out']];

/** While a file is read, and what to make of its parts. */
export function ImportDialog() {
  const { file, doing, done } = useImport();
  if (!file) return null;
  return (
    <Dialog open wide={!doing} onClose={cancelImport} title={doing ? `Reading ${file}` : `Import ${file}`}>
      {doing ? (
        <div className="flex items-center gap-4" role="status">
          <span className="h-1.5 flex-1 overflow-hidden rounded bg-line"><span className={`block h-full rounded bg-calm ${done === undefined ? 'w-1/3 animate-pulse' : ''}`} style={done === undefined ? undefined : { width: `${100 * done}%` }} /></span>
          <span className="w-64 truncate text-ink-2">{doing}</span>
          <Button onClick={cancelImport}>Cancel</Button>
        </div>
      ) : <Choices />}
    </Dialog>
  );
}

function Choices() {
  const { parts, axes, metres: known, facets, empty } = useImport();
  const model = useDocument((s) => s.model);
  const [metres, setMetres] = useState(known ?? 1e-3);
  const [targets, setTargets] = useState<Target[]>(parts.map(() => (parts.length === 1 ? 'own' : 'own')));
  const [material, setMaterial] = useState(model?.materials[0]?.name ?? '');
  const [joints, setJoints] = useState<ReadonlySet<number>>(new Set(axes.map((_, i) => i)));
  const [busy, setBusy] = useState(false);
  const list = useRef<HTMLUListElement>(null);
  // eslint-disable-next-line react-hooks/incompatible-library
  const virtual = useVirtualizer({ count: parts.length, getScrollElement: () => list.current, estimateSize: () => ROW, overscan: 4, initialRect: { width: 800, height: 224 } });
  const rows = virtual.getVirtualItems();
  if (!model) return null;
  const size = Math.max(...[0, 1, 2].map((k) => {
    return Math.max(...parts.map((p) => p.high[k]!)) - Math.min(...parts.map((p) => p.low[k]!));
  }));
  const repeated = parts.filter((p) => p.same).length;
  const open = parts.filter((p) => p.open > 0).length;
  const label = (i: number) => parts[i]?.path.at(-1) ?? '';
  const set = (i: number, t: Target) => setTargets(targets.map((x, k) => (k === i ? t : x)));
  return (
    <div className="grid gap-3">
      <div className="flex flex-wrap items-center gap-x-5 gap-y-2">
        <span>{parts.length === 1 ? '1 part' : `${parts.length} parts`}, {parts.reduce((s, p) => s + p.triangles, 0).toLocaleString('en')} triangles{repeated > 0 ? `; ${repeated} of them repeat others and share their geometry` : ''}</span>
        {known === undefined ? (
          <label className="flex items-center gap-2">The file has no unit: its numbers are
            <select aria-label="Unit of the file" value={metres} onChange={(e) => setMetres(Number(e.target.value))} className="rounded-md border border-line bg-sheet px-1 py-0.5">
              {UNITS.map(([name, m]) => <option key={name} value={m}>{name}</option>)}
            </select>
          </label>
        ) : null}
        <span className="text-ink-2">largest extent <span className="font-mono text-xs text-ink">{formatQuantity(size * metres, D.length)}</span></span>
        <label className="flex items-center gap-2">Material
          <select aria-label="Material of the parts" value={material} onChange={(e) => setMaterial(e.target.value)} className="rounded-md border border-line bg-sheet px-1 py-0.5">
            {model.materials.map((m) => <option key={m.name}>{m.name}</option>)}
            <option value="">none</option>
          </select>
        </label>
      </div>
      {facets !== undefined && (
        <p className="text-ink-2">
          Round faces become
          <select aria-label="Facets to a turn" value={facets} onChange={(e) => readAgain(Number(e.target.value))} title="The file is read again" className="mx-1.5 rounded-md border border-line bg-sheet px-1 py-0.5 text-ink">
            {FINENESS.map((n) => <option key={n}>{n}</option>)}
          </select>
          facets to a turn: up to <span className="font-mono text-xs text-ink">{formatNumber(100 * missing(facets), 2)} %</span> of the mass of a round part is missing.
        </p>
      )}
      {empty.length > 0 && <p className="rounded-md bg-warn-soft px-3 py-1.5 text-warn">{empty.length === 1 ? 'One part of the file holds' : `${empty.length} parts of the file hold`} no surface and {empty.length === 1 ? 'is' : 'are'} left out: {empty.slice(0, 8).join(', ')}{empty.length > 8 ? ' and others' : ''}.</p>}
      {open > 0 && <p className="rounded-md bg-warn-soft px-3 py-1.5 text-warn">{open === 1 ? 'One part has' : `${open} parts have`} an open surface: mass and inertia are not those of a solid. They are marked below.</p>}
      <div className="flex items-center gap-2 text-xs text-ink-2">
        All parts:
        {TARGETS.slice(0, 3).map(([t, text]) => <button key={t} onClick={() => setTargets(parts.map(() => t))} className="rounded border border-line px-2 py-0.5 hover:border-ink-2">{text}</button>)}
      </div>
      <ul ref={list} aria-label="Parts" className="max-h-56 overflow-auto rounded-md border border-line">
        <li aria-hidden="true" style={{ height: rows[0]?.start ?? 0 }} />
        {rows.map(({ index: i }) => [parts[i]!, i] as const).map(([p, i]) => (
          <li key={i} style={{ height: ROW }} className="flex items-center gap-3 border-b border-line px-2 py-1">
            <span aria-hidden="true" className="h-3 w-3 rounded-sm border border-line" style={{ background: p.colour ?? 'transparent' }} />
            <span className="min-w-0 flex-1 truncate"><span className="text-ink-2">{p.path.slice(0, -1).join(' / ')}{p.path.length > 1 ? ' / ' : ''}</span>{label(i)}</span>
            {p.same && <span className="text-xs text-ink-2">like {label(p.same.of)}</span>}
            {p.open > 0 && <span className="text-xs text-warn">open along {p.open} sides</span>}
            <span className="font-mono text-xs text-ink-2">{(p.triangles).toLocaleString('en')}</span>
            <select aria-label={`What ${label(i)} becomes`} value={targets[i]} onChange={(e) => set(i, e.target.value as Target)} className="w-44 rounded border border-line bg-sheet px-1 py-0.5">
              {TARGETS.map(([t, text]) => <option key={t} value={t}>{t === 'ground' ? `Fixed: ${model.ground}` : text}</option>)}
            </select>
          </li>
        ))}
        <li aria-hidden="true" style={{ height: virtual.getTotalSize() - (rows.at(-1)?.end ?? 0) }} />
      </ul>
      {axes.length > 0 && (
        <fieldset className="rounded-md border border-line px-3 py-2">
          <legend className="px-1 font-semibold">Axes that two parts share</legend>
          <p className="mb-1 text-xs text-ink-2">Holes or pins of two parts on one axis, beside each other: a revolute joint is put there.</p>
          <ul className="max-h-44 overflow-auto">
            {axes.map((a, i) => (
              <li key={i}>
                <label className="flex min-h-6 items-center gap-2 py-0.5">
                  <input type="checkbox" className="h-6 w-4" checked={joints.has(i)} onChange={() => setJoints(new Set(joints.has(i) ? [...joints].filter((x) => x !== i) : [...joints, i]))} />
                  <span className="flex-1 truncate">{label(a.parts[0])} – {label(a.parts[1])}</span>
                  <span className="font-mono text-xs text-ink-2">radius {formatQuantity(a.radius * metres, D.length)}</span>
                </label>
              </li>
            ))}
          </ul>
        </fieldset>
      )}
      <div className="flex justify-end gap-2">
        <Button onClick={cancelImport}>Cancel</Button>
        <Button
          primary
          disabled={busy || targets.every((t) => t === 'none')}
          onClick={() => {
            setBusy(true);
            void finishImport({ metres, targets, material: material || undefined, joints: [...joints] });
          }}
        >
          Import
        </Button>
      </div>
    </div>
  );
}
