/** What is being drawn on the sheet: places so far, what is typed, what it will become; and the strokes made of it. */
import { useEffect, useMemo, useRef, useState } from 'react';
import { type Model, Refusal } from '@vim-pivot/core/page';
import { edit, gesture, select, useDocument } from '@/state/document/document';
import { type Drawn, type Outcome, addBearing, planRail, planStroke } from '@/state/scene/sketch/draw';
import { setLength, usualWidth } from '@/state/scene/sketch/lengths';
import { type End, type Paper, restOn } from '@/state/scene/sketch/paper';
import { type Spot, away } from '@/state/scene/sketch/plane';
import { type Typed, readTyped } from '@/state/scene/sketch/typed';
import type { Tool } from './strip';
import type { Sheet } from './use-sheet';

export interface OnPaper {
  paper: Paper;
  layout: Parameters<typeof planStroke>[1];
  /** What lies on it is what the last edit made. */
  current: boolean;
}

const notRead = (text: string) => `“${text}” is no length and angle: 165 mm, 104 deg.`;
const live = () => useDocument.getState().live;

export type Stroke = ReturnType<typeof useStroke>;

export function useStroke({ paper, layout, current }: OnPaper, { step, reach }: Sheet) {
  const model = useDocument((s) => s.model)!;
  /** Places pressed or confirmed so far; empty: nothing is being drawn. */
  const [placed, setPlaced] = useState<readonly Spot[]>([]);
  const [cursor, setCursor] = useState<Spot>();
  const [typed, setTyped] = useState('');
  const [said, setSaid] = useState<string>();
  const [last, setLast] = useState<Drawn>();
  const [parameters, setParameters] = useState(false);
  const [tool, setTool] = useState<Tool>('bar');
  const waiting = useRef<{ spots: readonly Spot[]; typed: string }>(undefined);
  const width = usualWidth(model, live()) ?? 2 * step;
  const how = { width, parameters };

  const outcomeOf = (ends: readonly End[]): Outcome =>
    tool === 'rail' ? planRail(paper, ends[0]!, ends.at(-1)!, how) : planStroke(model, layout, paper, ends, how);
  const drop = () => {
    setPlaced([]);
    setTyped('');
  };

  const finish = (spots: readonly Spot[], text: string) => {
    drop();
    // the last edit is still being looked at: the stroke follows when places are known
    if (!current) return void (waiting.current = { spots, typed: text });
    if (text && !readTyped(text)) return setSaid(notRead(text));
    const { ends, exact } = endsFor(paper, spots, text, reach, step),
      outcome = outcomeOf(ends);
    if ('refused' in outcome) return setSaid(outcome.refused);
    try {
      const drawn = make(outcome, paper, ends, exact);
      setLast(drawn);
      setSaid(undefined);
      select(drawn.body === model.ground ? { family: 'shapes', name: drawn.shape } : { family: 'bodies', name: drawn.body });
    } catch (e) {
      if (!(e instanceof Refusal)) throw e;
      setSaid(e.message);
    }
  };
  useEffect(() => {
    const next = waiting.current;
    if (!current || !next) return;
    waiting.current = undefined;
    finish(next.spots, next.typed);
  });

  /** Length and angle of the bar drawn last, typed after it was drawn. */
  const retype = (shape: string, text: string): boolean => {
    const t = readTyped(text),
      line = paper.lines.find((l) => l.shape === shape);
    const refused = (words: string) => (setSaid(words), false);
    if (!t || !line || !current || (t.length === undefined && t.angle === undefined)) return refused(notRead(text));
    try {
      edit(`Length of ${line.body}`, (m) => setLength(m, live(), paper, shape, t.length ?? away(line.a, line.b), t.angle));
      setSaid(undefined);
      return true;
    } catch (e) {
      if (!(e instanceof Refusal)) throw e;
      return refused(e.message);
    }
  };

  const free = freeEnd(last, model);
  /** A bearing on the ground at a free end of the bar drawn last. */
  const bear = () => {
    if (!last || free === undefined) return;
    edit(`Bearing of ${last.body}`, (m) => addBearing(m, paper.plane, last.body, free));
    setLast({ ...last, free: last.free.filter((p) => p !== free) });
  };

  const { ends } = useMemo(() => {
    const spots = cursor && placed.length > 0 ? [...placed, cursor] : placed;
    return endsFor(paper, spots, typed, reach, step);
  }, [cursor, placed, typed, paper, reach, step]);
  const hover = cursor && placed.length === 0 ? restOn(paper, cursor, reach, step) : ends.at(-1);
  const outcome = ends.length > 1 ? outcomeOf(ends) : undefined;
  return {
    ...{ placed, setPlaced, cursor, setCursor, typed, setTyped, said, setSaid, parameters, setParameters, tool, setTool },
    ...{ last, free, width, ends, hover, outcome, finish, retype, bear, drop },
  };
}

/** Ends of a stroke, with what was typed for its last stretch. */
function endsFor(paper: Paper, spots: readonly Spot[], text: string, reach: number, step: number): { ends: End[]; exact: Typed } {
  const exact = (text ? readTyped(text) : undefined) ?? {};
  const ends = spots.map((s) => restOn(paper, s, reach, step));
  const from = ends.at(-2),
    to = ends.at(-1);
  if (!from || !to || (exact.length === undefined && exact.angle === undefined)) return { ends, exact: {} };
  const length = exact.length ?? away(from.at, to.at),
    angle = exact.angle ?? Math.atan2(to.at[1] - from.at[1], to.at[0] - from.at[0]);
  // on another bar's end the length is made to fit afterwards; else the end is where it was typed
  if (to.on === 'point' && to.body !== undefined && exact.angle === undefined) return { ends, exact };
  const at: Spot = [from.at[0] + length * Math.cos(angle), from.at[1] + length * Math.sin(angle)];
  return { ends: [...ends.slice(0, -1), restOn(paper, at, 1e-7, 0)], exact: {} };
}

/** Draws a stroke as one undo step, and gives it the length that was typed. @throws Refusal when other things hold both its ends */
function make(outcome: Exclude<Outcome, { refused: string }>, paper: Paper, ends: readonly End[], exact: Typed): Drawn {
  let drawn: Drawn | undefined;
  gesture().set(outcome.label, (m) => {
    drawn = outcome.draw(m);
    if (exact.length !== undefined) setLength(m, live(), withLine(paper, m, drawn, ends), drawn.shape, exact.length);
  });
  return drawn!;
}

/** The paper with the bar just drawn on it. */
function withLine(paper: Paper, m: Model, { shape, body }: Drawn, ends: readonly End[]): Paper {
  const own = m.shapes.find((s) => s.name === shape)!,
    [first, second] = [ends[0]!, ends.at(-1)!];
  const turned = second.on === 'point' && own.from === second.point;
  const [a, b] = turned ? [second.at, first.at] : [first.at, second.at];
  return { ...paper, lines: [...paper.lines, { shape, body, from: String(own.from), to: String(own.to), a, b }] };
}

/** What was drawn last may have been taken back since. */
const freeEnd = (last: Drawn | undefined, model: Model): string | undefined =>
  last && model.bodies.some((b) => b.name === last.body) ? last.free.find((p) => model.points.some((x) => x.name === p)) : undefined;
