'use client';
import { useVirtualizer } from '@tanstack/react-virtual';
import { ChevronRight } from 'lucide-react';
import { useMemo, useRef, useState } from 'react';
import { D, formatNumber, formatQuantity } from '@vim-pivot/core/page';
import { useDocument } from '@/state/document/document';
import { cancelImport, finishImport, readAgain, useImport } from '@/state/files/import';
import { type Row, type Target, assemblyRows, common } from '@/state/files/part-tree';
import { FINENESS, missing } from '@/workers/round';
import { Button, Dialog } from '@/ui/dialog';
import { CheckBox } from '@/ui/check';
import { Choice } from '@/ui/choice';

const UNITS: readonly (readonly [string, number])[] = [
  ['millimetres', 1e-3],
  ['centimetres', 1e-2],
  ['metres', 1],
  ['inches', 0.0254],
];
/** Height of a part in the list, pixels. */
const ROW = 31;
/** More levels of an assembly are not moved in any further. */
const DEEP = 8;

/** While a file is read, and what to make of its parts. */
export function ImportDialog() {
  const { file, doing, done } = useImport();
  if (!file) return null;
  return (
    <Dialog open wide={!doing} onClose={cancelImport} title={doing ? `Reading ${file}` : `Import ${file}`}>
      {doing ? (
        <div className="flex items-center gap-4" role="status">
          <span className="h-1.5 flex-1 overflow-hidden rounded bg-line">
            <span
              className={`block h-full rounded bg-calm ${done === undefined ? 'w-1/3 animate-pulse' : ''}`}
              style={done === undefined ? undefined : { width: `${100 * done}%` }}
            />
          </span>
          <span className="w-64 truncate text-ink-2">{doing}</span>
          <Button onClick={cancelImport}>Cancel</Button>
        </div>
      ) : (
        <Choices />
      )}
    </Dialog>
  );
}

function Choices() {
  const { file, parts, axes, metres: known, facets, empty } = useImport();
  const model = useDocument((s) => s.model);
  const [metres, setMetres] = useState(known ?? 1e-3);
  const [targets, setTargets] = useState<Target[]>(parts.map((p): Target => (p.solid ? `with ${p.nodes.at(-1)!}` : 'own')));
  const [material, setMaterial] = useState(model?.materials[0]?.name ?? '');
  const [joints, setJoints] = useState<ReadonlySet<number>>(new Set(axes.map((_, i) => i)));
  const [busy, setBusy] = useState(false);
  const list = useRef<HTMLUListElement>(null);
  const [shut, setShut] = useState<ReadonlySet<number>>(new Set());
  const all = useMemo(() => assemblyRows(parts, (file ?? 'All').replace(/\.[^.]*$/, '')), [parts, file]);
  const rows = useMemo(() => all.filter((r) => !r.above.some((g) => shut.has(g))), [all, shut]);
  const groups = useMemo(() => new Map(all.flatMap((r) => ('group' in r ? [[r.group, r.label] as const] : []))), [all]);
  // eslint-disable-next-line react-hooks/incompatible-library
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => list.current,
    estimateSize: () => ROW,
    overscan: 4,
    initialRect: { width: 800, height: 224 },
  });
  const seen = virtual.getVirtualItems();
  if (!model) return null;
  const size = Math.max(
    ...[0, 1, 2].map((k) => {
      return Math.max(...parts.map((p) => p.high[k]!)) - Math.min(...parts.map((p) => p.low[k]!));
    }),
  );
  const repeated = parts.filter((p) => p.same).length;
  const faulty = parts.filter((p) => p.faults.some((f) => f.severity === 'warning'));
  const label = (i: number) => parts[i]?.path.at(-1) ?? '';
  const set = (which: readonly number[], t: Target) => {
    const these = new Set(which);
    setTargets(targets.map((x, k) => (these.has(k) ? t : x)));
  };
  const fold = (g: number) => setShut(shut.has(g) ? new Set([...shut].filter((x) => x !== g)) : new Set([...shut, g]));
  return (
    <div className="grid gap-3">
      <div className="flex flex-wrap items-center gap-x-5 gap-y-2">
        <span>
          {parts.length === 1 ? '1 part' : `${parts.length} parts`}, {parts.reduce((s, p) => s + p.triangles, 0).toLocaleString('en')}{' '}
          triangles{repeated > 0 ? `; ${repeated} of them repeat others and share their geometry` : ''}
        </span>
        {known === undefined ? (
          <label className="flex items-center gap-2">
            The file has no unit: its numbers are
            <Choice
              label="Unit of the file"
              value={String(metres)}
              options={UNITS.map(([name, m]) => ({ value: String(m), label: name }))}
              onChange={(v) => setMetres(Number(v))}
              className="border-line bg-sheet py-0.5"
            />
          </label>
        ) : null}
        <span className="text-ink-2">
          largest extent <span className="font-mono text-xs text-ink">{formatQuantity(size * metres, D.length)}</span>
        </span>
        <label className="flex items-center gap-2">
          Material
          <Choice
            label="Material of the parts"
            value={material}
            options={[...model.materials.map((m) => ({ value: m.name, label: m.name })), { value: '', label: 'none' }]}
            onChange={setMaterial}
            className="border-line bg-sheet py-0.5"
          />
        </label>
      </div>
      {facets !== undefined && (
        <p className="text-ink-2">
          Round faces become
          <span className="mx-1.5 inline-block align-middle">
            <Choice
              label="Facets to a turn"
              value={String(facets)}
              options={FINENESS.map((n) => ({ value: String(n), label: String(n) }))}
              onChange={(v) => readAgain(Number(v))}
              title="The file is read again"
              className="border-line bg-sheet py-0.5 text-ink"
            />
          </span>
          facets to a turn: up to <span className="font-mono text-xs text-ink">{formatNumber(100 * missing(facets), 2)} %</span> of the mass
          of a round part is missing.
        </p>
      )}
      {empty.length > 0 && (
        <p className="rounded-md bg-warn-soft px-3 py-1.5 text-warn">
          {empty.length === 1 ? 'One part of the file holds' : `${empty.length} parts of the file hold`} no surface and{' '}
          {empty.length === 1 ? 'is' : 'are'} left out: {empty.slice(0, 8).join(', ')}
          {empty.length > 8 ? ' and others' : ''}.
        </p>
      )}
      {faulty.length > 0 && (
        <p className="rounded-md bg-warn-soft px-3 py-1.5 text-warn">
          {faulty.length === 1
            ? `${label(parts.indexOf(faulty[0]!))}: `
            : `${faulty.length} parts do not enclose a volume cleanly; the first: `}
          {faulty[0]!.faults[0]!.message} {faulty[0]!.faults[0]!.why} {faulty[0]!.faults[0]!.remedy}
        </p>
      )}
      <ul ref={list} aria-label="Parts" className="max-h-56 overflow-auto rounded-md border border-line">
        <li aria-hidden="true" style={{ height: seen[0]?.start ?? 0 }} />
        {seen.map(({ index }) => {
          const r = rows[index]!;
          return 'group' in r ? (
            <GroupLine
              key={`group ${r.group}`}
              row={r}
              ground={model.ground}
              open={!shut.has(r.group)}
              onFold={() => fold(r.group)}
              target={common(targets, r.parts)}
              onTarget={(t) => set(r.parts, t)}
            />
          ) : (
            <PartLine
              key={r.part}
              row={r}
              part={parts[r.part]!}
              like={parts[r.part]!.same && label(parts[r.part]!.same!.of)}
              groups={groups}
              ground={model.ground}
              target={targets[r.part]!}
              onTarget={(t) => set([r.part], t)}
            />
          );
        })}
        <li aria-hidden="true" style={{ height: virtual.getTotalSize() - (seen.at(-1)?.end ?? 0) }} />
      </ul>
      {axes.length > 0 && (
        <fieldset className="rounded-md border border-line px-3 py-2">
          <legend className="px-1 font-semibold">Axes that two parts share</legend>
          <p className="mb-1 text-xs text-ink-2">
            Holes or pins of two parts on one axis, beside each other: a revolute joint is put there.
          </p>
          <ul className="max-h-44 overflow-auto">
            {axes.map((a, i) => (
              <li key={i}>
                <label className="flex min-h-6 items-center gap-2 py-0.5">
                  <CheckBox
                    checked={joints.has(i)}
                    onChange={() => setJoints(new Set(joints.has(i) ? [...joints].filter((x) => x !== i) : [...joints, i]))}
                  />
                  <span className="flex-1 truncate">
                    {label(a.parts[0])} – {label(a.parts[1])}
                  </span>
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

type Line<R> = { row: R; ground: string; onTarget: (t: Target) => void };
const indent = (depth: number) => ({ height: ROW, paddingLeft: 8 + 18 * Math.min(depth, DEEP) });
const select = 'w-52 rounded border border-line bg-sheet px-1 py-0.5';

/** A group of the assembly: what becomes of all it holds. */
function GroupLine({
  row: { label, group, depth, parts },
  ground,
  open,
  onFold,
  target,
  onTarget,
}: Line<Extract<Row, { group: number }>> & { open: boolean; onFold: () => void; target: Target | undefined }) {
  return (
    <li style={indent(depth)} className="flex items-center gap-2 border-b border-line py-1 pr-2">
      <button
        aria-expanded={open}
        aria-label={`${open ? 'Fold' : 'Unfold'} ${label}`}
        onClick={onFold}
        className="grid h-6 w-6 place-items-center rounded text-ink-2 hover:text-ink"
      >
        <ChevronRight aria-hidden="true" size={14} className={open ? 'rotate-90' : ''} />
      </button>
      <span className="min-w-0 flex-1 truncate font-semibold">{label}</span>
      <span className="text-xs text-ink-2">{parts.length === 1 ? '1 part' : `${parts.length} parts`}</span>
      <Choice
        label={`What all of ${label} becomes`}
        value={target ?? ''}
        placeholder="Various"
        options={[
          { value: 'own', label: 'Each part a body' },
          { value: `with ${group}`, label: 'One body' },
          ...(target?.startsWith('with ') && target !== `with ${group}` ? [{ value: target, label: 'One body with others' }] : []),
          { value: 'ground', label: `Fixed: ${ground}` },
          { value: 'none', label: 'Leave out' },
        ]}
        onChange={(v) => onTarget(v as Target)}
        className={select}
      />
    </li>
  );
}

function PartLine({
  row: { depth, above },
  part: p,
  like,
  groups,
  ground,
  target,
  onTarget,
}: Line<Extract<Row, { part: number }>> & {
  part: ReturnType<typeof useImport.getState>['parts'][number];
  like: string | undefined;
  groups: ReadonlyMap<number, string>;
  target: Target;
}) {
  const name = p.path.at(-1) ?? '',
    fault = p.faults[0];
  return (
    <li style={indent(depth)} className="flex items-center gap-3 border-b border-line py-1 pr-2">
      <span
        aria-hidden="true"
        className="ml-1.5 h-3 w-3 shrink-0 rounded-sm border border-line"
        style={{ background: p.colour ?? 'transparent' }}
      />
      <span className="min-w-0 flex-1 truncate">{name}</span>
      {like && <span className="truncate text-xs text-ink-2">like {like}</span>}
      {fault && (
        <span
          className={`truncate text-xs ${fault.severity === 'warning' ? 'text-warn' : 'text-ink-2'}`}
          title={`${fault.message} ${fault.why} ${fault.remedy}`}
        >
          {fault.message}
        </span>
      )}
      <span className="font-mono text-xs text-ink-2">{p.triangles.toLocaleString('en')}</span>
      <Choice
        label={`What ${name} becomes`}
        value={target}
        options={[
          { value: 'own', label: 'A body of its own' },
          ...[...above].reverse().map((g) => ({ value: `with ${g}`, label: `Part of ${groups.get(g)}` })),
          { value: 'ground', label: `Fixed: ${ground}` },
          { value: 'none', label: 'Leave out' },
        ]}
        onChange={(v) => onTarget(v as Target)}
        className={select}
      />
    </li>
  );
}
