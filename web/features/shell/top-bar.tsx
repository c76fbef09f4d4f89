import { Moon, Redo2, Sun, Undo2 } from 'lucide-react';
import { openLine } from '@/state/adding/line';
import { openHelp } from '@/state/asking';
import { redo, undo, useDocument } from '@/state/document/document';
import { toggleTheme, useTheme } from '@/state/theme';
import { ProjectMenu } from '../projects/project-menu';
import { STAGES, type StageName } from './stages';

export function TopBar({ stage, setStage }: { stage: StageName; setStage: (s: StageName) => void }) {
  const past = useDocument((s) => s.past);
  const future = useDocument((s) => s.future);
  const dark = useTheme((s) => s.dark);
  const icon = 'grid h-8 w-8 place-items-center rounded-md text-ink-2 hover:text-ink disabled:opacity-35';
  return (
    <header className="flex h-[46px] shrink-0 items-center gap-3 border-b border-line bg-sheet px-3">
      <span className="flex items-center gap-2 text-base font-bold">
        <svg viewBox="0 0 24 24" width="22" height="22" aria-hidden="true">
          <path d="M4 5 12 19 20 5" fill="none" stroke="currentColor" strokeWidth="2.4" strokeLinecap="round" strokeLinejoin="round" />
          <circle cx="4" cy="5" r="2.2" fill="currentColor" />
          <circle cx="20" cy="5" r="2.2" fill="currentColor" />
          <circle cx="12" cy="19" r="3.2" fill="var(--color-accent)" />
        </svg>
        Vim Pivot
      </span>
      <span className="h-5 w-px bg-line" />
      <ProjectMenu />
      <nav aria-label="Stages" className="ml-4 flex gap-1">
        {STAGES.map((s) => (
          <button
            key={s}
            aria-current={stage === s ? 'page' : undefined}
            onClick={() => setStage(s)}
            className={`rounded-md px-3.5 py-1.5 font-semibold ${stage === s ? 'bg-ink text-paper' : 'text-ink-2 hover:text-ink'}`}
          >
            {s}
          </button>
        ))}
      </nav>
      <span className="flex-1" />
      <button
        onClick={() => openLine(true)}
        title="Find anything, or say what to add (/)"
        className="flex w-64 items-center gap-2 rounded-md border border-line px-2.5 py-1 text-left text-ink-2 hover:border-ink-2"
      >
        <kbd className="rounded border border-line px-1 font-mono text-xs">/</kbd> Find or add…
      </button>
      <button
        className={icon}
        aria-label="Undo"
        disabled={past.length === 0}
        title={past.length > 0 ? `Undo: ${past.at(-1)!.label} (Ctrl+Z)` : 'Nothing to undo'}
        onClick={undo}
      >
        <Undo2 size={17} aria-hidden="true" />
      </button>
      <button
        className={icon}
        aria-label="Redo"
        disabled={future.length === 0}
        title={future.length > 0 ? `Redo: ${future[0]!.label} (Ctrl+Y)` : 'Nothing to redo'}
        onClick={redo}
      >
        <Redo2 size={17} aria-hidden="true" />
      </button>
      <button
        className={`${icon} font-semibold`}
        aria-label="Help"
        title="Keys, picking, formulas, units (?)"
        onClick={() => openHelp(true)}
      >
        ?
      </button>
      <button
        className={icon}
        aria-label={dark ? 'Light theme' : 'Dark theme'}
        title={dark ? 'Light theme' : 'Dark theme'}
        onClick={toggleTheme}
      >
        {dark ? <Sun size={17} aria-hidden="true" /> : <Moon size={17} aria-hidden="true" />}
      </button>
    </header>
  );
}
