'use client';
import { useRef } from 'react';
import { type RawElement, formatNumber, formatQuantity, readUnit, fixed } from '@vim-pivot/core/page';
import { valueAt } from '@vim-pivot/core/scores';
import { setNote } from '@/state/document/elements';
import { useDocument } from '@/state/document/document';
import { useReadings } from '@/state/readings/readings';
import { setTime, timeShown, useRuns } from '@/state/runs/runs';
import { changeTile, choiceOf, namesOf } from '@/state/readings/sheets';
import { Scene } from '../scene/scene';
import type { View } from '../scene/stage';
import { useQuiet } from './use-quiet';
import type { SheetReads } from './sheet-reads';

interface Props {
  tile: RawElement;
  reads: SheetReads;
}

export function MotionTile({ tile }: Props) {
  const follow = choiceOf(tile, 'follow');
  return (
    <div className="h-full overflow-hidden rounded border border-line">
      <Scene
        compact
        from={choiceOf(tile, 'view') as View}
        {...(follow === '' ? {} : { follow, turning: choiceOf(tile, 'turning') === 'yes' })}
      />
    </div>
  );
}

/** The time at which things are read: that of the cursor while a run is shown. */
const useTime = () => useRuns(timeShown);

export function TableTile({ tile, reads }: Props) {
  const time = useTime(),
    cursors = useReadings((s) => s.cursors);
  const run = reads.runs[0],
    names = namesOf(tile, 'gauges');
  if (!run || names.length === 0)
    return (
      <p className="p-2 text-ink-2">
        {names.length === 0 ? 'No gauge yet. Select this tile and tick gauges at the left.' : 'Nothing has been run yet. Press Run.'}
      </p>
    );
  const head = 'px-1.5 text-right font-normal';
  return (
    <div className="h-full overflow-auto">
      <table className="w-full whitespace-nowrap text-xs">
        <thead className="text-ink-2">
          <tr>
            <th className="text-left font-normal">gauge</th>
            <th className={head}>at {fixed(time, 3)} s</th>
            {cursors.map((t, i) => (
              <th key={`${i}/${t}`} className={head}>
                <button className="underline" onClick={() => setTime(t)}>
                  cursor {i + 1}
                </button>
              </th>
            ))}
            <th className={head}>lowest</th>
            <th className={head}>highest</th>
            <th className={head}>mean</th>
            <th className={head}>unit</th>
          </tr>
        </thead>
        <tbody className="font-mono">
          {names.map((n) => {
            const c = run.curves.find((x) => x.gauge === n);
            if (!c || c.time.length === 0)
              return (
                <tr key={n}>
                  <td className="font-sans">{n}</td>
                  <td colSpan={5 + cursors.length} className="font-sans text-warn">
                    cannot be read
                  </td>
                </tr>
              );
            const factor = readUnit(c.unit)?.factor ?? 1,
              series = { time: c.time, values: c.values, dim: c.dim };
            let lo = Infinity,
              hi = -Infinity,
              area = 0;
            for (let i = 0; i < c.values.length; i++) {
              lo = Math.min(lo, c.values[i]!);
              hi = Math.max(hi, c.values[i]!);
              if (i > 0) area += 0.5 * (c.values[i]! + c.values[i - 1]!) * (c.time[i]! - c.time[i - 1]!);
            }
            const show = (v: number) => formatNumber(Math.abs(v) < 1e-9 * (hi - lo) ? 0 : v / factor, 4),
              span = c.time.at(-1)! - c.time[0]!;
            return (
              <tr key={n} className="border-t border-line/60">
                <td className="truncate font-sans">{n}</td>
                {[valueAt(series, time), ...cursors.map((t) => valueAt(series, t)), lo, hi, span > 0 ? area / span : lo].map((v, i) => (
                  <td key={i} className="px-1.5 text-right">
                    {show(v)}
                  </td>
                ))}
                <td className="px-1.5 text-right text-ink-2">{c.unit}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

export function NumberTile({ tile, reads }: Props) {
  const time = useTime();
  const score = choiceOf(tile, 'score'),
    gauge = choiceOf(tile, 'gauge');
  const row = useReadings((s) => s.scores.find((x) => x.name === score));
  const c = reads.runs[0]?.curves.find((x) => x.gauge === gauge),
    quiet = useQuiet(c?.values);
  let text = '',
    under = score || gauge,
    at: number | undefined;
  if (score !== '') {
    text =
      row?.value !== undefined && row.dim ? formatQuantity(row.value, row.dim, readUnit(row.unit ?? '') ? row.unit : undefined, 4) : '';
    at = row?.at;
    if (!row) under = `${score}: not run yet`;
    else if (row.fault) under = row.fault;
  } else if (c && c.time.length > 0)
    text = `${formatNumber(quiet(valueAt({ time: c.time, values: c.values, dim: c.dim }, time)) / (readUnit(c.unit)?.factor ?? 1), 4)} ${c.unit}`;
  else under = gauge === '' ? 'Choose a score or a gauge on the Card.' : `${gauge}: not run yet`;
  return (
    <div className="flex h-full flex-col justify-center">
      {text !== '' && <p className="truncate font-mono text-2xl">{text}</p>}
      <p className="truncate text-xs text-ink-2" title={under}>
        {under}
        {at !== undefined && (
          <>
            {' '}
            <button className="underline" onClick={() => setTime(at!)}>
              at {fixed(at, 3)} s
            </button>
          </>
        )}
      </p>
    </div>
  );
}

export function NoteTile({ tile }: Props) {
  return (
    <textarea
      key={tile.note ?? ''}
      aria-label={`Words of ${tile.name}`}
      defaultValue={tile.note ?? ''}
      placeholder="Write here."
      onBlur={(e) => e.target.value !== (tile.note ?? '') && setNote('tiles', tile.name, e.target.value)}
      className="h-full w-full resize-none bg-transparent p-1 outline-offset-[-2px]"
    />
  );
}

/** Longest side and largest size of a picture kept with a project: the next smaller one is tried until it fits. */
const SIDES = [1600, 1200, 900, 600, 400],
  MOST = 700_000;

async function shrunk(file: File): Promise<string | undefined> {
  const image = await createImageBitmap(file).catch(() => undefined);
  if (!image) return undefined;
  for (const side of SIDES) {
    const k = Math.min(1, side / Math.max(image.width, image.height)),
      canvas = document.createElement('canvas');
    canvas.width = Math.max(1, Math.round(image.width * k));
    canvas.height = Math.max(1, Math.round(image.height * k));
    canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height);
    for (const type of ['image/png', 'image/jpeg']) {
      const data = canvas.toDataURL(type, 0.85);
      if (data.length <= MOST) return data;
    }
  }
  return undefined;
}

export function PictureTile({ tile }: Props) {
  const input = useRef<HTMLInputElement>(null);
  const image = choiceOf(tile, 'image');
  const take = async (file: File) => {
    const data = await shrunk(file);
    if (data) changeTile(tile.name, `Picture of ${tile.name}`, { image: data });
    else
      useDocument.setState({
        notices: [
          {
            code: 'picture-unreadable',
            severity: 'warning',
            message: `${file.name} is not a picture this browser can read.`,
            remedy: 'Use a PNG, JPEG or WebP file.',
          },
        ],
      });
  };
  return (
    <div className="relative flex h-full items-center justify-center">
      {image !== '' && <img src={image} alt={tile.note || tile.name} className="max-h-full max-w-full object-contain" />}
      <button
        className={`rounded-md border border-line bg-sheet px-2.5 py-1 font-medium hover:border-ink-2 ${image === '' ? '' : 'absolute bottom-1 right-1 text-xs'}`}
        onClick={() => input.current?.click()}
      >
        {image === '' ? 'Choose a picture…' : 'Other…'}
      </button>
      <input
        ref={input}
        type="file"
        accept="image/png,image/jpeg,image/webp"
        className="hidden"
        aria-label={`File of ${tile.name}`}
        onChange={(e) => e.target.files?.[0] && void take(e.target.files[0])}
      />
    </div>
  );
}
