'use client';
import { useEffect } from 'react';
import { openCopies } from '@/state/asking';
import { useDisplayed } from '@/state/scene/displayed';
import { isolate, toggleClear, toggleHidden, useView } from '@/state/scene/view';

/** How a body is seen, and handles to place it. */
export function BodyLook({ name }: { name: string }) {
  const { hidden, clear } = useView();
  const handles = useDisplayed((s) => s.handles);
  const only = !hidden.includes(name) && hidden.length > 0;
  useEffect(() => () => useDisplayed.setState({ handles: undefined }), [name]);
  const toggle = (text: string, on: boolean, act: () => void, title: string) => (
    <button
      aria-pressed={on}
      onClick={act}
      title={title}
      className={`rounded-md border px-2 py-0.5 ${on ? 'border-calm/40 bg-calm-soft text-calm' : 'border-line hover:border-ink-2'}`}
    >
      {text}
    </button>
  );
  return (
    <div role="group" aria-label="Seen and placed" className="flex flex-wrap gap-1.5 border-b border-line px-3 py-2">
      {toggle('Hide', hidden.includes(name), () => toggleHidden(name), 'Leave it out of the picture; it still counts')}
      {toggle('Alone', only, () => isolate([name]), 'Hide all others; again shows all')}
      {toggle('See through', clear.includes(name), () => toggleClear(name), 'Draw it so that what is behind can be seen')}
      {toggle(
        'Move',
        handles === 'move',
        () => useDisplayed.setState({ handles: handles === 'move' ? undefined : 'move' }),
        'Handles along the axes: its points in the ground go along',
      )}
      {toggle(
        'Turn',
        handles === 'turn',
        () => useDisplayed.setState({ handles: handles === 'turn' ? undefined : 'turn' }),
        'Rings round the axes',
      )}
      {toggle('Copies…', false, () => openCopies(true), 'In a row, round an axis, mirrored; Ctrl+C and Ctrl+V copy in place')}
    </div>
  );
}
