'use client';
import { CopyPlus, Trash2 } from 'lucide-react';
import { type Family, type RawElement, applies, formatQuantity, kindOf, readUnit, shownUnit, type LiveValue } from '@vim-pivot/core/page';
import { useDocument } from '@/state/document';
import { columnsOf, duplicateElement, imagesOf, pathOf, rawAt, removeElement, setMirrored, setNote, setRows } from '@/state/elements';
import { usePlaces } from '@/state/places';
import { useRuns } from '@/state/runs';
import { useCurves } from '@/state/curves';
import { ValueInput } from '@/ui/value-input';
import { NameInput } from '../ledger/ledger';
import { GaugeTiles } from '../readings/gauge-tiles';
import dynamic from 'next/dynamic';

const Selection = dynamic(() => import('./selection').then((m) => m.Selection), { ssr: false });
const JointPicture = dynamic(() => import('./picture').then((m) => m.JointPicture), { ssr: false });
const Characteristic = dynamic(() => import('./picture').then((m) => m.Characteristic), { ssr: false });
const Sketcher = dynamic(() => import('@/ui/sketcher').then((m) => m.Sketcher), { ssr: false });
const KitCard = dynamic(() => import('../reuse/kits-dialog').then((m) => m.KitCard), { ssr: false });
const InstanceCard = dynamic(() => import('../reuse/instance-card').then((m) => m.InstanceCard), { ssr: false });
const Places = dynamic(() => import('./places').then((m) => m.Places), { ssr: false });
const MassCard = dynamic(() => import('./mass').then((m) => m.MassCard), { ssr: false });
const BodyLook = dynamic(() => import('./body-look').then((m) => m.BodyLook), { ssr: false });
const UsedBy = dynamic(() => import('./used-by').then((m) => m.UsedBy), { ssr: false });
const Offers = dynamic(() => import('./selection').then((m) => m.Offers), { ssr: false });

/** The selected element in full; with nothing selected, the machine's own curves. */
export function Card() {
  const selected = useDocument((s) => s.selected);
  const several = useDocument((s) => s.picked.length > 1);
  const model = useDocument((s) => s.model);
  const index = selected && model ? model[selected.family].findIndex((e) => e.name === selected.name) : -1;
  const places = usePlaces((s) => s.picked.length > 0);
  if (places) return <Places />;
  if (several) return <Selection />;
  if (!selected || !model || index < 0) return <GaugeTiles />;
  return <ElementCard key={`${selected.family}/${selected.name}`} family={selected.family} index={index} element={model[selected.family][index]!} />;
}

function ElementCard({ family, index, element }: { family: Family; index: number; element: RawElement }) {
  const kind = kindOf(family, element);
  const findings = useDocument((s) => s.diagnoses).filter((d) => d.element?.family === family && d.element.name === element.name);
  const live = useDocument((s) => s.live);
  if (!kind) return null;
  const columns = columnsOf(kind).filter((c) => applies(kind.fields[c.field]!, kind.fields, element));
  const fields = Object.entries(kind.fields).filter(([, f]) => !f.byHand && applies(f, kind.fields, element));
  const curve = columns.map((c) => live.get(pathOf(family, index, c))).find((v) => v?.samples);
  return (
    <section aria-label="Card" className="flex h-full flex-col overflow-auto">
      <header className="flex items-center gap-1 border-b border-line px-2 py-1.5">
        <div className="min-w-0 flex-1 text-base"><NameInput family={family} name={element.name} /></div>
        <span className="text-ink-2">{kind.label.toLowerCase()}</span>
        {!kind.holdsModel && <button aria-label={`Duplicate ${element.name}`} title="Another with the same fields" onClick={() => duplicateElement(family, element.name)} className="grid h-7 w-7 place-items-center rounded text-ink-2 hover:text-ink"><CopyPlus size={15} aria-hidden="true" /></button>}
        <button aria-label={`Delete ${element.name}`} title="Delete (undo brings it back)" onClick={() => removeElement(family, element.name)} className="grid h-7 w-7 place-items-center rounded text-ink-2 hover:text-accent">
          <Trash2 size={15} aria-hidden="true" />
        </button>
      </header>
      <p className="border-b border-line px-3 py-1.5 text-xs text-ink-2">{kind.help}</p>
      <Images family={family} element={element} />
      {family === 'bodies' && <BodyLook name={element.name} />}
      {family === 'kits' && <KitCard name={element.name} />}
      {family === 'instances' && <InstanceCard element={element} />}
      {family === 'joints' && <JointPicture element={element} />}
      {(family === 'loads' || family === 'tables') && <Characteristic family={family} name={element.name} />}
      <div className="grid grid-cols-[auto_minmax(0,1fr)] items-center gap-x-3 gap-y-1 px-3 py-2">
        {fields.map(([key, f]) => {
          const parts = columns.filter((c) => c.field === key);
          return (
            <div key={key} className="contents">
              <span title={f.help} className="text-ink-2">{f.label}</span>
              {parts.length === 1 ? (
                <ValueInput family={family} index={index} element={element} place={parts[0]!} label={f.label} />
              ) : (
                <span className="grid min-w-0 grid-cols-3 gap-1">
                  {parts.map((c) => <ValueInput key={c.key} compact family={family} index={index} element={element} place={c} label={c.label} />)}
                </span>
              )}
            </div>
          );
        })}
        <span className="self-start pt-1 text-ink-2">Note</span>
        <textarea
          aria-label="Note"
          rows={2}
          defaultValue={element.note ?? ''}
          onBlur={(e) => setNote(family, element.name, e.target.value)}
          className="resize-none rounded border border-line bg-sheet px-1.5 py-1"
        />
      </div>
      {fields.flatMap(([key, f]) => (f.type === 'grid' && f.outline ? [key] : [])).map((key) => (
        <Sketcher key={key} corners={rawAt(family, element, { field: key }).value as unknown as [number, number][]} unit={String(rawAt(family, element, { field: 'unit' }).value ?? '')} onDone={(c) => setRows(family, element.name, key, c.map((x) => x.join('\t')).join('\n'))} />
      ))}
      {(family === 'bodies' || family === 'shapes') && <MassCard family={family} element={element} />}
      {family === 'gauges' && <Positive name={element.name} />}
      {curve && <Sketch live={curve} />}
      {findings.map((d, i) => (
        <p key={i} className="mx-3 mb-2 rounded-md bg-warn-soft px-2.5 py-1.5 text-warn">
          {d.message} <span className="text-ink-2">{d.why} {d.remedy}</span>
        </p>
      ))}
      <UsedBy family={family} name={element.name} />
      <Offers />
      {(family === 'drives' || family === 'joints') && <AfterRun family={family} element={element} />}
    </section>
  );
}

/** What is put on a mirrored original acts in its image as well: it says so, and can be kept to this side. */
function Images({ family, element }: { family: Family; element: RawElement }) {
  const model = useDocument((s) => s.model)!, brought = useDocument((s) => s.brought);
  const images = imagesOf(model, brought, family, element.name);
  if (images.length === 0 && element.mirrored !== false) return null;
  return (
    <p role="status" className="flex items-center gap-2 border-b border-line bg-calm-soft px-3 py-1.5 text-calm">
      <span className="min-w-0 flex-1">{element.mirrored === false ? 'Here only: mirrors leave it out.' : `It stands in the mirror image too: ${images.map((i) => `${i}/${element.name}`).join(', ')}.`}</span>
      <button className="whitespace-nowrap rounded-md border border-calm px-1.5 font-medium" onClick={() => setMirrored(family, element.name, element.mirrored === false)}>{element.mirrored === false ? 'Mirror it too' : 'Here only'}</button>
    </p>
  );
}

/** What counts as positive; the scene shows where. */
function Positive({ name }: { name: string }) {
  const g = useDocument((s) => s.gauges.find((x) => x.name === name));
  return g ? <p className="mx-3 mb-2 rounded-md bg-calm-soft px-2.5 py-1.5 text-xs text-calm">{g.positive}</p> : null;
}

/** The course of a formula of time over the run. */
function Sketch({ live }: { live: LiveValue }) {
  const until = useDocument((d) => d.live.get('$.run.until')?.value ?? 0);
  // where the formula has no value there is nothing to draw
  const s = live.samples!.map((v) => (Number.isFinite(v) ? v : NaN)), known = s.filter((v) => !Number.isNaN(v));
  if (known.length < 2) return null;
  const lo = Math.min(0, ...known), hi = Math.max(0, ...known);
  const y = (v: number) => 62 - ((v - lo) / (hi - lo || 1)) * 50;
  const unit = shownUnit(live.dim);
  return (
    <figure className="mx-3 mb-2 rounded-md border border-line">
      <svg viewBox="0 0 240 76" className="block w-full" role="img" aria-label={`Course of the formula, up to ${formatQuantity(Math.max(...known), live.dim)}`}>
        <line x1="4" x2="236" y1={y(0)} y2={y(0)} stroke="var(--color-line)" />
        <polyline fill="none" stroke="var(--color-accent)" strokeWidth="1.8" points={s.flatMap((v, i) => (Number.isNaN(v) ? [] : [`${4 + (232 * i) / (s.length - 1)},${y(v)}`])).join(' ')} />
        <text x="6" y="10" fontSize="9" fill="var(--color-ink-2)" fontFamily="var(--font-mono)">{formatQuantity(Math.max(...known), live.dim, unit)}</text>
        <text x="234" y="73" fontSize="9" textAnchor="end" fill="var(--color-ink-2)" fontFamily="var(--font-mono)">{formatQuantity(until, [0, 0, 1, 0, 0, 0])}</text>
      </svg>
    </figure>
  );
}

/** Rounding noise of the solver is nothing to an engineer: below a tenth of a nanonewton (metre). */
const negligible = (v: number): number => (v < 1e-10 ? 0 : v);

/** What a drive needed or a joint carried in the current run: gauges made for the purpose, read from the stored states. */
function AfterRun({ family, element }: { family: 'drives' | 'joints'; element: RawElement }) {
  const model = useDocument((s) => s.model);
  const current = useRuns((s) => s.current);
  const runs = useRuns((s) => s.runs);
  const rows = family === 'drives'
    ? [{ label: 'Peak effort', kind: 'drive', drive: element.name, of: 'effort' }, { label: 'Peak power', kind: 'drive', drive: element.name, of: 'power' }, { label: 'Work put in', kind: 'drive', drive: element.name, of: 'work' }]
    : [{ label: 'Peak force', kind: 'reaction', joint: element.name, of: 'force' }, { label: 'Peak moment', kind: 'reaction', joint: element.name, of: 'moment' }];
  const gauges = rows.map(({ label, ...rest }) => ({ name: `card: ${label}`, ...rest }));
  const { run, curves } = useCurves(current, model && { ...model, gauges }, gauges.map((g) => g.name));
  const notUnique = useDocument((s) => s.mobility?.notUnique.includes(element.name));
  if (curves.length === 0) return null;
  return (
    <div className="border-t border-line">
      <h3 className="px-3 py-1.5 font-semibold">{family === 'drives' ? 'Needed' : 'Carried'} in run {runs.find((r) => r.id === run)?.number}</h3>
      <dl className="grid grid-cols-[auto_1fr] gap-x-3 gap-y-1 px-3 pb-2">
        {curves.map((c, k) => {
          const total = rows[k]!.of === 'work';
          let at = total ? c.values.length - 1 : 0;
          c.values.forEach((v, i) => {
            if (!total && Math.abs(v) > Math.abs(c.values[at]!)) at = i;
          });
          const { unit } = c;
          return (
            <div key={c.gauge} className="contents">
              <dt className="text-ink-2">{rows[k]!.label}</dt>
              <dd className="font-mono text-xs">
                {formatQuantity(negligible(total ? (c.values[at] ?? 0) : Math.abs(c.values[at] ?? 0)), c.dim, readUnit(unit) ? unit : undefined)} <span className="text-ink-2">{total ? 'up to' : 'at'} {c.time[at]?.toFixed(3)} s</span>
              </dd>
            </div>
          );
        })}
      </dl>
      {notUnique && family === 'joints' && <p className="px-3 pb-2 text-xs text-ink-2">Its loop has redundant constraints: its load in those directions is not unique.</p>}
    </div>
  );
}
