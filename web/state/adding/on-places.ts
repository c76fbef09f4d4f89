/** Points and joints put on edges and faces, as one undo step each. */
import type { Kind, Model, RawElement } from '@vim-pivot/core/page';
import { edit, select, useDocument } from '../document/document';
import { freeName } from '../document/elements';
import { type PickedPlace, forgetPlaces } from '../scene/places';
import { useDisplayed } from '../scene/displayed';

const mm = (x: number): string | number => {
  const v = Number((1000 * x).toFixed(5));
  return v === 0 ? 0 : `${v} mm`;
};
const direction = (a: readonly number[]): number[] => a.map((x) => Number(x.toFixed(9)) + 0);

/** The point of a place: in the axes of its body, so that it stays on the shape. */
function pointOf(p: PickedPlace, body: string, model: Model, name: string): RawElement {
  const centre = useDisplayed.getState().picture?.centres[p.body] ?? [0, 0, 0];
  return { name, ...(body === model.ground ? {} : { body }), at: p.at.map((x, k) => mm(x + centre[k]!)) };
}

export function addPointAt(p: PickedPlace, body: string): void {
  const { model } = useDocument.getState();
  if (!model) return;
  const name = freeName('points', `${body} ${p.type === 'end' ? 'corner' : p.radius ? 'centre' : 'middle'}`, model);
  edit(`Add ${name}`, (m) => {
    m.points.push(pointOf(p, body, model, name));
  });
  forgetPlaces();
  select({ family: 'points', name });
}

/** A joint of two bodies at a place and, where it has one, along its axis. */
export function addAxisJoint(kind: Kind, bodies: [string, string], p: PickedPlace, body: string): void {
  const { model } = useDocument.getState();
  if (!model) return;
  const point = freeName('points', `${body} ${p.radius ? 'centre' : 'place'}`, model);
  const name = freeName('joints', kind.label, model);
  edit(`Add ${name}`, (m) => {
    m.points.push(pointOf(p, body, model, point));
    m.joints.push({
      name,
      kind: kind.kind,
      bodies,
      at: [point],
      ...('axis' in kind.fields && p.axis ? { axis: direction(p.axis), ...(body === model.ground ? {} : { axisIn: body }) } : {}),
    });
  });
  forgetPlaces();
  select({ family: 'joints', name });
}
