/** Solids swept from an outline: extruded along its normal, or revolved about an axis. Mass properties are exact integrals along the outline. */
import { cos, sin } from '../quantity/elementary';
import { type Outline, TURN, moment, near, reversed, rimOf } from './outline';
import { type Solid, diagonal, finish, prismMesh } from './solid';
import type { Mat3, Vec3 } from './vector';

/** The outline counter-clockwise. */
export const upright = (o: Outline): Outline => (moment(o, 0, 0) < 0 ? reversed(o) : o);

const keyOf = (outlines: readonly Outline[]): string => JSON.stringify(outlines);

/**
 * An outline with holes in the local x-y plane, extruded by ±thickness/2 along local z.
 * @param frame columns are the local axes
 */
export function extruded(outer: Outline, holes: readonly Outline[], thickness: number, frame: Mat3, origin: Vec3): Solid {
  const outlines = [upright(outer), ...holes.map((h) => reversed(upright(h)))];
  const of = (a: number, b: number) => outlines.reduce((s, o) => s + moment(o, a, b), 0);
  const area = of(0, 0),
    cx = of(1, 0) / area,
    cy = of(0, 1) / area;
  const ixx = thickness * (of(0, 2) - area * cy * cy),
    iyy = thickness * (of(2, 0) - area * cx * cx),
    ixy = thickness * (of(1, 1) - area * cx * cy);
  const volume = area * thickness,
    t2 = (volume * thickness * thickness) / 12;
  const mass = { mass: volume, centre: [cx, cy, 0] as Vec3, inertia: [ixx + t2, -ixy, 0, -ixy, iyy + t2, 0, 0, 0, ixx + iyy] as Mat3 };
  return finish(
    mass,
    frame,
    origin,
    `extruded ${thickness} ${keyOf(outlines)}`,
    (m, round) =>
      prismMesh(
        m,
        outlines.map((o) => rimOf(o, round)),
        thickness / 2,
      ),
    { type: 'extruded', outlines, half: thickness / 2 },
  );
}

/**
 * An outline in the half-plane of radius and height (x not negative, y along the axis), revolved about the axis.
 * @param frame columns are the local axes, the third being the axis
 */
export function revolved(outline: Outline, frame: Mat3, origin: Vec3): Solid {
  const o = upright(outline);
  const of = (a: number, b: number) => moment(o, a, b);
  const volume = TURN * of(1, 0),
    z = (TURN * of(1, 1)) / volume;
  const axial = TURN * of(3, 0),
    side = axial / 2 + TURN * of(1, 2) - volume * z * z;
  return finish(
    { mass: volume, centre: [0, 0, z], inertia: diagonal(side, side, axial) },
    frame,
    origin,
    `revolved ${keyOf([o])}`,
    (m, round) => {
      const rim = rimOf(o, round);
      const rings = rim.map((r) =>
        Array.from({ length: round + 1 }, (_, j) => {
          const a = (TURN * j) / round,
            c = cos(a),
            s = sin(a);
          return m.vertex([r.at[0] * c, r.at[0] * s, r.at[1]], [r.normal[0] * c, r.normal[0] * s, r.normal[1]]);
        }),
      );
      rim.forEach((r, k) => {
        const next = (k + 1) % rim.length,
          to = rim[next]!.at;
        if (near(r.at, to) || (r.at[0] < 1e-12 && to[0] < 1e-12)) return;
        for (let j = 0; j < round; j++) {
          const [a, b, c, d] = [rings[k]![j]!, rings[k]![j + 1]!, rings[next]![j + 1]!, rings[next]![j]!];
          if (r.at[0] > 1e-12) m.triangle(a, b, c);
          if (to[0] > 1e-12) m.triangle(a, c, d);
        }
      });
    },
    { type: 'revolved', outline: o },
  );
}
