/** Scores, workings and limits of the model, measured in the current run: anew when a run has grown or ended, and when what is asked changes. */
import { runWorker } from '../../workers/client';
import { useDocument } from '../document/document';
import { fetchRun, useRuns } from '../runs/runs';
import { NOTHING, useReadings } from './readings';

let timer: ReturnType<typeof setTimeout> | undefined;
let watching = false;
/** Begins to measure, and goes on with it. */
export function watch(): void {
  if (watching) return;
  watching = true;
  // what changes without pause is measured all the same
  const soon = () => {
    timer ??= setTimeout(() => {
      timer = undefined;
      void measure();
    }, 120);
  };
  useRuns.subscribe((now, before) => {
    if (now.current !== before.current || now.readable !== before.readable || now.running !== before.running) soon();
  });
  useDocument.subscribe((now, before) => {
    if (now.model !== before.model || now.live !== before.live) soon();
  });
  soon();
}

async function measure(): Promise<void> {
  const { model, brought } = useDocument.getState(),
    { current } = useRuns.getState();
  const asks = (['scores', 'limits', 'workings'] as const).some(
    (f) => model?.[f].some((e) => !e.off) === true || (brought[f]?.length ?? 0) > 0,
  );
  if (!model || !current || !asks) {
    if (useReadings.getState().run !== undefined) useReadings.setState(NOTHING);
    return;
  }
  if (current !== useRuns.getState().running) await fetchRun(current);
  const found = await runWorker()
    .ask({ type: 'measure', run: current, now: model }, 'measured')
    .catch(() => undefined);
  if (!found || useRuns.getState().current !== current) return;
  const { scores, workings, limits } = found;
  useReadings.setState({
    scores,
    workings,
    limits,
    violations: limits
      .flatMap((l) => l.passed.map((v) => ({ ...v, limit: l.name, gauge: l.gauge, dim: l.dim!, unit: l.unit! })))
      .sort((a, b) => a.from - b.from),
    run: current,
  });
}
