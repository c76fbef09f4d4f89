import { useVirtualizer } from '@tanstack/react-virtual';
import { useMemo, useRef, useState } from 'react';
import { useDocument } from '@/state/document/document';
import { useImport } from '@/state/files/import';
import { type Target, assemblyRows, common } from '@/state/files/part-tree';
import { GroupLine, PartLine, ROW } from './part-lines';

/** The parts of the file in their assembly, and what becomes of each. */
export function PartList({
  targets,
  onTarget,
}: {
  targets: readonly Target[];
  onTarget: (parts: readonly number[], target: Target) => void;
}) {
  const { file, parts } = useImport();
  const ground = useDocument((s) => s.model?.ground ?? '');
  const list = useRef<HTMLUListElement>(null);
  const [shut, setShut] = useState<ReadonlySet<number>>(new Set());
  const all = useMemo(() => assemblyRows(parts, (file ?? 'All').replace(/\.[^.]*$/, '')), [parts, file]);
  const rows = useMemo(() => all.filter((r) => !r.above.some((g) => shut.has(g))), [all, shut]);
  const groups = useMemo(() => new Map(all.flatMap((r) => ('group' in r ? [[r.group, r.label] as const] : []))), [all]);
  // eslint-disable-next-line react-hooks/incompatible-library
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => list.current,
    estimateSize: () => ROW,
    overscan: 4,
    initialRect: { width: 800, height: 224 },
  });
  const seen = virtual.getVirtualItems();
  const fold = (g: number) => setShut(shut.has(g) ? new Set([...shut].filter((x) => x !== g)) : new Set([...shut, g]));
  const likeOf = (i: number) => parts[i]!.same && nameOf(parts[parts[i]!.same.of]);
  return (
    <ul ref={list} aria-label="Parts" className="max-h-56 overflow-auto rounded-md border border-line">
      <li aria-hidden="true" style={{ height: seen[0]?.start ?? 0 }} />
      {seen.map(({ index }) => {
        const r = rows[index]!;
        return 'group' in r ? (
          <GroupLine
            key={`group ${r.group}`}
            row={r}
            ground={ground}
            open={!shut.has(r.group)}
            onFold={() => fold(r.group)}
            target={common(targets, r.parts)}
            onTarget={(t) => onTarget(r.parts, t)}
          />
        ) : (
          <PartLine
            key={r.part}
            row={r}
            part={parts[r.part]!}
            like={likeOf(r.part)}
            groups={groups}
            ground={ground}
            target={targets[r.part]!}
            onTarget={(t) => onTarget([r.part], t)}
          />
        );
      })}
      <li aria-hidden="true" style={{ height: virtual.getTotalSize() - (seen.at(-1)?.end ?? 0) }} />
    </ul>
  );
}

/** The last part of its path in the assembly. */
export const nameOf = (part: { path: readonly string[] } | undefined): string => part?.path.at(-1) ?? '';
