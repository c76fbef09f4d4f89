/** Edges and faces picked on the shapes: places and axes to measure from, and to put points and joints on. */
import { create } from 'zustand';
import type { MeshEdge, MeshFace } from '@vim-pivot/core';
import { useDocument } from '../document/document';

export interface PickedPlace {
  what: 'edge' | 'face' | 'end';
  type: MeshEdge['type'] | MeshFace['type'] | 'end';
  shape: string;
  /** Body index in the picture; −1 the ground. */
  body: number;
  /** Relative to the body's centre of mass in its axes, m. */
  at: [number, number, number];
  axis?: [number, number, number];
  radius?: number;
  hollow?: boolean;
  length?: number;
  area?: number;
  /** How it is lit: corners of a line, or of triangles. */
  line?: readonly number[];
  sheet?: Float32Array;
}

export const usePlaces = create<{ picked: readonly PickedPlace[] }>(() => ({ picked: [] }));

// places are of the shapes as they were, and go when something else is picked instead
useDocument.subscribe((now, before) => {
  if (
    usePlaces.getState().picked.length > 0 &&
    (now.model !== before.model || now.id !== before.id || (now.picked !== before.picked && now.picked.length < 2))
  )
    usePlaces.setState({ picked: [] });
});

/** Whether two are the same place. */
export const alike = (a: PickedPlace, b: PickedPlace) =>
  a.shape === b.shape && a.what === b.what && a.type === b.type && a.at.every((x, k) => Math.abs(x - b.at[k]!) < 1e-9);

export function pickPlace(p: PickedPlace, also: boolean): void {
  const { picked } = usePlaces.getState();
  const rest = picked.filter((x) => !alike(x, p));
  usePlaces.setState({ picked: !also ? [p] : rest.length < picked.length ? rest : [...picked, p] });
}
export const forgetPlaces = (): void => {
  if (usePlaces.getState().picked.length > 0) usePlaces.setState({ picked: [] });
};

/** What it is, in words. */
export function wordsOf(p: PickedPlace): string {
  switch (p.type) {
    case 'circle':
      return 'circular edge';
    case 'arc':
      return 'arc';
    case 'straight':
      return 'straight edge';
    case 'curve':
      return 'curved edge';
    case 'plane':
      return 'flat face';
    case 'cylinder':
      return p.hollow ? 'hole' : 'round face';
    case 'sphere':
      return 'spherical face';
    case 'end':
      return 'corner';
    case 'other':
      return 'curved face';
  }
}
