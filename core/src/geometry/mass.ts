import { type Mat3, type Vec3, add, addM, apply, dot, mul, scale, scaleM, sub, transpose } from './vector';

/** Mass, kg; centre of mass, m; inertia tensor about the centre of mass, kg·m². */
export interface MassProperties {
  mass: number;
  centre: Vec3;
  inertia: Mat3;
}

export const NO_MASS: MassProperties = { mass: 0, centre: [0, 0, 0], inertia: [0, 0, 0, 0, 0, 0, 0, 0, 0] };

/** Inertia of a point mass at d from the reference (parallel-axis term). */
export const steiner = (mass: number, d: Vec3): Mat3 => {
  const s = dot(d, d);
  return [0, 1, 2].flatMap((i) => [0, 1, 2].map((j) => mass * ((i === j ? s : 0) - d[i]! * d[j]!))) as unknown as Mat3;
};

/** Several bodies of mass as one. */
export function combine(parts: readonly MassProperties[]): MassProperties {
  const mass = parts.reduce((s, p) => s + p.mass, 0);
  if (mass === 0) return NO_MASS;
  const centre = scale(
    parts.reduce<Vec3>((s, p) => add(s, scale(p.centre, p.mass)), [0, 0, 0]),
    1 / mass,
  );
  const inertia = parts.reduce<Mat3>((s, p) => addM(s, addM(p.inertia, steiner(p.mass, sub(p.centre, centre)))), NO_MASS.inertia);
  return { mass, centre, inertia };
}

/** The same mass seen from axes in which its own are turned by `turn` and shifted by `shift`. */
export function place(p: MassProperties, turn: Mat3, shift: Vec3): MassProperties {
  return { mass: p.mass, centre: add(shift, apply(turn, p.centre)), inertia: mul(mul(turn, p.inertia), transpose(turn)) };
}

/** Mass properties of a solid of density 1, for another density in kg/m³. */
export const withDensity = (p: MassProperties, density: number): MassProperties => ({
  mass: p.mass * density,
  centre: p.centre,
  inertia: scaleM(p.inertia, density),
});
