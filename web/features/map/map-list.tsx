'use client';
import { useState } from 'react';
import { type Family, familyOf, homeOf, kindOf } from '@vim-pivot/core/page';
import { pickAlso, select, useDocument } from '@/state/document/document';
import { Segmented } from '@/ui/segmented';

/** Bodies listed of an instance at most. */
const MOST = 60;

/** The mechanism as a list: every body with what hangs on it, and the loops. */
export function MapList({ onGraph }: { onGraph: () => void }) {
  const model = useDocument((s) => s.model);
  const loops = useDocument((s) => s.mobility?.loops);
  const picked = useDocument((s) => s.picked);
  const broughtBodies = useDocument((s) => s.brought.bodies);
  const [search, setSearch] = useState('');
  if (!model) return null;
  const low = search.trim().toLowerCase();
  const bodies = [model.ground, ...model.bodies.map((b) => b.name)].map((body) => ({
    body,
    hangs: (['joints', 'loads', 'shapes'] as const).flatMap((family) =>
      model[family]
        .filter((e) => e.body === body || (Array.isArray(e.bodies) && (e.bodies as string[]).includes(body)))
        .map((e) => ({
          family: family as Family,
          name: e.name,
          off: !!e.off,
          kind: kindOf(family, e)?.label ?? '',
          to: Array.isArray(e.bodies) ? (e.bodies as string[]).filter((b) => b !== body).join(', ') : '',
          drives: family === 'joints' ? model.drives.filter((d) => d.joint === e.name && !d.off).map((d) => d.name) : [],
        })),
    ),
  }));
  const brought = new Map<string, string[]>();
  for (const b of broughtBodies ?? []) {
    const home = homeOf(model, 'bodies', b)?.name ?? '';
    brought.set(home, [...(brought.get(home) ?? []), b]);
  }
  const hit = (text: string) => low === '' || text.toLowerCase().includes(low);
  const shown = bodies
    .map((b) => ({ ...b, hangs: hit(b.body) ? b.hangs : b.hangs.filter((h) => hit(`${h.name} ${h.kind} ${h.drives.join(' ')}`)) }))
    .filter((b) => hit(b.body) || b.hangs.length > 0);
  const button = (family: Family, name: string, text: React.ReactNode, off = false) => (
    <button
      onClick={(e) => (e.ctrlKey || e.shiftKey || e.metaKey ? pickAlso : select)({ family, name })}
      className={`block min-h-6 w-full truncate rounded px-2 py-0.5 text-left hover:bg-accent-soft ${picked.some((p) => p.family === family && p.name === name) ? 'bg-accent-soft' : ''} ${off ? 'opacity-50' : ''}`}
    >
      {text}
    </button>
  );
  return (
    <div className="flex h-full w-full flex-col bg-stage pt-14" aria-label="Map" role="group">
      <div className="flex items-center gap-2 px-4 pb-2">
        <input
          aria-label="Search the Map"
          placeholder="Search bodies, joints, drives, loads"
          value={search}
          onChange={(e) => setSearch(e.target.value)}
          className="w-72 rounded-md border border-line bg-sheet px-2 py-1"
        />
        <span className="flex-1" />
        <Segmented
          label="Map as"
          value="list"
          options={[
            ['graph', 'Graph'],
            ['list', 'List'],
          ]}
          onChange={(v) => v === 'graph' && onGraph()}
        />
      </div>
      <div className="min-h-0 flex-1 overflow-auto px-4 pb-4">
        <ul className="columns-2 gap-4">
          {shown.map((b) => (
            <li key={b.body} className="mb-3 break-inside-avoid rounded-lg border border-line bg-sheet p-1.5">
              {b.body === model.ground ? (
                <span className="block px-2 py-0.5 font-semibold">
                  {b.body} <span className="font-normal text-ink-2">fixed</span>
                </span>
              ) : (
                button('bodies', b.body, <b>{b.body}</b>, !!model.bodies.find((x) => x.name === b.body)?.off)
              )}
              {b.hangs.map((h) => (
                <div key={`${h.family}/${h.name}`}>
                  {button(
                    h.family,
                    h.name,
                    <>
                      {h.name}{' '}
                      <span className="text-ink-2">
                        {h.kind.toLowerCase()}
                        {h.to ? ` to ${h.to}` : ''}
                        {h.drives.length > 0 ? `, driven by ${h.drives.join(', ')}` : ''}
                        {h.family === 'joints' ? '' : `, ${familyOf(h.family).one}`}
                      </span>
                    </>,
                    h.off,
                  )}
                </div>
              ))}
            </li>
          ))}
          {[...brought]
            .filter(([i, all]) => hit(`${i} ${all.join(' ')}`))
            .map(([instance, all]) => (
              <li
                key={`instance ${instance}`}
                className="mb-3 break-inside-avoid rounded-lg border border-dashed border-line bg-sheet p-1.5"
              >
                {button(
                  'instances',
                  instance,
                  <>
                    <b>{instance}</b> <span className="text-ink-2">instance</span>
                  </>,
                )}
                <details className="px-2" open={low !== ''}>
                  <summary className="cursor-pointer text-ink-2">{all.length} bodies</summary>
                  {all
                    .filter((b) => hit(b) || hit(instance))
                    .slice(0, MOST)
                    .map((b) => (
                      <p key={b} className="truncate py-0.5 italic text-ink-2">
                        {b}
                      </p>
                    ))}
                  {all.length > MOST && <p className="text-ink-2">and {all.length - MOST} more</p>}
                </details>
              </li>
            ))}
        </ul>
        {shown.length === 0 && brought.size === 0 && <p className="text-ink-2">Nothing of that name.</p>}
        {low === '' && (loops ?? []).length > 0 && (
          <section aria-label="Loops" className="rounded-lg border border-line bg-sheet p-3">
            <h3 className="mb-1 font-semibold">Loops</h3>
            {loops!.map((l) => (
              <p key={l.joints.join()} className="py-0.5">
                {l.joints.join(' – ')}{' '}
                <span className="text-ink-2">
                  mobility {l.rank} by rank, {l.counted} by counting
                </span>
              </p>
            ))}
          </section>
        )}
      </div>
    </div>
  );
}
