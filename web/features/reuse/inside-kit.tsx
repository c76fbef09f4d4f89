'use client';
import { ArrowLeft } from 'lucide-react';
import { openKit, useDocument } from '@/state/document/document';
import { instancesOf } from '@/state/adding/kits';

/** While a kit is open: which, how many instances follow, and the way back. */
export function InsideKit() {
  const inside = useDocument((s) => s.inside);
  const whole = useDocument((s) => s.whole);
  if (inside === undefined || !whole) return null;
  const n = instancesOf(whole, inside);
  return (
    <div role="status" aria-label="Open kit" className="flex shrink-0 items-center gap-3 border-b border-calm/40 bg-calm-soft px-3 py-1.5">
      <button
        onClick={() => openKit(undefined)}
        className="flex items-center gap-1.5 rounded-md border border-calm/50 bg-sheet px-2.5 py-1 font-medium hover:border-ink-2"
      >
        <ArrowLeft size={14} aria-hidden="true" /> Back to {whole.name}
      </button>
      <span>
        Kit <b>{inside}</b> is open.{' '}
        {n === 0
          ? 'Nothing is made of it yet.'
          : n === 1
            ? 'What you change here changes its instance.'
            : `What you change here changes all ${n} instances of it.`}
      </span>
    </div>
  );
}
