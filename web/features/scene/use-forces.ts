import { type RefObject, useEffect, useState } from 'react';
import type { Acting } from '@vim-pivot/core/on-demand';
import { useDocument } from '@/state/document/document';
import { useRuns } from '@/state/runs/runs';
import type { Track } from '@/state/runs/track';
import { runWorker } from '@/workers/client';
import type { Picture } from '@/workers/protocol';
import type { Arrow, Overlays } from './overlays';

/** Records at which the largest force of a run is looked for. */
const LOOKS = 120;
/** A point is on the line of a force within this part of the machine's size. */
const ON = 1e-6;

const size = (v: readonly number[]) => Math.hypot(...v);

/** Forces at the time shown, read in the worker one record at a time; with a body selected, all that acts on it. @returns the largest of the run, N */
export function useForces(
  on: boolean,
  run: string | undefined,
  track: Track | undefined,
  count: number,
  picture: Picture | undefined,
  shows: RefObject<{ made: Overlays } | undefined>,
  ready: number,
): number {
  const body = useDocument((s) =>
    s.selected?.family === 'bodies' && picture?.bodies.includes(s.selected.name) ? s.selected.name : undefined,
  );
  const [largest, setLargest] = useState({ of: '', force: 0 });
  const of = `${run}/${body ?? ''}/${count}`;

  useEffect(() => {
    if (!on || !run || !track || track.count === 0) return;
    let left = false;
    const n = Math.min(LOOKS, track.count),
      records = Array.from({ length: n }, (_, i) => Math.round((i * (track.count - 1)) / Math.max(1, n - 1)));
    void ask(run, records, body).then((frames) => {
      if (!left) setLargest({ of, force: Math.max(0, ...frames.flat().map((a) => size(a.force))) });
    });
    return () => {
      left = true;
    };
  }, [on, run, track, body, of]);

  useEffect(() => {
    if (!on || !run || !track || !picture) {
      shows.current?.made.act([]);
      return;
    }
    let left = false,
      busy = false,
      last = -1;
    /** One question at a time; the newest record counts. */
    const look = async (): Promise<void> => {
      const record = track.recordAt(useRuns.getState().time);
      if (busy || left || record === last) return;
      busy = true;
      last = record;
      const [frame] = await ask(run, [record], body);
      busy = false;
      if (left) return;
      shows.current?.made.act(arrowsOf(frame ?? [], picture, track, record));
      void look();
    };
    void look();
    const stop = useRuns.subscribe((now, before) => {
      if (now.time !== before.time) void look();
    });
    return () => {
      left = true;
      stop();
    };
  }, [on, run, track, body, picture, shows, ready]);

  return on && largest.of === of ? largest.force : 0;
}

const ask = (run: string, records: number[], body: string | undefined): Promise<Acting[][]> =>
  runWorker()
    .ask({ type: 'acting', run, records, ...(body === undefined ? {} : { body }) }, 'acting')
    .then(
      (r) => r.frames,
      () => [],
    );

/** A load is drawn from its own point on the body, where its line passes there. */
function arrowsOf(frame: readonly Acting[], picture: Picture, track: Track, record: number): Arrow[] {
  const loads = useDocument.getState().model?.loads ?? [],
    posture = new Float64Array(7 * picture.bodies.length);
  track.at(track.timeOf(record), posture);
  return frame.map((a): Arrow => {
    const load = a.kind === 'load';
    const ends = load ? [loads.find((l) => l.name === a.from)?.at ?? []].flat() : [],
      b = picture.bodies.indexOf(a.body),
      along = size(a.force);
    for (const p of picture.points) {
      if (p.body !== b || !ends.includes(p.name)) continue;
      const place = placeIn(posture, b, p.at),
        d = place.map((x, k) => x - a.at[k]!),
        f = a.force;
      const off = size([d[1]! * f[2] - d[2]! * f[1], d[2]! * f[0] - d[0]! * f[2], d[0]! * f[1] - d[1]! * f[0]]) / along;
      if (off < ON * picture.size) return { load, force: f, at: place };
    }
    return { load, force: a.force, at: a.at };
  });
}

/** A place fixed in a body, in a posture: r + q s q*. */
function placeIn(posture: Float64Array, body: number, s: readonly [number, number, number]): [number, number, number] {
  const o = 7 * body,
    [w, x, y, z] = [posture[o + 3]!, posture[o + 4]!, posture[o + 5]!, posture[o + 6]!];
  const tx = 2 * (y * s[2] - z * s[1]),
    ty = 2 * (z * s[0] - x * s[2]),
    tz = 2 * (x * s[1] - y * s[0]);
  return [
    posture[o]! + s[0] + w * tx + y * tz - z * ty,
    posture[o + 1]! + s[1] + w * ty + z * tx - x * tz,
    posture[o + 2]! + s[2] + w * tz + x * ty - y * tx,
  ];
}
