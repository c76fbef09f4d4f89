'use client';
import { CopyPlus, Trash2 } from 'lucide-react';
import dynamic from 'next/dynamic';
import { useState } from 'react';
import { type Family, type Field, type RawElement, applies, kindOf } from '@vim-pivot/core/page';
import { useDocument } from '@/state/document/document';
import { duplicateElement, imagesOf, setMirrored } from '@/state/document/card-edits';
import { columnsOf, numberOf, pathOf, rawAt, removeElement, setNote, setRows } from '@/state/document/elements';
import { ValueInput } from '@/ui/value-input';
import { NameInput } from '../ledger/name-input';
import { AfterRun } from './after-run';
import { CourseChart } from './course-chart';
import { MassCard, foundIn, useMass } from './mass';

const JointPicture = dynamic(() => import('./picture').then((m) => m.JointPicture), { ssr: false });
const Characteristic = dynamic(() => import('./picture').then((m) => m.Characteristic), { ssr: false });
const Sketcher = dynamic(() => import('@/ui/sketcher').then((m) => m.Sketcher), { ssr: false });
const KitCard = dynamic(() => import('../reuse/kits-dialog').then((m) => m.KitCard), { ssr: false });
const InstanceCard = dynamic(() => import('../reuse/instance-card').then((m) => m.InstanceCard), { ssr: false });
const BodyLook = dynamic(() => import('./body-look').then((m) => m.BodyLook), { ssr: false });
const Knob = dynamic(() => import('./knob').then((m) => m.Knob), { ssr: false });
const UsedBy = dynamic(() => import('./used-by').then((m) => m.UsedBy), { ssr: false });
const Offers = dynamic(() => import('./selection').then((m) => m.Offers), { ssr: false });

/** One element in full: its fields, what it is for, what it did. */
export function ElementCard({ family, index, element }: { family: Family; index: number; element: RawElement }) {
  const kind = kindOf(family, element);
  const findings = useDocument((s) => s.diagnoses).filter((d) => d.element?.family === family && d.element.name === element.name);
  const live = useDocument((s) => s.live);
  const mass = useMass(family, element);
  if (!kind) return null;
  const columns = columnsOf(kind).filter((c) => applies(kind.fields[c.field]!, kind.fields, element));
  const fields = Object.entries(kind.fields).filter(([, f]) => !f.byHand && applies(f, kind.fields, element));
  const curve = columns.map((c) => live.get(pathOf(family, index, c))).find((v) => v?.samples);
  return (
    <section aria-label="Card" className="flex h-full flex-col overflow-auto">
      <Head family={family} element={element} />
      <p className="border-b border-line px-3 py-1.5 text-xs text-ink-2">{kind.help}</p>
      <Images family={family} element={element} />
      {family === 'bodies' && <BodyLook name={element.name} />}
      {family === 'kits' && <KitCard name={element.name} />}
      {family === 'instances' && <InstanceCard element={element} />}
      {family === 'joints' && <JointPicture element={element} />}
      {(family === 'loads' || family === 'tables') && <Characteristic family={family} name={element.name} />}
      <div className="grid grid-cols-[auto_minmax(0,1fr)] items-center gap-x-3 gap-y-1 px-3 py-2">
        {fields.map(([key, f]) => {
          const parts = columns.filter((c) => c.field === key),
            found = foundIn(mass, key);
          return <FieldRow key={key} {...{ family, index, element, f, parts, found }} />;
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
      {/* a formula has no slider; one that is open says so */}
      {family === 'parameters' && <ByHand key={element.name} parameter={element} />}
      <Outlines family={family} element={element} keys={fields.flatMap(([key, f]) => (f.type === 'grid' && f.outline ? [key] : []))} />
      {(family === 'bodies' || family === 'shapes') && <MassCard family={family} element={element} found={mass} />}
      {family === 'gauges' && <Positive name={element.name} />}
      {curve && <CourseChart live={curve} />}
      {findings.map((d, i) => (
        <p key={i} className="mx-3 mb-2 rounded-md bg-warn-soft px-2.5 py-1.5 text-warn">
          {d.message}{' '}
          <span className="text-ink-2">
            {d.why} {d.remedy}
          </span>
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
  const model = useDocument((s) => s.model)!,
    brought = useDocument((s) => s.brought);
  const images = imagesOf(model, brought, family, element.name);
  if (images.length === 0 && element.mirrored !== false) return null;
  return (
    <p role="status" className="flex items-center gap-2 border-b border-line bg-calm-soft px-3 py-1.5 text-calm">
      <span className="min-w-0 flex-1">
        {element.mirrored === false
          ? 'Here only: mirrors leave it out.'
          : `It stands in the mirror image too: ${images.map((i) => `${i}/${element.name}`).join(', ')}.`}
      </span>
      <button
        className="whitespace-nowrap rounded-md border border-calm px-1.5 font-medium"
        onClick={() => setMirrored(family, element.name, element.mirrored === false)}
      >
        {element.mirrored === false ? 'Mirror it too' : 'Here only'}
      </button>
    </p>
  );
}

/** A slider for a parameter, once it is asked for. */
function ByHand({ parameter }: { parameter: RawElement }) {
  const [on, setOn] = useState(false);
  if (!on && !numberOf(String(parameter.value ?? ''))) return null;
  return on ? (
    <Knob parameter={parameter} />
  ) : (
    <button
      onClick={() => setOn(true)}
      title="Move the value by hand; with Live on, the run follows"
      className="mx-3 mb-2 self-start rounded-md border border-line px-2 py-0.5 hover:border-ink-2"
    >
      Slider
    </button>
  );
}

/** What counts as positive; the scene shows where. */
function Positive({ name }: { name: string }) {
  const g = useDocument((s) => s.gauges.find((x) => x.name === name));
  return g ? <p className="mx-3 mb-2 rounded-md bg-calm-soft px-2.5 py-1.5 text-xs text-calm">{g.positive}</p> : null;
}

function Head({ family, element }: { family: Family; element: RawElement }) {
  const kind = kindOf(family, element)!;
  return (
    <header className="flex items-center gap-1 border-b border-line px-2 py-1.5">
      <div className="min-w-0 flex-1 text-base">
        <NameInput family={family} name={element.name} />
      </div>
      <span className="text-ink-2">{kind.label.toLowerCase()}</span>
      {!kind.holdsModel && (
        <button
          aria-label={`Duplicate ${element.name}`}
          title="Another with the same fields"
          onClick={() => duplicateElement(family, element.name)}
          className="grid h-7 w-7 place-items-center rounded text-ink-2 hover:text-ink"
        >
          <CopyPlus size={15} aria-hidden="true" />
        </button>
      )}
      <button
        aria-label={`Delete ${element.name}`}
        title="Delete (undo brings it back)"
        onClick={() => removeElement(family, element.name)}
        className="grid h-7 w-7 place-items-center rounded text-ink-2 hover:text-accent"
      >
        <Trash2 size={15} aria-hidden="true" />
      </button>
    </header>
  );
}

interface FieldProps {
  family: Family;
  index: number;
  element: RawElement;
  f: Field;
  parts: ReturnType<typeof columnsOf>;
  found: ReturnType<typeof foundIn>;
}

/** A field with its label; a vector has its three parts side by side. */
function FieldRow({ family, index, element, f, parts, found }: FieldProps) {
  return (
    <div className="contents">
      <span title={f.help} className="text-ink-2">
        {f.type === 'vector' && f.parts ? f.parts.join(' ') : f.label}
      </span>
      {parts.length === 1 ? (
        <ValueInput family={family} index={index} element={element} place={parts[0]!} label={f.label} found={found} />
      ) : (
        <span className="grid min-w-0 grid-cols-3 gap-1">
          {parts.map((c) => (
            <ValueInput key={c.key} compact family={family} index={index} element={element} place={c} label={c.label} found={found} />
          ))}
        </span>
      )}
    </div>
  );
}

/** Outlines that can be drawn by hand. @param keys their fields */
function Outlines({ family, element, keys }: { family: Family; element: RawElement; keys: readonly string[] }) {
  return keys.map((key) => (
    <Sketcher
      key={key}
      corners={rawAt(family, element, { field: key }).value as unknown as [number, number][]}
      unit={String(rawAt(family, element, { field: 'unit' }).value ?? '')}
      onDone={(c) => setRows(family, element.name, key, c.map((x) => x.join('\t')).join('\n'))}
    />
  ));
}
