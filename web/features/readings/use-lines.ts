import { useMemo } from 'react';
import type { Dimension } from '@vim-pivot/core';
import { type ReadCurve, useCurves } from '@/state/runs/curves';
import { useDocument } from '@/state/document/document';
import { useTheme } from '@/state/theme';
import { nameOfRun } from '@/state/runs/run-names';
import { useRuns } from '@/state/runs/runs';
import type { Line } from './chart';

export interface GaugeLines {
  gauge: string;
  dim: Dimension;
  unit: string;
  positive: string;
  lines: Line[];
  current: ReadCurve;
}

const COLOURS = ['var(--color-calm)', '#84618D', '#B56A4A', '#6F8A50'];
const resolve = (c: string) =>
  c.startsWith('var') ? getComputedStyle(document.documentElement).getPropertyValue(c.slice(4, -1)).trim() : c;

/** Lines of gauges: the current run solid, up to three overlaid runs dashed. */
export function useLines(gauges: readonly string[]): { lines: GaugeLines[]; failures: string[] } {
  const model = useDocument((s) => s.model);
  const current = useRuns((s) => s.current);
  const [a, b, c] = useRuns((s) => s.overlaid);
  const runs = useRuns((s) => s.runs);
  const main = useCurves(current, model, gauges);
  const over = [useCurves(a, model, gauges), useCurves(b, model, gauges), useCurves(c, model, gauges)] as const;
  const dark = useTheme((s) => s.dark);
  const labels = [main.run ?? current, a, b, c].map((id) => nameOfRun(runs, id)).join('\n');
  const lines = useMemo(() => {
    const names = labels.split('\n');
    return main.curves.map((curve): GaugeLines => ({
      gauge: curve.gauge,
      dim: curve.dim,
      unit: curve.unit,
      positive: curve.positive,
      current: curve,
      lines: [
        { label: names[0]!, time: curve.time, values: curve.values, dashed: false, colour: resolve(COLOURS[0]!) },
        ...over.flatMap((o, k): Line[] => {
          const same = o.curves.find((x) => x.gauge === curve.gauge);
          return same ? [{ label: names[k + 1]!, time: same.time, values: same.values, dashed: true, colour: COLOURS[k + 1]! }] : [];
        }),
      ],
    }));
    // the arrays of `over` are stable while their contents are
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [main, over[0], over[1], over[2], labels, dark]);
  return { lines, failures: main.failures.map((d) => `${d.element?.name ?? ''}: ${d.message}`) };
}
