'use client';
import { useState } from 'react';
import { type Family, type Model, familyOf, homeOf, kindOf } from '@vim-pivot/core/page';
import { pickAlso, select, useDocument } from '@/state/document/document';
import { MapChoice, MapSearch } from './map-search';

/** Bodies listed of an instance at most. */
const MOST = 60;

/** The mechanism as a list: every body with what hangs on it, and the loops. */
export function MapList({ onGraph }: { onGraph: () => void }) {
  const model = useDocument((s) => s.model);
  const broughtBodies = useDocument((s) => s.brought.bodies);
  const [search, setSearch] = useState('');
  if (!model) return null;
  const low = search.trim().toLowerCase();
  const hit = (text: string) => low === '' || text.toLowerCase().includes(low);
  const shown = bodiesOf(model)
    .map((b) => ({ ...b, hangs: hit(b.body) ? b.hangs : b.hangs.filter((h) => hit(`${h.name} ${h.kind} ${h.drives.join(' ')}`)) }))
    .filter((b) => hit(b.body) || b.hangs.length > 0);
  const brought = broughtBy(model, broughtBodies ?? []).filter(([i, all]) => hit(`${i} ${all.join(' ')}`));
  return (
    <div className="flex h-full w-full flex-col bg-stage pt-14" aria-label="Map" role="group">
      <div className="flex items-center gap-2 px-4 pb-2">
        <MapSearch words="Search bodies, joints, drives, loads" value={search} onChange={setSearch} width="w-72" />
        <span className="flex-1" />
        <MapChoice as="list" onChange={onGraph} />
      </div>
      <div className="min-h-0 flex-1 overflow-auto px-4 pb-4">
        <ul className="columns-2 gap-4">
          {shown.map((b) => (
            <BodyItem key={b.body} {...b} fixed={b.body === model.ground} />
          ))}
          {brought.map(([instance, all]) => (
            <InstanceItem
              key={`instance ${instance}`}
              instance={instance}
              count={all.length}
              bodies={all.filter((b) => hit(b) || hit(instance))}
              open={low !== ''}
            />
          ))}
        </ul>
        {shown.length === 0 && brought.length === 0 && <p className="text-ink-2">Nothing of that name.</p>}
        {low === '' && <Loops />}
      </div>
    </div>
  );
}

interface Hanging {
  family: Family;
  name: string;
  off: boolean;
  kind: string;
  /** Other bodies it goes to. */
  to: string;
  drives: string[];
}
interface Listed {
  body: string;
  off: boolean;
  hangs: Hanging[];
}

/** The ground and all bodies, each with what hangs on it. */
function bodiesOf(model: Model): Listed[] {
  const bodies = [{ name: model.ground, off: false }, ...model.bodies];
  return bodies.map(({ name: body, off }) => ({
    body,
    off: !!off,
    hangs: (['joints', 'loads', 'shapes'] as const).flatMap((family) =>
      model[family]
        .filter((e) => e.body === body || (Array.isArray(e.bodies) && (e.bodies as string[]).includes(body)))
        .map((e) => ({
          family,
          name: e.name,
          off: !!e.off,
          kind: kindOf(family, e)?.label ?? '',
          to: Array.isArray(e.bodies) ? (e.bodies as string[]).filter((b) => b !== body).join(', ') : '',
          drives: family === 'joints' ? model.drives.filter((d) => d.joint === e.name && !d.off).map((d) => d.name) : [],
        })),
    ),
  }));
}

/** Bodies by the instance that brings them. */
function broughtBy(model: Model, bodies: readonly string[]): [instance: string, bodies: string[]][] {
  const brought = new Map<string, string[]>();
  for (const b of bodies) {
    const home = homeOf(model, 'bodies', b)?.name ?? '';
    brought.set(home, [...(brought.get(home) ?? []), b]);
  }
  return [...brought];
}

function PickButton({ family, name, off = false, children }: { family: Family; name: string; off?: boolean; children: React.ReactNode }) {
  const picked = useDocument((s) => s.picked.some((p) => p.family === family && p.name === name));
  return (
    <button
      onClick={(e) => (e.ctrlKey || e.shiftKey || e.metaKey ? pickAlso : select)({ family, name })}
      className={`block min-h-6 w-full truncate rounded px-2 py-0.5 text-left hover:bg-accent-soft ${picked ? 'bg-accent-soft' : ''} ${off ? 'opacity-50' : ''}`}
    >
      {children}
    </button>
  );
}

function BodyItem({ body, off, hangs, fixed }: Listed & { fixed: boolean }) {
  return (
    <li className="mb-3 break-inside-avoid rounded-lg border border-line bg-sheet p-1.5">
      {fixed ? (
        <span className="block px-2 py-0.5 font-semibold">
          {body} <span className="font-normal text-ink-2">fixed</span>
        </span>
      ) : (
        <PickButton family="bodies" name={body} off={off}>
          <b>{body}</b>
        </PickButton>
      )}
      {hangs.map((h) => (
        <PickButton key={`${h.family}/${h.name}`} family={h.family} name={h.name} off={h.off}>
          {h.name}{' '}
          <span className="text-ink-2">
            {h.kind.toLowerCase()}
            {h.to ? ` to ${h.to}` : ''}
            {h.drives.length > 0 ? `, driven by ${h.drives.join(', ')}` : ''}
            {h.family === 'joints' ? '' : `, ${familyOf(h.family).one}`}
          </span>
        </PickButton>
      ))}
    </li>
  );
}

/** @param bodies of it that are looked for */
function InstanceItem({ instance, count, bodies, open }: { instance: string; count: number; bodies: readonly string[]; open: boolean }) {
  return (
    <li className="mb-3 break-inside-avoid rounded-lg border border-dashed border-line bg-sheet p-1.5">
      <PickButton family="instances" name={instance}>
        <b>{instance}</b> <span className="text-ink-2">instance</span>
      </PickButton>
      <details className="px-2" open={open}>
        <summary className="cursor-pointer text-ink-2">{count} bodies</summary>
        {bodies.slice(0, MOST).map((b) => (
          <p key={b} className="truncate py-0.5 italic text-ink-2">
            {b}
          </p>
        ))}
        {bodies.length > MOST && <p className="text-ink-2">and {bodies.length - MOST} more</p>}
      </details>
    </li>
  );
}

function Loops() {
  const loops = useDocument((s) => s.mobility?.loops) ?? [];
  if (loops.length === 0) return null;
  return (
    <section aria-label="Loops" className="rounded-lg border border-line bg-sheet p-3">
      <h3 className="mb-1 font-semibold">Loops</h3>
      {loops.map((l) => (
        <p key={l.joints.join()} className="py-0.5">
          {l.joints.join(' – ')}{' '}
          <span className="text-ink-2">
            mobility {l.rank} by rank, {l.counted} by counting
          </span>
        </p>
      ))}
    </section>
  );
}
