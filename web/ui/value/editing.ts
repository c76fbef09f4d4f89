import type { Family, RawElement, RawValue } from '@vim-pivot/core/page';
import type { Place } from '@/state/document/elements';

/** What the editor of one place of an element is given. */
export interface Editing<F> {
  family: Family;
  element: RawElement;
  place: Place;
  field: F;
  label: string;
  value: RawValue;
  /** The value is what counts where nothing is typed. */
  isDefault: boolean;
  /** What is wrong with it; empty: nothing. */
  fault: string;
  /** Colours of its frame. */
  mark: string;
  /** In a cell of a table. */
  bare: boolean;
}
