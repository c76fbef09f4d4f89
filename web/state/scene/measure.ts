/** Distances, angles and radii between what is picked, at the posture shown. */
import { Matrix4, Quaternion, Vector3 } from 'three';
import { D, type Dimension } from '@vim-pivot/core/page';
import type { Picture } from '../../workers/protocol';
import type { Selected } from '../document/document';
import type { PickedPlace } from './places';

/** Something with a place in space, and perhaps a direction. */
export interface Located {
  label: string;
  at: Vector3;
  axis?: Vector3;
  /** A normal of a plane rather than a line. */
  flat?: boolean;
  radius?: number;
  /** A place alone, with no extent. */
  spot: boolean;
}

export interface Measure {
  label: string;
  value: number;
  dim: Dimension;
}

const poseOf = (posture: Float64Array, body: number): Matrix4 => {
  const m = new Matrix4();
  if (body < 0) return m;
  const o = 7 * body;
  return m.compose(
    new Vector3(posture[o], posture[o + 1], posture[o + 2]),
    new Quaternion(posture[o + 4], posture[o + 5], posture[o + 6], posture[o + 3]),
    new Vector3(1, 1, 1),
  );
};

/** Where what is picked is now. Bodies stand for their centres of mass. */
export function locate(
  picture: Picture,
  posture: Float64Array,
  picked: readonly Selected[],
  places: readonly PickedPlace[],
  words: (p: PickedPlace) => string,
): Located[] {
  const found: Located[] = [];
  for (const p of picked) {
    if (p.family === 'points') {
      const q = picture.points.find((x) => x.name === p.name);
      if (q) found.push({ label: p.name, at: new Vector3(...q.at).applyMatrix4(poseOf(posture, q.body)), spot: true });
    } else if (p.family === 'joints') {
      const j = picture.joints.find((x) => x.name === p.name);
      if (j)
        found.push({
          label: p.name,
          at: new Vector3(...j.place.at).applyMatrix4(poseOf(posture, j.place.body)),
          axis: new Vector3(...j.axis).transformDirection(poseOf(posture, j.a)),
          spot: false,
        });
    } else if (p.family === 'bodies') {
      const i = picture.bodies.indexOf(p.name);
      if (i >= 0) found.push({ label: p.name, at: new Vector3().applyMatrix4(poseOf(posture, i)), spot: true });
    }
  }
  for (const p of places) {
    const m = poseOf(posture, p.body);
    found.push({
      label: `${words(p)} of ${p.shape}`,
      at: new Vector3(...p.at).applyMatrix4(m),
      spot: p.what === 'end' || p.type === 'sphere',
      ...(p.axis ? { axis: new Vector3(...p.axis).transformDirection(m), flat: p.type === 'plane' } : {}),
      ...(p.radius ? { radius: p.radius } : {}),
    });
  }
  return found;
}

const between = (a: Vector3, b: Vector3): number => {
  const x = a.angleTo(b);
  return Math.min(x, Math.PI - x);
};

/** What can be told of them: distance and its components of two, the angle at the second of three, angles and gaps of axes and planes. */
export function measures(list: readonly Located[]): Measure[] {
  const out: Measure[] = [];
  const length = (label: string, value: number) => out.push({ label, value, dim: D.length });
  const angle = (label: string, value: number) => out.push({ label, value, dim: D.angle });
  for (const l of list) if (l.radius && list.length <= 3) length(list.length === 1 ? 'Radius' : `Radius of ${l.label}`, l.radius);
  const [a, b, c] = list;
  if (a && b && !c) {
    const d = b.at.clone().sub(a.at);
    length('Distance', d.length());
    'xyz'.split('').forEach((k, i) => length(`along ${k}`, d.getComponent(i)));
    if (a.axis && b.axis) {
      const x = between(a.axis, b.axis);
      angle(a.flat === b.flat ? 'Angle' : 'Angle of axis and plane', a.flat === b.flat ? x : Math.PI / 2 - x);
      if (a.flat && b.flat && x < 1e-4) length('Gap of the planes', Math.abs(d.dot(a.axis)));
      if (!a.flat && !b.flat) {
        const n = a.axis.clone().cross(b.axis);
        length('Distance of the axes', n.length() < 1e-6 ? d.clone().cross(a.axis).length() : Math.abs(d.dot(n)) / n.length());
      }
    } else if (a.axis || b.axis) {
      const [line, spot] = a.axis ? [a, b] : [b, a];
      const e = spot.at.clone().sub(line.at);
      length(
        line.flat ? 'Distance from the plane' : 'Distance from the axis',
        line.flat ? Math.abs(e.dot(line.axis!)) : e.clone().cross(line.axis!).length(),
      );
    }
  } else if (a && b && c && list.length === 3) {
    length(`${a.label} to ${b.label}`, a.at.distanceTo(b.at));
    length(`${b.label} to ${c.label}`, b.at.distanceTo(c.at));
    angle(`Angle at ${b.label}`, a.at.clone().sub(b.at).angleTo(c.at.clone().sub(b.at)));
    const n = b.at.clone().sub(a.at).cross(c.at.clone().sub(a.at));
    const area = n.length();
    if (area > 1e-12)
      length('Radius of the circle through them', (a.at.distanceTo(b.at) * b.at.distanceTo(c.at) * c.at.distanceTo(a.at)) / (2 * area));
  }
  return out;
}
