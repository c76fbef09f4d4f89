/** Revisions are kept about once a minute of work, so that there is always something to go back to. */
import type { Model } from '@vim-pivot/core/page';
import { db } from './db';

const EVERY = 60_000;
const MOST = 200;
const last = new Map<string, number>();

export async function keepRevision(project: string, label: string, model: Model, now = false): Promise<void> {
  if (!now && Date.now() - (last.get(project) ?? 0) < EVERY) return;
  last.set(project, Date.now());
  await db.revisions.add({ project, made: Date.now(), label, model });
  const keys = await db.revisions.where('project').equals(project).primaryKeys();
  if (keys.length > MOST) await db.revisions.bulkDelete(keys.slice(0, keys.length - MOST));
}
