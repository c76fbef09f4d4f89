'use client';
import type { Checked } from '@/workers/protocol';

/** What the joints leave free, by rank and by counting. */
export function Counts({ mobility }: { mobility: NonNullable<Checked['mobility']> }) {
  return (
    <>
      <dl className="grid grid-cols-[1fr_auto] gap-y-0.5 px-3 py-2">
        <dt className="text-ink-2">Degrees of freedom, by rank</dt>
        <dd className="font-mono">{mobility.joints}</dd>
        <dt className="text-ink-2">by counting (six a body less what joints hold)</dt>
        <dd className="font-mono">{mobility.counted}</dd>
        <dt className="text-ink-2">left free by the drives</dt>
        <dd className="font-mono">{mobility.free}</dd>
        <dt className="text-ink-2">redundant constraints</dt>
        <dd className="font-mono">{mobility.redundant}</dd>
      </dl>
      {mobility.details.length > 0 && (
        <details className="border-t border-line px-3 py-1.5">
          <summary className="cursor-pointer font-semibold">
            Redundant constraints <span className="font-mono text-xs text-ink-2">{mobility.redundant}</span>
          </summary>
          <ul className="py-1 text-ink-2">
            {mobility.details.map((d) => (
              <li key={d} className="py-0.5">
                {d}
              </li>
            ))}
          </ul>
        </details>
      )}
      {mobility.loops.length > 0 && (
        <details className="border-t border-line px-3 py-1.5">
          <summary className="cursor-pointer font-semibold">
            Loops <span className="font-mono text-xs text-ink-2">{mobility.loops.length}</span>
          </summary>
          <ul className="py-1">
            {mobility.loops.map((l) => (
              <li key={l.joints.join('/')} className="py-0.5">
                <span className="font-mono">{l.rank}</span> <span className="text-ink-2">by rank, {l.counted} by counting:</span>{' '}
                {l.joints.join(', ')}
              </li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}
