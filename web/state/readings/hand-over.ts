/** What leaves the Readings: pictures of charts, a video, a posture as STL, the loads on a body. */
import { type BodyLoads } from '@vim-pivot/core';
import { Refusal, fixed } from '@vim-pivot/core/page';
import { runWorker } from '../../workers/client';
import { useReadings } from './readings';
import { setTime, timeShown, useRuns } from '../runs/runs';
import { useDisplayed } from '../scene/displayed';

/** Loads on a body at the time shown, or at every record of the run. @throws Refusal */
export async function loadsOn(body: string, whole: boolean): Promise<BodyLoads[]> {
  const { current, tracks } = useRuns.getState(),
    track = current ? tracks.get(current) : undefined;
  if (!current || !track) throw new Refusal([{ code: 'run-missing', severity: 'error', message: 'There is no run to read.' }]);
  return (
    await runWorker().ask(
      { type: 'body-loads', run: current, body, ...(whole ? {} : { record: track.recordAt(timeShown()) }) },
      'body-loads',
    )
  ).loads;
}

const quoted = (s: string) => (/[",\n]/.test(s) ? `"${s.replaceAll('"', '""')}"` : s);
/** Loads as CSV, units in the header, one line each, with the check of the sum behind each instant. */
export function loadsCsv(list: readonly BodyLoads[]): string {
  const head = [
    't [s]',
    'from',
    'kind',
    ...['Fx', 'Fy', 'Fz'].map((n) => `${n} [N]`),
    ...['Mx', 'My', 'Mz'].map((n) => `${n} [N*m]`),
    ...['x', 'y', 'z'].map((n) => `${n} [m]`),
    'rest of force',
    'rest of moment',
  ];
  const lines = list.flatMap((at) =>
    at.loads.map((l) => [at.t, quoted(l.from), l.kind, ...l.force, ...l.moment, ...l.at, at.rest.force, at.rest.moment].join(',')),
  );
  return `${[head.join(','), ...lines].join('\n')}\n`;
}

/** The machine at the posture shown as binary STL, in millimetres, ground axes. */
export function postureStl(): Blob | undefined {
  const { picture } = useDisplayed.getState();
  const posture = useDisplayed.getState().posture ?? picture?.posture;
  if (!picture || !posture) return undefined;
  const { mesh, shapes } = picture;
  const n = shapes.reduce((s, x) => s + x.triangle[1] / 3, 0);
  const view = new DataView(new ArrayBuffer(84 + 50 * n));
  view.setUint32(80, n, true);
  let o = 84;
  const p = new Float64Array(9);
  for (const s of shapes) {
    const q = 7 * s.body,
      [x, y, z, w, a, b, c] =
        s.body < 0
          ? [0, 0, 0, 1, 0, 0, 0]
          : (Array.from(posture.subarray(q, q + 7)) as [number, number, number, number, number, number, number]);
    const turn = [
      1 - 2 * (b * b + c * c),
      2 * (a * b - c * w),
      2 * (a * c + b * w),
      2 * (a * b + c * w),
      1 - 2 * (a * a + c * c),
      2 * (b * c - a * w),
      2 * (a * c - b * w),
      2 * (b * c + a * w),
      1 - 2 * (a * a + b * b),
    ];
    for (let t = s.triangle[0]; t < s.triangle[0] + s.triangle[1]; t += 3) {
      for (let k = 0; k < 3; k++) {
        const v = 3 * mesh.triangles[t + k]!,
          u = [mesh.position[v]!, mesh.position[v + 1]!, mesh.position[v + 2]!] as const;
        for (let i = 0; i < 3; i++)
          p[3 * k + i] = 1000 * (([x, y, z] as const)[i as 0]! + turn[3 * i]! * u[0] + turn[3 * i + 1]! * u[1] + turn[3 * i + 2]! * u[2]);
      }
      const [e, f] = [
        [p[3]! - p[0]!, p[4]! - p[1]!, p[5]! - p[2]!],
        [p[6]! - p[0]!, p[7]! - p[1]!, p[8]! - p[2]!],
      ] as const;
      const m = [e[1]! * f[2]! - e[2]! * f[1]!, e[2]! * f[0]! - e[0]! * f[2]!, e[0]! * f[1]! - e[1]! * f[0]!],
        l = Math.hypot(...m) || 1;
      for (const value of [...m.map((d) => d / l), ...p]) {
        view.setFloat32(o, value, true);
        o += 4;
      }
      o += 2;
    }
  }
  return new Blob([view.buffer], { type: 'model/stl' });
}

export interface Filming {
  width: number;
  height: number;
  /** Frames a second of the film. */
  rate: number;
  /** Seconds of the machine in a second of the film. */
  speed: number;
  /** Charts to be burnt in. */
  curves: boolean;
}

let stop = false;
export const stopFilm = (): void => {
  stop = true;
};

/** Frames of a film of a run that lasts so long, s. */
export const framesOf = (seconds: number, { rate, speed }: Pick<Filming, 'rate' | 'speed'>): number =>
  Math.max(1, Math.floor((seconds / speed) * rate) + 1);

/**
 * Films the run from its start: every frame is posed, drawn and encoded one after the other, however long that takes.
 * @returns undefined when it was stopped
 * @throws Refusal when the browser cannot encode
 */
export async function film(asked: Filming, paper: string, ink: string): Promise<Blob | undefined> {
  const { BufferTarget, CanvasSource, Mp4OutputFormat, Output, WebMOutputFormat, getFirstEncodableVideoCodec } = await import('mediabunny');
  const { current, tracks, time: before } = useRuns.getState(),
    track = current ? tracks.get(current) : undefined;
  if (!track) return undefined;
  const size = { width: asked.width, height: asked.height };
  const mp4 = await getFirstEncodableVideoCodec(['avc'], size),
    codec = mp4 ?? (await getFirstEncodableVideoCodec(['vp9', 'vp8', 'av1'], size));
  if (!codec)
    throw new Refusal([
      {
        code: 'video-none',
        severity: 'error',
        message: 'This browser cannot encode video of that size.',
        remedy: 'Try a smaller size, or another browser.',
      },
    ]);
  const canvas = new OffscreenCanvas(asked.width, asked.height),
    g = canvas.getContext('2d')!;
  const output = new Output({ format: mp4 ? new Mp4OutputFormat() : new WebMOutputFormat(), target: new BufferTarget() });
  const source = new CanvasSource(canvas, { codec, bitrate: Math.round(asked.width * asked.height * asked.rate * 0.12) });
  output.addVideoTrack(source, { frameRate: asked.rate });
  await output.start();
  const frames = framesOf(track.end, asked);
  stop = false;
  useReadings.setState({ filming: 0 });
  try {
    for (let i = 0; i < frames && !stop; i++) {
      setTime(Math.min(track.end, (i / asked.rate) * asked.speed));
      // the scene poses itself on the change of time; charts redraw their cursor
      const scene = useDisplayed.getState().draw?.();
      g.fillStyle = paper;
      g.fillRect(0, 0, asked.width, asked.height);
      const charts = asked.curves ? [...document.querySelectorAll<HTMLCanvasElement>('[data-chart] canvas')].slice(0, 3) : [];
      const strip = charts.length > 0 ? Math.round(asked.height * 0.3) : 0,
        room = asked.height - strip;
      if (scene) {
        const k = Math.min(asked.width / scene.width, room / scene.height);
        g.drawImage(scene, (asked.width - scene.width * k) / 2, (room - scene.height * k) / 2, scene.width * k, scene.height * k);
      }
      charts.forEach((c, n) => {
        const w = asked.width / charts.length,
          x = n * w,
          at = Number(c.dataset.cursor);
        g.drawImage(c, x + 4, room + 14, w - 8, strip - 18);
        g.fillStyle = ink;
        g.font = '11px sans-serif';
        g.fillText(c.dataset.title ?? '', x + 8, room + 11);
        if (Number.isFinite(at)) g.fillRect(x + 4 + (at / c.clientWidth) * (w - 8), room + 14, 1.5, strip - 18);
      });
      g.fillStyle = ink;
      g.font = '13px monospace';
      g.fillText(`${fixed(useRuns.getState().time, 3)} s`, 10, 20);
      await source.add(i / asked.rate, 1 / asked.rate);
      if (i % 4 === 0) useReadings.setState({ filming: i / frames });
    }
    if (stop) {
      await output.cancel();
      return undefined;
    }
    await output.finalize();
    return new Blob([output.target.buffer!], { type: mp4 ? 'video/mp4' : 'video/webm' });
  } finally {
    useReadings.setState({ filming: undefined });
    setTime(before);
  }
}
