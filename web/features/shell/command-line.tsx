'use client';
import { useEffect, useId, useMemo, useRef, useState } from 'react';
import { FAMILIES, type Model, familyOf, plainText } from '@vim-pivot/core/page';
import { addProject, blank, redo, select, undo, useDocument } from '@/state/document/document';
import { openCopies, openScripts } from '@/state/asking';
import { addOffer } from '@/state/adding/add-offer';
import { ALL_EXAMPLES } from '@/state/adding/more-examples';
import { openLine } from '@/state/adding/line';
import { openMotion } from '@/state/scene/motion';
import { startRun } from '@/state/runs/runs';
import { type Brought, readSentence, stumbleOf } from '@/state/adding/sentence';
import { toggleTheme } from '@/state/theme';

interface Entry {
  key: string;
  label: string;
  detail: string;
  /** Whether the line closes afterwards. */
  closes: boolean;
  act: () => void;
}

const COMMANDS: readonly Entry[] = [
  { key: 'run', label: 'Run', detail: 'run the model', closes: true, act: startRun },
  { key: 'motion', label: 'Motion', detail: 'degrees of freedom, equilibria, modes, ranges', closes: true, act: () => openMotion(true) },
  {
    key: 'copies',
    label: 'Copies',
    detail: 'of what is picked: in a row, round an axis, mirrored',
    closes: true,
    act: () => openCopies(true),
  },
  { key: 'scripts', label: 'Scripts', detail: 'small programs that build and change models', closes: true, act: () => openScripts(true) },
  { key: 'undo', label: 'Undo', detail: 'take the last edit back', closes: false, act: undo },
  { key: 'redo', label: 'Redo', detail: 'do it again', closes: false, act: redo },
  { key: 'theme', label: 'Light or dark theme', detail: '', closes: true, act: toggleTheme },
  { key: 'new', label: 'New project', detail: 'an empty machine', closes: true, act: () => void addProject(blank('Untitled machine')) },
];

/** One line that finds anything and takes short sentences; it stays open after adding, for the next. */
export function CommandLine() {
  const model = useDocument((s) => s.model);
  const [text, setText] = useState('');
  const [at, setAt] = useState(0);
  const [added, setAdded] = useState<string>();
  const input = useRef<HTMLInputElement>(null);
  const list = useId();
  useEffect(() => input.current?.focus(), []);
  const brought = useDocument((s) => s.brought);
  const said = plainText(text);
  const entries = useMemo(() => (model ? entriesFor(said, model, brought) : []), [said, model, brought]);
  const stumble = useMemo(() => (model && said.trim() !== '' ? stumbleOf(said, model, brought) : undefined), [said, model, brought]);
  const chosen = Math.min(at, entries.length - 1);
  const take = (e: Entry | undefined) => {
    if (!e) return;
    e.act();
    if (e.closes) openLine(false);
    else {
      setAdded(e.label);
      setText('');
      setAt(0);
    }
  };
  return (
    <div className="fixed inset-0 z-40 bg-ink/15 dark:bg-black/40" onMouseDown={(e) => e.target === e.currentTarget && openLine(false)}>
      <div
        role="dialog"
        aria-label="Find or add"
        className="mx-auto mt-14 w-[640px] overflow-hidden rounded-xl border border-line bg-sheet shadow-xl"
      >
        <input
          ref={input}
          role="combobox"
          aria-label="Find or add"
          aria-expanded="true"
          aria-controls={list}
          aria-activedescendant={chosen >= 0 ? `${list}-${chosen}` : undefined}
          spellCheck={false}
          autoComplete="off"
          value={text}
          placeholder="Find, or say it: revolute between Ground and Crank at A about y"
          onChange={(e) => {
            setText(e.target.value);
            setAt(0);
          }}
          onKeyDown={(e) => {
            if (e.key === 'ArrowDown') setAt((i) => Math.min(i + 1, entries.length - 1));
            else if (e.key === 'ArrowUp') setAt((i) => Math.max(0, i - 1));
            else if (e.key === 'Enter') take(entries[chosen]);
            else if (e.key === 'Escape') openLine(false);
            else return;
            e.preventDefault();
            e.stopPropagation();
          }}
          className="w-full border-b border-line bg-sheet px-4 py-3 text-base outline-none"
        />
        <ul id={list} role="listbox" aria-label="Found" className="max-h-[50vh] overflow-auto py-1">
          {entries.map((e, i) => (
            <li
              key={e.key}
              id={`${list}-${i}`}
              role="option"
              aria-selected={i === chosen}
              onMouseEnter={() => setAt(i)}
              onClick={() => take(e)}
              className={`flex cursor-pointer items-baseline gap-3 px-4 py-1.5 ${i === chosen ? 'bg-accent-soft' : ''}`}
            >
              <span className="font-medium">{e.label}</span>
              <span className="min-w-0 flex-1 truncate text-ink-2">{e.detail}</span>
            </li>
          ))}
        </ul>
        {text === '' && (
          <p className="border-t border-line px-4 py-2 text-xs text-ink-2" role="status">
            {added ? `Done: ${added}. ` : ''}Say for example <span className="font-mono">point A at 0, 0, 100 mm</span>,{' '}
            <span className="font-mono">link Crank from A to B</span>, <span className="font-mono">drive Motor on Bearing 60 rpm</span>,{' '}
            <span className="font-mono">arm = 60 mm</span>.
          </p>
        )}
        {stumble && (
          <p className="border-t border-line bg-warn-soft px-4 py-2" role="status">
            {stumble.message}
          </p>
        )}
        {text !== '' && !stumble && entries.length === 0 && (
          <p className="px-4 py-2 text-ink-2" role="status">
            Nothing is called that, and it does not read as something to add. Begin with a kind: point, link, revolute, spring, drive,
            gauge…
          </p>
        )}
      </div>
    </div>
  );
}

function entriesFor(text: string, model: Model, brought: Brought): Entry[] {
  const low = text.trim().toLowerCase();
  const out: Entry[] = [];
  const said = low === '' ? undefined : readSentence(text, model, brought);
  if (said) out.push({ key: 'say', label: 'Add', detail: said.preview, closes: false, act: () => addOffer(said.offer) });
  if (low !== '') {
    const found = FAMILIES.flatMap((f) =>
      model[f.key]
        .filter((e) => e.name.toLowerCase().includes(low))
        .map((e): Entry => ({
          key: `${f.key}/${e.name}`,
          label: e.name,
          detail: familyOf(f.key).one,
          closes: true,
          act: () => select({ family: f.key, name: e.name }),
        })),
    );
    out.push(...found.slice(0, 30));
  }
  out.push(...COMMANDS.filter((c) => `${c.label} ${c.detail}`.toLowerCase().includes(low)));
  out.push(
    ...ALL_EXAMPLES.filter((x) => x.name.toLowerCase().includes(low) && low !== '').map((x): Entry => ({
      key: `example/${x.name}`,
      label: x.name,
      detail: 'example, opened as a new project',
      closes: true,
      act: () => void addProject(x),
    })),
  );
  return out;
}
