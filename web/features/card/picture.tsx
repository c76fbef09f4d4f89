'use client';
import { useEffect, useState } from 'react';
import { type Family, type RawElement, formatQuantity, kindOf } from '@vim-pivot/core/page';
import { useDocument } from '@/state/document/document';
import { spotsOf } from '@/state/scene/strokes';
import { characteristicOf } from '@/workers/client';

/** Seen from a corner, z up. */
const flat = ([x, y, z]: readonly number[]): [number, number] => [
  60 + 15 * (0.87 * x! - 0.87 * y!),
  46 - 15 * (0.8 * z! - 0.42 * x! - 0.42 * y!),
];
const trace = (spots: readonly (readonly number[])[]) =>
  spots
    .map(
      (p, i) =>
        `${i === 0 ? 'M' : 'L'}${flat(p)
          .map((v) => v.toFixed(1))
          .join(' ')}`,
    )
    .join('');

/** A joint's symbol with the directions it leaves free. */
export function JointPicture({ element }: { element: RawElement }) {
  const kind = kindOf('joints', element);
  if (!kind?.symbol) return null;
  const free = kind.freedoms ?? [];
  const bodies = Array.isArray(element.bodies) ? (element.bodies as string[]) : [];
  const turn = Array.from({ length: 20 }, (_, k) => {
    const a = 0.6 + (k / 19) * 4.4;
    return [1.9 * Math.cos(a), 1.9 * Math.sin(a), 0.2];
  });
  return (
    <figure className="mx-3 my-2 flex items-center gap-3 rounded-md border border-line px-2 py-1">
      <svg
        viewBox="0 0 120 92"
        width="120"
        height="92"
        role="img"
        aria-label={`Symbol of the ${kind.label.toLowerCase()} joint${free.length > 0 ? `, free in ${free.join(' and ')}` : ''}`}
        fill="none"
        strokeLinecap="round"
        strokeLinejoin="round"
      >
        <path
          d={trace([
            [0, 0, -2.7],
            [0, 0, 2.9],
          ])}
          stroke="var(--color-line)"
          strokeDasharray="5 2 1 2"
        />
        {kind.symbol.map((s, i) => (
          <path key={i} d={trace(spotsOf(s))} stroke={s.on === 'a' ? 'var(--color-ink-2)' : 'var(--color-calm)'} strokeWidth="2" />
        ))}
        {free.includes('rotation') && <path d={trace(turn)} stroke="var(--color-accent)" strokeWidth="1.6" markerEnd="url(#tip)" />}
        {free.includes('translation') && (
          <path
            d={trace([
              [1.5, -1.5, -1.6],
              [1.5, -1.5, 1.8],
            ])}
            stroke="var(--color-accent)"
            strokeWidth="1.6"
            markerEnd="url(#tip)"
            markerStart="url(#tip)"
          />
        )}
        <defs>
          <marker id="tip" viewBox="0 0 8 8" refX="5" refY="4" markerWidth="5" markerHeight="5" orient="auto-start-reverse">
            <path d="M0 0L8 4L0 8z" fill="var(--color-accent)" />
          </marker>
        </defs>
      </svg>
      <figcaption className="min-w-0 flex-1 text-xs text-ink-2">
        {kind.leaves === undefined ? (
          ''
        ) : (
          <p>
            <b className="text-ink">{6 - kind.leaves}</b> of 6 freedoms held
          </p>
        )}
        {free.length > 0 && <p className="text-accent">{free.join(', ')} free</p>}
        {bodies[0] && (
          <p className="truncate">
            <span className="text-ink-2">▬</span> {bodies[0]}
          </p>
        )}
        {bodies[1] && (
          <p className="truncate">
            <span className="text-calm">▬</span> {bodies[1]}
          </p>
        )}
      </figcaption>
    </figure>
  );
}

/** What a load does over what it feels, such as a spring's force over its length; what a table gives over its argument. */
export function Characteristic({ family, name }: { family: Family; name: string }) {
  const model = useDocument((s) => s.model);
  const [c, setCurve] = useState<Awaited<ReturnType<typeof characteristicOf>>>();
  useEffect(() => {
    let wanted = true;
    if (model) void characteristicOf(model, family, name).then((x) => wanted && setCurve(x));
    return () => {
      wanted = false;
    };
  }, [model, family, name]);
  if (!c || c.points.length < 2) return null;
  const xs = c.points.map((p) => p[0]),
    ys = c.points.map((p) => p[1]);
  const [x0, x1] = [Math.min(...xs), Math.max(...xs)],
    [y0, y1] = [Math.min(0, ...ys), Math.max(0, ...ys)];
  const X = (v: number) => 8 + (224 * (v - x0)) / (x1 - x0 || 1),
    Y = (v: number) => 68 - (56 * (v - y0)) / (y1 - y0 || 1);
  return (
    <figure className="mx-3 my-2 rounded-md border border-line">
      <svg
        viewBox="0 0 240 92"
        className="block w-full"
        role="img"
        aria-label={`${c.y} over ${c.x}, from ${formatQuantity(Math.min(...ys), c.dims[1])} to ${formatQuantity(Math.max(...ys), c.dims[1])}`}
      >
        <line x1="8" x2="232" y1={Y(0)} y2={Y(0)} stroke="var(--color-line)" />
        {x0 < 0 && x1 > 0 && <line x1={X(0)} x2={X(0)} y1="10" y2="70" stroke="var(--color-line)" />}
        <polyline
          fill="none"
          stroke="var(--color-accent)"
          strokeWidth="1.8"
          points={c.points.map((p) => `${X(p[0]).toFixed(1)},${Y(p[1]).toFixed(1)}`).join(' ')}
        />
        <g fontSize="9" fill="var(--color-ink-2)" fontFamily="var(--font-mono)">
          <text x="10" y="9">
            {c.y} {formatQuantity(y1, c.dims[1])}
          </text>
          <text x="8" y="86">
            {formatQuantity(x0, c.dims[0])}
          </text>
          <text x="120" y="86" textAnchor="middle">
            {c.x}
          </text>
          <text x="232" y="86" textAnchor="end">
            {formatQuantity(x1, c.dims[0])}
          </text>
        </g>
      </svg>
      {c.says && <figcaption className="border-t border-line px-2 py-1 text-xs text-ink-2">{c.says}</figcaption>}
    </figure>
  );
}
