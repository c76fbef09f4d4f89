'use client';
import { X } from 'lucide-react';
import { type Model, familyOf } from '@vim-pivot/core/page';
import { pickAlso, pickAnother, select, useDocument } from '@/state/document/document';
import { openCopies, openKits } from '@/state/asking';
import { addOffer } from '@/state/adding/add-offer';
import { Measures } from './measures';
import { type Offer, offersFor } from '@/state/adding/offers';

/** Several things picked: what they are, and what they can be made into. */
export function Selection() {
  const picked = useDocument((s) => s.picked);
  return (
    <section aria-label="Card" className="flex h-full flex-col overflow-auto">
      <header className="flex items-center border-b border-line px-3 py-1.5">
        <h2 className="flex-1 text-base font-semibold">{picked.length} picked</h2>
        <button
          onClick={() => openCopies(true)}
          className="mr-1.5 rounded-md border border-line px-2 py-0.5 hover:border-ink-2"
          title="In a row, round an axis, mirrored"
        >
          Copies…
        </button>
        {picked.some((p) => p.family === 'bodies' || p.family === 'instances') && (
          <button
            onClick={() => openKits('make')}
            className="mr-1.5 rounded-md border border-line px-2 py-0.5 hover:border-ink-2"
            title="A mechanism that can be put in again"
          >
            Kit…
          </button>
        )}
        <button
          onClick={() => select(undefined)}
          className="rounded-md border border-line px-2 py-0.5 hover:border-ink-2"
          title="Pick nothing (Esc)"
        >
          Clear
        </button>
      </header>
      <Measures />
      <Offers />
    </section>
  );
}

/** What is picked, as chips beside the offers: each can be taken off, and another picked by the mouse alone. */
function Picked() {
  const picked = useDocument((s) => s.picked);
  const adding = useDocument((s) => s.adding);
  return (
    <div className="flex flex-wrap items-center gap-1 px-3 pt-2" role="group" aria-label="Picked">
      {picked.map((p) => (
        <span
          key={`${p.family}/${p.name}`}
          className="flex max-w-full items-center gap-1 rounded-full border border-accent bg-accent-soft pl-2 pr-0.5"
        >
          <span className="truncate font-medium">{p.name}</span>
          <span className="text-xs text-ink-2">{familyOf(p.family).one}</span>
          <button
            aria-label={`Leave out ${p.name}`}
            title="Take it off"
            onClick={() => pickAlso(p)}
            className="grid h-6 w-6 place-items-center rounded-full text-ink-2 hover:text-accent"
          >
            <X size={13} aria-hidden="true" />
          </button>
        </span>
      ))}
      <button
        aria-pressed={adding}
        onClick={() => pickAnother(!adding)}
        title="The next thing clicked, in the scene, the Ledger or the Map, is picked as well (Ctrl-click does the same)"
        className={`rounded-full border px-2 py-0.5 ${adding ? 'border-accent bg-accent text-on-accent' : 'border-line hover:border-ink-2'}`}
      >
        {adding ? 'Click another…' : 'Pick another'}
      </button>
    </div>
  );
}

/** What the selection can be made into, one click each. */
export function Offers() {
  const model = useDocument((s) => s.model);
  const picked = useDocument((s) => s.picked);
  const homes = useDocument((s) => s.within.homes);
  if (!model || picked.length === 0) return null;
  const offers = offersFor(model, picked, homes);
  const several = picked.length > 1;
  const chips = <Picked />;
  const pair = picked.length === 2 && picked.every((p) => p.family === 'bodies');
  if (pair)
    return (
      <>
        {chips}
        <WhereTheyMeet model={model} bodies={picked.map((p) => p.name)} />
      </>
    );
  if (offers.length === 0)
    return (
      <>
        {chips}
        {several && (
          <p className="px-3 py-2 text-ink-2">
            Nothing hangs on just these. Joints take two bodies and a point; a link bar takes two points.
          </p>
        )}
      </>
    );
  const groups = [...new Set(offers.map((o) => o.kind.family))];
  return (
    <div aria-label="Add to it" role="group" className="border-t border-line pb-2">
      {chips}
      {groups.map((g) => (
        <div key={g}>
          <h3 className="px-3 pb-0.5 pt-2 text-xs text-ink-2">
            {several ? `Add a ${familyOf(g).one}` : `Hang a ${familyOf(g).one} on it`}
          </h3>
          {offers
            .filter((o) => o.kind.family === g)
            .map((o) => (
              <Choice key={o.kind.kind} offer={o} />
            ))}
        </div>
      ))}
    </div>
  );
}

/** Two bodies picked, on the Map or in the Ledger: the joint still needs the place where they meet. */
function WhereTheyMeet({ model, bodies }: { model: Model; bodies: readonly string[] }) {
  const near = (p: string) => bodies.filter((b) => hangsOn(model, b, p)).length;
  const points = model.points.map((p) => p.name).sort((a, b) => near(b) - near(a));
  return (
    <div className="px-3 py-2">
      <p className="mb-1 text-ink-2">Where do {bodies.join(' and ')} meet?</p>
      <div role="group" aria-label="Points to join them at" className="max-h-56 overflow-auto">
        {points.map((p) => (
          <button
            key={p}
            onClick={() => pickAlso({ family: 'points', name: p })}
            className="block min-h-6 w-full rounded px-2 py-0.5 text-left hover:bg-accent-soft"
          >
            At <span className="font-medium">{p}</span>{' '}
            {near(p) === 2 ? <span className="text-calm">on both</span> : near(p) === 1 ? <span className="text-ink-2">on one</span> : ''}
          </button>
        ))}
      </div>
      {points.length === 0 && <p className="text-ink-2">There is no point yet: add one with / or in the Ledger.</p>}
    </div>
  );
}

/** Whether a body or one of its shapes is drawn at a point. */
function hangsOn(model: Model, body: string, point: string): boolean {
  const at = model.points.find((p) => p.name === point);
  if (at?.body === body) return true;
  const own = model.bodies.find((b) => b.name === body);
  return (
    own?.origin === point ||
    own?.aim === point ||
    model.shapes.some(
      (s) => s.body === body && Object.values(s).some((v) => v === point || (Array.isArray(v) && (v as unknown[]).includes(point))),
    )
  );
}

function Choice({ offer }: { offer: Offer }) {
  const { kind, effect, missing, body } = offer;
  return (
    <button onClick={() => addOffer(offer)} title={kind.help} className="block w-full px-3 py-1 text-left hover:bg-accent-soft">
      <span className="font-medium">{kind.label}</span>
      {body && <span className="text-ink-2"> as a new body</span>}
      <span className="block truncate text-xs text-ink-2">
        {effect}
        {missing.length > 0 ? ` Needs ${missing.join(', ').toLowerCase()}.` : ''}
      </span>
    </button>
  );
}
