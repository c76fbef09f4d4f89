/** What of a model that has a part in its motion is not as it was when a run was made. */
import { FAMILIES, type Family, type Model, type RawElement, kindOf, onlyReads } from '@vim-pivot/core/page';

const texts = new WeakMap<object, string>();
/** What elements say of the motion, written out once: an edit makes new lists. Notes and colours say nothing of it. */
function written(family: Family, list: readonly RawElement[]): string {
  let text = texts.get(list);
  if (text === undefined) {
    const says = (e: RawElement) =>
      Object.entries(e).filter(([key]) => key !== 'note' && kindOf(family, e)?.fields[key]?.type !== 'colour');
    texts.set(list, (text = JSON.stringify(list.map(says))));
  }
  return text;
}

/**
 * Labels of the families that differ. What only reads a run is left out, unless the motion depends on it: gauges named in loads, drives or joints,
 * limits that stop.
 */
export function changedSince(run: Model, now: Model): string[] {
  const moving = FAMILIES.filter((f) => !onlyReads(f.key));
  const differ: string[] = moving
    .filter((f) => run[f.key] !== now[f.key] && written(f.key, run[f.key]) !== written(f.key, now[f.key]))
    .map((f) => f.label);
  const asked = (m: Model) => {
    const text = moving.map((f) => written(f.key, m[f.key])).join(' ');
    return m.gauges.filter((g) => text.includes(g.name));
  };
  if (run.gauges !== now.gauges && written('gauges', asked(run)) !== written('gauges', asked(now))) differ.push('Gauges');
  const stops = (m: Model) => m.limits.filter((l) => l.then === 'stop');
  if (run.limits !== now.limits && written('limits', stops(run)) !== written('limits', stops(now))) differ.push('Limits');
  if (run.run !== now.run && JSON.stringify(run.run) !== JSON.stringify(now.run)) differ.push('Run settings');
  return differ;
}
