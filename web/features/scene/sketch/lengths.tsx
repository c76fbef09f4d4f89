import { useState } from 'react';
import { D, formatQuantity } from '@vim-pivot/core/page';
import { type Paper } from '@/state/scene/sketch/paper';
import { type Spot, away } from '@/state/scene/sketch/plane';
import type { Px } from './marks';

/** Bars shorter than this on the screen have no room for their length, CSS pixels. */
const LEAST = 60;

/** The lengths of the bars, beside them; pressed, they are typed. */
export function Lengths({
  paper,
  toPx,
  onType,
  beside,
}: {
  paper: Paper;
  /** Distance from the middle of a bar, CSS pixels. */ beside: number;
  toPx: (s: Spot) => Px;
  onType: (shape: string, text: string) => boolean;
}) {
  const [typing, setTyping] = useState<string>();
  return (
    <div className="pointer-events-none absolute inset-0 overflow-hidden">
      {paper.lines
        .filter((l) => l.body !== paper.ground)
        .map((l) => {
          const a = toPx(l.a),
            b = toPx(l.b),
            size = Math.hypot(b[0] - a[0], b[1] - a[1]);
          if (size < LEAST) return null;
          // beside the bar, on its upper side
          const n =
            b[0] >= a[0]
              ? ([(b[1] - a[1]) / size, (a[0] - b[0]) / size] as const)
              : ([(a[1] - b[1]) / size, (b[0] - a[0]) / size] as const);
          const style = {
            left: (a[0] + b[0]) / 2 + beside * n[0],
            top: (a[1] + b[1]) / 2 + beside * n[1],
            transform: `translate(${50 * (n[0] - 1)}%, ${50 * (n[1] - 1)}%)`,
          };
          const text = formatQuantity(away(l.a, l.b), D.length);
          return typing === l.shape ? (
            <input
              key={l.shape}
              autoFocus
              aria-label={`Length of ${l.body}`}
              defaultValue={text}
              style={style}
              className="pointer-events-auto absolute w-40 rounded-md border border-accent bg-sheet px-2 py-0.5 font-mono"
              onFocus={(e) => e.currentTarget.select()}
              onBlur={() => setTyping(undefined)}
              onKeyDown={(e) => {
                if (e.key === 'Enter' ? onType(l.shape, e.currentTarget.value) : e.key === 'Escape') setTyping(undefined);
                e.stopPropagation();
              }}
            />
          ) : (
            <button
              key={l.shape}
              style={style}
              onClick={() => setTyping(l.shape)}
              title={`Length of ${l.body}: press to type it, with an angle if wanted (165 mm, 104 deg)`}
              className="pointer-events-auto absolute rounded-md border border-line bg-sheet px-1.5 font-mono hover:border-ink-2"
            >
              {text}
            </button>
          );
        })}
    </div>
  );
}
