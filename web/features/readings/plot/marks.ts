/** What lies over the curves: the time shown, numbered cursors, the levels of limits. */
import type { Chart } from 'chart.js';
import { recordAt } from '@vim-pivot/core/scores';
import { useReadings } from '@/state/readings/readings';
import { useRuns } from '@/state/runs/runs';
import { token } from '@/ui/ink';
import type { Across, Trace } from './trace';

/** What a chart draws at the moment. */
export interface Drawn {
  traces: readonly Trace[];
  across: Across;
  units: readonly string[];
}

/** The time is a line laid over the canvas, so that playing redraws no curve; over another gauge it is a spot. The spot comes after the line. */
export function placeTime(line: HTMLElement | null, chart: Chart | null, { traces: [t], across }: Drawn): void {
  const x = chart?.scales.x;
  if (!line || !chart || !x) return;
  const { time, view } = useRuns.getState(),
    { top, bottom, left, right } = chart.chartArea;
  if (across.of === 'time') {
    const at = x.getPixelForValue(time);
    line.style.display = view === 'run' && at > left - 1 && at < right + 1 ? '' : 'none';
    line.style.transform = `translate(${at}px, ${top}px)`;
    line.style.height = `${bottom - top}px`;
    chart.canvas.dataset.cursor = String(at);
    return;
  }
  line.style.display = 'none';
  const spot = line.nextElementSibling as HTMLElement;
  spot.style.display = 'none';
  const y = chart.scales.y0;
  if (across.of !== 'gauge' || view !== 'run' || !t?.time || t.time.length === 0 || !y) return;
  const k = recordAt(t.time, time);
  const [left0, top0] = [x.getPixelForValue(t.x[k]! / across.factor), y.getPixelForValue(t.y[k]! / t.factor)];
  spot.style.display = '';
  spot.style.transform = `translate(${left0 - 4}px, ${top0 - 4}px)`;
}

/** Cursors with their numbers, and the levels of limits. */
export function drawMarks(chart: Chart, drawn: Drawn): void {
  // the first drawing comes before there is anything to draw
  if (!chart.scales.x) return;
  const { ctx } = chart;
  ctx.save();
  ctx.font = '10px "JetBrains Mono Variable"';
  if (drawn.across.of === 'time' || drawn.across.of === 'gauge') drawLevels(chart, drawn);
  if (drawn.across.of === 'time') drawCursors(chart);
  ctx.restore();
}

function drawLevels({ ctx, scales, chartArea: { left, right, top, bottom } }: Chart, { traces, units }: Drawn): void {
  for (const { name, level, gauge } of useReadings.getState().limits.flatMap((l) => l.bounds.map((level) => ({ ...l, level })))) {
    const t = traces.find((x) => x.gauge === gauge),
      axis = t && scales[`y${units.indexOf(t.unit)}`];
    if (!t || !axis) continue;
    const y = axis.getPixelForValue(level / t.factor);
    if (y < top - 1 || y > bottom + 1) continue;
    ctx.strokeStyle = ctx.fillStyle = token('warn');
    ctx.setLineDash([5, 3]);
    stroke(ctx, [left, y], [right, y]);
    ctx.fillText(name, left + 4, y - 3);
  }
}

function drawCursors({ ctx, scales, chartArea: { left, right, top, bottom } }: Chart): void {
  ctx.setLineDash([3, 3]);
  useReadings.getState().cursors.forEach((t, i) => {
    const x = scales.x!.getPixelForValue(t);
    if (x < left || x > right) return;
    ctx.strokeStyle = token('ink');
    stroke(ctx, [x, top], [x, bottom]);
    ctx.fillStyle = token('ink');
    ctx.fillRect(x - 7, top, 14, 13);
    ctx.fillStyle = token('paper');
    ctx.textAlign = 'center';
    ctx.fillText(String(i + 1), x, top + 10);
    ctx.textAlign = 'left';
  });
}

function stroke(ctx: CanvasRenderingContext2D, from: readonly [number, number], to: readonly [number, number]): void {
  ctx.beginPath();
  ctx.moveTo(...from);
  ctx.lineTo(...to);
  ctx.stroke();
}
