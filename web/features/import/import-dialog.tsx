'use client';
import { useState } from 'react';
import { D, formatQuantity } from '@vim-pivot/core/page';
import { useDocument } from '@/state/document/document';
import { cancelImport, finishImport, useImport } from '@/state/files/import';
import type { Target } from '@/state/files/part-tree';
import { Button, Dialog } from '@/ui/dialog';
import { CheckBox } from '@/ui/check';
import { Choice } from '@/ui/choice';
import { ImportNotes } from './import-notes';
import { PartList, nameOf } from './part-list';

const UNITS: readonly (readonly [string, number])[] = [
  ['millimetres', 1e-3],
  ['centimetres', 1e-2],
  ['metres', 1],
  ['inches', 0.0254],
];

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
  const { parts, axes, metres: known } = useImport();
  const materials = useDocument((s) => s.model?.materials);
  const [metres, setMetres] = useState(known ?? 1e-3);
  const [targets, setTargets] = useState<Target[]>(parts.map((p): Target => (p.solid ? `with ${p.nodes.at(-1)!}` : 'own')));
  const [material, setMaterial] = useState(materials?.[0]?.name ?? '');
  const [joints, setJoints] = useState<ReadonlySet<number>>(new Set(axes.map((_, i) => i)));
  const [busy, setBusy] = useState(false);
  if (!materials) return null;
  const repeated = parts.filter((p) => p.same).length;
  const set = (which: readonly number[], t: Target) => {
    const these = new Set(which);
    setTargets(targets.map((x, k) => (these.has(k) ? t : x)));
  };
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
          largest extent <span className="font-mono text-xs text-ink">{formatQuantity(extent(parts) * metres, D.length)}</span>
        </span>
        <label className="flex items-center gap-2">
          Material
          <Choice
            label="Material of the parts"
            value={material}
            options={[...materials.map((m) => ({ value: m.name, label: m.name })), { value: '', label: 'none' }]}
            onChange={setMaterial}
            className="border-line bg-sheet py-0.5"
          />
        </label>
      </div>
      <ImportNotes />
      <PartList targets={targets} onTarget={set} />
      {axes.length > 0 && <SharedAxes joints={joints} onJoints={setJoints} metres={metres} />}
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

/** Largest extent of all parts together along an axis, in the unit of the file. */
const extent = (parts: ReturnType<typeof useImport.getState>['parts']): number =>
  Math.max(...[0, 1, 2].map((k) => Math.max(...parts.map((p) => p.high[k]!)) - Math.min(...parts.map((p) => p.low[k]!))));

/** Axes at which a revolute joint can be put. */
function SharedAxes({
  joints,
  onJoints,
  metres,
}: {
  joints: ReadonlySet<number>;
  onJoints: (j: ReadonlySet<number>) => void;
  metres: number;
}) {
  const { parts, axes } = useImport();
  return (
    <fieldset className="rounded-md border border-line px-3 py-2">
      <legend className="px-1 font-semibold">Axes that two parts share</legend>
      <p className="mb-1 text-xs text-ink-2">Holes or pins of two parts on one axis, beside each other: a revolute joint is put there.</p>
      <ul className="max-h-44 overflow-auto">
        {axes.map((a, i) => (
          <li key={i}>
            <label className="flex min-h-6 items-center gap-2 py-0.5">
              <CheckBox
                checked={joints.has(i)}
                onChange={() => onJoints(new Set(joints.has(i) ? [...joints].filter((x) => x !== i) : [...joints, i]))}
              />
              <span className="flex-1 truncate">
                {nameOf(parts[a.parts[0]])} – {nameOf(parts[a.parts[1]])}
              </span>
              <span className="font-mono text-xs text-ink-2">radius {formatQuantity(a.radius * metres, D.length)}</span>
            </label>
          </li>
        ))}
      </ul>
    </fieldset>
  );
}
