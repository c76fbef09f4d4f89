'use client';
import { useState } from 'react';
import { Refusal, siUnit, fixed } from '@vim-pivot/core/page';
import { useDocument } from '@/state/document/document';
import { download, fileName } from '@/state/files/download';
import { film, loadsCsv, loadsOn, postureStl, stopFilm } from '@/state/readings/hand-over';
import { useReadings } from '@/state/readings/readings';
import { timeShown, useRuns } from '@/state/runs/runs';
import { watchPosture } from '@/state/scene/displayed';
import { Button, Dialog } from '@/ui/dialog';
import { Menu, MenuItem, MenuLabel, MenuRule } from '@/ui/menu';
import type { ReadCurve } from '@/state/runs/curves';
import { CheckBox } from '@/ui/check';
import { Choice } from '@/ui/choice';
import { token } from '@/ui/ink';

const QUIET = 'whitespace-nowrap rounded-md border border-line bg-sheet px-2 py-0.5 font-medium hover:border-ink-2 disabled:opacity-45';

/** What can be handed over: files of the run, its curves and its motion. */
export function HandOver({ curves }: { curves: readonly ReadCurve[] }) {
  const gauges = curves.map((c) => c.gauge);
  const filming = useReadings((s) => s.filming);
  const run = useRuns((s) => (s.current && !s.running ? s.current : undefined));
  const [asked, setAsked] = useState<'video' | 'loads'>();
  const span = useReadings((s) => s.span);
  const spanned = span ? `${fixed(span[0], 3)} to ${fixed(span[1], 3)} s, as the charts show` : 'the whole run';
  /** Of what the charts show. */
  const part = async (): Promise<ReadCurve[]> => {
    const { within } = await import('@vim-pivot/core/scores');
    return curves.map((c) => (span ? { ...c, ...within({ time: c.time, values: c.values, dim: c.dim }, ...span) } : c));
  };
  const parquet = async () => {
    const [list, m] = await Promise.all([part(), import('@/state/readings/motion-files')]);
    download(`${name()}-curves.parquet`, new Blob([await m.curvesParquet(list)]), 'application/vnd.apache.parquet');
  };
  /** In the units shown, or in SI base units. */
  const csv = async (si = false) => {
    const [list, { writeCsv }] = await Promise.all([part(), import('@vim-pivot/core/csv')]);
    const unit = (c: ReadCurve) => (si ? siUnit(c.dim) : c.unit);
    download(
      `${name()}-curves${si ? '-si' : ''}.csv`,
      writeCsv(
        list[0]!.time,
        list.map((c) => ({ name: c.gauge, dim: c.dim, unit: unit(c), values: c.values })),
      ),
      'text/csv',
    );
  };
  const name = () => fileName(useDocument.getState().model?.name ?? 'machine');
  const glb = async () => {
    const data = await (await import('@/state/readings/motion-files')).motionGlb(span);
    if (data) download(`${name()}-motion.glb`, new Blob([data]), 'model/gltf-binary');
  };
  const stl = () => {
    const done = watchPosture();
    const blob = postureStl();
    done();
    if (blob) download(`${fileName(useDocument.getState().model?.name ?? 'machine')}.stl`, blob, 'model/stl');
  };
  const page = async () => {
    const html = (await import('@/state/readings/report')).report();
    if (html) download(`${fileName(useDocument.getState().model?.name ?? 'report')}-report.html`, html, 'text/html');
  };
  return (
    <>
      {filming !== undefined ? (
        <>
          <span role="status" className="font-mono text-xs">
            filming {Math.round(100 * filming)} %
          </span>
          <button className={QUIET} onClick={stopFilm}>
            Stop filming
          </button>
        </>
      ) : (
        <Menu
          align="end"
          trigger={
            <button className={QUIET} disabled={!run}>
              Export…
            </button>
          }
        >
          <MenuItem onSelect={() => void page()} hint="one page, opens anywhere">
            Report
          </MenuItem>
          <MenuItem onSelect={() => setAsked('video')}>Record video…</MenuItem>
          <MenuItem onSelect={() => setAsked('loads')} hint="for stress analysis">
            Loads on a body…
          </MenuItem>
          <MenuItem onSelect={stl} hint="as it stands now">
            Posture as STL
          </MenuItem>
          <MenuRule />
          <MenuLabel>Of {spanned}</MenuLabel>
          <MenuItem onSelect={() => void glb()} hint="animated glTF">
            Motion as GLB
          </MenuItem>
          <MenuItem disabled={curves.length === 0} onSelect={() => void parquet()}>
            Curves as Parquet
          </MenuItem>
          <MenuItem disabled={curves.length === 0} onSelect={() => void csv()} hint="units as shown">
            Curves as CSV
          </MenuItem>
          <MenuItem disabled={curves.length === 0} onSelect={() => void csv(true)} hint="SI units">
            Curves as CSV in SI
          </MenuItem>
        </Menu>
      )}
      {asked === 'video' && <Video gauges={gauges} onClose={() => setAsked(undefined)} />}
      {asked === 'loads' && <Loads onClose={() => setAsked(undefined)} />}
    </>
  );
}

const SIZES = [
  ['640×360', 640, 360],
  ['1280×720', 1280, 720],
  ['1920×1080', 1920, 1080],
] as const;

function Video({ gauges, onClose }: { gauges: readonly string[]; onClose: () => void }) {
  const model = useDocument((s) => s.model);
  const [size, setSize] = useState(1);
  const [rate, setRate] = useState(30);
  const [speed, setSpeed] = useState(1);
  const [curves, setCurves] = useState(false);
  const record = () => {
    const [, width, height] = SIZES[size]!;
    const made = film({ width, height, rate, speed, curves }, token('stage'), token('ink'));
    onClose();
    void made.then(
      (blob) => blob && download(`${fileName(model?.name ?? 'machine')}.${blob.type === 'video/mp4' ? 'mp4' : 'webm'}`, blob, blob.type),
      (e: unknown) => {
        if (!(e instanceof Refusal)) throw e;
        useDocument.setState({ notices: e.diagnoses });
      },
    );
  };
  const row = 'flex items-center gap-3';
  const pick = 'rounded border border-line bg-sheet px-1 py-0.5';
  return (
    <Dialog open onClose={onClose} title="Record the run as a video">
      <div className="grid gap-2">
        <label className={row}>
          <span className="w-32 text-ink-2">Size</span>
          <Choice
            label="Size of the video"
            className={pick}
            value={String(size)}
            options={SIZES.map(([label], i) => ({ value: String(i), label }))}
            onChange={(v) => setSize(Number(v))}
          />
        </label>
        <label className={row}>
          <span className="w-32 text-ink-2">Frames a second</span>
          <Choice
            label="Frames a second"
            className={pick}
            value={String(rate)}
            options={[10, 15, 25, 30, 50, 60].map((r) => ({ value: String(r), label: String(r) }))}
            onChange={(v) => setRate(Number(v))}
          />
        </label>
        <label className={row}>
          <span className="w-32 text-ink-2">Speed</span>
          <Choice
            label="Speed of the video"
            className={pick}
            value={String(speed)}
            options={[0.1, 0.25, 0.5, 1, 2, 4].map((x) => ({ value: String(x), label: `${x} ×` }))}
            onChange={(v) => setSpeed(Number(v))}
          />
        </label>
        <label className={row}>
          <CheckBox checked={curves} disabled={gauges.length === 0} onChange={setCurves} />
          <span>With the first charts below the machine</span>
        </label>
        <p className="text-xs text-ink-2">
          Every frame is drawn and encoded in turn, so that none is lost. MP4 where this browser can encode it, WebM otherwise.
        </p>
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button primary onClick={record}>
            Record
          </Button>
        </div>
      </div>
    </Dialog>
  );
}

function Loads({ onClose }: { onClose: () => void }) {
  const model = useDocument((s) => s.model);
  const brought = useDocument((s) => s.brought.bodies) ?? [];
  const bodies = [...(model?.bodies.filter((b) => !b.off).map((b) => b.name) ?? []), ...brought];
  const time = useRuns(timeShown);
  const [body, setBody] = useState(bodies[0] ?? '');
  const [whole, setWhole] = useState(false);
  const [said, setSaid] = useState<{ text: string; bad: boolean }>();
  const save = (json: boolean) => {
    void loadsOn(body, whole).then(
      (list) => {
        const rest = Math.max(...list.map((l) => Math.max(l.rest.force, l.rest.moment)));
        setSaid({
          text: `${list.length === 1 ? `${list[0]!.loads.length} loads` : `${list.length} instants`}; with the inertia they sum to zero within ${rest.toExponential(1)} of the largest.`,
          bad: rest > 1e-6,
        });
        const name = `${fileName(body)}-loads`;
        if (json)
          download(
            `${name}.json`,
            JSON.stringify(
              {
                body,
                axes: 'of the body, points from their origin',
                units: { force: 'N', moment: 'N*m', at: 'm', t: 's' },
                instants: list,
              },
              null,
              1,
            ),
            'application/json',
          );
        else download(`${name}.csv`, loadsCsv(list), 'text/csv');
      },
      (e: unknown) => {
        if (!(e instanceof Refusal)) throw e;
        setSaid({ text: e.message, bad: true });
      },
    );
  };
  return (
    <Dialog open onClose={onClose} title="Loads on a body">
      <div className="grid gap-3">
        <label className="flex items-center gap-3">
          <span className="text-ink-2">Body</span>
          <Choice
            label="Body whose loads"
            value={body}
            options={bodies.map((b) => ({ value: b, label: b }))}
            onChange={setBody}
            className="border-line bg-sheet py-0.5"
          />
        </label>
        <label className="flex items-center gap-2">
          <CheckBox checked={whole} onChange={setWhole} /> At every recorded time, not only at {fixed(time, 3)} s
        </label>
        <p className="text-xs text-ink-2">
          Forces and moments of joints, drives and loads with their points of application in the body’s axes, and the inertia loads. Their
          sum is zero: what is left over is shown.
        </p>
        {said && (
          <p role="status" className={said.bad ? 'text-warn' : 'text-calm'}>
            {said.text}
          </p>
        )}
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Close</Button>
          <Button onClick={() => save(true)}>As JSON</Button>
          <Button primary onClick={() => save(false)}>
            As CSV
          </Button>
        </div>
      </div>
    </Dialog>
  );
}
