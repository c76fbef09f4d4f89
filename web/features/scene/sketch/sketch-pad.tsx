'use client';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Plane, Vector3 } from 'three';
import { D, Refusal, formatQuantity } from '@vim-pivot/core/page';
import { edit, gesture, select, useDocument } from '@/state/document/document';
import { sketch } from '@/state/asking';
import { stepFor } from '@/state/scene/grid-step';
import { useRuns } from '@/state/runs/runs';
import { type Drawn, type Outcome, addBearing, endWords, planRail, planStroke } from '@/state/scene/sketch/draw';
import { angleOf, setLength, usualWidth } from '@/state/scene/sketch/lengths';
import { type End, type Paper, restOn } from '@/state/scene/sketch/paper';
import { type Spot, type StandardView, away, inSpace, onSheet } from '@/state/scene/sketch/plane';
import { type Typed, readTyped } from '@/state/scene/sketch/typed';
import type { Stage } from '../stage';
import { Lengths } from './lengths';
import { Ghost, Grid, Hatched, type Px, Ring } from './marks';
import { Strip, type Tool } from './strip';
import { usePaper } from './use-paper';

/** Pointers that move less are clicks, CSS pixels. */
const CLICK = 4;
/** An end rests on a pin this near, CSS pixels. */
const REACH = 12;
/** Lines of the snapping grid, and of the drawn one, are at least this far apart, CSS pixels. */
const SNAP = 8,
  GRID = 44;

interface Props {
  stage: Stage;
  /** The standard view looked from; left out: the face that is picked, else the front. */
  view: StandardView | undefined;
  /** A click that draws nothing picks as ever. */
  onClick: (p: { x: number; y: number }, also: boolean) => void;
  onMenu: (p: { x: number; y: number }) => void;
}

/** The sheet over the scene on which linkages are drawn: press and drag for a bar; or arrow keys, Space and Enter. */
export function SketchPad(props: Props) {
  const found = usePaper(props.stage, props.view);
  const project = useDocument((s) => s.id);
  useEffect(() => {
    useRuns.setState({ view: 'model', playing: false });
    // a run, or another project, puts the sheet away
    const runs = useRuns.subscribe((now) => (now.running || now.view === 'run') && sketch(false));
    return () => {
      runs();
      sketch(false);
    };
  }, [project]);
  if (!found)
    return (
      <p className="absolute left-3 top-14 rounded-md bg-warn-soft px-2 py-1 text-warn">
        Points or bodies hang on each other in a circle: nothing can be drawn until that is put right.
      </p>
    );
  return <Pad {...props} {...found} />;
}

function Pad({
  stage,
  onClick,
  onMenu,
  paper,
  layout,
  current,
  face,
  apart,
  view,
}: Props & { paper: Paper; layout: Parameters<typeof planStroke>[1]; current: boolean; face: boolean; apart: boolean }) {
  const layer = useRef<SVGSVGElement>(null);
  const model = useDocument((s) => s.model)!;
  const mobility = useDocument((s) => s.mobility?.joints ?? 0);
  const [, redraw] = useState(0);
  /** Places pressed or confirmed so far; empty: nothing is being drawn. */
  const [placed, setPlaced] = useState<readonly Spot[]>([]);
  const [cursor, setCursor] = useState<Spot>();
  const [typed, setTyped] = useState('');
  const [said, setSaid] = useState<string>();
  const [last, setLast] = useState<Drawn>();
  const [parameters, setParameters] = useState(false);
  const [tool, setTool] = useState<Tool>('bar');
  const pressed = useRef<Px>(undefined);
  const waiting = useRef<{ spots: readonly Spot[]; typed: string }>(undefined);

  useEffect(() => {
    const follow = () => redraw((n) => n + 1);
    stage.afterFrame.add(follow);
    follow();
    layer.current?.focus();
    return () => void stage.afterFrame.delete(follow);
  }, [stage]);

  const { plane } = paper;
  const pixel = stage.pixel(new Vector3(...plane.origin)),
    step = stepFor(SNAP * pixel),
    reach = REACH * pixel;
  const box = [stage.canvas.clientWidth, stage.canvas.clientHeight] as const;
  const toPx = (s: Spot): Px => stage.onScreen(new Vector3(...inSpace(plane, s)));
  const fromPx = (x: number, y: number): Spot | undefined => {
    const hit = stage
      .sight(x, y)
      .ray.intersectPlane(
        new Plane().setFromNormalAndCoplanarPoint(new Vector3(...plane.normal), new Vector3(...plane.origin)),
        new Vector3(),
      );
    return hit ? onSheet(plane, hit.toArray()) : undefined;
  };
  const width = usualWidth(model, useDocument.getState().live) ?? 2 * step;
  const how = { width, parameters };

  /** Ends of a stroke, with what was typed for its last stretch. */
  const endsFor = (spots: readonly Spot[], text: string): { ends: End[]; exact: Typed } => {
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
  };
  const outcomeOf = (ends: readonly End[]): Outcome =>
    tool === 'rail' ? planRail(paper, ends[0]!, ends.at(-1)!, how) : planStroke(model, layout, paper, ends, how);

  const finish = (spots: readonly Spot[], text: string) => {
    setPlaced([]);
    setTyped('');
    // the last edit is still being looked at: the stroke follows when places are known
    if (!current) return void (waiting.current = { spots, typed: text });
    if (text && !readTyped(text)) return setSaid(`“${text}” is no length and angle: 165 mm, 104 deg.`);
    const { ends, exact } = endsFor(spots, text),
      outcome = outcomeOf(ends);
    if ('refused' in outcome) return setSaid(outcome.refused);
    let drawn: Drawn | undefined;
    const hand = gesture();
    try {
      hand.set(outcome.label, (m) => {
        drawn = outcome.draw(m);
        if (exact.length === undefined) return;
        const own = m.shapes.find((s) => s.name === drawn!.shape)!,
          [first, second] = [ends[0]!, ends.at(-1)!];
        const turned = second.on === 'point' && own.from === second.point;
        const line = {
          shape: drawn.shape,
          body: drawn.body,
          from: String(own.from),
          to: String(own.to),
          a: (turned ? second : first).at,
          b: (turned ? first : second).at,
        };
        setLength(m, useDocument.getState().live, { ...paper, lines: [...paper.lines, line] }, drawn.shape, exact.length);
      });
    } catch (e) {
      if (!(e instanceof Refusal)) throw e;
      return setSaid(e.message);
    }
    setLast(drawn);
    setSaid(undefined);
    if (drawn) select(drawn.body === model.ground ? { family: 'shapes', name: drawn.shape } : { family: 'bodies', name: drawn.body });
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
    if (!t || !line || !current || (t.length === undefined && t.angle === undefined)) {
      setSaid(`“${text}” is no length and angle: 165 mm, 104 deg.`);
      return false;
    }
    try {
      edit(`Length of ${line.body}`, (m) =>
        setLength(m, useDocument.getState().live, paper, shape, t.length ?? away(line.a, line.b), t.angle),
      );
      setSaid(undefined);
      return true;
    } catch (e) {
      if (!(e instanceof Refusal)) throw e;
      setSaid(e.message);
      return false;
    }
  };
  // what was drawn last may have been taken back since
  const free =
    last && model.bodies.some((b) => b.name === last.body) ? last.free.find((p) => model.points.some((x) => x.name === p)) : undefined;
  /** A bearing on the ground at a free end of the bar drawn last. */
  const bear = () => {
    if (!last || free === undefined) return;
    edit(`Bearing of ${last.body}`, (m) => addBearing(m, plane, last.body, free));
    setLast({ ...last, free: last.free.filter((p) => p !== free) });
  };

  const drop = () => {
    setPlaced([]);
    setTyped('');
  };
  const key = (e: React.KeyboardEvent) => {
    if (e.ctrlKey || e.metaKey || e.altKey || (e.target as Element).closest('input, button')) return;
    const here = cursor ?? ([0, 0] as const),
      far = (e.shiftKey ? 5 : 1) * step;
    const arrow = ({ ArrowLeft: [-far, 0], ArrowRight: [far, 0], ArrowUp: [0, far], ArrowDown: [0, -far] } as const)[e.key as 'ArrowUp'];
    if (arrow) setCursor([Math.round((here[0] + arrow[0]) / step) * step, Math.round((here[1] + arrow[1]) / step) * step]);
    else if (e.key === 'Escape') {
      if (placed.length === 0 && !typed) sketch(false);
      else drop();
    } else if (e.key === 'Backspace' && typed) setTyped(typed.slice(0, -1));
    else if (e.key === 'Enter') {
      if (placed.length > 0) finish(away(placed.at(-1)!, here) > 1e-9 || typed ? [...placed, here] : placed, typed);
      else if (typed && last) {
        if (retype(last.shape, typed)) setTyped('');
      } else setPlaced([here]);
    } else if (e.key === ' ' && !typed) setPlaced([...placed, here]);
    else if (e.key.toLowerCase() === 'n' && !typed && paper.anchors.length > 0) {
      const at = paper.anchors.findIndex((a) => away(a.at, here) < 1e-9),
        count = paper.anchors.length;
      setCursor(paper.anchors[(at + (e.shiftKey ? count - 1 : 1)) % count]!.at);
    } else if (e.key.toLowerCase() === 'g' && !typed && placed.length === 0) bear();
    else if (/^[\d.,\-−+;]$/.test(e.key) || (typed && e.key.length === 1)) setTyped(typed + e.key);
    else if (e.key === 'Tab' && typed) setTyped(`${typed}; `);
    else return;
    e.preventDefault();
    e.stopPropagation();
  };

  const at = (e: React.PointerEvent | React.MouseEvent): Px => {
    const { left, top } = layer.current!.getBoundingClientRect();
    return [e.clientX - left, e.clientY - top];
  };
  /** What turns no bar moves the view, as without the sheet. */
  const through = (e: React.PointerEvent | React.WheelEvent) =>
    void stage.canvas.dispatchEvent(new (e.nativeEvent.constructor as typeof PointerEvent)(e.nativeEvent.type, e.nativeEvent));

  const spots = cursor && placed.length > 0 ? [...placed, cursor] : placed;
  const { ends } = useMemo(() => endsFor(spots, typed), [spots, typed, paper, reach, step]); // eslint-disable-line react-hooks/exhaustive-deps
  const hover = cursor && placed.length === 0 ? restOn(paper, cursor, reach, step) : ends.at(-1);
  const outcome = ends.length > 1 ? outcomeOf(ends) : undefined;
  const words =
    said ??
    (outcome
      ? 'refused' in outcome
        ? outcome.refused
        : `${outcome.words}${tool === 'bar' ? ` Leaves ${count(mobility + outcome.adds)}.` : ''}`
      : hover && cursor && hover.on !== 'nothing'
        ? `From here: ${hover.on === 'line' && hover.body !== paper.ground ? `${hover.body} becomes a plate; along it, a slide` : endWords(hover, paper)}.`
        : undefined);
  const tip = hover ? toPx(hover.at) : undefined;
  const measured =
    ends.length > 1 && ends.length < 3
      ? {
          length: away(ends[0]!.at, ends[1]!.at),
          angle: angleOf({ a: ends[0]!.at, b: ends[1]!.at }),
          middle: toPx([(ends[0]!.at[0] + ends[1]!.at[0]) / 2, (ends[0]!.at[1] + ends[1]!.at[1]) / 2]),
        }
      : undefined;
  const rails = [
    ...(plane.level
      ? [
          [
            [2, toPx([0, 0])[1]],
            [box[0] - 2, toPx([0, 0])[1]],
          ] as [Px, Px],
        ]
      : []),
    ...paper.lines.filter((l) => l.body === paper.ground).map((l): [Px, Px] => [toPx(l.a), toPx(l.b)]),
  ];
  const grid = gridOf(fromPx, toPx, box, stepFor(GRID * pixel));

  return (
    <div className="absolute inset-0" onKeyDown={key} data-testid="sketch" data-busy={current ? undefined : ''}>
      <svg
        ref={layer}
        tabIndex={0}
        role="application"
        aria-label="A sheet to draw linkages on. Arrow keys move the cursor, with Shift five steps; N goes to the next pin. Space places a corner, Enter confirms. Digits set length and angle. G puts a bearing at a free end. Escape ends."
        width={box[0]}
        height={box[1]}
        className="absolute inset-0 cursor-crosshair touch-none outline-none focus-visible:outline-1 focus-visible:outline-offset-[-2px] focus-visible:outline-accent"
        onPointerDown={(e) => {
          if (e.button !== 0) {
            pressed.current = at(e);
            return through(e);
          }
          const p = (pressed.current = at(e)),
            spot = fromPx(...p);
          setSaid(undefined);
          e.currentTarget.focus();
          e.currentTarget.setPointerCapture(e.pointerId);
          if (placed.length === 0 && spot) setPlaced([spot]);
          setCursor(spot);
        }}
        onPointerMove={(e) => setCursor(fromPx(...at(e)))}
        onPointerUp={(e) => {
          const p = at(e),
            begun = pressed.current;
          if (e.button !== 0 || !begun) return;
          const still = Math.hypot(p[0] - begun[0], p[1] - begun[1]) < CLICK,
            spot = fromPx(...p);
          if (still && placed.length === 1) {
            setPlaced([]);
            onClick({ x: p[0], y: p[1] }, e.shiftKey || e.ctrlKey || e.metaKey);
          } else if (spot && e.shiftKey) setPlaced([...placed, spot]);
          else if (spot && placed.length > 0) finish([...placed, spot], typed);
        }}
        onPointerLeave={() => placed.length === 0 && setCursor(undefined)}
        onWheel={through}
        onContextMenu={(e) => {
          e.preventDefault();
          const p = at(e),
            begun = pressed.current;
          if (placed.length > 0) setPlaced([]);
          else if (begun && Math.hypot(p[0] - begun[0], p[1] - begun[1]) < CLICK) onMenu({ x: p[0], y: p[1] });
        }}
      >
        <Grid {...grid} box={box} />
        {rails.map(([a, b], k) => (
          <Hatched key={k} a={a} b={b} />
        ))}
        {ends.length > 1 && (
          <Ghost through={ends.map((e) => toPx(e.at))} width={width / pixel} refused={!!outcome && 'refused' in outcome} />
        )}
        {ends.slice(0, -1).map((e, k) => (
          <Ring key={k} at={toPx(e.at)} holds={e.on !== 'nothing'} />
        ))}
        {tip && hover && <Ring at={tip} holds={hover.on !== 'nothing'} />}
      </svg>
      <Lengths paper={paper} toPx={toPx} onType={retype} beside={width / pixel / 2 + 6} />
      {(measured || typed) && (
        <output
          aria-label="Length and angle"
          className="pointer-events-none absolute rounded-md border border-accent bg-sheet px-2 py-0.5 font-mono"
          style={{ left: (measured?.middle[0] ?? box[0] / 2) + 12, top: (measured?.middle[1] ?? box[1] / 2) - 12 }}
        >
          {typed ? `${typed}|` : `${formatQuantity(measured!.length, D.length)}  ${formatQuantity(measured!.angle, D.angle)}`}
        </output>
      )}
      <p
        role="status"
        className={`pointer-events-none absolute max-w-[340px] rounded-md bg-ink px-2.5 py-1 text-paper ${words ? '' : 'sr-only'}`}
        style={tip ? { left: Math.min(tip[0] + 20, box[0] - 350), top: Math.max(90, tip[1] - 34) } : { left: 12, bottom: 12 }}
      >
        {words}
      </p>
      <Strip
        where={face ? 'on the face' : `in ${{ front: 'Front', top: 'Top', side: 'Side' }[view ?? 'front']}`}
        tool={tool}
        onTool={setTool}
        parameters={parameters}
        onParameters={setParameters}
        onBearing={free === undefined ? undefined : bear}
        bearingOf={last?.body}
        apart={apart}
        back={() => layer.current?.focus()}
      />
    </div>
  );
}

const count = (n: number): string => (n === 1 ? '1 degree of freedom' : `${n} degrees of freedom`);

/** Where the lines of the drawn grid are, CSS pixels. */
function gridOf(
  fromPx: (x: number, y: number) => Spot | undefined,
  toPx: (s: Spot) => Px,
  box: Px,
  step: number,
): { across: number[]; up: number[] } {
  const a = fromPx(0, box[1]),
    b = fromPx(box[0], 0);
  if (!a || !b) return { across: [], up: [] };
  const between = (k: 0 | 1) =>
    Array.from(
      { length: Math.max(0, Math.min(100, Math.floor(b[k] / step) - Math.ceil(a[k] / step) + 1)) },
      (_, i) => (Math.ceil(a[k] / step) + i) * step,
    );
  return { across: between(0).map((u) => toPx([u, a[1]])[0]), up: between(1).map((v) => toPx([a[0], v])[1]) };
}
