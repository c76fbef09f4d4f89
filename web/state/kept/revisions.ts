/** Going back to earlier states, and how much room the browser gives. */
import { complete } from '@vim-pivot/core/page';
import { type RevisionRow, db } from './db';
import { replaceWhole } from '../document/document';
import { isSound } from './sound';

/** The latest first. */
export const revisionsOf = async (project: string): Promise<RevisionRow[]> =>
  (await db.revisions.where('project').equals(project).sortBy('made')).reverse();

/** Makes an earlier state the present one, as one undo step. */
export function goBackTo(r: RevisionRow): void {
  if (isSound(r.model)) replaceWhole('Go back to a revision', () => complete(r.model), undefined);
}

/** Bytes used and allowed; zeros when the browser does not tell. */
export async function storageUse(): Promise<{ used: number; quota: number }> {
  const e = await navigator.storage?.estimate?.();
  return { used: e?.usage ?? 0, quota: e?.quota ?? 0 };
}
