import { type LiveValue, jsonPath } from '@vim-pivot/core/page';
import type { Checked } from '../../workers/protocol';

/** What a formula at fault was worth before stays beside it; a value that was taken away goes. */
export function liveAfter(
  before: ReadonlyMap<string, LiveValue>,
  { live, diagnoses }: Pick<Checked, 'live' | 'diagnoses'>,
): Map<string, LiveValue> {
  const faulty = new Set(diagnoses.flatMap((d) => (d.path ? [jsonPath(d.path)] : [])));
  // where nothing at all could be worked out, all of it stays
  return new Map([...[...before].filter(([path]) => live.length === 0 || faulty.has(path)), ...live]);
}
