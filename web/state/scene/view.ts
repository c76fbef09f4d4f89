/** How the scene is looked at: kept for each project in this browser, not in its file, and not undone. */
import { create } from 'zustand';
import type { Family } from '@vim-pivot/core/page';
import { useDocument } from '../document/document';

export type AxisName = 'x' | 'y' | 'z';

export interface Look {
  style: 'solid' | 'skeleton';
  lens: 'parallel' | 'perspective';
  /** Names of bodies; the ground is the empty name. */
  hidden: readonly string[];
  clear: readonly string[];
  /** A section: what lies beyond a plane square to an axis (at a coordinate, m) is taken away; `flip` takes the other side. */
  cut?: { axis: AxisName; at: number; flip: boolean } | undefined;
  /** Families whose names are always shown. */
  labels: readonly Family[];
}

const PLAIN: Look = { style: 'solid', lens: 'parallel', hidden: [], clear: [], labels: [] };
export const useView = create<Look>(() => PLAIN);

const slot = (project: string) => `view:${project}`;
useDocument.subscribe((now, before) => {
  if (now.id === before.id || !now.id) return;
  let kept: Partial<Look> = {};
  try {
    kept = JSON.parse(localStorage.getItem(slot(now.id)) ?? '{}') as Partial<Look>;
  } catch {
    // an unreadable view is no view
  }
  useView.setState({ ...PLAIN, cut: undefined, ...kept }, true);
});

export function look(change: Partial<Look>): void {
  useView.setState(change);
  const { id } = useDocument.getState();
  if (id) localStorage.setItem(slot(id), JSON.stringify(useView.getState()));
}

const toggled = (list: readonly string[], name: string) => (list.includes(name) ? list.filter((n) => n !== name) : [...list, name]);
export const toggleHidden = (body: string): void => look({ hidden: toggled(useView.getState().hidden, body) });
export const toggleClear = (body: string): void => look({ clear: toggled(useView.getState().clear, body) });
/** Hides all bodies but the given ones; again shows all. */
export function isolate(bodies: readonly string[]): void {
  const { model } = useDocument.getState();
  const rest = ['', ...(model?.bodies.map((b) => b.name) ?? [])].filter((n) => !bodies.includes(n));
  const { hidden } = useView.getState();
  look({ hidden: rest.length === hidden.length && rest.every((n) => hidden.includes(n)) ? [] : rest });
}
export const showAll = (): void => look({ hidden: [], clear: [] });
