import { type RefObject, useEffect, useMemo, useRef, useState } from 'react';
import { useDocument } from '@/state/document/document';
import { useRuns } from '@/state/runs/runs';
import { type ViolationRow, useReadings } from '@/state/readings/readings';
import { anyOverlay, useOverlays } from '@/state/scene/overlays';
import type { Picture } from '@/workers/protocol';
import { token } from '@/ui/ink';
import type { Overlays } from './overlays';
import type { Stage } from './stage';
import { useForces } from './use-forces';

const NONE: readonly ViolationRow[] = [];
/** Limits that are passed at the time shown. */
export function usePassed(): readonly ViolationRow[] {
  const violations = useReadings((s) => s.violations),
    of = useReadings((s) => s.run);
  const now = useRuns((s) =>
    s.view !== 'run' || s.current !== of
      ? ''
      : violations.flatMap((v, i) => (s.time >= v.from - 1e-9 && s.time <= v.to + 1e-9 ? [i] : [])).join(),
  );
  return useMemo(() => (now === '' ? NONE : now.split(',').flatMap((i) => violations[Number(i)] ?? [])), [now, violations]);
}

/** Brings what a scene shows besides the machine when there is something of it, and keeps it up with the run. */
export function useOverlaysIn(stage: RefObject<Stage | null>, picture: Picture | undefined): void {
  const wanted = useOverlays();
  const chosen = useDocument((s) => (s.selected?.family === 'gauges' ? s.selected.name : undefined));
  const known = useDocument((s) => s.gauges);
  const passed = usePassed();
  const signs = useMemo(
    () => [chosen, ...passed.map((v) => v.gauge)].flatMap((n) => known.find((g) => g.name === n)?.sign ?? []),
    [chosen, known, passed],
  );
  const current = useRuns((s) => s.current);
  const mode = useRuns((s) => s.view);
  const track = useRuns((s) => (s.current ? s.tracks.get(s.current) : undefined));
  const tracks = useRuns((s) => s.tracks);
  const overlaid = useRuns((s) => s.overlaid);
  const shows = useRef<{ of: Picture; made: Overlays }>(undefined);
  const [ready, setReady] = useState(0);
  const any = (anyOverlay(wanted) && mode === 'run') || signs.length > 0;

  const count = useRuns((s) => (s.current ? (s.readable.get(s.current) ?? 0) : 0));
  const force = useForces(wanted.forces && mode === 'run', current, track, count, picture, shows, ready);

  useEffect(() => {
    if (!any || !picture || !stage.current) {
      shows.current?.made.dispose();
      shows.current = undefined;
      return;
    }
    if (shows.current?.of === picture) return;
    let left = false;
    void import('./overlays').then(({ Overlays: Made }) => {
      if (left || !stage.current) return;
      shows.current?.made.dispose();
      shows.current = {
        of: picture,
        made: new Made(stage.current, picture, {
          force: token('accent'),
          load: token('ink'),
          speed: token('calm'),
          path: token('ink'),
          sign: token('accent'),
        }),
      };
      setReady((n) => n + 1);
    });
    return () => {
      left = true;
    };
  }, [any, picture, stage]);
  useEffect(
    () => () => {
      shows.current?.made.dispose();
      shows.current = undefined;
    },
    [],
  );

  const run = mode === 'run';
  const ghosts = useMemo(
    () =>
      !run || !track
        ? []
        : wanted.ghosts.map((t) => {
            const out = new Float64Array(7 * (picture?.bodies.length ?? 0));
            track.at(t, out);
            return out;
          }),
    [run, track, wanted.ghosts, picture],
  );
  const others = useMemo(
    () =>
      run && wanted.others
        ? overlaid.flatMap((id) => {
            const t = tracks.get(id);
            return t && t.bodies === picture?.bodies.length ? [t] : [];
          })
        : [],
    [run, wanted.others, overlaid, tracks, picture],
  );
  useEffect(() => {
    const s = shows.current?.made;
    if (!s) return;
    s.set(
      { ghosts, others, paths: run ? wanted.paths : [], force, speeds: run && wanted.speeds, scale: wanted.scale, signs },
      run ? track : undefined,
    );
    s.at(useRuns.getState().time);
    return useRuns.subscribe((now, before) => {
      if (now.time !== before.time) shows.current?.made.at(now.time);
    });
  }, [ready, ghosts, others, wanted, force, signs, run, track]);
}
