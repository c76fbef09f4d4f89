import { fixed, formatNumber } from '@vim-pivot/core/page';
import type { Identified } from '@vim-pivot/core/analyses';
import type { Channel } from './channels';
import { FittedCurve } from './fitted-curve';

/** Modes, how much of the motion they explain, and the curves with what was fitted. */
export function ModesFound({ fit, used, order }: { fit: Identified; used: readonly Channel[]; order: number }) {
  return (
    <>
      <ModesTable fit={fit} used={used} />
      {used.slice(0, 3).map((c, k) => (
        <FittedCurve key={c.name} channel={c} fit={fit} k={k} />
      ))}
      <SingularValues values={[...fit.singular].slice(0, 12)} order={order} />
    </>
  );
}

function ModesTable({ fit, used }: { fit: Identified; used: readonly Channel[] }) {
  return (
    <table className="w-full text-xs" aria-label="Modes found">
      <thead className="text-right text-ink-2">
        <tr>
          <th className="text-left font-normal">mode</th>
          <th className="font-normal">frequency</th>
          <th className="font-normal">damping ratio</th>
          <th className="font-normal">dies in</th>
          {used.map(({ name }) => (
            <th key={name} className="max-w-24 truncate font-normal" title={`Amplitude in ${name}`}>
              {name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody className="text-right font-mono">
        {fit.modes.map((m, i) => (
          <tr key={i} className="border-t border-line/60">
            <td className="text-left">{i + 1}</td>
            <td>{m.im === 0 ? 'does not swing' : `${formatNumber(m.frequency, 5)} Hz`}</td>
            <td className={m.damping < 0 ? 'text-warn' : ''}>{m.im === 0 ? '' : formatNumber(m.damping, 4)}</td>
            <td title="Time in which it falls to a 1/e part">{m.re < 0 ? `${formatNumber(-1 / m.re, 4)} s` : 'it grows'}</td>
            {m.shape.map((s, k) => (
              <td key={k} title={`Phase ${formatNumber((s.phase * 180) / Math.PI, 3)} deg`}>
                {formatNumber(s.amplitude / used[k]!.factor, 4)} {used[k]!.unit}
              </td>
            ))}
          </tr>
        ))}
        <tr className="border-t border-line text-ink-2">
          <td className="text-left font-sans" colSpan={4}>
            share of its motion that the fit explains
          </td>
          {fit.explained.map((x, k) => (
            <td key={k}>{fixed(100 * x, 2)} %</td>
          ))}
        </tr>
      </tbody>
    </table>
  );
}

/** Decades shown. */
const DECADES = 6;

function SingularValues({ values, order }: { values: readonly number[]; order: number }) {
  const most = Math.max(...values);
  const height = (s: number) => Math.max(3, 100 + (100 / DECADES) * Math.log10(Math.max(10 ** -DECADES, s / most)));
  return (
    <>
      <p className="mt-2 text-xs text-ink-2">Singular values: they fall where the order is enough.</p>
      <ul className="flex h-14 items-end gap-1" aria-label="Singular values">
        {values.map((s, k) => (
          <li
            key={k}
            title={`${k + 1}: ${s.toExponential(2)}`}
            style={{ height: `${height(s)}%` }}
            className={`w-5 rounded-t ${k < order ? 'bg-calm' : 'bg-line'}`}
          />
        ))}
      </ul>
    </>
  );
}
