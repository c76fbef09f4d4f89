/** How far a form reaches, and how thick it is: bounds by which is told what cannot touch, and what cannot be passed unseen. */
import { alongOutline } from '../outline';
import type { Outline } from '../outline';
import { endsOf } from './outline-field';
import { Facets } from './facets';
import type { Form } from './form';
import type { Vec3 } from '../vector';

export interface Extent {
  /** A ball in which all of it lies: its middle in the axes of the form, and its radius, m; Infinity where it has no end. */
  readonly centre: Vec3;
  readonly radius: number;
  /** About how thick it is, m: never more than four times what anything has to go through it. */
  readonly thick: number;
}

/** Twice an area over its circumference: the thickness of what is long. */
function thickness(outlines: readonly Outline[]): number {
  let area = 0,
    length = 0;
  for (const o of outlines) {
    area += alongOutline(o, (x) => x);
    for (const p of o) length += p.type === 'arc' ? p.radius * Math.abs(p.to - p.from) : distance(p.from, p.to);
  }
  return (2 * Math.abs(area)) / length;
}
const distance = (a: readonly [number, number], b: readonly [number, number]): number => {
  const x = a[0] - b[0],
    y = a[1] - b[1];
  return Math.sqrt(x * x + y * y);
};
/** Lowest and highest of x and y. */
function bounds(outlines: readonly Outline[]): readonly [number, number, number, number] {
  let [a, b, c, d] = [Infinity, Infinity, -Infinity, -Infinity];
  const take = (x: number, y: number) => {
    a = Math.min(a, x);
    b = Math.min(b, y);
    c = Math.max(c, x);
    d = Math.max(d, y);
  };
  for (const p of outlines.flat()) {
    for (const [x, y] of endsOf(p)) take(x, y);
    if (p.type !== 'arc') continue;
    take(p.centre[0] - p.radius, p.centre[1] - p.radius);
    take(p.centre[0] + p.radius, p.centre[1] + p.radius);
  }
  return [a, b, c, d];
}
const half = (x: number, y: number, z: number): number => Math.sqrt(x * x + y * y + z * z);

/** By each type of form how far it reaches. */
const EXTENTS: { readonly [T in Form['type']]: (form: Extract<Form, { type: T }>) => Extent } = {
  ball: ({ radius }) => ({ centre: [0, 0, 0], radius, thick: 2 * radius }),
  'half-space': () => ({ centre: [0, 0, 0], radius: Infinity, thick: Infinity }),
  facets(form) {
    const { low, high, area, volume } = Facets.of(form),
      centre = low.map((x, k) => (x + high[k as 0]) / 2) as unknown as Vec3;
    return { centre, radius: half(high[0] - centre[0], high[1] - centre[1], high[2] - centre[2]), thick: (2 * Math.abs(volume)) / area };
  },
  extruded({ outlines, half: h }) {
    const [a, b, c, d] = bounds(outlines);
    return {
      centre: [(a + c) / 2, (b + d) / 2, 0],
      radius: half((c - a) / 2, (d - b) / 2, h),
      thick: Math.min(2 * h, thickness(outlines)),
    };
  },
  revolved({ outline }) {
    const [, b, c, d] = bounds([outline]);
    return { centre: [0, 0, (b + d) / 2], radius: half(c, (d - b) / 2, 0), thick: thickness([outline]) };
  },
};
/** How far it reaches, in its own axes. */
export const extentOf = (form: Form): Extent => (EXTENTS[form.type] as (f: Form) => Extent)(form);
