/**
 * Kinematic symbols after ISO 3952 (simplified representation of kinematic diagrams), as data: strokes in the axes of a joint (z is its axis),
 * each belonging to one of its two bodies, so that a symbol moves as the joint does. Lengths are in units of the symbol's size.
 */
type Spot = readonly [x: number, y: number, z: number];

export type Stroke = { on: 'a' | 'b' } & (
  | { path: readonly Spot[] }
  /** A circle, or the arc between two angles (deg), round an axis through `at`. */
  | { ring: number; round: 'x' | 'y' | 'z'; at?: Spot; arc?: readonly [number, number] }
);

export type Symbol3952 = readonly Stroke[];

const path = (on: 'a' | 'b', ...spots: Spot[]): Stroke => ({ on, path: spots });
const ring = (on: 'a' | 'b', radius: number, round: 'x' | 'y' | 'z', at: Spot = [0, 0, 0], arc?: readonly [number, number]): Stroke => ({
  on,
  ring: radius,
  round,
  at,
  ...(arc ? { arc } : {}),
});
const loop = (on: 'a' | 'b', ...spots: Spot[]): Stroke => path(on, ...spots, spots[0]!);

/** A circle, seen along the axis; the pin through it. */
export const PIN: Symbol3952 = [ring('a', 1, 'z'), path('b', [0, 0, -1.1], [0, 0, 1.1])];
/** A sleeve with a square section on a rod. */
export const SLIDE: Symbol3952 = [
  path('a', [0, 0, -3.2], [0, 0, 3.2]),
  ...[-1.4, 1.4].map((z) => loop('b', [-0.8, -0.8, z], [0.8, -0.8, z], [0.8, 0.8, z], [-0.8, 0.8, z])),
  ...(
    [
      [-0.8, -0.8],
      [0.8, -0.8],
      [0.8, 0.8],
      [-0.8, 0.8],
    ] as const
  ).map(([x, y]) => path('b', [x, y, -1.4], [x, y, 1.4])),
];
const ROUND_SLEEVE: Symbol3952 = [
  ...[-1.4, 1.4].map((z) => ring('b', 0.85, 'z', [0, 0, z])),
  ...(
    [
      [0.85, 0],
      [0, 0.85],
      [-0.85, 0],
      [0, -0.85],
    ] as const
  ).map(([x, y]) => path('b', [x, y, -1.4], [x, y, 1.4])),
];
/** A round sleeve on a rod. */
export const SLEEVE: Symbol3952 = [path('a', [0, 0, -3.2], [0, 0, 3.2]), ...ROUND_SLEEVE];
/** A round sleeve on a thread. */
export const THREAD: Symbol3952 = [
  path(
    'a',
    ...Array.from({ length: 41 }, (_, k): Spot => [
      0.4 * [1, 0.707, 0, -0.707, -1, -0.707, 0, 0.707][k % 8]!,
      0.4 * [0, 0.707, 1, 0.707, 0, -0.707, -1, -0.707][k % 8]!,
      -3 + (6 * k) / 40,
    ]),
  ),
  ...ROUND_SLEEVE,
];
/** A ball in its cup. */
export const BALL: Symbol3952 = [
  ring('b', 0.85, 'x'),
  ring('b', 0.85, 'y'),
  ring('b', 0.85, 'z'),
  ring('a', 1.3, 'y', [0, 0, 0], [180, 360]),
  ring('a', 1.3, 'x', [0, 0, 0], [180, 360]),
];
/** Two forks on a cross. */
export const CROSS: Symbol3952 = [
  path('a', [0, 0, -1], [0, 0, 1]),
  path('b', [-1, 0, 0], [1, 0, 0]),
  ring('a', 1, 'x', [0, 0, 0], [90, 270]),
  ring('b', 1, 'z', [0, 0, 0], [0, 180]),
];
/** A shaft through a ring of balls. */
export const SHAFTS: Symbol3952 = [
  ring('a', 1.1, 'z'),
  path('a', [0, 0, -2.2], [0, 0, 0]),
  path('b', [0, 0, 0], [0, 0, 2.2]),
  ring('b', 0.5, 'x'),
  ring('b', 0.5, 'y'),
];
/** Two plates, one on the other. */
export const PLATES: Symbol3952 = (['a', 'b'] as const).map((on, k) =>
  loop(on, [-1.3, -1.3, k ? 0.3 : 0], [1.3, -1.3, k ? 0.3 : 0], [1.3, 1.3, k ? 0.3 : 0], [-1.3, 1.3, k ? 0.3 : 0]),
);
/** A ball in a slot. */
export const SLOT: Symbol3952 = [
  path('a', [0.6, 0, -3], [0.6, 0, 3]),
  path('a', [-0.6, 0, -3], [-0.6, 0, 3]),
  ring('b', 0.5, 'x'),
  ring('b', 0.5, 'y'),
  ring('b', 0.5, 'z'),
];
/** A ball on a plate. */
export const BALL_ON_PLATE: Symbol3952 = [
  loop('a', [-1.5, -1.5, 0], [1.5, -1.5, 0], [1.5, 1.5, 0], [-1.5, 1.5, 0]),
  ring('b', 0.5, 'x', [0, 0, 0.5]),
  ring('b', 0.5, 'y', [0, 0, 0.5]),
];
/** A weld: the corner between two members filled with strokes. */
export const WELD: Symbol3952 = [
  path('a', [-0.8, 0, -0.8], [0.8, 0, 0.8]),
  path('a', [-0.8, 0, 0.8], [0.8, 0, -0.8]),
  path('b', [0, -0.8, -0.8], [0, 0.8, 0.8]),
  path('b', [0, -0.8, 0.8], [0, 0.8, -0.8]),
];
/** Two strokes that keep their directions. */
export const ARROWS_PARALLEL: Symbol3952 = [path('a', [-0.4, 0, -1.5], [-0.4, 0, 1.5]), path('b', [0.4, 0, -1.5], [0.4, 0, 1.5])];
export const ARROWS_SQUARE: Symbol3952 = [path('a', [0, 0, -1.5], [0, 0, 1.5]), path('b', [-1.5, 0, 0], [1.5, 0, 0])];
export const TRIADS: Symbol3952 = (['a', 'b'] as const).flatMap((on, k) => [
  path(on, [k, k, k], [1 + k, k, k]),
  path(on, [k, k, k], [k, 1 + k, k]),
  path(on, [k, k, k], [k, k, 1 + k]),
]);
/** A point on a bent line. */
export const POINT_ON_BEND: Symbol3952 = [ring('b', 0.5, 'x'), ring('b', 0.5, 'y'), ring('b', 0.5, 'z')];
