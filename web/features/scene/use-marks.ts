/** What is picked is marked in the scene: its bodies, joints and points, its name, handles where it can be moved, edges and faces. */
import { type Model, homeOf } from '@vim-pivot/core/page';
import { useEffect } from 'react';
import { type Selected, useDocument } from '@/state/document/document';
import { useRuns } from '@/state/runs/runs';
import { useDisplayed } from '@/state/scene/displayed';
import { usePlaces } from '@/state/scene/places';
import { useView } from '@/state/scene/view';
import { useTheme } from '@/state/theme';
import type { Picture } from '@/workers/protocol';
import type { OnStage } from './use-stage';

export function useMarks({ stage, tools, ready, bring }: OnStage, picture: Picture | undefined): void {
  const picked = useDocument((s) => s.picked);
  const model = useDocument((s) => s.model);
  // where a run is shown, what is picked stands elsewhere than it is drawn; a point is moved in the axes of its body there, too
  const drawn = useRuns((s) => s.view === 'model');
  const live = useRuns((s) => s.live);
  const theme = useTheme((s) => s.dark);
  const labels = useView((s) => s.labels);
  const places = usePlaces((s) => s.picked);
  const handles = useDisplayed((s) => s.handles);
  useEffect(() => {
    if (picked.length > 0 || labels.length > 0) bring();
  }, [picked, labels, bring]);
  useEffect(() => {
    if (!picture || !model) return;
    const { bodies, joints, points } = marksOf(picked, model, picture);
    stage.current?.mark(bodies, joints, points);
    tools.current?.labels.choose(picked, labels);
    const one = picked.length === 1 && places.length === 0 ? picked[0] : undefined,
      only = one && (drawn || (live && one.family === 'points')) ? one : undefined;
    const movable =
      only && ((only.family === 'points' && model.points.some((p) => p.name === only.name)) || (only.family === 'bodies' && handles))
        ? only
        : undefined;
    tools.current?.mover.show(movable, only?.family === 'bodies' ? (handles ?? 'move') : 'move');
  }, [stage, tools, picked, picture, model, theme, labels, handles, ready, drawn, live, places]);
  useEffect(() => tools.current?.edgePicker.light(undefined, places), [tools, places, ready]);
}

/** Bodies by their index in the picture; joints and points by name. */
function marksOf(picked: readonly Selected[], model: Model, picture: Picture) {
  const bodies = new Set<number>(),
    joints: string[] = [],
    points: string[] = [];
  const add = (name: unknown) => bodies.add(picture.bodies.indexOf(String(name)));
  for (const p of picked) {
    const e = model[p.family].find((x) => x.name === p.name);
    if (p.family === 'instances') picture.bodies.forEach((b, i) => homeOf(model, 'bodies', b)?.name === p.name && bodies.add(i));
    else if (p.family === 'bodies') add(p.name);
    else if (p.family === 'shapes') add(e?.body);
    else if (p.family === 'joints') joints.push(p.name);
    else if (p.family === 'points') points.push(p.name);
    else if (e?.joint) joints.push(String(e.joint));
  }
  bodies.delete(-1);
  return { bodies, joints, points };
}
