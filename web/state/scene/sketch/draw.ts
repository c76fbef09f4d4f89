/** What a stroke becomes: points, a body with its shape, and the joints at its ends. */
import { type Layout, type Vec3, applyT, shortestTurn, sub, unit } from '@vim-pivot/core/drawn';
import { type Model, type RawElement, type RawValue, kindOf } from '@vim-pivot/core/page';
import { freeName } from '../../document/elements';
import { turnAlong, written } from '../place';
import type { End, Paper } from './paper';
import { type SketchPlane, type Spot, away, inSpace, nearestOn } from './plane';

export interface How {
  /** Width of bars, m. */
  width: number;
  /** Lengths become parameters. */
  parameters: boolean;
}
export interface Drawn {
  body: string;
  shape: string;
  /** Ends to which nothing is joined, by the names of their points. */
  free: readonly string[];
}
export interface Plan {
  label: string;
  /** What letting go does. */
  words: string;
  /** How many degrees of freedom it adds to a planar machine. */
  adds: number;
  draw(m: Model): Drawn;
}
export type Outcome = Plan | { refused: string };

/** Shorter strokes than this many widths are slips of the hand. */
const LEAST = 0.5;
const LINK = { width: 0.02, thickness: 0.008 };
/** Width of bars over their thickness. */
const FLAT = LINK.thickness / LINK.width;

const bodyOf = (e: End, paper: Paper): string | undefined => (e.on === 'ground' ? paper.ground : e.on === 'nothing' ? undefined : e.body);
const loose = (e: End): boolean => e.on === 'nothing' || (e.on === 'point' && e.body === undefined);

/** What an end would be, in words. */
export function endWords(e: End, paper: Paper): string {
  const body = bodyOf(e, paper);
  if (body === paper.ground) return 'a bearing on the ground';
  if (body !== undefined) return `a pin with ${body}`;
  return e.on === 'point'
    ? `an end at ${e.point}, where nothing is yet`
    : `a free end${e.on === 'nothing' && e.inLine ? `, in line with ${e.inLine}` : ''}`;
}

/** A line along which something can slide. */
interface Carrier {
  body: string;
  a: Spot;
  b: Spot;
  /** Its second point, at which the slide aims. */
  to?: string;
}
const LEVEL: readonly [Spot, Spot] = [
  [0, 0],
  [1, 0],
];
function carriersOf(e: End, paper: Paper): Carrier[] {
  if (e.on === 'ground') return [{ body: paper.ground, a: LEVEL[0], b: LEVEL[1] }];
  if (e.on === 'line') return [e.line];
  if (e.on !== 'point') return [];
  const through = paper.lines.filter((l) => away(nearestOn(e.at, l.a, l.b).at, e.at) < 1e-9);
  return [...through, ...(paper.plane.level && Math.abs(e.at[1]) < 1e-9 ? [{ body: paper.ground, a: LEVEL[0], b: LEVEL[1] }] : [])];
}
const same = (a: Carrier, b: Carrier): boolean => a.body === b.body && a.a === b.a && a.b === b.b;

/** @param ends places the stroke goes through, two or more */
export function planStroke(model: Model, layout: Layout, paper: Paper, ends: readonly End[], how: How): Outcome {
  const from = ends[0]!,
    to = ends.at(-1)!;
  if (away(from.at, to.at) < LEAST * how.width && ends.length === 2) return { refused: 'Too short for a bar: go on.' };
  const make = new Maker(model, layout, paper, how);
  if (ends.length > 2) return make.plate(ends);
  const along = to.on === 'point' ? undefined : carriersOf(from, paper).find((c) => carriersOf(to, paper).some((d) => same(c, d)));
  if (along) return make.slide(from, to, along);
  if (from.on === 'line' && from.body !== paper.ground) return make.widen(from, to);
  return make.bar(from, to);
}

/** A rail of the ground, along which things slide and on which bearings stand. */
export function planRail(paper: Paper, from: End, to: End, how: How): Outcome {
  if (away(from.at, to.at) < LEAST * how.width) return { refused: 'Too short for a rail: go on.' };
  return {
    label: 'Draw a rail',
    words: 'Let go: a rail of the ground. A stroke along it is a slide.',
    adds: 0,
    draw(m) {
      const shape = freeName('shapes', 'Rail', m);
      const ends = [from, to].map((e, k) => {
        if (e.on === 'point' && e.flush && (e.body === undefined || e.body === paper.ground)) return e.point;
        return addPoint(m, freeName('points', `${shape} ${k === 0 ? 'start' : 'end'}`, m), inSpace(paper.plane, e.at));
      });
      m.shapes.push(linkBetween(shape, paper.ground, ends, how.width, paper.plane.normal));
      return { body: paper.ground, shape, free: [] };
    },
  };
}

function addPoint(m: Model, name: string, at: Vec3, body?: string): string {
  m.points.push({ name, ...(body ? { body } : {}), at: at.map(written) });
  return name;
}

const plain = (v: Vec3): number[] => v.map((x) => Number(x.toFixed(9)) + 0);
/** @param flat direction of the pins in the body's axes */
function linkBetween(name: string, body: string, [from, to]: readonly string[], width: number, flat: Vec3): RawElement {
  const usual = Math.abs(Math.abs(flat[1]) - 1) < 1e-9,
    own = Math.abs(width - LINK.width) > 1e-9;
  return {
    name,
    kind: 'link',
    body,
    from: from!,
    to: to!,
    ...(usual ? {} : { flat: plain(flat) as RawValue }),
    ...(own ? { width: written(width), thickness: written(FLAT * width) } : {}),
  };
}

/** A bearing on the ground at a point of a body, turning in the sheet. */
export function addBearing(m: Model, plane: SketchPlane, body: string, point: string): void {
  m.joints.push({
    name: freeName('joints', `${m.ground} to ${body}`, m),
    kind: 'revolute',
    bodies: [m.ground, body],
    at: [point],
    axis: plain(plane.normal) as RawValue,
  });
}

/** Builds what one stroke becomes. */
class Maker {
  constructor(
    private readonly model: Model,
    private readonly layout: Layout,
    private readonly paper: Paper,
    private readonly how: How,
  ) {}

  private space(e: End): Vec3 {
    return inSpace(this.paper.plane, e.at);
  }

  /** The point of an end: one that is there, or a new one, fixed in the body it is on. */
  private pointFor(m: Model, e: End, name: string): string {
    if (e.on === 'point' && e.flush) return e.point;
    const body = bodyOf(e, this.paper);
    if (body === undefined || body === this.paper.ground)
      return addPoint(m, freeName('points', e.on === 'ground' || body ? 'Bearing' : name, m), this.space(e));
    const { origin, turn } = this.layout.body(body);
    return addPoint(m, freeName('points', `${body} pin`, m), applyT(turn, sub(this.space(e), origin)), body);
  }

  /** A pin at an end, unless nothing is there. @param at its point, or one in each body */
  private pin(m: Model, e: End, body: string, at: readonly string[]): boolean {
    const other = bodyOf(e, this.paper);
    if (other === undefined) return false;
    m.joints.push({
      name: freeName('joints', `${other} to ${body}`, m),
      kind: 'revolute',
      bodies: [other, body],
      at: [...at],
      axis: plain(this.paper.plane.normal) as RawValue,
    });
    return true;
  }

  private get material(): RawElement | undefined {
    const material = this.model.materials[0]?.name;
    return material ? ({ material } as unknown as RawElement) : undefined;
  }

  /** What a bar is usually called, by what its ends are on. */
  private role(from: End, to: End): string {
    const { paper, model } = this,
      on = [bodyOf(from, paper), bodyOf(to, paper)];
    const slides = on.some((b) =>
      model.joints.some((j) => kindOf('joints', j)?.freedoms?.[0] === 'translation' && Array.isArray(j.bodies) && j.bodies[1] === b),
    );
    if (slides) return 'Rod';
    const ground = on.includes(paper.ground),
      moving = on.filter((b) => b !== undefined && b !== paper.ground).length;
    return ground ? (moving > 0 ? 'Rocker' : 'Crank') : moving > 0 ? 'Coupler' : 'Bar';
  }

  /** Freedoms that a body with so many joints to the rest adds in a plane. */
  private static adds = (joints: number): number => (joints === 0 ? 6 : 3 - 2 * joints);

  bar(first: End, second: End): Outcome {
    const { paper, how } = this;
    const on = [bodyOf(first, paper), bodyOf(second, paper)] as const;
    if (on[0] !== undefined && on[0] === on[1]) {
      return {
        refused:
          on[0] === paper.ground
            ? 'Both ends are on the ground: it could not move.'
            : `Both ends are on ${on[0]}: it could not move against it.`,
      };
    }
    // it begins where something holds it
    const [from, to] = loose(first) && !loose(second) ? [second, first] : [first, second];
    const base = this.role(from, to),
      joints = on.filter((b) => b !== undefined).length;
    return {
      label: `Draw ${base}`,
      words: `Let go: ${endWords(second, paper)}.`,
      adds: Maker.adds(joints),
      draw: (m) => {
        const body = freeName('bodies', base, m),
          shape = freeName('shapes', `${body} bar`, m);
        const a = this.pointFor(m, from, `${body} start`),
          d = unit(sub(this.space(to), this.space(from)));
        const own = how.parameters && (to.on !== 'point' || to.body !== undefined);
        const b = own ? this.lengthPoint(m, body, away(from.at, to.at)) : this.pointFor(m, to, `${body} end`);
        const { normal } = paper.plane;
        if (own) {
          const rotation = turnAlong(d, normal);
          m.bodies.push({ name: body, origin: a, ...(rotation ? { rotation: rotation as RawValue } : {}), ...this.material });
          m.shapes.push(linkBetween(shape, body, [a, b], how.width, [0, 1, 0]));
        } else {
          m.bodies.push({ name: body, origin: a, aim: b, ...this.material });
          m.shapes.push(linkBetween(shape, body, [a, b], how.width, applyT(shortestTurn([1, 0, 0], d), normal)));
        }
        this.pin(m, from, body, [a]);
        if (own && bodyOf(to, paper) !== undefined) this.pin(m, to, body, [this.pointFor(m, to, ''), b]);
        else this.pin(m, to, body, [b]);
        return { body, shape, free: [...(loose(from) ? [a] : []), ...(loose(to) ? [b] : [])] };
      },
    };
  }

  /** The far end of a bar whose length is a parameter: a point in its own axes. */
  private lengthPoint(m: Model, body: string, length: number): string {
    const parameter = freeName('parameters', `${body.toLowerCase().replace(/[^a-z0-9]+/g, '_')}_length`, m);
    m.parameters.push({ name: parameter, value: written(length) });
    const name = freeName('points', `${body} end`, m);
    m.points.push({ name, body, at: [parameter, 0, 0] });
    return name;
  }

  /** A bar that gets a further corner: a plate. */
  widen(from: End & { on: 'line' }, to: End): Outcome {
    const { body, line } = from,
      { paper, model } = this,
      other = bodyOf(to, paper);
    if (other === body) return { refused: `Both ends are on ${body}.` };
    const had = model.shapes.find((s) => s.name === line.shape)!;
    return {
      label: `Widen ${body}`,
      words: `Let go: ${body} becomes a plate${other === undefined ? '' : `, with ${endWords(to, paper)}`}.`,
      adds: other === undefined ? 0 : -2,
      draw: (m) => {
        const corner = to.on === 'point' && to.flush ? to.point : addPoint(m, freeName('points', `${body} corner`, m), this.space(to));
        m.shapes = m.shapes.map((s): RawElement =>
          s.name === line.shape
            ? {
                name: s.name,
                kind: 'plate',
                body,
                corners: [line.from, line.to, corner],
                ...(had.thickness === undefined ? {} : { thickness: had.thickness }),
              }
            : s,
        );
        this.pin(m, to, body, [corner]);
        return { body, shape: line.shape, free: other === undefined ? [corner] : [] };
      },
    };
  }

  /** A plate over three places or more. */
  plate(ends: readonly End[]): Outcome {
    const { paper, how } = this,
      on = ends.map((e) => bodyOf(e, paper)).filter((b) => b !== undefined);
    const twice = on.find((b, i) => on.indexOf(b) !== i);
    if (twice !== undefined) return { refused: `Two corners are on ${twice}: it could not move against it.` };
    const [a, b] = [ends[0]!.at, ends[1]!.at];
    const wide = ends.some((e) => Math.abs((b[0] - a[0]) * (e.at[1] - a[1]) - (b[1] - a[1]) * (e.at[0] - a[0])) > 1e-6 * away(a, b) ** 2);
    if (!wide) return { refused: 'The corners lie on one line.' };
    const base =
      on.length === 0
        ? 'Plate'
        : this.role(
            ends.find((e) => !loose(e))!,
            ends.findLast((e) => !loose(e)) ?? ends[0]!,
          );
    return {
      label: `Draw ${base}`,
      words: `Confirm: a plate over ${ends.length} corners.`,
      adds: Maker.adds(on.length),
      draw: (m) => {
        const body = freeName('bodies', base, m),
          shape = freeName('shapes', `${body} plate`, m);
        const corners = ends.map((e) => this.pointFor(m, e, `${body} corner`));
        m.bodies.push({ name: body, origin: corners[0]!, aim: corners[1]!, ...this.material });
        const thick = FLAT * how.width;
        m.shapes.push({
          name: shape,
          kind: 'plate',
          body,
          corners,
          ...(Math.abs(thick - LINK.thickness) > 1e-9 ? { thickness: written(thick) } : {}),
        });
        ends.forEach((e, k) => this.pin(m, e, body, [corners[k]!]));
        return { body, shape, free: corners.filter((_, k) => loose(ends[k]!)) };
      },
    };
  }

  /** A block that slides along a bar, a rail or the ground. It sits in the middle of the stroke, or on the pin where the stroke begins. */
  slide(from: End, to: End, along: Carrier): Outcome {
    const { paper, how } = this,
      { plane, ground } = paper;
    const pinned = from.on === 'point' && from.body !== undefined && from.body !== ground && from.body !== along.body ? from : undefined;
    const middle: Spot = pinned ? pinned.at : [(from.at[0] + to.at[0]) / 2, (from.at[1] + to.at[1]) / 2];
    const length = away(from.at, to.at) * (pinned ? 2 : 1),
      where = along.body === ground ? 'the ground' : along.body;
    return {
      label: 'Draw Slider',
      words: `Let go: a slide along ${where}${pinned ? `, pinned to ${pinned.body}` : ''}.`,
      adds: pinned ? -1 : 1,
      draw: (m) => {
        const body = freeName('bodies', 'Slider', m),
          shape = freeName('shapes', `${body} box`, m);
        const d = unit(sub(inSpace(plane, along.b), inSpace(plane, along.a)));
        const centre = pinned?.flush ? pinned.point : this.pointFor(m, { on: 'nothing', at: middle }, `${body} pin`);
        const rotation = turnAlong(d, plane.normal);
        m.bodies.push({ name: body, origin: centre, ...(rotation ? { rotation: rotation as RawValue } : {}), ...this.material });
        m.shapes.push({
          name: shape,
          kind: 'box',
          body,
          centre,
          length: written(length),
          depth: written(2 * how.width),
          height: written(2 * how.width),
        });
        const held = along.body === ground ? undefined : applyT(this.layout.body(along.body).turn, d);
        m.joints.push({
          name: freeName('joints', `${along.body} to ${body}`, m),
          kind: 'prismatic',
          bodies: [along.body, body],
          at: [centre],
          axis: plain(held ?? d) as RawValue,
          ...(held ? { axisIn: along.body } : {}),
        });
        if (pinned) this.pin(m, pinned, body, [centre]);
        return { body, shape, free: pinned ? [] : [centre] };
      },
    };
  }
}
