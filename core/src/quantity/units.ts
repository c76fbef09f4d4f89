import { integerPower } from './powers';
import { ANGLE, type Dimension, D, baseUnits, dim, divide, identical, multiply, power } from './dimension';

/** A unit: SI value of one, and its dimension. */
export interface Unit {
  readonly factor: number;
  readonly dim: Dimension;
  readonly label: string;
}

const table = new Map<string, Unit>();
const add = (names: string, factor: number, d: Dimension, label: string) => {
  for (const name of names.split(' ')) table.set(name, { factor, dim: d, label });
};

const PI = 3.141592653589793;

add('m', 1, D.length, 'metre');
add('km', 1e3, D.length, 'kilometre');
add('cm', 1e-2, D.length, 'centimetre');
add('mm', 1e-3, D.length, 'millimetre');
add('um µm', 1e-6, D.length, 'micrometre');
add('inch', 0.0254, D.length, 'inch');
add('ft', 0.3048, D.length, 'foot');
add('kg', 1, D.mass, 'kilogram');
add('g', 1e-3, D.mass, 'gram');
add('tonne', 1e3, D.mass, 'tonne');
add('lb', 0.45359237, D.mass, 'pound');
add('s', 1, D.time, 'second');
add('ms', 1e-3, D.time, 'millisecond');
add('us µs', 1e-6, D.time, 'microsecond');
add('min', 60, D.time, 'minute');
add('h', 3600, D.time, 'hour');
add('rad', 1, D.angle, 'radian');
add('mrad', 1e-3, D.angle, 'milliradian');
add('deg °', PI / 180, D.angle, 'degree');
add('rev', 2 * PI, D.angle, 'revolution');
add('rpm', PI / 30, D.angularSpeed, 'revolution per minute');
add('Hz', 1, dim(0, 0, -1), 'hertz');
add('kHz', 1e3, dim(0, 0, -1), 'kilohertz');
add('N', 1, D.force, 'newton');
add('mN', 1e-3, D.force, 'millinewton');
add('kN', 1e3, D.force, 'kilonewton');
add('MN', 1e6, D.force, 'meganewton');
add('lbf', 4.4482216152605, D.force, 'pound-force');
add('J', 1, D.energy, 'joule');
add('mJ', 1e-3, D.energy, 'millijoule');
add('kJ', 1e3, D.energy, 'kilojoule');
add('Wh', 3600, D.energy, 'watt hour');
add('W', 1, D.power, 'watt');
add('mW', 1e-3, D.power, 'milliwatt');
add('kW', 1e3, D.power, 'kilowatt');
add('Pa', 1, dim(-1, 1, -2), 'pascal');
add('kPa', 1e3, dim(-1, 1, -2), 'kilopascal');
add('MPa', 1e6, dim(-1, 1, -2), 'megapascal');
add('GPa', 1e9, dim(-1, 1, -2), 'gigapascal');
add('bar', 1e5, dim(-1, 1, -2), 'bar');
add('A', 1, dim(0, 0, 0, 0, 1), 'ampere');
add('mA', 1e-3, dim(0, 0, 0, 0, 1), 'milliampere');
add('V', 1, dim(2, 1, -3, 0, -1), 'volt');
add('K', 1, dim(0, 0, 0, 0, 0, 1), 'kelvin');

/** A unit by its name, or undefined. */
export const unitOf = (name: string): Unit | undefined => table.get(name);
/** Names of all units there are. */
export const unitNames = (): string[] => [...table.keys()];

/**
 * Reads a unit expression such as `N*m/rad`, `kg/m^3` or `mm/s²`.
 * @returns SI factor and dimension, or undefined when a part is not a known unit
 */
export function readUnit(text: string): { factor: number; dim: Dimension } | undefined {
  let factor = 1;
  let d: Dimension = D.none;
  if (text === '' || text === '1') return { factor, dim: d };
  let over = true;
  for (const piece of text
    .replaceAll('²', '^2')
    .replaceAll('³', '^3')
    .replaceAll('·', '*')
    .split(/([*/])/)) {
    if (piece === '*' || piece === '/') {
      over = piece === '*';
      continue;
    }
    const [name = '', exponent = '1'] = piece.trim().split('^');
    const unit = name === '1' ? { factor: 1, dim: D.none } : table.get(name);
    const n = Number(exponent);
    if (!unit || !Number.isInteger(n)) return undefined;
    const scaled = { factor: integerPower(unit.factor, n), dim: power(unit.dim, n) };
    factor = over ? factor * scaled.factor : factor / scaled.factor;
    d = over ? multiply(d, scaled.dim) : divide(d, scaled.dim);
  }
  return { factor, dim: d };
}

/** The unit in which a quantity is shown when nothing else is asked for. */
const SHOWN: readonly (readonly [Dimension, string])[] = [
  [D.none, ''],
  [D.length, 'mm'],
  [D.area, 'mm²'],
  [D.mass, 'kg'],
  [D.time, 's'],
  [D.angle, 'deg'],
  [D.speed, 'mm/s'],
  [D.acceleration, 'm/s²'],
  [D.angularSpeed, 'rpm'],
  [D.angularAcceleration, 'rad/s²'],
  [dim(0, 0, -1), 'Hz'],
  [D.force, 'N'],
  [D.torque, 'N·m'],
  [D.power, 'W'],
  [D.density, 'kg/m³'],
  [D.inertia, 'kg·m²'],
  [D.stiffness, 'N/mm'],
  [D.damping, 'N·s/m'],
  [D.torsionStiffness, 'N·m/rad'],
  [D.torsionDamping, 'N·m·s/rad'],
  [D.bendingStiffness, 'N·m²'],
  [D.twistingStiffness, 'N·m²/rad'],
  [D.massPerLength, 'kg/m'],
  [D.inertiaPerLength, 'kg·m'],
];

/** Systems of units in which a project can be shown. */
export const UNIT_SYSTEMS = { mm: 'Millimetre and degree', si: 'SI', inch: 'Inch and pound' } as const;
export type UnitSystem = keyof typeof UNIT_SYSTEMS;

/** Where a system differs from the first. */
const OTHERWISE: Readonly<Record<UnitSystem, readonly (readonly [Dimension, string])[]>> = {
  mm: [],
  si: [
    [D.length, 'm'],
    [D.area, 'm²'],
    [D.angle, 'rad'],
    [D.speed, 'm/s'],
    [D.angularSpeed, 'rad/s'],
    [D.stiffness, 'N/m'],
  ],
  inch: [
    [D.length, 'inch'],
    [D.area, 'inch²'],
    [D.mass, 'lb'],
    [D.speed, 'inch/s'],
    [D.acceleration, 'inch/s²'],
    [D.force, 'lbf'],
    [D.torque, 'lbf·inch'],
    [D.density, 'lb/inch³'],
    [D.inertia, 'lb·inch²'],
    [D.stiffness, 'lbf/inch'],
    [D.damping, 'lbf·s/inch'],
    [D.torsionStiffness, 'lbf·inch/rad'],
    [D.torsionDamping, 'lbf·inch·s/rad'],
    [D.bendingStiffness, 'lbf·inch²'],
    [D.twistingStiffness, 'lbf·inch²/rad'],
    [D.massPerLength, 'lb/inch'],
    [D.inertiaPerLength, 'lb·inch'],
  ],
};

let system: UnitSystem = 'mm';
/** From now on quantities are shown in the units of a system: that of the project that is open. Changes no value. */
export function showIn(s: UnitSystem | undefined): void {
  system = s ?? 'mm';
}

/** The unit in which values of a dimension are shown, in the system of units chosen. */
export function shownUnit(d: Dimension): string {
  const other = OTHERWISE[system].find(([k]) => identical(k, d))?.[1];
  if (other) return other;
  const own = SHOWN.find(([k]) => identical(k, d));
  // an angle that a product leaves is no unit of its own: N·m·rad/s is W
  return (
    (own ??
      (d[ANGLE] === 1
        ? SHOWN.find(([k]) => identical(k, d.map((x, i) => (i === ANGLE ? 0 : x)) as unknown as Dimension))
        : undefined))?.[1] ?? baseUnits(d)
  );
}

let comma = false;
/** From now on numbers are shown with a decimal comma, or with a point. Changes no value, and nothing in a file. */
export function showComma(on: boolean): void {
  comma = on;
}
/** Whether a language writes numbers with a decimal comma. @param language tag after BCP 47 */
export const usesComma = (language: string): boolean =>
  new Intl.NumberFormat(language).formatToParts(1.5).some((p) => p.type === 'decimal' && p.value === ',');
const localised = (text: string): string => (comma ? text.replace('.', ',') : text);
/** A number with so many decimals. */
export const fixed = (x: number, decimals: number): string => localised(x.toFixed(decimals));

/** A formula or number of the document as it is shown: with decimal commas where numbers have them. Arguments then stand apart by a comma and a space. */
export function localText(text: string): string {
  return comma ? text.replace(/(\d),(?=\S)/g, '$1, ').replace(/(\d)\.(\d)/g, '$1,$2') : text;
}
/**
 * What was typed as the document writes it. A single comma between digits is a decimal comma where numbers have one; a list is typed with spaces, or
 * has more of them.
 */
export function plainText(text: string): string {
  return comma
    ? text
        .replace(/\d+(?:,\d+)+/g, (m) => (m.indexOf(',') === m.lastIndexOf(',') ? m.replace(',', '.') : m.replaceAll(',', ', ')))
        .replaceAll(';', ',')
    : text;
}

/** A number with a sensible count of digits; exact zero, very large and very small values included. */
export function formatNumber(x: number, digits = 4): string {
  if (!Number.isFinite(x)) return Number.isNaN(x) ? 'not a number' : x > 0 ? '∞' : '−∞';
  const size = Math.abs(x);
  if (size === 0) return '0';
  const text = size >= 1e6 || size < 1e-4 ? x.toExponential(digits - 1) : String(Number(x.toPrecision(digits)));
  return localised(text.replace(/^-/, '−').replace('e+', 'e'));
}

/** `0.04` with dimension length gives `40 mm`. */
export function formatQuantity(x: number, d: Dimension, unit = shownUnit(d), digits = 4): string {
  const u = readUnit(unit);
  const text = formatNumber(u ? x / u.factor : x, digits);
  return unit ? `${text} ${unit}` : text;
}
