/** What is drawn over the scene while a linkage is sketched: grid, hatched ground, the stroke. Places in CSS pixels. */
export type Px = readonly [number, number];

const line = (a: Px, b: Px) => `M${a[0].toFixed(1)} ${a[1].toFixed(1)}L${b[0].toFixed(1)} ${b[1].toFixed(1)}`;
/** Distance between strokes of a hatching. */
const HATCH = 19;

/** A line of the ground, hatched on its right as one goes along it. */
export function Hatched({ a, b }: { a: Px; b: Px }) {
  const l = Math.hypot(b[0] - a[0], b[1] - a[1]),
    e = [(b[0] - a[0]) / l, (b[1] - a[1]) / l] as const;
  const strokes = Array.from({ length: Math.max(0, Math.floor(l / HATCH)) }, (_, k) => {
    const s = (k + 0.7) * HATCH,
      p: Px = [a[0] + s * e[0], a[1] + s * e[1]];
    return line(p, [p[0] - 8 * (e[0] + e[1]), p[1] - 8 * (e[1] - e[0])]);
  });
  return (
    <g data-ground="">
      <path d={line(a, b)} stroke="var(--color-ink)" strokeWidth="1.5" />
      <path d={strokes.join('')} stroke="var(--color-ink-2)" strokeWidth="1" />
    </g>
  );
}

export function Grid({ across, up, box }: { across: readonly number[]; up: readonly number[]; box: readonly [number, number] }) {
  return (
    <path
      d={[...across.map((x) => line([x, 0], [x, box[1]])), ...up.map((y) => line([0, y], [box[0], y]))].join('')}
      stroke="var(--color-line)"
      strokeWidth="1"
      opacity="0.7"
    />
  );
}

/** The stroke as it would be: a bar, or corners of a plate. */
export function Ghost({ through, width, refused }: { through: readonly Px[]; width: number; refused: boolean }) {
  const d = through.map((p, k) => `${k === 0 ? 'M' : 'L'}${p[0].toFixed(1)} ${p[1].toFixed(1)}`).join('') + (through.length > 2 ? 'Z' : '');
  return (
    <path
      data-ghost=""
      d={d}
      fill={through.length > 2 ? 'var(--color-calm)' : 'none'}
      fillOpacity="0.25"
      stroke={refused ? 'var(--color-warn)' : 'var(--color-calm)'}
      strokeWidth={Math.max(3, width)}
      strokeOpacity="0.55"
      strokeLinecap="round"
      strokeLinejoin="round"
      strokeDasharray={refused ? '6 8' : undefined}
    />
  );
}

/** Where an end comes to rest. */
export function Ring({ at, holds }: { at: Px; holds: boolean }) {
  return (
    <g transform={`translate(${at[0]} ${at[1]})`}>
      {holds && <circle r="11" fill="none" stroke="var(--color-accent)" strokeWidth="2" />}
      <circle r={holds ? 4.5 : 3} fill={holds ? 'var(--color-accent)' : 'var(--color-ink-2)'} />
      {!holds && <path d="M-10 0H10M0 -10V10" stroke="var(--color-ink-2)" strokeWidth="0.8" />}
    </g>
  );
}
