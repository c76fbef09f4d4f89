import { type LiveValue, formatQuantity, shownUnit } from '@vim-pivot/core/page';
import { useDocument } from '@/state/document/document';

/** The course of a formula of time over the run. */
export function CourseChart({ live }: { live: LiveValue }) {
  const until = useDocument((d) => d.live.get('$.run.until')?.value ?? 0);
  // where the formula has no value there is nothing to draw
  const s = live.samples!.map((v) => (Number.isFinite(v) ? v : NaN)),
    known = s.filter((v) => !Number.isNaN(v));
  if (known.length < 2) return null;
  const lo = Math.min(0, ...known),
    hi = Math.max(0, ...known);
  const y = (v: number) => 62 - ((v - lo) / (hi - lo || 1)) * 50;
  const unit = shownUnit(live.dim);
  return (
    <figure className="mx-3 mb-2 rounded-md border border-line">
      <svg
        viewBox="0 0 240 76"
        className="block w-full"
        role="img"
        aria-label={`CourseChart of the formula, up to ${formatQuantity(Math.max(...known), live.dim)}`}
      >
        <line x1="4" x2="236" y1={y(0)} y2={y(0)} stroke="var(--color-line)" />
        <polyline
          fill="none"
          stroke="var(--color-accent)"
          strokeWidth="1.8"
          points={s.flatMap((v, i) => (Number.isNaN(v) ? [] : [`${4 + (232 * i) / (s.length - 1)},${y(v)}`])).join(' ')}
        />
        <text x="6" y="10" fontSize="9" fill="var(--color-ink-2)" fontFamily="var(--font-mono)">
          {formatQuantity(Math.max(...known), live.dim, unit)}
        </text>
        <text x="234" y="73" fontSize="9" textAnchor="end" fill="var(--color-ink-2)" fontFamily="var(--font-mono)">
          {formatQuantity(until, [0, 0, 1, 0, 0, 0])}
        </text>
      </svg>
    </figure>
  );
}
