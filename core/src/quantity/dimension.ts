/**
 * Physical dimensions as integer or rational exponents of the SI base quantities, plus plane angle.
 * Angle is carried along so that results can be shown in degrees or rpm, but, as in the SI, it counts
 * as a pure number when two dimensions are compared (torque times angle is energy).
 */
export type Dimension = readonly [length: number, mass: number, time: number, current: number, temperature: number, angle: number];

const SYMBOLS = ['m', 'kg', 's', 'A', 'K', 'rad'] as const;
export const ANGLE = 5;

/** A dimension from its powers of length, mass, time, angle, current and temperature. */
export const dim = (length = 0, mass = 0, time = 0, angle = 0, current = 0, temperature = 0): Dimension => [
  length,
  mass,
  time,
  current,
  temperature,
  angle,
];

export const D = {
  none: dim(),
  length: dim(1),
  area: dim(2),
  mass: dim(0, 1),
  time: dim(0, 0, 1),
  angle: dim(0, 0, 0, 1),
  speed: dim(1, 0, -1),
  acceleration: dim(1, 0, -2),
  angularSpeed: dim(0, 0, -1, 1),
  angularAcceleration: dim(0, 0, -2, 1),
  force: dim(1, 1, -2),
  torque: dim(2, 1, -2),
  energy: dim(2, 1, -2),
  power: dim(2, 1, -3),
  density: dim(-3, 1),
  inertia: dim(2, 1),
  stiffness: dim(0, 1, -2),
  damping: dim(0, 1, -1),
  torsionStiffness: dim(2, 1, -2, -1),
  torsionDamping: dim(2, 1, -1, -1),
  quadraticDrag: dim(-1, 1),
  /** EI, and GJ, of beams. */
  bendingStiffness: dim(3, 1, -2),
  twistingStiffness: dim(3, 1, -2, -1),
  massPerLength: dim(-1, 1),
  inertiaPerLength: dim(1, 1),
} as const;

/** Dimension of a product. */
export const multiply = (a: Dimension, b: Dimension): Dimension => combine(a, b, 1);
/** Dimension of a quotient. */
export const divide = (a: Dimension, b: Dimension): Dimension => combine(a, b, -1);
/** Dimension of a power. */
export const power = (a: Dimension, n: number): Dimension => a.map((x) => x * n || 0) as unknown as Dimension;

function combine(a: Dimension, b: Dimension, sign: number): Dimension {
  return a.map((x, i) => x + sign * b[i]! || 0) as unknown as Dimension;
}

/** Equal up to plane angle. */
export const compatible = (a: Dimension, b: Dimension): boolean => a.every((x, i) => i === ANGLE || Math.abs(x - b[i]!) < 1e-9);

/** Equal, angle included. */
export const identical = (a: Dimension, b: Dimension): boolean => a.every((x, i) => Math.abs(x - b[i]!) < 1e-9);

/** The unit a table of SI values is headed with; nothing for a pure number. */
export const siUnit = (d: Dimension): string => baseUnits(d).replace(/^1$/, '');

/** The dimension in base units, e.g. `kg·m/s²`; a pure number gives `1`. */
export function baseUnits(d: Dimension): string {
  const part = (sign: 1 | -1) =>
    SYMBOLS.flatMap((s, i) => {
      const n = d[i]! * sign;
      return n > 0 ? [n === 1 ? s : n === 2 ? `${s}²` : n === 3 ? `${s}³` : `${s}^${n}`] : [];
    }).join('·');
  const over = part(1) || '1';
  const under = part(-1);
  return under ? `${over}/${under}` : over;
}

const NAMES: readonly (readonly [Dimension, string])[] = [
  [D.none, 'a plain number'],
  [D.length, 'a length'],
  [D.area, 'an area'],
  [D.mass, 'a mass'],
  [D.time, 'a time'],
  [D.angle, 'an angle'],
  [D.speed, 'a speed'],
  [D.acceleration, 'an acceleration'],
  [D.angularSpeed, 'an angular speed'],
  [D.angularAcceleration, 'an angular acceleration'],
  [dim(0, 0, -1), 'a frequency'],
  [D.force, 'a force'],
  [D.torque, 'a torque or energy'],
  [D.power, 'a power'],
  [D.density, 'a density'],
  [D.inertia, 'a moment of inertia'],
  [D.stiffness, 'a stiffness'],
  [D.damping, 'a damping'],
  [D.torsionStiffness, 'a torsional stiffness'],
  [D.torsionDamping, 'a torsional damping'],
];

/** The dimension in words with its base units, for messages: `a length (m)`. */
export function inWords(d: Dimension): string {
  const named = NAMES.find(([k]) => identical(k, d))?.[1];
  const units = baseUnits(d);
  if (!named) return `a quantity in ${units}`;
  return units === '1' ? named : `${named} (${units})`;
}
