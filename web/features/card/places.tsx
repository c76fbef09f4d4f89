'use client';
import { X } from 'lucide-react';
import { useState } from 'react';
import { formatQuantity, D, kindsOf } from '@vim-pivot/core/page';
import { useDocument } from '@/state/document/document';
import { addAxisJoint, addPointAt } from '@/state/adding/on-places';
import { forgetPlaces, pickPlace, usePlaces, wordsOf } from '@/state/scene/places';
import { useDisplayed } from '@/state/scene/displayed';
import { Measures } from './measures';

/** Joints offered at first. */
const FEW = 4;

/** Edges and faces picked: what they are, what lies between them, and what can be put there. */
export function Places() {
  const places = usePlaces((s) => s.picked);
  const picture = useDisplayed((s) => s.picture);
  const ground = useDocument((s) => s.model?.ground ?? '');
  const picked = useDocument((s) => s.picked);
  const [all, setAll] = useState(false);
  if (!picture) return null;
  const bodyOf = (i: number) => picture.bodies[i] ?? ground;
  const first = places[0]!;
  const bodies = [...new Set([...places.map((p) => bodyOf(p.body)), ...picked.filter((p) => p.family === 'bodies').map((p) => p.name)])];
  const partners = bodies.length >= 2 ? bodies.slice(0, 2) : bodies[0] === ground ? [] : [ground, bodies[0]!];
  const axial = places.find((p) => p.axis && p.type !== 'straight') ?? places.find((p) => p.axis);
  const joints = kindsOf('joints').filter(
    (k) =>
      k.symbol &&
      k.leaves !== undefined &&
      'at' in k.fields &&
      (axial ? 'axis' in k.fields : !('axis' in k.fields)) &&
      Object.values(k.fields).every(
        (f) => ('optional' in f && f.optional) || ('default' in f && f.default !== undefined) || f.type === 'refs',
      ),
  );
  return (
    <section aria-label="Card" className="flex h-full flex-col overflow-auto">
      <header className="flex items-center border-b border-line px-3 py-1.5">
        <h2 className="flex-1 text-base font-semibold">
          {places.length === 1 ? wordsOf(first).replace(/^./, (c) => c.toUpperCase()) : `${places.length} places`}
        </h2>
        <button onClick={forgetPlaces} className="rounded-md border border-line px-2 py-0.5 hover:border-ink-2" title="Back to the body">
          Clear
        </button>
      </header>
      <ul className="border-b border-line px-3 py-1.5">
        {places.map((p, i) => (
          <li key={i} className="flex items-center gap-2 py-0.5">
            <span className="min-w-0 flex-1 truncate">
              <span className="font-medium">{wordsOf(p)}</span>{' '}
              <span className="text-ink-2">
                of {p.shape}, {bodyOf(p.body)}
              </span>
            </span>
            {p.what === 'edge' && p.length !== undefined && <span className="font-mono text-xs">{formatQuantity(p.length, D.length)}</span>}
            {p.area !== undefined && <span className="font-mono text-xs">{Number((p.area * 1e6).toPrecision(5))} mm²</span>}
            <button
              aria-label={`Leave out ${wordsOf(p)}`}
              onClick={() => pickPlace(p, true)}
              className="grid h-6 w-6 place-items-center rounded text-ink-2 hover:text-accent"
            >
              <X size={14} aria-hidden="true" />
            </button>
          </li>
        ))}
      </ul>
      <Measures />
      <div role="group" aria-label="Put here" className="pb-2">
        <h3 className="px-3 pb-0.5 pt-2 text-xs text-ink-2">Put here</h3>
        <button onClick={() => addPointAt(first, bodyOf(first.body))} className="block w-full px-3 py-1 text-left hover:bg-accent-soft">
          <span className="font-medium">Point</span>{' '}
          <span className="text-ink-2">
            {first.radius ? 'at its centre' : first.what === 'face' || first.what === 'edge' ? 'in its middle' : 'at the corner'}, in{' '}
            {bodyOf(first.body)}
          </span>
        </button>
        {partners.length === 2 &&
          (all ? joints : joints.slice(0, FEW)).map((k) => (
            <button
              key={k.kind}
              title={k.help}
              onClick={() => addAxisJoint(k, partners as [string, string], axial ?? first, bodyOf((axial ?? first).body))}
              className="block w-full px-3 py-1 text-left hover:bg-accent-soft"
            >
              <span className="font-medium">{k.label}</span>{' '}
              <span className="text-ink-2">
                {partners.join(' – ')}
                {axial ? (axial.type === 'plane' ? ', square to the face' : ', on this axis') : ''}
              </span>
            </button>
          ))}
        {partners.length === 2 && joints.length > FEW && (
          <button onClick={() => setAll(!all)} className="px-3 py-1 text-ink-2 underline">
            {all ? 'Fewer joints' : 'More joints'}
          </button>
        )}
        <p className="px-3 pt-2 text-xs text-ink-2">
          Ctrl+click picks further edges and faces, or another body. In the scene E goes to the next, Shift+E back.
        </p>
      </div>
    </section>
  );
}
