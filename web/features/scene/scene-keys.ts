/** Keys in the scene: arrows turn the view or, with Alt, move what has handles; plus and minus zoom; E goes through edges and faces. */
import type { Selected } from '@/state/document/document';
import { type PickedPlace, pickPlace } from '@/state/scene/places';
import type { Stage, Up } from './stage';
import type { Tools } from './use-stage';

export interface InScene {
  stage: Stage | null;
  tools: Tools | null;
  up: Up;
  felt: ReadonlySet<number>;
  places: readonly PickedPlace[];
  picked: readonly Selected[];
  /** @param motion all that the machine reaches in the run */
  fit: (motion: boolean) => void;
  onMenu: (menu: { x: number; y: number; on: Selected | undefined }) => void;
}

const TURN: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-0.15, 0],
  ArrowRight: [0.15, 0],
  ArrowUp: [0, 0.15],
  ArrowDown: [0, -0.15],
};

/** Axis and sense in which an arrow or page key moves something. */
function stepOf(key: string, up: Up): readonly [axis: number, sense: 1 | -1] | undefined {
  const upward = 'xyz'.indexOf(up),
    across = upward === 0 ? 1 : 0,
    third = 3 - upward - across;
  return (
    {
      ArrowLeft: [across, -1],
      ArrowRight: [across, 1],
      ArrowDown: [upward, -1],
      ArrowUp: [upward, 1],
      PageDown: [third, -1],
      PageUp: [third, 1],
    } as const
  )[key as 'ArrowUp'];
}

export function sceneKey(e: React.KeyboardEvent, on: InScene): void {
  if (act(e, on)) e.preventDefault();
}

/** @returns whether the key meant something */
function act(e: React.KeyboardEvent, { stage, tools, up, felt, places, picked, fit, onMenu }: InScene): boolean {
  const plain = !e.ctrlKey && !e.metaKey,
    key = e.key.toLowerCase();
  const step = e.altKey ? stepOf(e.key, up) : undefined,
    turn = TURN[e.key];
  if (step) tools?.mover.nudge(step[0], step[1]);
  else if (key === 'e' && plain && felt.size > 0)
    void tools?.edgePicker.next(felt, places.at(-1), e.shiftKey).then((p) => p && pickPlace(p, false));
  else if (turn) stage?.turn(turn[0], turn[1]);
  else if (e.key === '+' || e.key === '=') stage?.zoom(1.2);
  else if (e.key === '-') stage?.zoom(1 / 1.2);
  else if (key === 'f' && plain) fit(e.shiftKey);
  else if (e.key === 'ContextMenu' || (e.key === 'F10' && e.shiftKey)) onMenu({ x: 40, y: 60, on: picked.at(-1) });
  else return false;
  return true;
}
