'use client';
import dynamic from 'next/dynamic';
import type { Declared, Found } from '@vim-pivot/core/analyses';
import { findOut, leave, setAmplitude, useMotion } from '@/state/scene/motion';
import { saveCsv, saveJson } from '@/state/scene/motion-files';
import { Slide } from '@/ui/slide';
import { FoundItem } from './found-item';
import { Settings } from './settings';

const Charts = dynamic(() => import('./charts').then((m) => m.Charts), { ssr: false });

/** An analysis: what it is asked, and what it has found. */
export function AnalysisSection({ analysis }: { analysis: Declared }) {
  const { name, label, ask, help } = analysis;
  const found = useMotion((s) => s.found[name]);
  const told = useMotion((s) => s.told[name]) ?? found?.diagnoses ?? [];
  const busy = useMotion((s) => s.busy);
  return (
    <section aria-label={label} className="border-t border-line px-3 py-1.5">
      <div className="flex items-center gap-2">
        <h3 className="flex-1 font-semibold">{label}</h3>
        {busy === name && <Progress />}
        <button
          disabled={!!busy}
          onClick={() => findOut(analysis)}
          aria-label={`${ask} ${label.toLowerCase()}`}
          className="rounded-md border border-line px-2 py-0.5 font-medium hover:border-ink-2 disabled:opacity-45"
        >
          {busy === name ? 'Working…' : ask}
        </button>
      </div>
      {told.map((d, i) => (
        <p
          key={i}
          role="status"
          className={`mt-1 rounded-md px-2.5 py-1.5 ${d.severity === 'note' ? 'bg-paper' : 'bg-warn-soft text-warn'}`}
        >
          {d.element ? <b>{d.element.name}: </b> : null}
          {d.message}{' '}
          <span className="text-ink-2">
            {d.why} {d.remedy}
          </span>
        </p>
      ))}
      <Settings analysis={analysis} />
      {!found && told.length === 0 && <p className="pt-0.5 text-xs text-ink-2">{help}</p>}
      {found && <Result name={name} found={found} />}
    </section>
  );
}

function Progress() {
  const part = useMotion((s) => s.part);
  return (
    <>
      {part > 0 && <progress aria-label="Worked out so far" className="h-1 w-16" value={part} max={1} />}
      <button className="text-xs text-ink-2 underline" onClick={leave}>
        Stop
      </button>
    </>
  );
}

function Result({ name, found }: { name: string; found: Found }) {
  const { items, curves = [] } = found;
  const swings = items.some((i) => i.shown?.home);
  const link = 'underline hover:text-accent';
  return (
    <>
      {items.length === 0 && <p className="pt-0.5 text-ink-2">None.</p>}
      {swings && <Amplitude />}
      <ul className="pt-1">
        {items.map((x) => (
          <FoundItem key={x.label} item={x} />
        ))}
      </ul>
      {curves.length > 0 && <Charts curves={curves} />}
      {items.length > 0 && (
        <p className="flex gap-3 pt-1 text-xs text-ink-2">
          <span className="flex-1">Save</span>
          {found.table.rows.length > 0 && (
            <button className={link} aria-label={`Save ${name} as CSV`} onClick={() => void saveCsv(name, found)}>
              CSV
            </button>
          )}
          <button className={link} aria-label={`Save ${name} as JSON`} onClick={() => saveJson(name, found)}>
            JSON
          </button>
        </p>
      )}
    </>
  );
}

function Amplitude() {
  const amplitude = useMotion((s) => s.amplitude);
  return (
    <div className="flex items-center gap-2 pt-1 text-xs text-ink-2">
      Amplitude
      <Slide label="Amplitude" min={0.05} max={1} step={0.05} value={amplitude} onChange={setAmplitude} className="flex-1" />
    </div>
  );
}
