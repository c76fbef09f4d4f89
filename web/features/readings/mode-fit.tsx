'use client';
import { useRef, useState } from 'react';
import { Refusal, formatNumber, readUnit, fixed } from '@vim-pivot/core/page';
import { within } from '@vim-pivot/core/scores';
import type { Identified } from '@vim-pivot/core/analyses';
import { useDocument } from '@/state/document/document';
import { download, fileName } from '@/state/files/download';
import { useReadings } from '@/state/readings/readings';
import { modelWorker } from '@/workers/client';
import { Button, Dialog } from '@/ui/dialog';
import { CheckBox } from '@/ui/check';
import type { GaugeLines } from './use-lines';

/** A curve to which modes can be fitted. */
interface Channel {
  name: string;
  unit: string;
  factor: number;
  time: Float64Array;
  values: Float64Array;
}

/** Modes common to curves of a free motion: those of the run, or of a file that was measured. */
export function ModeFit({ lines, onClose }: { lines: readonly GaugeLines[]; onClose: () => void }) {
  const span = useReadings((s) => s.span);
  const [file, setFile] = useState<{ name: string; channels: Channel[] }>();
  const ofRun = lines.map((l): Channel => ({
    name: l.gauge,
    unit: l.unit,
    factor: readUnit(l.unit)?.factor ?? 1,
    ...within({ time: l.current.time, values: l.current.values, dim: l.dim }, span?.[0], span?.[1]),
  }));
  const channels = file?.channels ?? ofRun;
  const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set(lines[0] ? [lines[0].gauge] : []));
  const [order, setOrder] = useState('2');
  const [found, setFound] = useState<{ names: string[]; used: Channel[]; fit: Identified }>();
  const [said, setSaid] = useState<string>();
  const [busy, setBusy] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const used = channels.filter((c) => ticked.has(c.name));
  const told = (e: unknown) => {
    if (!(e instanceof Refusal)) throw e;
    setSaid(e.message);
  };
  const fit = () => {
    setBusy(true);
    setSaid(undefined);
    void modelWorker()
      .ask({ type: 'identify', channels: used.map(({ time, values }) => ({ time, values })), order: Number(order) }, 'identify')
      .then(
        (r) => setFound({ names: used.map((c) => c.name), used, fit: r.found }),
        (e: unknown) => {
          setFound(undefined);
          told(e);
        },
      )
      .finally(() => setBusy(false));
  };
  const take = async (f: File) => {
    try {
      const { names, columns } = await modelWorker().ask({ type: 'columns', text: await f.text() }, 'columns');
      const made = names.slice(1).map((n, k): Channel => {
        const unit = /\[([^\]]+)\]\s*$/.exec(n)?.[1] ?? '',
          known = readUnit(unit);
        return { name: n, unit: known ? unit : '', factor: 1, time: columns[0]!, values: columns[k + 1]! };
      });
      setFile({ name: f.name, channels: made });
      setTicked(new Set(made.slice(0, 1).map((c) => c.name)));
      setFound(undefined);
      setSaid(undefined);
    } catch (e) {
      told(e);
    }
  };
  const back = () => {
    setFile(undefined);
    setFound(undefined);
    setTicked(new Set(lines[0] ? [lines[0].gauge] : []));
  };
  const save = () => {
    if (!found) return;
    const { fit: f } = found,
      name = fileName(useDocument.getState().model?.name ?? 'curves');
    const modes = f.modes.map((x) => ({
      frequency: x.frequency,
      damping: x.damping,
      eigenvalue: [x.re, x.im],
      channels: x.shape.map((s, k) => ({ name: found.names[k], ...s })),
    }));
    download(
      `${name}-modes.json`,
      JSON.stringify(
        {
          units: { frequency: 'Hz', eigenvalue: '1/s', phase: 'rad', amplitude: file ? 'as in the file' : 'SI' },
          channels: found.names,
          modes,
          rest: f.rest,
          explained: f.explained,
          system: { 'x(k+1) = A x(k), y = C x + rest': { A: f.A, C: f.C, x0: f.x0, dt: f.dt } },
        },
        null,
        1,
      ),
      'application/json',
    );
  };
  const most = found ? Math.max(...found.fit.singular.slice(0, 12)) : 1;
  return (
    <Dialog open wide onClose={onClose} title="Fit modes to curves">
      <div className="grid grid-cols-[220px_minmax(0,1fr)] gap-4">
        <div className="grid content-start gap-2">
          <p className="text-xs text-ink-2">
            Curves of a free motion: after a knock, or after a drive has let go.{' '}
            {file
              ? `From ${file.name}.`
              : span
                ? `Of ${fixed(span[0], 3)} to ${fixed(span[1], 3)} s, as the charts show.`
                : 'Of the whole run: zoom the charts for a part of it.'}
          </p>
          <ul aria-label="Curves to fit" className="max-h-44 overflow-auto rounded-md border border-line p-1">
            {channels.map((c) => (
              <li key={c.name}>
                <label className="flex items-center gap-2 px-1">
                  <CheckBox
                    checked={ticked.has(c.name)}
                    onChange={(on) => setTicked(new Set(on ? [...ticked, c.name] : [...ticked].filter((n) => n !== c.name)))}
                  />
                  <span className="min-w-0 flex-1 truncate">{c.name}</span>
                </label>
              </li>
            ))}
            {channels.length === 0 && <li className="px-1 text-ink-2">No curve of a run. Take a file.</li>}
          </ul>
          <button
            className="justify-self-start rounded-md border border-line px-2 py-0.5 hover:border-ink-2"
            onClick={() => (file ? back() : input.current?.click())}
          >
            {file ? 'Back to the run' : 'From a CSV file…'}
          </button>
          <input
            ref={input}
            type="file"
            accept=".csv,text/csv"
            className="hidden"
            aria-label="File of curves"
            onChange={(e) => e.target.files?.[0] && void take(e.target.files[0])}
          />
          <label className="flex items-center gap-2">
            <span className="text-ink-2">Order</span>
            <input
              aria-label="Order"
              value={order}
              onChange={(e) => setOrder(e.target.value)}
              onKeyDown={(e) => e.key === 'Enter' && fit()}
              className="w-14 rounded border border-line bg-sheet px-1.5 font-mono"
            />
            <span className="text-xs text-ink-2">two for each mode that swings</span>
          </label>
          <Button primary disabled={used.length === 0 || busy} onClick={fit}>
            {busy ? 'Fitting…' : 'Fit modes'}
          </Button>
          {said && (
            <p role="status" className="text-warn">
              {said}
            </p>
          )}
        </div>
        <div className="min-w-0">
          {!found && (
            <p className="text-ink-2">
              Frequency and damping of each mode, its share in every curve, and the linear system behind them (eigensystem realisation). The
              fitted curves are drawn over the given ones.
            </p>
          )}
          {found && (
            <>
              <table className="w-full text-xs" aria-label="Modes found">
                <thead className="text-right text-ink-2">
                  <tr>
                    <th className="text-left font-normal">mode</th>
                    <th className="font-normal">frequency</th>
                    <th className="font-normal">damping ratio</th>
                    <th className="font-normal">dies in</th>
                    {found.names.map((n) => (
                      <th key={n} className="max-w-24 truncate font-normal" title={`Amplitude in ${n}`}>
                        {n}
                      </th>
                    ))}
                  </tr>
                </thead>
                <tbody className="text-right font-mono">
                  {found.fit.modes.map((m, i) => (
                    <tr key={i} className="border-t border-line/60">
                      <td className="text-left">{i + 1}</td>
                      <td>{m.im === 0 ? 'does not swing' : `${formatNumber(m.frequency, 5)} Hz`}</td>
                      <td className={m.damping < 0 ? 'text-warn' : ''}>{m.im === 0 ? '' : formatNumber(m.damping, 4)}</td>
                      <td title="Time in which it falls to a 1/e part">{m.re < 0 ? `${formatNumber(-1 / m.re, 4)} s` : 'it grows'}</td>
                      {m.shape.map((s, k) => (
                        <td key={k} title={`Phase ${formatNumber((s.phase * 180) / Math.PI, 3)} deg`}>
                          {formatNumber(s.amplitude / found.used[k]!.factor, 4)} {found.used[k]!.unit}
                        </td>
                      ))}
                    </tr>
                  ))}
                  <tr className="border-t border-line text-ink-2">
                    <td className="text-left font-sans" colSpan={4}>
                      share of its motion that the fit explains
                    </td>
                    {found.fit.explained.map((x, k) => (
                      <td key={k}>{fixed(100 * x, 2)} %</td>
                    ))}
                  </tr>
                </tbody>
              </table>
              {found.used.slice(0, 3).map((c, k) => (
                <Overlay key={c.name} channel={c} fit={found.fit} k={k} />
              ))}
              <p className="mt-2 text-xs text-ink-2">Singular values: they fall where the order is enough.</p>
              <ul className="flex h-14 items-end gap-1" aria-label="Singular values">
                {found.fit.singular.slice(0, 12).map((s, k) => (
                  <li
                    key={k}
                    title={`${k + 1}: ${s.toExponential(2)}`}
                    style={{ height: `${Math.max(3, 100 + (100 / 6) * Math.log10(Math.max(1e-6, s / most)))}%` }}
                    className={`w-5 rounded-t ${k < Number(order) ? 'bg-calm' : 'bg-line'}`}
                  />
                ))}
              </ul>
              <div className="mt-2 flex justify-end">
                <Button onClick={save} title="Modes, and the matrices A and C of the linear system">
                  Save as JSON
                </Button>
              </div>
            </>
          )}
        </div>
      </div>
    </Dialog>
  );
}

/** A curve with what was fitted to it. */
function Overlay({ channel, fit, k }: { channel: Channel; fit: Identified; k: number }) {
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
