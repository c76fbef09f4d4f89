import type { RefsField } from '@vim-pivot/core/page';
import { useDocument } from '@/state/document/document';
import { choicesFor, setNames } from '@/state/document/elements';
import { Choice } from '../choice';
import type { Editing } from './editing';

/** One or two elements referred to. */
export function PairInput({ family, element, place, field, label, value, fault, mark, bare }: Editing<RefsField>) {
  const model = useDocument((s) => s.model)!;
  const names = Array.isArray(value) ? (value as string[]) : [];
  const options = choicesFor(field, model);
  const put = (k: number, name: string) => {
    const all = Array.from({ length: field.max }, (_, i) => (i === k ? name : (names[i] ?? '')));
    setNames(family, element.name, place.field, all.filter(Boolean));
  };
  return (
    <span className={`flex min-w-0 gap-0.5 ${bare ? '' : 'flex-col'}`} title={fault || field.help}>
      {Array.from({ length: field.max }, (_, k) => (
        <Choice
          key={k}
          label={`${label}, ${k === 0 ? 'first' : 'second'}`}
          invalid={!!fault}
          value={names[k] ?? ''}
          options={[
            { value: '', label: k < field.min ? 'choose…' : 'same' },
            ...(names[k] && !options.some((o) => o.value === names[k]) ? [{ value: names[k], label: `${names[k]} (missing)` }] : []),
            ...options,
          ]}
          onChange={(v) => put(k, v)}
          className={`h-[24px] ${bare ? 'flex-1' : 'flex-none'} bg-transparent hover:border-line ${mark}`}
        />
      ))}
    </span>
  );
}
