/** Keys on the sheet: arrows move the cursor, N goes to the next pin, Space places, Enter confirms, digits are length and angle. */
import { sketch } from '@/state/asking';
import type { Paper } from '@/state/scene/sketch/paper';
import { away } from '@/state/scene/sketch/plane';
import type { Stroke } from './use-stroke';

const ARROWS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};
const toGrid = (x: number, step: number): number => Math.round(x / step) * step;

export function strokeKey(e: React.KeyboardEvent, stroke: Stroke, { anchors }: Paper, step: number): void {
  if (e.ctrlKey || e.metaKey || e.altKey || (e.target as Element).closest('input, button')) return;
  if (!act(e.key, e.shiftKey, stroke, anchors, step)) return;
  e.preventDefault();
  e.stopPropagation();
}

/** @returns whether the key meant something */
function act(key: string, shift: boolean, s: Stroke, anchors: Paper['anchors'], step: number): boolean {
  const { placed, typed, last } = s;
  const here = s.cursor ?? ([0, 0] as const);
  const arrow = ARROWS[key],
    far = (shift ? 5 : 1) * step;
  if (arrow) s.setCursor([toGrid(here[0] + far * arrow[0], step), toGrid(here[1] + far * arrow[1], step)]);
  else if (key === 'Escape') {
    if (placed.length === 0 && !typed) sketch(false);
    else s.drop();
  } else if (key === 'Backspace' && typed) s.setTyped(typed.slice(0, -1));
  else if (key === 'Enter') {
    if (placed.length > 0) s.finish(away(placed.at(-1)!, here) > 1e-9 || typed ? [...placed, here] : placed, typed);
    else if (typed && last) {
      if (s.retype(last.shape, typed)) s.setTyped('');
    } else s.setPlaced([here]);
  } else if (key === ' ' && !typed) s.setPlaced([...placed, here]);
  else if (key.toLowerCase() === 'n' && !typed && anchors.length > 0) {
    const at = anchors.findIndex((a) => away(a.at, here) < 1e-9);
    s.setCursor(anchors[(at + (shift ? anchors.length - 1 : 1)) % anchors.length]!.at);
  } else if (key.toLowerCase() === 'g' && !typed && placed.length === 0) s.bear();
  else if (/^[\d.,\-−+;]$/.test(key) || (typed && key.length === 1)) s.setTyped(typed + key);
  else if (key === 'Tab' && typed) s.setTyped(`${typed}; `);
  else return false;
  return true;
}
