'use client';
import { useEffect, useRef } from 'react';
import { D, formatQuantity } from '@vim-pivot/core/page';
import { sketch } from '@/state/asking';
import { useDocument } from '@/state/document/document';
import { useRuns } from '@/state/runs/runs';
import { endWords } from '@/state/scene/sketch/draw';
import { angleOf } from '@/state/scene/sketch/lengths';
import type { Paper } from '@/state/scene/sketch/paper';
import { type StandardView, away } from '@/state/scene/sketch/plane';
import type { Stage } from '../stage';
import { Lengths } from './lengths';
import { Ghost, Grid, Hatched, type Px, Ring } from './marks';
import { Strip } from './strip';
import { strokeKey } from './stroke-keys';
import { usePaper } from './use-paper';
import { type Clicks, usePen } from './use-pen';
import { type Sheet, useSheet } from './use-sheet';
import { type OnPaper, type Stroke, useStroke } from './use-stroke';

interface Props extends Clicks {
  stage: Stage;
  /** The standard view looked from; left out: the face that is picked, else the front. */
  view: StandardView | undefined;
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

function Pad({ stage, view, face, apart, onClick, onMenu, ...on }: Props & OnPaper & { face: boolean; apart: boolean }) {
  const { paper, current } = on;
  const layer = useRef<SVGSVGElement>(null);
  const sheet = useSheet(stage, paper.plane, layer);
  const stroke = useStroke(on, sheet);
  const pen = usePen(stage, layer, sheet, stroke, { onClick, onMenu });
  const { box, pixel, step, toPx } = sheet;
  const { ends, hover, outcome, width, free, last } = stroke;
  return (
    <div
      className="absolute inset-0"
      onKeyDown={(e) => strokeKey(e, stroke, paper, step)}
      data-testid="sketch"
      data-busy={current ? undefined : ''}
    >
      <svg
        ref={layer}
        tabIndex={0}
        role="application"
        aria-label="A sheet to draw linkages on. Arrow keys move the cursor, with Shift five steps; N goes to the next pin. Space places a corner, Enter confirms. Digits set length and angle. G puts a bearing at a free end. Escape ends."
        width={box[0]}
        height={box[1]}
        className="absolute inset-0 cursor-crosshair touch-none outline-none focus-visible:outline-1 focus-visible:outline-offset-[-2px] focus-visible:outline-accent"
        {...pen}
      >
        <Grid {...sheet.grid} box={box} />
        {rails(paper, sheet).map(([a, b], k) => (
          <Hatched key={k} a={a} b={b} />
        ))}
        {ends.length > 1 && (
          <Ghost through={ends.map((e) => toPx(e.at))} width={width / pixel} refused={!!outcome && 'refused' in outcome} />
        )}
        {ends.slice(0, -1).map((e, k) => (
          <Ring key={k} at={toPx(e.at)} holds={e.on !== 'nothing'} />
        ))}
        {hover && <Ring at={toPx(hover.at)} holds={hover.on !== 'nothing'} />}
      </svg>
      <Lengths paper={paper} toPx={toPx} onType={stroke.retype} beside={width / pixel / 2 + 6} />
      <Measured stroke={stroke} sheet={sheet} />
      <Words stroke={stroke} sheet={sheet} paper={paper} />
      <Strip
        where={face ? 'on the face' : `in ${{ front: 'Front', top: 'Top', side: 'Side' }[view ?? 'front']}`}
        tool={stroke.tool}
        onTool={stroke.setTool}
        parameters={stroke.parameters}
        onParameters={stroke.setParameters}
        onBearing={free === undefined ? undefined : stroke.bear}
        bearingOf={last?.body}
        apart={apart}
        back={() => layer.current?.focus()}
      />
    </div>
  );
}

/** Lines of the ground: where the sheet is level, and those that are drawn. */
function rails({ plane, lines, ground }: Paper, { box, toPx }: Sheet): [Px, Px][] {
  const level = toPx([0, 0])[1];
  return [
    ...(plane.level
      ? [
          [
            [2, level],
            [box[0] - 2, level],
          ] as [Px, Px],
        ]
      : []),
    ...lines.filter((l) => l.body === ground).map((l): [Px, Px] => [toPx(l.a), toPx(l.b)]),
  ];
}

/** Length and angle of the bar being drawn, or what is typed for them. */
function Measured({ stroke: { ends, typed }, sheet: { box, toPx } }: { stroke: Stroke; sheet: Sheet }) {
  const [a, b] = ends.length === 2 ? ends.map((e) => e.at) : [];
  if (!typed && !(a && b)) return null;
  const middle = a && b ? toPx([(a[0] + b[0]) / 2, (a[1] + b[1]) / 2]) : ([box[0] / 2, box[1] / 2] as const);
  const text = a && b ? `${formatQuantity(away(a, b), D.length)}  ${formatQuantity(angleOf({ a, b }), D.angle)}` : '';
  return (
    <output
      aria-label="Length and angle"
      className="pointer-events-none absolute rounded-md border border-accent bg-sheet px-2 py-0.5 font-mono"
      style={{ left: middle[0] + 12, top: middle[1] - 12 }}
    >
      {typed ? `${typed}|` : text}
    </output>
  );
}

/** Beside the pointer: what letting go does, or why it cannot be. */
function Words({ stroke, sheet: { box, toPx }, paper }: { stroke: Stroke; sheet: Sheet; paper: Paper }) {
  const mobility = useDocument((s) => s.mobility?.joints ?? 0);
  const words = stroke.said ?? wordsOf(stroke, paper, mobility);
  const tip = stroke.hover && toPx(stroke.hover.at);
  return (
    <p
      role="status"
      className={`pointer-events-none absolute max-w-[340px] rounded-md bg-ink px-2.5 py-1 text-paper ${words ? '' : 'sr-only'}`}
      style={tip ? { left: Math.min(tip[0] + 20, box[0] - 350), top: Math.max(90, tip[1] - 34) } : { left: 12, bottom: 12 }}
    >
      {words}
    </p>
  );
}

function wordsOf({ outcome, hover, cursor, tool }: Stroke, paper: Paper, mobility: number): string | undefined {
  if (outcome)
    return 'refused' in outcome
      ? outcome.refused
      : `${outcome.words}${tool === 'bar' ? ` Leaves ${degrees(mobility + outcome.adds)}.` : ''}`;
  if (!hover || !cursor || hover.on === 'nothing') return undefined;
  const onBar = hover.on === 'line' && hover.body !== paper.ground;
  return `From here: ${onBar ? `${hover.body} becomes a plate; along it, a slide` : endWords(hover, paper)}.`;
}

const degrees = (n: number): string => (n === 1 ? '1 degree of freedom' : `${n} degrees of freedom`);
