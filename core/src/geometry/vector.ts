/** Small vectors and 3×3 matrices (row-major) for set-up work. Hot loops use typed arrays instead. */
import { atan2, cos, sin } from '../quantity/elementary';

export type Vec3 = readonly [number, number, number];
export type Mat3 = readonly [number, number, number, number, number, number, number, number, number];

export const IDENTITY: Mat3 = [1, 0, 0, 0, 1, 0, 0, 0, 1];
export const ZERO: Vec3 = [0, 0, 0];

/** a + b. */
export const add = (a: Vec3, b: Vec3): Vec3 => [a[0] + b[0], a[1] + b[1], a[2] + b[2]];
/** a − b. */
export const sub = (a: Vec3, b: Vec3): Vec3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
/** s a. */
export const scale = (a: Vec3, k: number): Vec3 => [a[0] * k, a[1] * k, a[2] * k];
/** a · b. */
export const dot = (a: Vec3, b: Vec3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
/** a × b. */
export const cross = (a: Vec3, b: Vec3): Vec3 => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
/** Length |a|. */
export const norm = (a: Vec3): number => Math.sqrt(dot(a, a));
/** a / |a|. */
export const unit = (a: Vec3): Vec3 => scale(a, 1 / norm(a));
/** Column k of a matrix stored by rows. */
export const column = (m: Mat3, j: 0 | 1 | 2): Vec3 => [m[j], m[j + 3]!, m[j + 6]!] as Vec3;
/** The matrix, stored by rows, that has these columns. */
export const fromColumns = (x: Vec3, y: Vec3, z: Vec3): Mat3 => [x[0], y[0], z[0], x[1], y[1], z[1], x[2], y[2], z[2]];
/** mᵀ. */
export const transpose = (m: Mat3): Mat3 => [m[0], m[3], m[6], m[1], m[4], m[7], m[2], m[5], m[8]];
/** m v. */
export const apply = (m: Mat3, v: Vec3): Vec3 => [
  m[0] * v[0] + m[1] * v[1] + m[2] * v[2],
  m[3] * v[0] + m[4] * v[1] + m[5] * v[2],
  m[6] * v[0] + m[7] * v[1] + m[8] * v[2],
];
/** mᵀ v. */
export const applyT = (m: Mat3, v: Vec3): Vec3 => apply(transpose(m), v);
/** a b, matrices stored by rows. */
export const mul = (a: Mat3, b: Mat3): Mat3 => [
  a[0] * b[0] + a[1] * b[3] + a[2] * b[6], a[0] * b[1] + a[1] * b[4] + a[2] * b[7], a[0] * b[2] + a[1] * b[5] + a[2] * b[8],
  a[3] * b[0] + a[4] * b[3] + a[5] * b[6], a[3] * b[1] + a[4] * b[4] + a[5] * b[7], a[3] * b[2] + a[4] * b[5] + a[5] * b[8],
  a[6] * b[0] + a[7] * b[3] + a[8] * b[6], a[6] * b[1] + a[7] * b[4] + a[8] * b[7], a[6] * b[2] + a[7] * b[5] + a[8] * b[8],
]; // prettier-ignore
/** a + b, matrices. */
export const addM = (a: Mat3, b: Mat3): Mat3 => a.map((x, i) => x + b[i]!) as unknown as Mat3;
/** s m, a matrix. */
export const scaleM = (a: Mat3, k: number): Mat3 => a.map((x) => x * k) as unknown as Mat3;

/** Determinant. */
export const det = (m: Mat3): number =>
  m[0] * (m[4] * m[8] - m[5] * m[7]) - m[1] * (m[3] * m[8] - m[5] * m[6]) + m[2] * (m[3] * m[7] - m[4] * m[6]);

/** Part of a direction that lies along an axis beyond which it counts as near that: more than 1/√3, so that one axis at least is not near. */
const NEAR = 0.6;
/** Any unit vector square to v, by crossing with the first axis that it is not near: it changes smoothly about every axis of the ground. */
export function perpendicular(v: Vec3): Vec3 {
  const near = NEAR * norm(v),
    along = v.findIndex((x) => Math.abs(x) <= near);
  return unit(cross(v, [0, 1, 2].map((k) => (k === along ? 1 : 0)) as unknown as Vec3));
}

/** Right-handed triad with its z along the given direction. */
export function triad(z: Vec3): Mat3 {
  const c = unit(z);
  const a = perpendicular(c);
  return fromColumns(a, cross(c, a), c);
}

/** The rotation by the shortest way that brings one direction onto another (Rodrigues); half a turn about any square axis when they are opposite. */
export function shortestTurn(from: Vec3, to: Vec3): Mat3 {
  const a = unit(from);
  const b = unit(to);
  const [x, y, z] = cross(a, b);
  const s2 = x * x + y * y + z * z;
  const c = dot(a, b);
  if (s2 < 1e-24) {
    if (c > 0) return IDENTITY;
    const [u, v, w] = perpendicular(a);
    return [2 * u * u - 1, 2 * u * v, 2 * u * w, 2 * u * v, 2 * v * v - 1, 2 * v * w, 2 * u * w, 2 * v * w, 2 * w * w - 1];
  }
  const k = (1 - c) / s2;
  return [
    c + k * x * x,
    k * x * y - z,
    k * x * z + y,
    k * x * y + z,
    c + k * y * y,
    k * y * z - x,
    k * x * z - y,
    k * y * z + x,
    c + k * z * z,
  ];
}

/** Turned about ground x, then y, then z (roll, pitch, yaw), rad. */
export function fromRollPitchYaw([r, p, y]: Vec3): Mat3 {
  const cr = cos(r),
    sr = sin(r),
    cp = cos(p),
    sp = sin(p),
    cy = cos(y),
    sy = sin(y);
  return [
    cy * cp,
    cy * sp * sr - sy * cr,
    cy * sp * cr + sy * sr,
    sy * cp,
    sy * sp * sr + cy * cr,
    sy * sp * cr - cy * sr,
    -sp,
    cp * sr,
    cp * cr,
  ];
}

/** The angles that `fromRollPitchYaw` takes; at a pitch of a quarter turn the yaw is zero. */
export function toRollPitchYaw(m: Mat3): Vec3 {
  const pitch = atan2(-m[6], Math.sqrt(m[0] * m[0] + m[3] * m[3]));
  if (m[0] * m[0] + m[3] * m[3] < 1e-24) return [atan2(m[6] < 0 ? m[1] : -m[1], m[4]), pitch, 0];
  return [atan2(m[7], m[8]), pitch, atan2(m[3], m[0])];
}

/** Unit quaternion (w, x, y, z) of a rotation matrix, by the largest of the four squares. */
export function quaternion(m: Mat3): readonly [number, number, number, number] {
  const t = m[0] + m[4] + m[8];
  if (t > 0) {
    const s = 2 * Math.sqrt(1 + t);
    return [s / 4, (m[7] - m[5]) / s, (m[2] - m[6]) / s, (m[3] - m[1]) / s];
  }
  if (m[0] > m[4] && m[0] > m[8]) {
    const s = 2 * Math.sqrt(1 + m[0] - m[4] - m[8]);
    return [(m[7] - m[5]) / s, s / 4, (m[1] + m[3]) / s, (m[2] + m[6]) / s];
  }
  if (m[4] > m[8]) {
    const s = 2 * Math.sqrt(1 + m[4] - m[0] - m[8]);
    return [(m[2] - m[6]) / s, (m[1] + m[3]) / s, s / 4, (m[5] + m[7]) / s];
  }
  const s = 2 * Math.sqrt(1 + m[8] - m[0] - m[4]);
  return [(m[3] - m[1]) / s, (m[2] + m[6]) / s, (m[5] + m[7]) / s, s / 4];
}
