import type { Field } from '@vim-pivot/core/page';
import { useDocument } from '@/state/document/document';
import { choicesFor, setText, textOf } from '@/state/document/elements';
import { Choice } from '../choice';
import type { Editing } from './editing';

/** One of the choices of a field, or an element referred to. */
export function ChoiceInput({
  family,
  element,
  place,
  field,
  label,
  value,
  isDefault,
  fault,
  mark,
}: Editing<Extract<Field, { type: 'ref' | 'choice' }>>) {
  const model = useDocument((s) => s.model)!;
  const options = choicesFor(field, model);
  const text = textOf(value);
  const known = options.some((o) => o.value === text);
  // left out, a body is the ground
  const home = field.type === 'ref' && field.family === 'bodies' && !!field.optional;
  return (
    <Choice
      label={label}
      invalid={!!fault}
      title={fault || field.help}
      value={home ? text || model.ground : text}
      options={[
        ...(!home && (field.optional || text === '') ? [{ value: '', label: text === '' && !field.optional ? 'choose…' : 'none' }] : []),
        ...(!known && text !== '' ? [{ value: text, label: `${text} (missing)` }] : []),
        ...options,
      ]}
      onChange={(v) => setText(family, element.name, place, v)}
      className={`h-[24px] w-full hover:border-line ${mark} ${isDefault ? 'text-ink-2' : ''} bg-transparent`}
    />
  );
}
