/** The length of a bar that is drawn: read, and set by what lets it have that length. */
import { sub } from '@vim-pivot/core/drawn';
import { type LiveValue, type Model, type RawValue, refuse } from '@vim-pivot/core/page';
import { siAt } from '../../document/elements';
import { coordinatesOf, turnAlong, writePoint, written } from '../place';
import { type Line, type Paper, bodiesAt } from './paper';
import { type Spot, away, inSpace, meeting } from './plane';

type Live = ReadonlyMap<string, LiveValue>;

/** The parameter that is the length of a bar, if one is. */
export function parameterOf(model: Model, line: Line): string | undefined {
  const end = model.points.find((p) => p.name === line.to),
    [x, y, z] = [end?.at].flat() as unknown[];
  return end?.body === line.body && typeof x === 'string' && y === 0 && z === 0 && model.parameters.some((p) => p.name === x)
    ? x
    : undefined;
}

/** The width of the bars there are, m; undefined while there are none. */
export function usualWidth(model: Model, live: Live): number | undefined {
  const index = model.shapes.findIndex((s) => s.kind === 'link');
  const width = index < 0 ? 0 : siAt('shapes', index, model.shapes[index]!, { field: 'width' }, live);
  return width > 0 ? width : undefined;
}

/** How far a bar is turned on the sheet, counted from across, rad. */
export const angleOf = (l: Pick<Line, 'a' | 'b'>): number => Math.atan2(l.b[1] - l.a[1], l.b[0] - l.a[0]);

/**
 * Gives a bar another length. Its far end moves along it; where one other bar hangs there too, that one keeps its own length and both turn.
 * A length that is a parameter is changed there; the drawing follows where it can, else the joints bring the machine together.
 * @param angle of a bar one end of which is free, rad
 * @throws Refusal when other things hold both ends, or the other bar is not reached
 */
export function setLength(m: Model, live: Live, paper: Paper, shape: string, length: number, angle?: number): void {
  const line = paper.lines.find((l) => l.shape === shape);
  if (!line) return;
  const parameter = parameterOf(m, line);
  if (parameter) m.parameters.find((p) => p.name === parameter)!.value = written(length);
  const bars = new Bars(m, live, paper);
  for (const far of ['to', 'from'] as const)
    if (bars.others(line, far).length === 0 && bars.movable(line, far)) return bars.redraw(line, far, onRay(line, far, length, angle));
  for (const far of ['to', 'from'] as const) {
    const second = bars.secondAt(line, far);
    if (!second || !bars.movable(second.line, second.far, line.body) || !bars.movable(line, far, second.line.body)) continue;
    const [fixed, end] = far === 'to' ? [line.a, line.b] : [line.b, line.a];
    const at = meeting(fixed, length, second.fixed, away(second.line.a, second.line.b), end);
    if (!at && parameter) return;
    if (!at) return held(shape, `At that length it does not reach ${second.line.body}, which keeps its own.`);
    bars.redraw(second.line, second.far, at);
    return bars.redraw(line, far, at);
  }
  if (!parameter) held(shape, 'Other bars hold both its ends: change theirs, or move a point.');
}

/** Where a far end comes to lie at a length: along the bar as it lies, or at an angle. */
function onRay({ a, b }: Line, far: Far, length: number, angle: number | undefined): Spot {
  const [fixed, end] = far === 'to' ? [a, b] : [b, a];
  const turn = angle === undefined ? Math.atan2(end[1] - fixed[1], end[0] - fixed[0]) : far === 'to' ? angle : angle + Math.PI;
  return [fixed[0] + length * Math.cos(turn), fixed[1] + length * Math.sin(turn)];
}

const held = (shape: string, message: string): never =>
  refuse({ code: 'sketch-length', message, element: { family: 'shapes', name: shape } });

/** The end of a bar that moves. */
type Far = 'from' | 'to';
/** Ends nearer than this lie on each other, m: coordinates are written to a ten-thousandth of a millimetre. */
const ON = 1e-6;

/** Bars as they are drawn, and drawn anew. */
class Bars {
  constructor(
    private readonly m: Model,
    private readonly live: Live,
    private readonly paper: Paper,
  ) {}

  /** Other bodies at an end: joined to its point, or to one that lies there. */
  others(line: Line, far: Far): string[] {
    const at = far === 'to' ? line.b : line.a;
    const there = this.paper.anchors.filter((p) => away(p.at, at) < ON).flatMap((p) => p.bodies);
    return [...new Set([...bodiesAt(this.m, line[far]), ...there])].filter((b) => b !== line.body);
  }

  /** The one other bar that ends where this one does, and the end of it that stays. */
  secondAt(line: Line, far: Far): { line: Line; far: Far; fixed: Spot } | undefined {
    const [other, further] = this.others(line, far),
      at = far === 'to' ? line.b : line.a;
    const own = this.paper.lines.filter((l) => l.body === other),
      second = own[0];
    if (further !== undefined || other === this.m.ground || !second || own.length > 1) return undefined;
    if (away(second.a, at) < ON) return { line: second, far: 'from', fixed: second.b };
    return away(second.b, at) < ON ? { line: second, far: 'to', fixed: second.a } : undefined;
  }

  /** Whether an end can be drawn elsewhere. @param carrier a body that is drawn anew and may bring the point along */
  movable(line: Line, far: Far, carrier?: string): boolean {
    const own = this.m.points.find((p) => p.name === line[far])?.body;
    return (carrier !== undefined && own === carrier) || this.turns(line, far) || this.moves(line[far]);
  }

  /** Draws a bar with one end elsewhere. */
  redraw(line: Line, far: Far, at: Spot): void {
    if (this.moves(line[far])) writePoint(this.m, line[far], inSpace(this.paper.plane, at), [false, false, false]);
    if (parameterOf(this.m, line)) this.turn(line, far === 'to' ? line.a : at, far === 'to' ? at : line.b);
  }

  /** An end given in the axes of its bar: it moves as these are turned. */
  private turns(line: Line, far: Far): boolean {
    return far === 'to' && parameterOf(this.m, line) !== undefined;
  }

  /** A point of the ground with plain coordinates. */
  private moves(point: string): boolean {
    const known = coordinatesOf(this.m, this.live, point);
    return !!known && known.body === this.m.ground && !known.held.some(Boolean);
  }

  private turn({ body }: Line, from: Spot, to: Spot): void {
    const { plane } = this.paper;
    const own = this.m.bodies.find((b) => b.name === body)!,
      rotation = turnAlong(sub(inSpace(plane, to), inSpace(plane, from)), plane.normal);
    if (rotation) own.rotation = rotation as RawValue;
    else delete own.rotation;
  }
}
