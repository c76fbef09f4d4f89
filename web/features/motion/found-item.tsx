'use client';
import { Play, Square } from 'lucide-react';
import type { Item } from '@vim-pivot/core/analyses';
import { show, useMotion } from '@/state/scene/motion';
import { startWith } from '@/state/scene/start-posture';

/** Something found: in a line, and when it is pressed in full and in the scene. */
export function FoundItem({ item }: { item: Item }) {
  const on = useMotion((s) => s.item === item);
  const { label, detail, lists = [], shown, start } = item;
  if (!shown && lists.length === 0)
    return (
      <li className="px-1.5 py-1">
        <Line label={label} detail={detail} />
      </li>
    );
  return (
    <li className={`rounded-md ${on ? 'bg-accent-soft' : ''}`}>
      <button
        aria-pressed={on}
        onClick={() => show(item)}
        className={`flex w-full items-start gap-2 rounded-md px-1.5 py-1 text-left ${on ? '' : 'hover:bg-paper'}`}
        title={on ? 'Put it back' : shown ? 'Show in the scene, with all that is known of it' : 'All that is known of it'}
      >
        {on ? (
          <Square size={13} className="mt-0.5 shrink-0 text-accent" aria-hidden="true" />
        ) : (
          <Play size={13} className="mt-0.5 shrink-0 text-ink-2" aria-hidden="true" />
        )}
        <Line label={label} detail={detail} />
      </button>
      {on && (
        <div className="px-2 pb-2 pl-7 text-xs">
          {lists.map(({ title, rows }) => (
            <div key={title} role="group" aria-label={title}>
              <h4 className="pt-1 font-semibold">{title}</h4>
              <dl className="grid grid-cols-[1fr_auto] gap-x-2">
                {rows.map(([name, value]) => (
                  <Pair key={name} name={name} value={value} />
                ))}
              </dl>
            </div>
          ))}
          {start && (
            <button
              className="mt-1.5 rounded-md border border-line bg-sheet px-2 py-0.5 font-medium hover:border-ink-2"
              title="Start values of the joints that lead to this posture, one undo step"
              onClick={() => startWith(`Start at ${label}`, start)}
            >
              Start here
            </button>
          )}
        </div>
      )}
    </li>
  );
}

const Line = ({ label, detail }: { label: string; detail: string }) => (
  <span className="min-w-0">
    <span className="font-medium">{label}</span>
    {detail && <span className="block break-words text-xs text-ink-2">{detail}</span>}
  </span>
);

const Pair = ({ name, value }: { name: string; value: string }) => (
  <>
    <dt className="min-w-0 truncate text-ink-2" title={name}>
      {name}
    </dt>
    <dd className="font-mono">{value}</dd>
  </>
);
