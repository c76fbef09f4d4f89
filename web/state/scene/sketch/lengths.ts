/** The length of a bar that is drawn: read, and set by what lets it have that length. */
import { type LiveValue, type Model, refuse } from '@vim-pivot/core/page';
import { siAt } from '../../document/elements';
import { coordinatesOf, writePoint, written } from '../place';
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
 * @param angle of a bar one end of which is free, rad
 * @throws Refusal when other things hold both ends
 */
export function setLength(m: Model, live: Live, paper: Paper, shape: string, length: number, angle?: number): void {
  const line = paper.lines.find((l) => l.shape === shape);
  if (!line) return;
  const parameter = parameterOf(m, line);
  if (parameter && angle === undefined) {
    m.parameters.find((p) => p.name === parameter)!.value = written(length);
    return;
  }
  const moving = (p: string) => {
    const known = coordinatesOf(m, live, p);
    return known && known.body === m.ground && !known.held.some(Boolean);
  };
  const others = (p: string) => bodiesAt(m, p).filter((b) => b !== line.body);
  const tries = [
    [line.to, line.a, line.b],
    [line.from, line.b, line.a],
  ] as const;
  for (const [p, fixed, end] of tries)
    if (moving(p) && others(p).length === 0) {
      const now = Math.atan2(end[1] - fixed[1], end[0] - fixed[0]),
        turn = angle === undefined ? now : p === line.to ? angle : angle + Math.PI;
      return put(m, paper, p, [fixed[0] + length * Math.cos(turn), fixed[1] + length * Math.sin(turn)]);
    }
  for (const [p, fixed, end] of tries) {
    const [other, further] = others(p);
    const second = paper.lines.find((l) => l.body === other && (l.from === p || l.to === p));
    if (!moving(p) || further !== undefined || other === m.ground || !second || paper.lines.filter((l) => l.body === other).length > 1)
      continue;
    const at = meeting(fixed, length, second.from === p ? second.b : second.a, away(second.a, second.b), end);
    if (!at) return held(shape, `At that length it does not reach ${other}, which keeps its own.`);
    return put(m, paper, p, at);
  }
  held(shape, 'Other bars hold both its ends: change theirs, or move a point.');
}

const held = (shape: string, message: string): never =>
  refuse({ code: 'sketch-length', message, element: { family: 'shapes', name: shape } });

function put(m: Model, paper: Paper, point: string, at: Spot): void {
  writePoint(m, point, inSpace(paper.plane, at), [false, false, false]);
}
