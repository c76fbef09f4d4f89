import { useEffect, useMemo, useState } from 'react';
import { Matrix4, Quaternion, Vector3 } from 'three';
import { type Layout, add, apply } from '@vim-pivot/core/drawn';
import { Refusal } from '@vim-pivot/core/page';
import { useDocument } from '@/state/document/document';
import { useDrag } from '@/state/scene/motion';
import { drawnLayout } from '@/state/scene/place';
import { type PickedPlace, usePlaces } from '@/state/scene/places';
import { type Paper, paperOf, placeOf } from '@/state/scene/sketch/paper';
import { type SketchPlane, type Spot, type StandardView, depthOf, onSheet, planeOf, planeOn } from '@/state/scene/sketch/plane';
import type { Picture } from '@/workers/protocol';
import { roundEdges } from '../edge-picker';
import type { Stage } from '../stage';

/** The machine as drawn, before assembly: seven numbers a body. What instances bring stays as assembled. */
function drawnPosture(picture: Picture, layout: Layout): Float64Array {
  const posture = picture.posture.slice();
  picture.bodies.forEach((name, i) => {
    let pose;
    try {
      pose = layout.body(name);
    } catch (e) {
      if (!(e instanceof Refusal)) throw e;
      return;
    }
    const t = pose.turn,
      q = new Quaternion().setFromRotationMatrix(
        new Matrix4().set(t[0], t[1], t[2], 0, t[3], t[4], t[5], 0, t[6], t[7], t[8], 0, 0, 0, 0, 1),
      );
    posture.set([...add(pose.origin, apply(t, picture.centres[i]!)), q.w, q.x, q.y, q.z], 7 * i);
  });
  return posture;
}

/** The sheet of a flat face that is picked, where it stands now. */
function planeOfFace(stage: Stage, face: PickedPlace, up: 'x' | 'y' | 'z'): SketchPlane {
  const m = stage.machine!.matrix(face.body),
    at = new Vector3(...face.at).applyMatrix4(m).toArray();
  return planeOn(at, new Vector3(...face.axis!).transformDirection(m).toArray(), up);
}

/** A difference of this share of the machine is seen. */
const SEEN = 1e-3;

/** The sheet that is drawn on and what lies on it; the scene shows the machine as drawn meanwhile. @returns undefined while nothing can be laid out */
export function usePaper(
  stage: Stage,
  view: StandardView | undefined,
): { paper: Paper; layout: Layout; current: boolean; face: boolean; apart: boolean } | undefined {
  const model = useDocument((s) => s.model),
    live = useDocument((s) => s.live),
    checked = useDocument((s) => s.checked),
    picture = useDocument((s) => s.picture);
  const up = model?.up ?? 'z';
  const [face] = useState(() => {
    const one = usePlaces.getState().picked.at(-1);
    return one?.what === 'face' && one.type === 'plane' && one.axis && stage.machine ? planeOfFace(stage, one, up) : undefined;
  });
  const layout = useMemo(() => {
    try {
      return model && drawnLayout(model, live);
    } catch (e) {
      if (!(e instanceof Refusal)) throw e;
      return undefined;
    }
  }, [model, live]);
  // the sheet of a view lies at the depth of the machine as it was found: strokes do not move it
  const [planes] = useState(() => new Map<string, SketchPlane>());
  const key = face && !view ? 'face' : `${view ?? 'front'} ${up}`;
  const plane =
    planes.get(key) ??
    (() => {
      const flat = planeOf(view ?? 'front', up);
      const made =
        face && !view
          ? face
          : planeOf(
              view ?? 'front',
              up,
              layout && model
                ? depthOf(
                    flat,
                    model.points.flatMap((p) => [placeOf(layout, p.name)].filter((x) => x !== undefined)),
                  )
                : 0,
            );
      if (layout) planes.set(key, made);
      return made;
    })();

  useEffect(() => {
    stage.fit(face && !view ? face.normal : (view ?? 'front'));
    stage.stay();
  }, [stage, face, view, up]);

  // where the machine as drawn and as assembled are not the same: the one that is drawn on is shown
  const drawn = useMemo(() => {
    if (!picture || !layout || checked !== model) return undefined;
    const posture = drawnPosture(picture, layout),
      off = posture.reduce((most, x, i) => Math.max(most, Math.abs(x - picture.posture[i]!)), 0);
    return { posture, off, visible: off > SEEN * Math.max(1e-3, picture.size) };
  }, [picture, layout, checked, model]);
  useEffect(() => {
    if (drawn) useDrag.setState({ posture: drawn.off > 1e-9 ? drawn.posture : undefined, moved: false });
  }, [drawn]);
  useEffect(() => () => useDrag.setState({ posture: undefined, moved: false }), []);

  const [rounds, setRounds] = useState<{ body: number; at: readonly number[]; axis: readonly number[] }[]>([]);
  useEffect(() => {
    let over = false;
    void roundEdges(stage)
      .then((r) => !over && setRounds(r))
      .catch(() => undefined); // without holes there is less to draw on
    return () => {
      over = true;
    };
  }, [stage, picture]);

  const paper = useMemo(() => {
    if (!model || !layout) return undefined;
    const holes = rounds.flatMap(({ body, at, axis }): { body: string; at: Spot }[] => {
      const name = body < 0 ? model.ground : picture?.bodies[body],
        { machine } = stage;
      if (!name || !machine || name.includes('/') || body >= machine.picture.bodies.length) return [];
      const m = machine.matrix(body),
        turned = new Vector3(...axis).transformDirection(m).dot(new Vector3(...plane.normal));
      return Math.abs(turned) > 0.999 ? [{ body: name, at: onSheet(plane, new Vector3(...at).applyMatrix4(m).toArray()) }] : [];
    });
    return paperOf(model, layout, plane, holes);
  }, [model, layout, plane, rounds, picture, stage]);
  return paper && layout && { paper, layout, current: checked === model, face: !!face && !view, apart: !!drawn?.visible };
}
