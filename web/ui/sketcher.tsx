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
  const sheet = useMemo(() => sheetFor(corners), [corners]);
  const { at, step, round } = sheet;
  const under = (e: React.PointerEvent): Corner => {
    const { left, top, width, height } = svg.current!.getBoundingClientRect();
    return sheet.under(((e.clientX - left) * W) / width, ((e.clientY - top) * H) / height);
  };
  const put = (i: number, c: Corner, list = shown) => list.map((x, k) => (k === i ? c : x));
  const cornerKey = (e: React.KeyboardEvent, i: number) => {
    const c = shown[i]!,
      move = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] }[e.key];
    if (move) onDone(put(i, [round(c[0] + move[0]!), round(c[1] + move[1]!)]));
    else if (e.key === 'Delete' && shown.length > 3) onDone(shown.filter((_, k) => k !== i));
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
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
        {shown.map((c, i) => (
          <Middle
            key={`m${i}`}
            at={at(between(c, shown[(i + 1) % shown.length]!))}
            onNew={() => {
              const [x, y] = between(c, shown[(i + 1) % shown.length]!);
              setChosen(i + 1);
              setDraft([...shown.slice(0, i + 1), [round(x), round(y)], ...shown.slice(i + 1)]);
            }}
          />
        ))}
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
              onKeyDown={(e) => cornerKey(e, i)}
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

const between = (a: Corner, b: Corner): Corner => [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];

/** Places of the outline on the sheet and back, with a round grid, so that all of it is seen. */
function sheetFor(corners: readonly Corner[]) {
  const list: readonly Corner[] =
    corners.length > 0
      ? corners
      : [
          [0, 0],
          [1, 1],
        ];
  const along = (k: 0 | 1) => {
    const values = list.map((c) => c[k]),
      low = Math.min(...values),
      high = Math.max(...values);
    return { size: high - low || 1, middle: (high + low) / 2 };
  };
  const [x, y] = [along(0), along(1)];
  const scale = Math.min((W - 2 * MARGIN) / x.size, (H - 2 * MARGIN) / y.size);
  const step = stepFor(6 / scale);
  const round = (v: number) => Number((Math.round(v / step) * step).toPrecision(10));
  return {
    step,
    round,
    at: (c: Corner): Corner => [W / 2 + scale * (c[0] - x.middle), H / 2 - scale * (c[1] - y.middle)],
    under: (u: number, v: number): Corner => [round(x.middle + (u - W / 2) / scale), round(y.middle - (v - H / 2) / scale)],
  };
}

/** The middle of a side: pressed, a corner is there. */
function Middle({ at: [x, y], onNew }: { at: Corner; onNew: () => void }) {
  return (
    <circle cx={x} cy={y} r="3.5" fill="var(--color-sheet)" stroke="var(--color-line)" className="cursor-copy" onPointerDown={onNew}>
      <title>New corner</title>
    </circle>
  );
}
