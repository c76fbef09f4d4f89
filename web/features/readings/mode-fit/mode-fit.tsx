'use client';
import { useRef, useState } from 'react';
import { Refusal, fixed } from '@vim-pivot/core/page';
import type { Identified } from '@vim-pivot/core/analyses';
import { useReadings } from '@/state/readings/readings';
import { CheckBox } from '@/ui/check';
import { Button, Dialog } from '@/ui/dialog';
import { modelWorker } from '@/workers/client';
import type { GaugeLines } from '../use-lines';
import { type Channel, channelsIn, channelsOf } from './channels';
import { ModesFound } from './modes-found';
import { saveModes } from './save-modes';

/** Modes common to curves of a free motion: those of the run, or of a file that was measured. */
export function ModeFit({ lines, onClose }: { lines: readonly GaugeLines[]; onClose: () => void }) {
  const f = useFit(lines);
  const { found } = f;
  return (
    <Dialog open wide onClose={onClose} title="Fit modes to curves">
      <div className="grid grid-cols-[220px_minmax(0,1fr)] gap-4">
        <Asked f={f} />
        <div className="min-w-0">
          {found ? (
            <>
              <ModesFound fit={found.fit} used={found.used} order={Number(f.order)} />
              <div className="mt-2 flex justify-end">
                <Button
                  onClick={() =>
                    saveModes(
                      found.fit,
                      found.used.map((c) => c.name),
                      f.file ? 'as in the file' : 'SI',
                    )
                  }
                  title="Modes, and the matrices A and C of the linear system"
                >
                  Save as JSON
                </Button>
              </div>
            </>
          ) : (
            <p className="text-ink-2">
              Frequency and damping of each mode, its share in every curve, and the linear system behind them (eigensystem realisation). The
              fitted curves are drawn over the given ones.
            </p>
          )}
        </div>
      </div>
    </Dialog>
  );
}

/** What is asked for, and what was found. */
function useFit(lines: readonly GaugeLines[]) {
  const span = useReadings((s) => s.span);
  const [file, setFile] = useState<{ name: string; channels: Channel[] }>();
  const first = new Set(lines[0] ? [lines[0].gauge] : []);
  const [ticked, setTicked] = useState<ReadonlySet<string>>(first);
  const [order, setOrder] = useState('2');
  const [found, setFound] = useState<{ used: Channel[]; fit: Identified }>();
  const [said, setSaid] = useState<string>();
  const [busy, setBusy] = useState(false);
  const channels = file?.channels ?? channelsOf(lines, span);
  const used = channels.filter((c) => ticked.has(c.name));
  const refused = (e: unknown) => {
    if (!(e instanceof Refusal)) throw e;
    setSaid(e.message);
  };
  const fit = () => {
    setBusy(true);
    setSaid(undefined);
    void modelWorker()
      .ask({ type: 'identify', channels: used.map(({ time, values }) => ({ time, values })), order: Number(order) }, 'identify')
      .then(
        (r) => setFound({ used, fit: r.found }),
        (e: unknown) => {
          setFound(undefined);
          refused(e);
        },
      )
      .finally(() => setBusy(false));
  };
  const take = async (f: File) => {
    try {
      const of = await channelsIn(f);
      setFile({ name: f.name, channels: of });
      setTicked(new Set(of.slice(0, 1).map((c) => c.name)));
      setFound(undefined);
      setSaid(undefined);
    } catch (e) {
      refused(e);
    }
  };
  const back = () => {
    setFile(undefined);
    setFound(undefined);
    setTicked(first);
  };
  const tick = (name: string, on: boolean) => setTicked(new Set(on ? [...ticked, name] : [...ticked].filter((n) => n !== name)));
  return { span, file, channels, used, ticked, tick, order, setOrder, found, said, busy, fit, take, back };
}

function Asked({ f }: { f: ReturnType<typeof useFit> }) {
  const input = useRef<HTMLInputElement>(null);
  const { span, file } = f;
  const from = file
    ? `From ${file.name}.`
    : span
      ? `Of ${fixed(span[0], 3)} to ${fixed(span[1], 3)} s, as the charts show.`
      : 'Of the whole run: zoom the charts for a part of it.';
  return (
    <div className="grid content-start gap-2">
      <p className="text-xs text-ink-2">Curves of a free motion: after a knock, or after a drive has let go. {from}</p>
      <ul aria-label="Curves to fit" className="max-h-44 overflow-auto rounded-md border border-line p-1">
        {f.channels.map((c) => (
          <li key={c.name}>
            <label className="flex items-center gap-2 px-1">
              <CheckBox checked={f.ticked.has(c.name)} onChange={(on) => f.tick(c.name, on)} />
              <span className="min-w-0 flex-1 truncate">{c.name}</span>
            </label>
          </li>
        ))}
        {f.channels.length === 0 && <li className="px-1 text-ink-2">No curve of a run. Take a file.</li>}
      </ul>
      <button
        className="justify-self-start rounded-md border border-line px-2 py-0.5 hover:border-ink-2"
        onClick={() => (file ? f.back() : input.current?.click())}
      >
        {file ? 'Back to the run' : 'From a CSV file…'}
      </button>
      <input
        ref={input}
        type="file"
        accept=".csv,text/csv"
        className="hidden"
        aria-label="File of curves"
        onChange={(e) => e.target.files?.[0] && void f.take(e.target.files[0])}
      />
      <label className="flex items-center gap-2">
        <span className="text-ink-2">Order</span>
        <input
          aria-label="Order"
          value={f.order}
          onChange={(e) => f.setOrder(e.target.value)}
          onKeyDown={(e) => e.key === 'Enter' && f.fit()}
          className="w-14 rounded border border-line bg-sheet px-1.5 font-mono"
        />
        <span className="text-xs text-ink-2">two for each mode that swings</span>
      </label>
      <Button primary disabled={f.used.length === 0 || f.busy} onClick={f.fit}>
        {f.busy ? 'Fitting…' : 'Fit modes'}
      </Button>
      {f.said && (
        <p role="status" className="text-warn">
          {f.said}
        </p>
      )}
    </div>
  );
}
