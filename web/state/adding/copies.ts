/** Copies of what is picked, as one undo step. */
import { type Bundle, type Model, Refusal, bundleOf } from '@vim-pivot/core/page';
import { type Selected, edit, useDocument } from '../document/document';
import { type Motion, addCopy, hindrance } from './reuse';

/** Adds copies, each by its own motion. @returns why not, when it cannot */
export function makeCopies(picked: readonly Selected[], motions: readonly Motion[], label: string): string | undefined {
  const { model, live } = useDocument.getState();
  if (!model || motions.length === 0) return undefined;
  const bundle = bundleOf(model, picked);
  const why = motions.map((m) => hindrance(model, bundle, m)).find(Boolean);
  if (why) return why;
  const fresh: Selected[] = [];
  try {
    edit(
      motions.length === 1
        ? `Copy ${picked.map((p) => p.name).join(', ')}`
        : `${motions.length} copies of ${picked.map((p) => p.name).join(', ')}`,
      (m: Model) => {
        motions.forEach((motion, i) => {
          const names = addCopy(m, model, live, bundle, motion, motions.length === 1 ? label : `${label} ${i + 1}`);
          if (i === 0) for (const p of picked) fresh.push({ family: p.family, name: names.get(`${p.family}/${p.name}`) ?? p.name });
        });
      },
    );
  } catch (e) {
    if (!(e instanceof Refusal)) throw e;
    return e.message;
  }
  useDocument.setState({ picked: fresh, selected: fresh.at(-1) });
  return undefined;
}

/** What would be copied, in words. */
export function wordsOf(bundle: Bundle): string {
  const parts = (['bodies', 'shapes', 'points', 'joints', 'drives', 'loads', 'gauges'] as const).flatMap((f) => {
    const n = bundle.get(f)!.size;
    return n > 0 ? [`${n} ${f === 'bodies' && n === 1 ? 'body' : n === 1 ? f.slice(0, -1) : f}`] : [];
  });
  return parts.join(', ');
}

let held: { project: string; picked: readonly Selected[] } | undefined;
/** Keeps what is picked in mind for pasting. @returns whether there was anything */
export function copyPicked(): boolean {
  const { picked, id } = useDocument.getState();
  if (picked.length === 0 || !id) return false;
  held = { project: id, picked };
  return true;
}
/** Pastes what was copied, where it stands. */
export function pasteCopied(): string | undefined {
  if (!held || held.project !== useDocument.getState().id) return 'Nothing has been copied here.';
  return makeCopies(held.picked, [{ type: 'shift', by: [0, 0, 0] }], 'copy');
}
