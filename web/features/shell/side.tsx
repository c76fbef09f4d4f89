'use client';
import dynamic from 'next/dynamic';
import { useState } from 'react';
import { useDocument } from '@/state/document/document';
import { useMotion } from '@/state/scene/motion';
import { usePlaces } from '@/state/scene/places';
import { Segmented } from '@/ui/segmented';
import { Card } from '../card/card';
import { GaugeTiles } from '../readings/gauge-tiles';

const MotionPanel = dynamic(() => import('../motion/motion-panel').then((m) => m.MotionPanel), { ssr: false });

/** From this width on, px, two things stand side by side. */
const TWO = 560;
/** The width with which it begins: of one thing, and where the screen is wide of two. */
export const sideWidth = (): string => (innerWidth >= 1700 ? '660px' : '316px');

/** Beside the machine: the Card of what is picked, the curves, and Motion when it is asked for; as many of them as there is room for. */
export function Side({ width }: { width: number }) {
  const motion = useMotion((s) => s.open);
  const picked = useDocument((s) => s.picked);
  const places = usePlaces((s) => s.picked.length > 0);
  const card = picked.length > 0 || places;
  const [front, setFront] = useState<'motion' | 'card'>('motion');
  // what came last stands in front
  const [before, setBefore] = useState({ motion, picked });
  if (before.motion !== motion || before.picked !== picked) {
    setBefore({ motion, picked });
    setFront(motion && before.motion !== motion ? 'motion' : 'card');
  }
  const all = [...(motion ? (['motion'] as const) : []), ...(card ? (['card'] as const) : []), 'curves' as const];
  const shown = width >= TWO ? all.slice(0, 2) : [motion && card ? front : all[0]!];
  const behind = motion && card && shown.length === 1;
  const name = picked.length > 1 ? `${picked.length} picked` : (picked[0]?.name ?? 'Places');
  return (
    <aside className="flex h-full flex-col">
      {behind && (
        <div className="flex justify-center border-b border-line px-2 py-1">
          <Segmented
            label="Beside the machine"
            value={front}
            options={[
              ['card', `Card: ${name}`],
              ['motion', 'Motion'],
            ]}
            onChange={(v) => setFront(v as 'card')}
          />
        </div>
      )}
      <div className={`grid min-h-0 flex-1 divide-x divide-line ${shown.length > 1 ? 'grid-cols-2' : 'grid-cols-1'}`}>
        {shown.map((what) => (
          <div key={what} className="min-h-0 min-w-0">
            {what === 'motion' ? <MotionPanel /> : what === 'card' ? <Card /> : <GaugeTiles />}
          </div>
        ))}
      </div>
    </aside>
  );
}
