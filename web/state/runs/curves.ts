/** Curves of gauges over runs: read in the worker, grown while a run goes on, read again when a gauge changes. */
import { useEffect, useState } from 'react';
import type { Diagnosis, Dimension, Model } from '@vim-pivot/core';
import { runWorker } from '../../workers/client';
import { useRuns } from './runs';

export interface ReadCurve {
  gauge: string;
  dim: Dimension;
  unit: string;
  positive: string;
  time: Float64Array;
  values: Float64Array;
}

export interface Curves {
  /** The run they are of: for a moment the one shown before, until the first records of a new one are read. */
  run: string | undefined;
  curves: ReadCurve[];
  failures: Diagnosis[];
}

const joined = (a: Float64Array, b: Float64Array): Float64Array => {
  const out = new Float64Array(a.length + b.length);
  out.set(a);
  out.set(b, a.length);
  return out;
};

const EMPTY: Curves = { run: undefined, curves: [], failures: [] };

/** @param gauges names in the model as it is */
export function useCurves(run: string | undefined, model: Model | undefined, gauges: readonly string[]): Curves {
  const [state, setState] = useState<{ key: string; definitions: string; curves: Curves }>({ key: '', definitions: '', curves: EMPTY });
  const loaded = useRuns((s) => (run ? s.tracks.has(run) : false));
  const count = useRuns((s) => (run ? (s.readable.get(run) ?? 0) : 0));
  const definitions = JSON.stringify((model?.gauges ?? []).filter((g) => gauges.includes(g.name)));
  const key = `${run}|${definitions}`;

  useEffect(() => {
    if (!run || !model || !loaded || count === 0 || gauges.length === 0) return;
    let stopped = false;
    const have = state.key === key ? (state.curves.curves[0]?.time.length ?? 0) : 0;
    if (have >= count) return;
    void runWorker()
      .ask({ type: 'read', run, now: model, gauges: [...gauges], from: have }, 'read')
      .then((r) => {
        if (stopped) return;
        const before = r.from > 0 ? state.curves.curves : [];
        const curves = r.curves.map((c, i): ReadCurve => {
          const b = before[i];
          return {
            gauge: c.gauge,
            dim: c.dim,
            unit: c.unit,
            positive: c.positive,
            time: b ? joined(b.time, r.time) : r.time,
            values: b ? joined(b.values, c.values) : c.values,
          };
        });
        setState({ key, definitions, curves: { run, curves, failures: r.failures } });
      })
      .catch(() => undefined);
    return () => {
      stopped = true;
    };
    // `state` is what was read so far; reading again is triggered by records and definitions alone.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key, loaded, count]);

  return run && (state.definitions === definitions || state.curves.run === run) ? state.curves : EMPTY;
}
