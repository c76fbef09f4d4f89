import { useMemo } from 'react';
import { type Curves, useCurves } from '@/state/runs/curves';
import { useDocument } from '@/state/document/document';
import { nameOfRun } from '@/state/runs/run-names';
import { useRuns } from '@/state/runs/runs';

export interface RunCurves {
  run: string;
  label: string;
  curves: Curves['curves'];
}

/** All that the tiles of a sheet read, read once for all of them. */
export interface SheetReads {
  /** The run shown, then those overlaid. */
  runs: readonly RunCurves[];
  baseline: RunCurves | undefined;
  failures: readonly string[];
}

export function useSheetReads(gauges: readonly string[]): SheetReads {
  const model = useDocument((s) => s.model);
  const current = useRuns((s) => s.current);
  const [a, b, c] = useRuns((s) => s.overlaid);
  const list = useRuns((s) => s.runs);
  const base = list.find((r) => r.baseline)?.id;
  const main = useCurves(current, model, gauges),
    one = useCurves(a, model, gauges),
    two = useCurves(b, model, gauges),
    three = useCurves(c, model, gauges),
    zero = useCurves(base, model, gauges);
  const labels = JSON.stringify([main.run ?? current, a, b, c, base].map((id) => nameOfRun(list, id)));
  return useMemo(() => {
    const names = JSON.parse(labels) as string[];
    const runs = [main, one, two, three].flatMap((x, i): RunCurves[] =>
      x.run !== undefined && x.curves.length > 0 ? [{ run: x.run, label: names[i]!, curves: x.curves }] : [],
    );
    return {
      runs,
      baseline: zero.run !== undefined && zero.curves.length > 0 ? { run: zero.run, label: names[4]!, curves: zero.curves } : undefined,
      failures: main.failures.map((d) => `${d.element?.name ?? ''}: ${d.message}`),
    };
  }, [main, one, two, three, zero, labels]);
}
