'use client';
import { useMemo, useRef, useState } from 'react';
import { stepFor } from '@/state/scene/grid-step';

type Corner = readonly [number, number];
const W = 280,
  H = 200,
  MARGIN = 18;

/**
 * An outline drawn by hand: corners are dragged and come to rest on a round grid, a click on the middle of a side puts a new one there, Delete
 * takes the chosen one out; arrow keys move it by a step of the grid.
 */
export function Sketcher({ corners, unit, onDone }: { corners: readonly Corner[]; unit: string; onDone: (corners: Corner[]) => void }) {
  const [draft, setDraft] = useState<readonly Corner[]>();
  const [chosen, setChosen] = useState<number>();
  const svg = useRef<SVGSVGElement>(null);
  const shown = draft ?? corners;
  // the frame follows what is kept, not what is dragged
  const frame = useMemo(() => {
    const list =
      corners.length > 0
        ? corners
        : ([
            [0, 0],
            [1, 1],
          ] as Corner[]);
    const xs = list.map((c) => c[0]),
      ys = list.map((c) => c[1]);
    const k = Math.min(
      (W - 2 * MARGIN) / (Math.max(...xs) - Math.min(...xs) || 1),
      (H - 2 * MARGIN) / (Math.max(...ys) - Math.min(...ys) || 1),
    );
    return { k, x: (Math.max(...xs) + Math.min(...xs)) / 2, y: (Math.max(...ys) + Math.min(...ys)) / 2 };
  }, [corners]);
  const at = ([x, y]: Corner): [number, number] => [W / 2 + frame.k * (x - frame.x), H / 2 - frame.k * (y - frame.y)];
  const step = stepFor(6 / frame.k);
  const round = (v: number) => Number((Math.round(v / step) * step).toPrecision(10));
  const under = (e: React.PointerEvent): Corner => {
    const box = svg.current!.getBoundingClientRect();
    return [
      round(frame.x + (((e.clientX - box.left) * W) / box.width - W / 2) / frame.k),
      round(frame.y - (((e.clientY - box.top) * H) / box.height - H / 2) / frame.k),
    ];
  };
  const put = (i: number, c: Corner, list = shown) => list.map((x, k) => (k === i ? c : x));
  return (
    <figure className="mx-3 mb-2 rounded-md border border-line">
      <svg
        ref={svg}
        viewBox={`0 0 ${W} ${H}`}
        className="block w-full touch-none"
        role="group"
        aria-label="Outline, drawn"
        onPointerMove={(e) => draft && chosen !== undefined && e.buttons === 1 && setDraft(put(chosen, under(e)))}
        onPointerUp={() => {
          if (draft) onDone([...draft]);
          setDraft(undefined);
        }}
      >
        <polygon
          points={shown.map((c) => at(c).join()).join(' ')}
          fill="var(--color-calm-soft)"
          stroke="var(--color-calm)"
          strokeWidth="1.6"
          strokeLinejoin="round"
        />
        {shown.map((c, i) => {
          const next = shown[(i + 1) % shown.length]!,
            [x, y] = at([(c[0] + next[0]) / 2, (c[1] + next[1]) / 2]);
          return (
            <circle
              key={`m${i}`}
              cx={x}
              cy={y}
              r="3.5"
              fill="var(--color-sheet)"
              stroke="var(--color-line)"
              className="cursor-copy"
              onPointerDown={() => {
                const made = [
                  ...shown.slice(0, i + 1),
                  [round((c[0] + next[0]) / 2), round((c[1] + next[1]) / 2)] as Corner,
                  ...shown.slice(i + 1),
                ];
                setChosen(i + 1);
                setDraft(made);
              }}
            >
              <title>New corner</title>
            </circle>
          );
        })}
        {shown.map((c, i) => {
          const [x, y] = at(c);
          return (
            <circle
              key={i}
              cx={x}
              cy={y}
              r="5.5"
              tabIndex={0}
              role="button"
              aria-label={`Corner ${i + 1} at ${c[0]}, ${c[1]} ${unit}`}
              fill={chosen === i ? 'var(--color-accent)' : 'var(--color-sheet)'}
              stroke="var(--color-ink)"
              strokeWidth="1.6"
              className="cursor-move"
              onFocus={() => setChosen(i)}
              onPointerDown={(e) => {
                setChosen(i);
                setDraft(shown);
                svg.current?.setPointerCapture(e.pointerId);
              }}
              onKeyDown={(e) => {
                const move = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] }[e.key];
                if (move) onDone(put(i, [round(c[0] + move[0]!), round(c[1] + move[1]!)]));
                else if (e.key === 'Delete' && shown.length > 3) onDone(shown.filter((_, k) => k !== i));
                else return;
                e.preventDefault();
                e.stopPropagation();
              }}
            />
          );
        })}
      </svg>
      <figcaption className="border-t border-line px-2 py-0.5 text-xs text-ink-2">
        {chosen !== undefined && shown[chosen] ? (
          <span className="font-mono">
            {shown[chosen].join(', ')} {unit}
          </span>
        ) : (
          'Drag corners; small circles make new ones'
        )}{' '}
        · grid{' '}
        <span className="font-mono">
          {step} {unit}
        </span>
      </figcaption>
    </figure>
  );
}
