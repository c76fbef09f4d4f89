import { useRef } from 'react';
import type { ColourField } from '@vim-pivot/core/page';
import { setText, textOf } from '@/state/document/elements';
import type { Editing } from './editing';

/** The picker tells of every shade the pointer passes: the one it rests on is taken, ms. */
const REST = 250;

export function ColourInput({ family, element, place, field, label, value, fault }: Editing<ColourField>) {
  const resting = useRef<ReturnType<typeof setTimeout>>(undefined);
  return (
    <span className="flex h-[24px] items-center gap-1.5" title={fault || field.help}>
      <input
        key={textOf(value)}
        type="color"
        aria-label={label}
        defaultValue={textOf(value) || '#8a8a8a'}
        onChange={(e) => {
          clearTimeout(resting.current);
          const text = e.target.value;
          resting.current = setTimeout(() => setText(family, element.name, place, text), REST);
        }}
        className={`h-5 w-8 cursor-pointer rounded border border-line ${value ? '' : 'opacity-40'}`}
      />
      {value ? (
        <button onClick={() => setText(family, element.name, place, '')} className="text-xs text-ink-2 underline">
          as usual
        </button>
      ) : (
        <span className="text-xs text-ink-2">as usual</span>
      )}
    </span>
  );
}
