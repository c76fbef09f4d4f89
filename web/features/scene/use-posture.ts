/** The posture shown: of the model, of the hand that drags, of a motion looked at, or of the run at the time cursor. */
import { type RefObject, useEffect } from 'react';
import { useRuns } from '@/state/runs/runs';
import { useDisplayed } from '@/state/scene/displayed';
import { postureAt, useDrag, useMotion } from '@/state/scene/motion';
import type { Picture } from '@/workers/protocol';
import type { Stage } from './stage';

/** Followed outside React: it changes with every frame. @param recorded bodies of the run that is shown */
export function usePosture(stage: RefObject<Stage | null>, picture: Picture | undefined, recorded: number | undefined): void {
  const current = useRuns((s) => s.current);
  useEffect(() => {
    const out = new Float64Array(7 * (picture?.bodies.length ?? 0));
    const pose = () => {
      if (!picture) return;
      const posture = postureNow(picture, recorded, out);
      stage.current?.pose(posture);
      useDisplayed.getState().follow(posture);
    };
    pose();
    const leave = [
      useMotion.subscribe((now, before) => {
        if (now.shown !== before.shown || now.frame !== before.frame || now.amplitude !== before.amplitude) pose();
      }),
      useDrag.subscribe(pose),
      useRuns.subscribe((now, before) => {
        if (now.time !== before.time || now.view !== before.view || now.current !== before.current || now.tracks !== before.tracks) pose();
      }),
    ];
    return () => leave.forEach((off) => off());
  }, [stage, picture, current, recorded]);
}

function postureNow({ bodies, posture }: Picture, recorded: number | undefined, out: Float64Array): Float64Array {
  const dragged = useDrag.getState().posture;
  if (dragged && dragged.length === 7 * bodies.length) return dragged;
  const motion = useMotion.getState();
  if (motion.shown && bodies.length * 7 <= motion.shown.frames.length) return postureAt(motion.shown, bodies.length, motion.frame);
  const runs = useRuns.getState();
  const track = runs.current ? runs.tracks.get(runs.current) : undefined;
  if (runs.view !== 'run' || !track || track.count === 0 || recorded !== bodies.length) return posture;
  track.at(runs.time, out);
  return out;
}

/** Instants at which a whole motion is looked at when it is fitted. */
const INSTANTS = 200;
/** Postures through a run, evenly in time. */
export function* reached(run: string): Generator<Float64Array> {
  const track = useRuns.getState().tracks.get(run);
  if (!track) return;
  const posture = new Float64Array(7 * track.bodies);
  for (let k = 0; k <= INSTANTS; k++) {
    track.at((track.end * k) / INSTANTS, posture);
    yield posture;
  }
}
