'use client';
import type { Family, RawElement } from '@vim-pivot/core/page';
import { useDocument } from '@/state/document/document';
import { type Place, fieldOf, pathOf, rawAt } from '@/state/document/elements';
import { ChoiceInput } from './value/choice-input';
import { ColourInput } from './value/colour-input';
import { useFault } from './value/fault';
import type { Found } from './value/found';
import { GridInput } from './value/grid-input';
import { PairInput } from './value/pair-input';
import { TextInput } from './value/text-input';

/** The editor of one place of an element, in the Ledger or on the Card. */
export function ValueInput({
  family,
  index,
  element,
  place,
  label,
  bare = false,
  compact = false,
  found,
  onBlock,
  onFill,
}: {
  family: Family;
  index: number;
  element: RawElement;
  place: Place;
  label: string;
  bare?: boolean;
  compact?: boolean;
  /** What counts while nothing is typed; it stands grey in the field. */
  found?: Found | undefined;
  /** Several cells were pasted here. */
  onBlock?: (text: string) => void;
  /** Ctrl+D: write this cell into those below. */
  onFill?: () => void;
}) {
  const field = fieldOf(family, element, place.field);
  const path = pathOf(family, index, place);
  const live = useDocument((s) => s.live.get(path));
  const fault = useFault(path) ?? '';
  const modelled = useDocument((s) => !!s.model);
  const { value, isDefault } = rawAt(family, element, place);
  if (!field || !modelled)
    return (
      <span className="text-ink-2/50" aria-hidden="true">
        –
      </span>
    );
  const mark = fault ? 'border-warn! bg-warn-soft' : bare ? 'border-transparent' : 'border-line bg-sheet';
  const on = { family, element, place, label, value, isDefault, fault, mark, bare };
  if (field.type === 'ref' || field.type === 'choice') return <ChoiceInput {...on} field={field} />;
  if (field.type === 'refs' && field.max <= 2) return <PairInput {...on} field={field} />;
  if (field.type === 'colour') return <ColourInput {...on} field={field} />;
  if (field.type === 'grid') return <GridInput {...on} field={field} />;
  return <TextInput {...on} field={field} live={live} compact={compact} found={found} onBlock={onBlock} onFill={onFill} />;
}
