/**
 * What becomes of an element's values where it is put elsewhere by a motion of the whole: x ↦ origin + turn·x, a turn of determinant −1 being a reflection.
 * A mirrored body keeps right-handed axes by turning its own y round, so what is given in its axes changes the sign of y.
 */
import { type Vec3, add, apply, det, scale } from '../geometry/vector';
import { type RawElement } from './document';
import type { Family } from './families';
import type { VectorField } from './fields';
import { type Kind } from './kinds';
import type { Pose } from './layout';

/** In the axes of a mirrored body. */
const flipped = ([x, y, z]: Vec3): Vec3 => [x, -y, z];

/**
 * A direction of an element: those of shapes are in their body's axes, those of joints where they say so, all others in the ground's. An axis of
 * turning keeps its sense of turning.
 * @param comes whether a body comes along with the motion
 */
export function carriedDirection(
  family: Family,
  kind: Kind,
  e: Readonly<Record<string, unknown>>,
  f: VectorField,
  v: Vec3,
  by: Pose,
  comes: (body: string) => boolean,
): Vec3 {
  if (f.world) return v;
  const mirrors = det(by.turn) < 0;
  const frame = family === 'shapes' ? (e.body as string) : family === 'joints' ? (e.axisIn as string | undefined) : undefined;
  const own = frame !== undefined && frame !== '' && comes(frame);
  const axial = f.axial || (family === 'joints' && !kind.freedoms?.includes('translation'));
  const out = own ? (mirrors ? flipped(v) : v) : apply(by.turn, v);
  return mirrors && axial ? scale(out, -1) : out;
}

/** Any vector of an element, by what its declaration says of it. */
export function carried(
  family: Family,
  kind: Kind,
  e: RawElement,
  f: VectorField,
  v: Vec3,
  by: Pose,
  comes: (body: string) => boolean,
): Vec3 {
  const sign = det(by.turn) < 0 ? -1 : 1;
  if (f.direction) return carriedDirection(family, kind, e, f, v, by, comes);
  switch (f.carried) {
    case undefined:
      return v;
    case 'vector':
      return apply(by.turn, v);
    case 'axial vector':
      return scale(apply(by.turn, v), sign);
    case 'own place':
      return sign < 0 ? flipped(v) : v;
    case 'own products':
      return [v[0] * sign, v[1] * sign, v[2]];
  }
}

/** A point: in the ground, or in a body that comes along. */
export const carriedPoint = (v: Vec3, by: Pose, inBody: boolean): Vec3 =>
  inBody ? (det(by.turn) < 0 ? flipped(v) : v) : add(by.origin, apply(by.turn, v));
