/** How the columns of the Ledger are laid out: kept in this browser, for each family of elements. */
import type { Family } from '@vim-pivot/core/page';

export interface ColumnLayout {
  /** Widths that were set by hand, px; other columns are as wide as they need. */
  sizing: Record<string, number>;
  /** Columns that are hidden stand here as false. */
  visibility: Record<string, boolean>;
}

const KEPT = 'ledger-columns';
const all = (): Partial<Record<Family, ColumnLayout>> => {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(KEPT) ?? '{}');
    return typeof kept === 'object' && kept !== null ? kept : {};
  } catch {
    return {};
  }
};

export function columnLayout(family: Family): ColumnLayout {
  const kept = all()[family];
  return { sizing: kept?.sizing ?? {}, visibility: kept?.visibility ?? {} };
}

export function keepColumnLayout(family: Family, layout: ColumnLayout): void {
  localStorage.setItem(KEPT, JSON.stringify({ ...all(), [family]: layout }));
}
