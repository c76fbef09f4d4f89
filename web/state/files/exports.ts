/** Files of the project that is open: its package, its curves, its robot description. */
import { type Model, Refusal } from '@vim-pivot/core/page';
import { runWorker } from '@/workers/client';
import { useDocument } from '../document/document';
import { download, fileName } from './download';
import { fetchRun, useRuns } from '../runs/runs';

export async function packed(id: string, name: string): Promise<void> {
  const { PROJECT_FILE, packProject } = await import('./archive');
  download(`${name}${PROJECT_FILE}`, await packProject(id, true), 'application/zip');
}

export async function exportUrdf(model: Model): Promise<void> {
  try {
    const { text, left } = await runWorker().ask({ type: 'write-urdf', model }, 'write-urdf');
    download(`${fileName(model.name)}.urdf`, text, 'application/xml');
    if (left.length > 0) useDocument.setState({ notices: left });
  } catch (e) {
    if (!(e instanceof Refusal)) throw e;
    useDocument.setState({ notices: e.diagnoses });
  }
}

export async function exportCurves(model: Model): Promise<void> {
  const { current } = useRuns.getState();
  if (!current) return;
  await fetchRun(current);
  const { writeCsv } = await import('@vim-pivot/core/csv');
  const gauges = model.gauges.filter((g) => !g.off).map((g) => g.name);
  const r = await runWorker().ask({ type: 'read', run: current, now: model, gauges, from: 0 }, 'read');
  download(
    `${fileName(model.name)}.csv`,
    writeCsv(
      r.time,
      r.curves.map((c) => ({ name: c.gauge, dim: c.dim, unit: c.unit, values: c.values })),
    ),
    'text/csv',
  );
}
