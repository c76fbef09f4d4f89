/** A project with its runs and geometry as one file, out and in. */
import { type Diagnosis, Refusal, complete, geometriesOf } from '@vim-pivot/core/page';
import { runWorker } from '../../workers/client';
import { chunksOf, db, keepParts } from '../kept/db';
import { addProject, useDocument } from '../document/document';
import { isSoundRun, showRunsOf } from '../runs/runs';
import { keeping } from '../kept/storage';
import { posturesOf } from '../runs/track';

export const PROJECT_FILE = '.pivot.zip';

/** @param withRuns the recorded states of its runs too */
export async function packProject(id: string, withRuns: boolean): Promise<Blob> {
  const open = useDocument.getState(),
    row = await db.projects.get(id);
  // the open one can be exported even if the store has no room for it
  if (!row && open.id !== id)
    throw new Refusal([{ code: 'project-missing', severity: 'error', message: 'This project is not kept here any more.' }]);
  const model = open.id === id ? open.whole! : complete(row!.model);
  const runs = withRuns
    ? (await db.runs.where('project').equals(id).sortBy('number')).filter((r) => r.status !== 'running' && isSoundRun(r))
    : [];
  const packed = await Promise.all(
    runs.map(
      async ({
        number,
        made,
        model: own,
        until,
        reached,
        records,
        status,
        seconds,
        diagnoses,
        label,
        note,
        pinned,
        baseline,
        kit,
        layout,
        id: run,
      }) => {
        const chunks = await chunksOf(run);
        const data = new Float64Array(chunks.reduce((n, c) => n + c.length, 0));
        let at = 0;
        for (const c of chunks) {
          data.set(c, at);
          at += c.length;
        }
        return {
          number,
          made,
          model: complete(own),
          until,
          reached,
          records,
          status: status as 'done',
          seconds,
          diagnoses,
          data,
          ...(label ? { label } : {}),
          ...(note ? { note } : {}),
          ...(layout.told ? { told: layout.told } : {}),
          ...(pinned ? { pinned } : {}),
          ...(baseline ? { baseline } : {}),
          ...(kit === undefined ? {} : { kit }),
        };
      },
    ),
  );
  const names = [...new Set([model, ...packed.map((r) => r.model)].flatMap(geometriesOf))];
  const geometry = (await db.geometries.bulkGet(names)).flatMap((g) => (g ? [g] : []));
  const { bytes } = await runWorker().ask(
    { type: 'pack', packed: { model, runs: packed, geometry } },
    'packed',
    packed.map((r) => r.data.buffer),
  );
  return new Blob([bytes as Uint8Array<ArrayBuffer>], { type: 'application/zip' });
}

/** Opens a project file as another project; nothing is kept before all of it has been read. */
export async function openProjectFile(file: File): Promise<void> {
  try {
    if (file.size > 1e9)
      throw new Refusal([
        { code: 'file-large', severity: 'error', message: 'The file is larger than 1 GB, too large for a project file.' },
      ]);
    const bytes = new Uint8Array(await file.arrayBuffer());
    const { packed, left } = await runWorker().ask({ type: 'unpack', bytes }, 'unpacked', [bytes.buffer]);
    for (const g of packed.geometry) {
      await keeping('Its geometry', () => db.geometries.put(g));
    }
    await addProject(packed.model);
    const project = useDocument.getState().id!;
    for (const { data, told, ...r } of packed.runs) {
      const id = crypto.randomUUID();
      const { layout } = await runWorker().ask(
        { type: 'layout', model: r.model, ...(r.records > 0 ? { width: data.length / r.records, ...(told ? { told } : {}) } : {}) },
        'layout',
      );
      const kept = await keeping(`Run ${r.number}`, () =>
        db.transaction('rw', db.runs, db.chunks, db.postures, async () => {
          await db.runs.add({ ...r, id, project, layout });
          await keepParts(
            inParts(data, layout.width).map((part, index) => ({ run: id, index, data: part, postures: posturesOf(part, layout) })),
          );
        }),
      );
      if (!kept) break;
    }
    await showRunsOf(project);
    if (left.length > 0)
      useDocument.setState({
        notices: [
          note(
            `The project file also held what could not be used: ${left.slice(0, 5).join(', ')}${left.length > 5 ? ` and ${left.length - 5} more` : ''}.`,
          ),
        ],
      });
  } catch (e) {
    if (!(e instanceof Refusal)) throw e;
    useDocument.setState({ refused: { file: file.name, diagnoses: e.diagnoses } });
  }
}

/** Numbers in a part of a run at most. */
const PART = 250_000;
/** Records as parts that are kept and read one by one. @param width numbers a record */
function inParts(data: Float64Array, width: number): Float64Array[] {
  const step = width * Math.max(1, Math.floor(PART / width)),
    parts: Float64Array[] = [];
  for (let i = 0; i < data.length; i += step) parts.push(data.slice(i, i + step));
  return parts;
}

const note = (message: string): Diagnosis => ({ code: 'project-file-parts', severity: 'note', message });
