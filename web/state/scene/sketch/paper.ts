/** What there is to draw on: pins, bars and holes of the machine as they lie on the sheet, and what an end of a stroke comes to rest on. */
import type { Layout, Vec3 } from '@vim-pivot/core/drawn';
import { type Model, type RawElement, Refusal, kindOf } from '@vim-pivot/core/page';
import { type SketchPlane, type Spot, away, before, nearestOn, onSheet } from './plane';

/** A named point. */
export interface Anchor {
  name: string;
  at: Spot;
  /** Bodies that are there; the ground only where something is joined to it. */
  bodies: readonly string[];
  /** It lies in the sheet. */
  flush: boolean;
}
/** A bar, or a rail of the ground. */
export interface Line {
  shape: string;
  body: string;
  from: string;
  to: string;
  a: Spot;
  b: Spot;
}
export interface Paper {
  ground: string;
  plane: SketchPlane;
  anchors: readonly Anchor[];
  lines: readonly Line[];
  holes: readonly { body: string; at: Spot }[];
}

/** What an end of a stroke rests on. */
export type End =
  | { on: 'nothing'; at: Spot; /** In line with this point. */ inLine?: string }
  | { on: 'ground'; at: Spot }
  | { on: 'point'; at: Spot; point: string; body: string | undefined; flush: boolean }
  | { on: 'hole'; at: Spot; body: string }
  | { on: 'line'; at: Spot; body: string; line: Line };

const names = (e: RawElement, field: string): string[] => [e[field]].flat().filter((x): x is string => typeof x === 'string' && x !== '');

/** The two points a shape runs between, if it does. */
export const endsOf = (s: RawElement): readonly [string, string] | undefined => {
  const fields = kindOf('shapes', s)?.fields,
    [from] = names(s, 'from'),
    [to] = names(s, 'to');
  return fields?.from?.type === 'ref' && fields.to?.type === 'ref' && from && to ? [from, to] : undefined;
};

/** Bodies that are at a point: fixed to it, drawn to it or joined there. */
export function bodiesAt(model: Model, point: string): string[] {
  const found = new Set<string>();
  const own = names(model.points.find((p) => p.name === point) ?? { name: '' }, 'body')[0];
  if (own && own !== model.ground) found.add(own);
  for (const j of model.joints) {
    const at = names(j, 'at'),
      bodies = names(j, 'bodies');
    at.forEach((p, k) => {
      // along a slide the point goes with the second body
      const moves = kindOf('joints', j)?.freedoms?.includes('translation');
      if (p === point) for (const b of at.length === 2 ? bodies.slice(k, k + 1) : moves ? bodies.slice(1) : bodies) found.add(b);
    });
  }
  for (const b of model.bodies) if (b.origin === point || b.aim === point) found.add(b.name);
  for (const s of model.shapes) {
    const refers = Object.entries(kindOf('shapes', s)?.fields ?? {}).some(
      ([k, f]) => (f.type === 'ref' || f.type === 'refs') && f.family === 'points' && names(s, k).includes(point),
    );
    if (refers && typeof s.body === 'string') found.add(s.body);
  }
  return [...found].sort((a, b) => Number(b === model.ground) - Number(a === model.ground));
}

/** Where a point is drawn; nowhere while something it hangs on is in error, or is brought by an instance. */
export function placeOf(layout: Layout, point: string): Vec3 | undefined {
  try {
    return layout.point(point);
  } catch (e) {
    if (e instanceof Refusal) return undefined;
    throw e;
  }
}

/** @param holes middles of round edges across the sheet, m on the sheet */
export function paperOf(model: Model, layout: Layout, plane: SketchPlane, holes: Paper['holes'] = []): Paper {
  const anchors = new Map(
    model.points.flatMap(({ name }): [string, Anchor][] => {
      const place = placeOf(layout, name);
      return place
        ? [[name, { name, at: onSheet(plane, place), bodies: bodiesAt(model, name), flush: Math.abs(before(plane, place)) < FLUSH }]]
        : [];
    }),
  );
  return {
    ground: model.ground,
    plane,
    holes,
    anchors: [...anchors.values()],
    lines: model.shapes.flatMap((s) => {
      const [from, to] = endsOf(s) ?? [],
        a = anchors.get(from ?? ''),
        b = anchors.get(to ?? '');
      return a && b ? [{ shape: s.name, body: String(s.body), from: a.name, to: b.name, a: a.at, b: b.at }] : [];
    }),
  };
}

/** How near the sheet a point counts as in it, m: coordinates are written to a ten-thousandth of a millimetre. */
const FLUSH = 1e-6;

/** To a round number of steps. */
const round = (x: number, step: number): number => Math.round(x / step) * step;

/**
 * What a place on the sheet comes to rest on: the nearest pin, then a hole, a bar, the ground; else a place on the grid, in line with a pin where one is near.
 * @param reach how near a pin or hole must be, m; half of it for lines
 * @param step of the grid, m; 0 for none
 */
export function restOn(paper: Paper, p: Spot, reach: number, step: number): End {
  const anchor = nearest(paper.anchors, (a) => away(a.at, p), reach);
  if (anchor) return { on: 'point', at: anchor.at, point: anchor.name, body: anchor.bodies[0], flush: anchor.flush };
  const hole = nearest(paper.holes, (h) => away(h.at, p), reach);
  if (hole) return { on: 'hole', ...hole };
  const line = nearest(
    paper.lines.map((l) => ({ l, ...nearestOn(p, l.a, l.b) })),
    (x) => away(x.at, p),
    reach / 2,
  );
  if (line) {
    const length = away(line.l.a, line.l.b),
      along = step > 0 ? Math.min(1, Math.max(0, round(line.along * length, step) / length)) : line.along;
    return {
      on: 'line',
      at: [line.l.a[0] + along * (line.l.b[0] - line.l.a[0]), line.l.a[1] + along * (line.l.b[1] - line.l.a[1])],
      body: line.l.body,
      line: line.l,
    };
  }
  const snap = (k: 0 | 1): { x: number; of?: string } => {
    const near = nearest(paper.anchors, (a) => Math.abs(a.at[k] - p[k]), reach / 2);
    return near ? { x: near.at[k], of: near.name } : { x: step > 0 ? round(p[k], step) : p[k] };
  };
  const u = snap(0);
  if (paper.plane.level && Math.abs(p[1]) < reach / 2) return { on: 'ground', at: [u.x, 0] };
  const v = snap(1),
    inLine = u.of ?? v.of;
  return { on: 'nothing', at: [u.x, v.x], ...(inLine ? { inLine } : {}) };
}

function nearest<T>(list: readonly T[], distance: (x: T) => number, reach: number): T | undefined {
  let best: T | undefined,
    least = reach;
  for (const x of list) {
    const d = distance(x);
    if (d < least) [best, least] = [x, d];
  }
  return best;
}
