'use client';
import { useEffect } from 'react';
import { formatQuantity } from '@vim-pivot/core/page';
import { useDocument } from '@/state/document/document';
import { locate, measures } from '@/state/scene/measure';
import { usePlaces, wordsOf } from '@/state/scene/places';
import { useDisplayed, watchPosture } from '@/state/scene/displayed';

/** Distances and angles of what is picked, at the posture shown; they follow while it plays. */
export function Measures() {
  const picked = useDocument((s) => s.picked);
  const places = usePlaces((s) => s.picked);
  const picture = useDisplayed((s) => s.picture);
  const posture = useDisplayed((s) => s.posture);
  useEffect(watchPosture, []);
  if (!picture || !posture || posture.length < 7 * picture.bodies.length) return null;
  // a place picked on a body stands for itself, not for its body as well
  const own = places.length > 0 ? picked.filter((p) => p.family !== 'bodies') : picked;
  const list = measures(locate(picture, posture, own, places, wordsOf));
  if (list.length === 0) return null;
  return (
    <dl aria-label="Measured" className="grid grid-cols-[1fr_auto] gap-x-3 gap-y-0.5 border-b border-line px-3 py-2">
      {list.map((m) => (
        <div key={m.label} className="contents">
          <dt className="text-ink-2">{m.label}</dt>
          <dd className="text-right font-mono text-xs">{formatQuantity(m.value, m.dim)}</dd>
        </div>
      ))}
    </dl>
  );
}
