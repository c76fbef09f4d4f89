import type { Identified } from '@vim-pivot/core/analyses';
import { within } from '@vim-pivot/core/scores';
import type { Channel } from './channels';

/** A curve with what was fitted to it. */
export function FittedCurve({ channel, fit, k }: { channel: Channel; fit: Identified; k: number }) {
  const w = 520,
    h = 84,
    end = fit.from + (fit.samples - 1) * fit.dt,
    own = within({ time: channel.time, values: channel.values, dim: [0, 0, 0, 0, 0, 0] }, fit.from, end);
  const step = Math.max(1, Math.floor(own.time.length / 1500)),
    ys = [...own.values];
  let lo = Infinity,
    hi = -Infinity;
  for (const v of ys) {
    lo = Math.min(lo, v);
    hi = Math.max(hi, v);
  }
  const X = (t: number) => 4 + ((t - fit.from) / (end - fit.from || 1)) * (w - 8),
    Y = (v: number) => h - 6 - ((v - lo) / (hi - lo || 1)) * (h - 12);
  return (
    <figure className="mt-2">
      <figcaption className="text-xs text-ink-2">{channel.name}: given (thin), fitted (dashed)</figcaption>
      <svg
        viewBox={`0 0 ${w} ${h}`}
        className="block w-full rounded border border-line"
        role="img"
        aria-label={`${channel.name} and its fit`}
      >
        <polyline
          fill="none"
          stroke="var(--color-calm)"
          strokeWidth="1"
          points={ys.flatMap((v, i) => (i % step === 0 ? [`${X(own.time[i]!).toFixed(1)},${Y(v).toFixed(1)}`] : [])).join(' ')}
        />
        <polyline
          fill="none"
          stroke="var(--color-accent)"
          strokeWidth="1.4"
          strokeDasharray="5 4"
          points={[...fit.fitted[k]!].map((v, i) => `${X(fit.from + i * fit.dt).toFixed(1)},${Y(v).toFixed(1)}`).join(' ')}
        />
      </svg>
    </figure>
  );
}
