/** A polygon extruded along z, its area integrals by the textbook's sums over corners: a reference that shares nothing with the outlines of the core. */
import type { MassProperties } from '../src/geometry/mass';

export function prismMass(polygon: readonly (readonly [number, number])[], thickness: number): MassProperties {
  let area = 0,
    sx = 0,
    sy = 0,
    sxx = 0,
    syy = 0,
    sxy = 0;
  polygon.forEach(([x0, y0], k) => {
    const [x1, y1] = polygon[(k + 1) % polygon.length]!;
    const c = x0 * y1 - x1 * y0;
    area += c / 2;
    sx += (c * (x0 + x1)) / 6;
    sy += (c * (y0 + y1)) / 6;
    sxx += (c * (x0 * x0 + x0 * x1 + x1 * x1)) / 12;
    syy += (c * (y0 * y0 + y0 * y1 + y1 * y1)) / 12;
    sxy += (c * (x0 * y1 + 2 * x0 * y0 + 2 * x1 * y1 + x1 * y0)) / 24;
  });
  const turn = Math.sign(area),
    cx = sx / area,
    cy = sy / area,
    volume = Math.abs(area) * thickness,
    t2 = (volume * thickness * thickness) / 12;
  // second moments about the centroid: of x² about y, of y² about x
  const yy = thickness * turn * (sxx - area * cx * cx),
    xx = thickness * turn * (syy - area * cy * cy),
    xy = thickness * turn * (sxy - area * cx * cy);
  return { mass: volume, centre: [cx, cy, 0], inertia: [xx + t2, -xy, 0, -xy, yy + t2, 0, 0, 0, xx + yy] };
}
