'use client';
import { ChevronDown } from 'lucide-react';
import { useRef, useState } from 'react';
import type * as Parts from './choice-parts';
import type { ChoiceProps } from './choice-parts';

/** The list and its library come with the first choice that is opened. */
let parts: typeof Parts | undefined;
const bring = async () => (parts ??= await import('./choice-parts'));
/** A list longer than this is the browser's own, which draws thousands of lines at once. */
const MANY = 400;
/** Letters typed within this time, ms, spell one word. */
const WORD = 1000;

/** One of several, behind a button that shows which. Typing on it goes to what begins so, without opening the list. */
export function Choice(props: ChoiceProps) {
  const { label, value, options, onChange, placeholder, title, invalid, className = '' } = props;
  const [opened, setOpened] = useState(false);
  const typed = useRef({ text: '', at: 0 });
  const common = { 'aria-label': label, 'aria-invalid': !!invalid, title, className: `${FRAME} ${className}` };
  if (options.length > MANY) return <LongChoice {...props} />;
  if (opened && parts) return <parts.List {...props} className={common.className} onDone={() => setOpened(false)} />;
  const text = options.find((o) => o.value === value)?.label ?? placeholder ?? value;
  return (
    <button
      type="button"
      role="combobox"
      aria-haspopup="listbox"
      aria-expanded={false}
      value={value}
      {...common}
      onClick={(e) => {
        // with a key held, the row it stands in is picked
        if (!e.ctrlKey && !e.metaKey && !e.shiftKey) void bring().then(() => setOpened(true));
      }}
      onKeyDown={(e) => {
        if (e.ctrlKey || e.metaKey || e.altKey) return;
        const now = Date.now(),
          word = now - typed.current.at < WORD ? typed.current.text : '';
        if (e.key === 'ArrowDown' || e.key === 'ArrowUp') e.currentTarget.click();
        else if (e.key.length === 1 && (e.key !== ' ' || word !== '')) {
          typed.current = { text: word + e.key.toLowerCase(), at: now };
          const found = options.find((o) => !o.disabled && o.label.toLowerCase().startsWith(typed.current.text));
          if (found && found.value !== value) onChange(found.value);
        } else return;
        e.preventDefault();
        e.stopPropagation();
      }}
    >
      <span className="min-w-0 flex-1 truncate">{text}</span>
      <ChevronDown size={13} className="shrink-0 text-ink-2" aria-hidden="true" />
    </button>
  );
}
const FRAME = 'flex min-w-0 items-center gap-1 rounded border px-1.5 text-left';

function LongChoice({ label, value, options, onChange, placeholder, title, invalid, className = '' }: ChoiceProps) {
  return (
    <select
      aria-label={label}
      aria-invalid={!!invalid}
      title={title}
      value={value}
      onChange={(e) => onChange(e.target.value)}
      className={`truncate rounded border px-1 ${className}`}
    >
      {!options.some((o) => o.value === value) && <option value={value}>{placeholder ?? value}</option>}
      {options.map((o) => (
        <option key={o.value} value={o.value} disabled={o.disabled ?? false}>
          {o.label}
        </option>
      ))}
    </select>
  );
}
