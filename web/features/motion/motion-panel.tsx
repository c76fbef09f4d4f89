'use client';
import { X } from 'lucide-react';
import { useDocument } from '@/state/document/document';
import { openMotion, setLetGo, useMotion } from '@/state/scene/motion';
import { CheckBox } from '@/ui/check';
import { AnalysisSection } from './analysis-section';
import { Counts } from './counts';

/** What the machine can do apart from running: its degrees of freedom and loops, and every analysis there is. */
export function MotionPanel() {
  const mobility = useDocument((s) => s.mobility);
  const drives = useDocument((s) => s.model?.drives.filter((d) => !d.off).length ?? 0);
  const { letGo, analyses } = useMotion();
  if (!mobility) return null;
  return (
    <section aria-label="Motion" className="flex h-full flex-col overflow-auto">
      <header className="flex items-center border-b border-line px-3 py-1.5">
        <h2 className="flex-1 text-base font-semibold">Motion</h2>
        <button
          aria-label="Close Motion"
          title="Back to the Card"
          onClick={() => openMotion(false)}
          className="grid h-7 w-7 place-items-center rounded text-ink-2 hover:text-ink"
        >
          <X size={16} aria-hidden="true" />
        </button>
      </header>
      <Counts mobility={mobility} />
      {drives > 0 && (
        <label className="flex items-center gap-2 border-t border-line px-3 py-1.5">
          <CheckBox checked={letGo} onChange={setLetGo} /> Without the drives
        </label>
      )}
      {analyses.map((a) => (
        <AnalysisSection key={a.name} analysis={a} />
      ))}
    </section>
  );
}
