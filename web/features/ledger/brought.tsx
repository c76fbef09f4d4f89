'use client';
import { type Family, homeOf, kindOf } from '@vim-pivot/core/page';
import { pickAlso, select, useDocument } from '@/state/document/document';

/** Rows shown of what instances bring. */
const MOST_BROUGHT = 200;
/** What instances bring: to be seen here, and changed where it comes from. */
export function Brought({ family, span }: { family: Family; span: number }) {
  const model = useDocument((s) => s.model)!,
    names = useDocument((s) => s.brought[family]) ?? [];
  if (names.length === 0) return null;
  return (
    <>
      {names.slice(0, MOST_BROUGHT).map((name) => {
        const home = homeOf(model, family, name),
          instance = home && model.instances.find((i) => i.name === home.name);
        const mirror = instance && kindOf('instances', instance)?.makes === 'mirrored',
          original = name.slice((home?.name.length ?? 0) + 1);
        return (
          <tr key={name} data-brought={name} style={{ height: 27 }} className="border-b border-line/60 text-ink-2">
            <td />
            <td className="max-w-72 truncate px-2.5 italic">
              {family === 'points' ? (
                <button
                  className="hover:text-ink"
                  title="Pick this point"
                  onClick={(e) => (e.ctrlKey || e.metaKey || e.shiftKey ? pickAlso : select)({ family, name })}
                >
                  {name}
                </button>
              ) : (
                name
              )}
            </td>
            <td colSpan={span} className="px-1.5">
              {mirror ? 'mirrored' : 'brought'} by{' '}
              <button className="underline hover:text-ink" onClick={() => home && select(home)}>
                {home?.name}
              </button>
              {mirror && model[family].some((e) => e.name === original) && (
                <>
                  {' '}
                  from{' '}
                  <button className="underline hover:text-ink" onClick={() => select({ family, name: original })}>
                    {original}
                  </button>
                </>
              )}
            </td>
          </tr>
        );
      })}
      {names.length > MOST_BROUGHT && (
        <tr className="text-ink-2">
          <td />
          <td colSpan={span + 1} className="px-2.5 py-1">
            and {names.length - MOST_BROUGHT} more
          </td>
        </tr>
      )}
    </>
  );
}
