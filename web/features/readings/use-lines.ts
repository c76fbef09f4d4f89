import { useMemo } from 'react';
import type { Dimension } from '@vim-pivot/core';
import { type ReadCurve, useCurves } from '@/state/curves';
import { useDocument } from '@/state/document';
import { useTheme } from '@/state/theme';
import { useRuns } from '@/state/runs';
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
const resolve = (c: string) => (c.startsWith('var') ? getComputedStyle(document.documentElement).getPropertyValue(c.slice(4, -1)).trim() : c);

/** Lines of gauges: the current run solid, up to three overlaid runs dashed. */
export function useLines(gauges: readonly string[]): { lines: GaugeLines[]; failures: string[] } {
  const model = useDocument((s) => s.model);
  const current = useRuns((s) => s.current);
  const [a, b, c] = useRuns((s) => s.overlaid);
  const runs = useRuns((s) => s.runs);
  const main = useCurves(current, model, gauges);
  const over = [useCurves(a, model, gauges), useCurves(b, model, gauges), useCurves(c, model, gauges)] as const;
  const number = (id: string | undefined) => runs.find((r) => r.id === id)?.number;
  const dark = useTheme((s) => s.dark);
  const numbers = [number(main.run ?? current), number(a), number(b), number(c)].join();
  const lines = useMemo(() => {
    const names = numbers.split(',');
    return main.curves.map((curve): GaugeLines => ({
      gauge: curve.gauge, dim: curve.dim, unit: curve.unit, positive: curve.positive, current: curve,
      lines: [
        { label: `Run ${names[0]}`, time: curve.time, values: curve.values, dashed: false, colour: resolve(COLOURS[0]!) },
        ...over.flatMap((o, k): Line[] => {
          const same = o.curves.find((x) => x.gauge === curve.gauge);
          return same ? [{ label: `Run ${names[k + 1]}`, time: same.time, values: same.values, dashed: true, colour: COLOURS[k + 1]! }] : [];
        }),
      ],
    }));
    // the arrays of `over` are stable while their contents are
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [main, over[0], over[1], over[2], numbers, dark]);
  return { lines, failures: main.failures.map((d) => `${d.element?.name ?? ''}: ${d.message}`) };
}
