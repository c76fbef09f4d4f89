/** A body that is moved as it is drawn, by the points that its origin and its shapes stand on. */
import type { Fix } from '../diagnosis';
import type { Vec3 } from '../geometry/vector';
import type { Model, RawElement, RawValue } from '../model/document';
import { FAMILIES, type Family } from '../model/families';
import { kindOf } from '../model/kinds';

/** Points that an element names. */
function pointsOf(family: Family, e: RawElement): string[] {
  return Object.entries(kindOf(family, e)?.fields ?? {}).flatMap(([key, f]) =>
    (f.type === 'ref' || f.type === 'refs') && f.family === 'points' ? [e[key] ?? []].flat().map(String) : [],
  );
}

/** Of a coordinate, so much more, m. */
function more(x: RawValue | undefined, by: number): RawValue {
  const mm = Number((1000 * by).toPrecision(6));
  if (mm === 0) return x ?? 0;
  if (x === undefined || x === 0 || x === '0') return `${mm} mm`;
  if (typeof x === 'number') return x + by;
  const plain = /^\s*(-?[\d.]+)\s*mm\s*$/.exec(String(x));
  return plain ? `${Number((Number(plain[1]) + mm).toPrecision(12))} mm` : `${String(x)} ${mm < 0 ? '-' : '+'} ${Math.abs(mm)} mm`;
}

/** @param by m, ground axes @returns undefined where other things stand on those points as well, or the body is one of an instance */
export function movedBy(model: Model, body: string, by: Vec3): Fix | undefined {
  const own = model.bodies.find((b) => b.name === body);
  if (!own) return undefined;
  // what is read of a place of the body goes with it
  const mine = (family: Family, e: RawElement) =>
      (family === 'bodies' && e.name === body) || (family === 'shapes' && e.body === body) || (family === 'gauges' && e.body === body),
    all = FAMILIES.flatMap(({ key }) => model[key].map((e) => ({ family: key, e, points: pointsOf(key, e) }))),
    held = new Set(all.filter(({ family, e }) => family !== 'gauges' && mine(family, e)).flatMap((x) => x.points)),
    moved = model.points.filter((p) => held.has(p.name) && p.body !== body);
  if (moved.length === 0 || moved.some((p) => p.body !== undefined)) return undefined;
  const shared = all.some(({ family, e, points }) => !mine(family, e) && points.some((n) => moved.some((p) => p.name === n)));
  if (shared) return undefined;
  return {
    label: `Move “${body}” out`,
    changes: moved.map((p) => ({
      family: 'points',
      name: p.name,
      field: 'at',
      value: [0, 1, 2].map((k) => more((p.at as RawValue[] | undefined)?.[k], by[k]!)),
    })),
  };
}
