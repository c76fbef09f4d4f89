'use client';
import { useMemo, useState } from 'react';
import { type Family, familyOf, kindOf } from '@vim-pivot/core/page';
import { useDocument } from '@/state/document/document';
import { addOffer } from '@/state/adding/add-offer';
import { type Offer, offersFor } from '@/state/adding/offers';
import { Dialog } from '@/ui/dialog';

/** Elements that can tell something. */
const TELLING: readonly Family[] = ['joints', 'drives', 'bodies', 'points', 'loads'];
const MOST = 200;

/** Everything the machine can tell, to be searched: each element with the gauges that can hang on it. */
export function GaugeFinder({ onClose }: { onClose: () => void }) {
  const model = useDocument((s) => s.model);
  const [text, setText] = useState('');
  const all = useMemo(
    () =>
      model
        ? TELLING.flatMap((family) =>
            model[family]
              .filter((e) => !e.off)
              .flatMap((e) =>
                offersFor(model, [{ family, name: e.name }])
                  .filter((o) => o.kind.family === 'gauges')
                  .flatMap((o) => variants(o, e.name, familyOf(family).one, kindOf(family, e)?.tells)),
              ),
          )
        : [],
    [model],
  );
  const words = text.toLowerCase().split(/\s+/).filter(Boolean),
    found = all.filter((x) => words.every((w) => x.search.includes(w)));
  return (
    <Dialog open onClose={onClose} title="Add a gauge">
      <input
        autoFocus
        aria-label="What to read"
        placeholder="pin load, crank speed, pusher…"
        value={text}
        onChange={(e) => setText(e.target.value)}
        className="w-full rounded-md border border-line bg-sheet px-2 py-1.5"
      />
      <ul className="mt-2 max-h-[50vh] overflow-auto" aria-label="What can be read">
        {found.slice(0, MOST).map((x) => (
          <li key={x.key}>
            <button
              className="flex w-full items-baseline gap-3 rounded px-2 py-0.5 text-left hover:bg-accent-soft"
              onClick={() => {
                addOffer(x.offer);
                onClose();
              }}
            >
              <span className="flex-1">{x.label}</span>
              <span className="text-xs text-ink-2">{x.offer.kind.label.toLowerCase()}</span>
            </button>
          </li>
        ))}
      </ul>
      {found.length === 0 && (
        <p className="px-2 text-ink-2">
          Nothing of that name. Gauges of two things (distance, gap, angle) and formulas of gauges are made in the Ledger, or by picking
          both in the scene.
        </p>
      )}
      {found.length > MOST && <p className="px-2 text-xs text-ink-2">{found.length - MOST} more: say more of what you look for.</p>}
    </Dialog>
  );
}

/** One entry for each thing a gauge of a kind can read. */
function variants(
  o: Offer,
  element: string,
  what: string,
  tells: readonly string[] | undefined,
): { key: string; label: string; search: string; offer: Offer }[] {
  const of = o.kind.fields.of,
    own = Object.values(o.kind.fields).some((f) => f.type === 'ref' && f.that === 'tells');
  const options =
    of?.type === 'choice'
      ? Object.entries(of.options).filter(([x]) => !own || tells?.includes(x))
      : [[undefined, o.kind.label.toLowerCase()] as const];
  return options.map(([value, words]) => {
    const label = `${element}: ${words}`;
    return {
      key: `${o.kind.kind}/${element}/${what}/${value}`,
      label,
      search: `${label} ${what} ${o.kind.label}`.toLowerCase(),
      offer: { ...o, element: { ...o.element, name: `${element} ${words}`, ...(value === undefined ? {} : { of: value }) } },
    };
  });
}
