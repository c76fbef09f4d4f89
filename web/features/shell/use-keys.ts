/** Keys that work wherever nothing is being typed. */
import { useEffect } from 'react';
import { openLine } from '@/state/adding/line';
import { openHelp, sketch, useSketch } from '@/state/asking';
import { redo, select, undo } from '@/state/document/document';
import { cancelRun, startRun, togglePlay, useRuns } from '@/state/runs/runs';
import { forgetPlaces, usePlaces } from '@/state/scene/places';

const copies = () => import('@/state/adding/copies');

export function useKeys(): void {
  useEffect(() => {
    const keys = (e: KeyboardEvent) => {
      if (act(e)) e.preventDefault();
    };
    addEventListener('keydown', keys);
    return () => removeEventListener('keydown', keys);
  }, []);
}

/** @returns whether the key meant something */
function act(e: KeyboardEvent): boolean {
  const on = e.target instanceof HTMLElement ? e.target : undefined;
  const command = e.ctrlKey || e.metaKey,
    key = e.key.toLowerCase();
  if (command && e.key === 'Enter') startRun();
  else if (on?.closest('input, textarea, select, [role="menu"], [role="dialog"]')) return false;
  else if (command && key === 'z') (e.shiftKey ? redo : undo)();
  else if (command && key === 'y') redo();
  // rows of the Ledger go to and from the clipboard as text
  else if (command && (key === 'c' || key === 'v')) {
    if (on?.closest('[aria-label="Ledger"]')) return false;
    void copies().then((c) => (key === 'c' ? c.copyPicked() : c.pasteCopied()));
  } else if (e.key === '/') openLine(true);
  else if (e.key === '?') openHelp(true);
  else if (e.key === 'Escape') leave();
  else if (e.key === ' ' && !(on instanceof HTMLButtonElement)) togglePlay();
  else return false;
  return true;
}

/** One step back out of what is going on. */
function leave(): void {
  if (useRuns.getState().running) cancelRun();
  else if (useSketch.getState().on) sketch(false);
  else if (usePlaces.getState().picked.length > 0) forgetPlaces();
  else select(undefined);
}
