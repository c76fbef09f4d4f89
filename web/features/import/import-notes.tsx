import { formatNumber } from '@vim-pivot/core/page';
import { readAgain, useImport } from '@/state/files/import';
import { FINENESS, missing } from '@/workers/round';
import { Choice } from '@/ui/choice';
import { nameOf } from './part-list';

/** What is to be known of the parts of a file: how round they are, which hold nothing, which are not closed. */
export function ImportNotes() {
  const { parts, facets, empty } = useImport();
  const faulty = parts.filter((p) => p.faults.some((f) => f.severity === 'warning')),
    [first] = faulty,
    fault = first?.faults[0];
  return (
    <>
      {facets !== undefined && (
        <p className="text-ink-2">
          Round faces become
          <span className="mx-1.5 inline-block align-middle">
            <Choice
              label="Facets to a turn"
              value={String(facets)}
              options={FINENESS.map((n) => ({ value: String(n), label: String(n) }))}
              onChange={(v) => readAgain(Number(v))}
              title="The file is read again"
              className="border-line bg-sheet py-0.5 text-ink"
            />
          </span>
          facets to a turn: up to <span className="font-mono text-xs text-ink">{formatNumber(100 * missing(facets), 2)} %</span> of the mass
          of a round part is missing.
        </p>
      )}
      {empty.length > 0 && (
        <p className="rounded-md bg-warn-soft px-3 py-1.5 text-warn">
          {empty.length === 1 ? 'One part of the file holds' : `${empty.length} parts of the file hold`} no surface and{' '}
          {empty.length === 1 ? 'is' : 'are'} left out: {empty.slice(0, 8).join(', ')}
          {empty.length > 8 ? ' and others' : ''}.
        </p>
      )}
      {fault && (
        <p className="rounded-md bg-warn-soft px-3 py-1.5 text-warn">
          {faulty.length === 1 ? `${nameOf(first)}: ` : `${faulty.length} parts do not enclose a volume cleanly; the first: `}
          {fault.message} {fault.why} {fault.remedy}
        </p>
      )}
    </>
  );
}
