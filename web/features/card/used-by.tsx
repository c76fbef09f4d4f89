'use client';
import { FAMILIES, type Family, familyOf, refsOf } from '@vim-pivot/core/page';
import { select, useDocument } from '@/state/document/document';

/** Shown at most, before the rest is told by number. */
const MOST = 12;

/** What hangs on an element: to be seen before it is deleted or changed. */
export function UsedBy({ family, name }: { family: Family; name: string }) {
  const model = useDocument((s) => s.model);
  if (!model) return null;
  const users = FAMILIES.flatMap(({ key }) =>
    model[key]
      .filter((e) => refsOf(key, e).some((r) => r.family === family && r.names.includes(name)))
      .map((e) => ({ family: key, name: e.name })),
  );
  if (users.length === 0) return null;
  return (
    <details className="border-t border-line px-3 py-1.5">
      <summary className="cursor-pointer text-ink-2">
        Used by <span className="font-mono text-xs">{users.length}</span>
      </summary>
      <ul className="flex flex-wrap gap-x-3 py-1">
        {users.slice(0, MOST).map((u) => (
          <li key={`${u.family}/${u.name}`}>
            <button className="underline hover:text-accent" title={familyOf(u.family).one} onClick={() => select(u)}>
              {u.name}
            </button>
          </li>
        ))}
        {users.length > MOST && <li className="text-ink-2">and {users.length - MOST} more</li>}
      </ul>
    </details>
  );
}
