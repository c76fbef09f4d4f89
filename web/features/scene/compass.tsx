import { type Model, kindOf } from '@vim-pivot/core/page';
import type { Ref } from 'react';
import { type Camera, Vector3 } from 'three';

/** Ground axes and the direction of gravity, drawn by `drawCompass`. */
export function Compass({ ref }: { ref: Ref<SVGSVGElement> }) {
  return (
    <svg
      ref={ref}
      className="pointer-events-none absolute bottom-2 left-2"
      width="84"
      height="84"
      viewBox="-42 -42 84 84"
      aria-hidden="true"
    >
      {(['x', 'y', 'z', 'g'] as const).map((k) => (
        <g
          key={k}
          data-axis={k}
          stroke={k === 'g' ? 'var(--color-accent)' : 'var(--color-ink-2)'}
          fill={k === 'g' ? 'var(--color-accent)' : 'var(--color-ink-2)'}
          strokeWidth={k === 'g' ? 2 : 1.4}
        >
          <line x1="0" y1="0" x2="0" y2="0" />
          <text stroke="none" fontSize="11" fontFamily="var(--font-mono)" textAnchor="middle" dominantBaseline="central">
            {k}
          </text>
        </g>
      ))}
    </svg>
  );
}

/** Ground axes and the direction of gravity as the camera sees them. */
export function drawCompass(svg: SVGSVGElement | null, camera: Camera, model: Model | undefined): void {
  if (!svg) return;
  const gravity = model?.loads.find((l) => !l.off && kindOf('loads', l)?.weighs !== undefined);
  const acceleration = gravity && gravity[kindOf('loads', gravity)!.weighs!];
  const parts = Array.isArray(acceleration) ? acceleration.map((x) => Number.parseFloat(String(x)) || 0) : [0, 0, -1];
  const axes = {
    x: new Vector3(1, 0, 0),
    y: new Vector3(0, 1, 0),
    z: new Vector3(0, 0, 1),
    g: gravity ? new Vector3(...(parts as [number, number, number])).normalize() : new Vector3(),
  };
  for (const [k, d] of Object.entries(axes)) {
    const g = svg.querySelector<SVGGElement>(`[data-axis="${k}"]`);
    if (!g) continue;
    const v = d.clone().transformDirection(camera.matrixWorldInverse);
    const shown = d.lengthSq() > 0 && Math.hypot(v.x, v.y) > 0.08;
    g.style.display = shown ? '' : 'none';
    const l = k === 'g' ? 24 : 28;
    const line = g.firstElementChild!,
      text = g.lastElementChild!;
    line.setAttribute('x2', String(v.x * l));
    line.setAttribute('y2', String(-v.y * l));
    text.setAttribute('x', String(v.x * (l + 8)));
    text.setAttribute('y', String(-v.y * (l + 8)));
  }
}
