/** Places as drawn, and the small vectors they are told in: for a page that moves things by hand. It brings none of the solver. */
export {
  IDENTITY,
  type Mat3,
  type Vec3,
  add,
  apply,
  applyT,
  cross,
  dot,
  fromColumns,
  fromRollPitchYaw,
  mul,
  norm,
  scale,
  shortestTurn,
  sub,
  toRollPitchYaw,
  transpose,
  unit,
} from './geometry/vector';
export { carriedDirection } from './model/moved-values';
export { type Layout, layOut, upright } from './model/layout';
