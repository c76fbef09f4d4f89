/** The pointer in the scene: what lies under it, what it drags, what a click means. */
import { useRef, useState } from 'react';
import { type Selected, pickAlso, select, useDocument } from '@/state/document/document';
import { type PickedPlace, forgetPlaces, pickPlace, usePlaces, wordsOf } from '@/state/scene/places';
import type { Picture } from '@/workers/protocol';
import type { OnStage } from './use-stage';

const drag = () => import('@/state/scene/drag');
const NONE: ReadonlySet<number> = new Set();
/** Pointers that move less are clicks, and drag nothing yet, CSS pixels. */
const CLICK = 4;
const PULL = 3;

export interface At {
  x: number;
  y: number;
}

interface Settings {
  compact: boolean;
  /** A sheet lies over the scene: bodies answer as a whole. */
  sketching: boolean;
  onMenu: (menu: At & { on: Selected | undefined }) => void;
}

export function usePointing({ canvas, stage, tools }: OnStage, picture: Picture | undefined, { compact, sketching, onMenu }: Settings) {
  const picked = useDocument((s) => s.picked);
  const model = useDocument((s) => s.model);
  const places = usePlaces((s) => s.picked);
  /** What lies under the pointer, in words. */
  const [label, setLabel] = useState<At & { text: string }>();
  const down = useRef<At>(null);
  const dragging = useRef<{ body: number; at: [number, number, number] }>(undefined);

  const at = (e: React.PointerEvent | React.MouseEvent): At => {
    const box = canvas.current!.getBoundingClientRect();
    return { x: e.clientX - box.left, y: e.clientY - box.top };
  };
  const moved = (p: At, far: number): boolean => !!down.current && Math.hypot(p.x - down.current.x, p.y - down.current.y) > far;
  const { felt, feel, under } = useUnder({ stage, tools }, picture, compact);

  /** A click. @param also picks further */
  const press = (p: At, also: boolean): void => {
    if (tools.current?.mover.busy) return;
    const place = sketching ? undefined : feel(p);
    if (place) return pickPlace(place, also);
    if (!also) forgetPlaces();
    // a second click on a joint goes to the point under it
    const only = picked.length === 1 && picked[0]!.family === 'joints' ? picked[0]!.name : undefined;
    const first = under(p);
    const beneath = first?.family === 'joints' && first.name === only ? under(p, true) : undefined;
    const hit = beneath?.family === 'points' ? beneath : first;
    if (!hit) select(undefined);
    else (also ? pickAlso : select)(hit);
  };
  const menuAt = (p: At): void => {
    const on = under(p);
    if (on && !picked.some((q) => q.family === on.family && q.name === on.name)) select(on);
    onMenu({ ...p, on });
  };

  /** A selected body is dragged, anything else turns the view. */
  const takeHold = (e: React.PointerEvent<HTMLCanvasElement>, p: At): void => {
    const hold = stage.current?.hold(p.x, p.y);
    if (!hold || !picture || !picked.some((x) => x.family === 'bodies' && x.name === picture.bodies[hold.body])) return;
    dragging.current = hold;
    stage.current?.steady(true);
    e.currentTarget.setPointerCapture(e.pointerId);
    void drag().then((d) => d.grab());
  };
  const pull = (e: React.PointerEvent, p: At): void => {
    if (label) setLabel(undefined);
    const hold = dragging.current;
    if (!hold) return tools.current?.mover.drag(p.x, p.y, e.altKey);
    const to = stage.current?.reach(p.x, p.y);
    if (to && moved(p, PULL)) void drag().then((d) => d.pullTo({ ...hold, to }));
  };
  const pointAt = (p: At): void => {
    const place = feel(p);
    tools.current?.edgePicker.light(place, places);
    const hit = under(p);
    const text = place ? placeWords(place) : hit?.family === 'shapes' ? model?.ground : hit?.name;
    setLabel(text ? { text, ...p } : undefined);
  };

  const handlers = {
    onPointerDown: (e: React.PointerEvent<HTMLCanvasElement>) => {
      const p = (down.current = at(e));
      if (e.button !== 0 || compact || e.shiftKey || e.ctrlKey) return;
      if (tools.current?.mover.grab(p.x, p.y)) e.currentTarget.setPointerCapture(e.pointerId);
      else if (!tools.current?.mover.busy) takeHold(e, p);
    },
    onPointerUp: () => {
      if (dragging.current) stage.current?.steady(false);
      dragging.current = undefined;
      tools.current?.mover.drop();
    },
    onPointerMove: (e: React.PointerEvent) => (e.buttons ? pull(e, at(e)) : pointAt(at(e))),
    onPointerLeave: () => setLabel(undefined),
    onContextMenu: (e: React.MouseEvent) => {
      e.preventDefault();
      const p = at(e);
      if (!compact && !moved(p, CLICK)) menuAt(p);
    },
    onClick: (e: React.MouseEvent) => {
      const p = at(e);
      if (!moved(p, CLICK)) press(p, e.shiftKey || e.ctrlKey || e.metaKey);
    },
  };
  return { handlers, label, felt, press, menuAt };
}

const placeWords = (place: PickedPlace): string =>
  `${wordsOf(place)}${place.radius ? `, radius ${Number((1000 * place.radius).toFixed(3))} mm` : ''}`;

/** What lies under a place of the scene. */
function useUnder({ stage, tools }: Pick<OnStage, 'stage' | 'tools'>, picture: Picture | undefined, compact: boolean) {
  const picked = useDocument((s) => s.picked);
  const model = useDocument((s) => s.model);
  const places = usePlaces((s) => s.picked);
  /** Bodies whose edges and faces answer: those that are picked. */
  const felt = (): ReadonlySet<number> =>
    compact || !picture
      ? NONE
      : new Set([
          ...picked.filter((p) => p.family === 'bodies').map((p) => picture.bodies.indexOf(p.name)),
          ...places.map((p) => p.body),
          ...(picked.some((p) => p.family === 'shapes') ? [-1] : []),
        ]);
  /** An edge or a face of them. */
  const feel = (p: At): PickedPlace | undefined => {
    const bodies = felt();
    return bodies.size > 0 && tools.current && !tools.current.mover.busy ? tools.current.edgePicker.feel(p.x, p.y, bodies) : undefined;
  };
  /** @param beneath what lies under a joint, not the joint */
  const under = (p: At, beneath = false): Selected | undefined => {
    const hit = stage.current?.pick(p.x, p.y, beneath);
    if (!hit) return undefined;
    // a joint that an instance brings has no Card of its own: the point it is at is meant
    if ('joint' in hit && !beneath && !model?.joints.some((j) => j.name === hit.joint)) {
      const point = under(p, true);
      if (point?.family === 'points') return point;
    }
    if ('joint' in hit) return { family: 'joints', name: hit.joint };
    if ('point' in hit) return { family: 'points', name: hit.point };
    const name = picture?.bodies[hit.body];
    return name ? { family: 'bodies', name } : hit.shape ? { family: 'shapes', name: hit.shape } : undefined;
  };
  return { felt, feel, under };
}
