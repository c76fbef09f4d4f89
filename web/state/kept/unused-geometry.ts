import { db } from './db';

/**
 * Geometry that no project, run, revision or edit of this session refers to is let go.
 * @param open gives what is open, and what may come back by undo
 */
export async function dropUnusedGeometry(open: () => unknown): Promise<void> {
  const names = new Set(await db.geometries.toCollection().primaryKeys());
  const spare = (what: unknown) => {
    if (names.size === 0) return;
    const text = JSON.stringify(what) ?? '';
    for (const n of names) if (text.includes(n)) names.delete(n);
  };
  await db.projects.each((r) => spare(r.model as unknown));
  await db.runs.each((r) => spare(r.model));
  await db.revisions.each((r) => spare(r.model));
  await db.kits.each((r) => spare(r.kits));
  spare(open());
  await db.geometries.bulkDelete([...names]);
}
