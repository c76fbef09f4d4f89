'use client';
import dynamic from 'next/dynamic';
import { useDocument } from '@/state/document/document';
import { usePlaces } from '@/state/scene/places';
import { GaugeTiles } from '../readings/gauge-tiles';

const Selection = dynamic(() => import('./selection').then((m) => m.Selection), { ssr: false });
const Places = dynamic(() => import('./places').then((m) => m.Places), { ssr: false });
const BroughtPoint = dynamic(() => import('../reuse/brought-point').then((m) => m.BroughtPoint), { ssr: false });
const ElementCard = dynamic(() => import('./element-card').then((m) => m.ElementCard), { ssr: false });

/** The selected element in full; with nothing selected, the machine's own curves. */
export function Card() {
  const selected = useDocument((s) => s.selected);
  const several = useDocument((s) => s.picked.length > 1);
  const model = useDocument((s) => s.model);
  const index = selected && model ? model[selected.family].findIndex((e) => e.name === selected.name) : -1;
  const brought = useDocument((s) => s.selected?.family === 'points' && s.selected.name in s.within.homes);
  const places = usePlaces((s) => s.picked.length > 0);
  if (places) return <Places />;
  if (several) return <Selection />;
  if (brought) return <BroughtPoint name={selected!.name} />;
  if (!selected || !model || index < 0) return <GaugeTiles />;
  return (
    <ElementCard
      key={`${selected.family}/${selected.name}`}
      family={selected.family}
      index={index}
      element={model[selected.family][index]!}
    />
  );
}
