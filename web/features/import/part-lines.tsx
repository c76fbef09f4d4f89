/** Lines of the list of parts: groups of the assembly, and parts. */
import { ChevronRight } from 'lucide-react';
import type { useImport } from '@/state/files/import';
import type { Row, Target } from '@/state/files/part-tree';
import { Choice } from '@/ui/choice';

/** Height of a line, pixels. */
export const ROW = 31;
/** More levels of an assembly are not moved in any further. */
const DEEP = 8;

type Line<R> = { row: R; ground: string; onTarget: (t: Target) => void };
const indent = (depth: number) => ({ height: ROW, paddingLeft: 8 + 18 * Math.min(depth, DEEP) });
const select = 'w-52 rounded border border-line bg-sheet px-1 py-0.5';

/** A group of the assembly: what becomes of all it holds. */
export function GroupLine({
  row: { label, group, depth, parts },
  ground,
  open,
  onFold,
  target,
  onTarget,
}: Line<Extract<Row, { group: number }>> & { open: boolean; onFold: () => void; target: Target | undefined }) {
  return (
    <li style={indent(depth)} className="flex items-center gap-2 border-b border-line py-1 pr-2">
      <button
        aria-expanded={open}
        aria-label={`${open ? 'Fold' : 'Unfold'} ${label}`}
        onClick={onFold}
        className="grid h-6 w-6 place-items-center rounded text-ink-2 hover:text-ink"
      >
        <ChevronRight aria-hidden="true" size={14} className={open ? 'rotate-90' : ''} />
      </button>
      <span className="min-w-0 flex-1 truncate font-semibold">{label}</span>
      <span className="text-xs text-ink-2">{parts.length === 1 ? '1 part' : `${parts.length} parts`}</span>
      <Choice
        label={`What all of ${label} becomes`}
        value={target ?? ''}
        placeholder="Various"
        options={[
          { value: 'own', label: 'Each part a body' },
          { value: `with ${group}`, label: 'One body' },
          ...(target?.startsWith('with ') && target !== `with ${group}` ? [{ value: target, label: 'One body with others' }] : []),
          { value: 'ground', label: `Fixed: ${ground}` },
          { value: 'none', label: 'Leave out' },
        ]}
        onChange={(v) => onTarget(v as Target)}
        className={select}
      />
    </li>
  );
}

export function PartLine({
  row: { depth, above },
  part: p,
  like,
  groups,
  ground,
  target,
  onTarget,
}: Line<Extract<Row, { part: number }>> & {
  part: ReturnType<typeof useImport.getState>['parts'][number];
  like: string | undefined;
  groups: ReadonlyMap<number, string>;
  target: Target;
}) {
  const name = p.path.at(-1) ?? '',
    fault = p.faults[0];
  return (
    <li style={indent(depth)} className="flex items-center gap-3 border-b border-line py-1 pr-2">
      <span
        aria-hidden="true"
        className="ml-1.5 h-3 w-3 shrink-0 rounded-sm border border-line"
        style={{ background: p.colour ?? 'transparent' }}
      />
      <span className="min-w-0 flex-1 truncate">{name}</span>
      {like && <span className="truncate text-xs text-ink-2">like {like}</span>}
      {fault && (
        <span
          className={`truncate text-xs ${fault.severity === 'warning' ? 'text-warn' : 'text-ink-2'}`}
          title={`${fault.message} ${fault.why} ${fault.remedy}`}
        >
          {fault.message}
        </span>
      )}
      <span className="font-mono text-xs text-ink-2">{p.triangles.toLocaleString('en')}</span>
      <Choice
        label={`What ${name} becomes`}
        value={target}
        options={[
          { value: 'own', label: 'A body of its own' },
          ...[...above].reverse().map((g) => ({ value: `with ${g}`, label: `Part of ${groups.get(g)}` })),
          { value: 'ground', label: `Fixed: ${ground}` },
          { value: 'none', label: 'Leave out' },
        ]}
        onChange={(v) => onTarget(v as Target)}
        className={select}
      />
    </li>
  );
}
