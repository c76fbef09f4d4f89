/** The axes of a chart: across, and one upward for each unit. */
import type { Scale, ScaleOptionsByType } from 'chart.js';
import { localText } from '@vim-pivot/core/page';
import { useReadings } from '@/state/readings/readings';
import { token } from '@/ui/ink';
import { type Across, type AxisRange, type Trace, endOf, limitsOf } from './trace';

export interface Axes {
  traces: readonly Trace[];
  across: Across;
  units: readonly string[];
  /** End of the curves. */
  end: number;
  span: readonly [number, number] | undefined;
  range: AxisRange;
  logX: boolean;
  logY: boolean;
  digits: number | undefined;
}

export function scalesOf(axes: Axes): Record<string, ScaleOptionsByType<'linear'>> {
  const scales: Record<string, object> = { x: acrossAxis(axes) };
  axes.units.forEach((unit, i) => (scales[`y${i}`] = upwardAxis(axes, unit, i)));
  return scales as unknown as Record<string, ScaleOptionsByType<'linear'>>;
}

const line = () => ({ color: token('line') });
/** Over another gauge both axes say what they count. */
const named = ({ of }: Across, text: string, unit: string) =>
  of === 'gauge' ? { title: { display: true, text: `${text}${unit ? `, ${unit}` : ''}`, color: token('ink-2'), font: { size: 11 } } } : {};

function ticks(unit: string, count: number, digits: number | undefined) {
  const shown = (v: number | string) =>
    localText(String(digits ? Number(Number(v).toPrecision(digits)) : typeof v === 'number' ? Number(v.toPrecision(6)) : v));
  return {
    color: token('ink-2'),
    font: { family: 'JetBrains Mono Variable', size: 10 },
    maxTicksLimit: count,
    maxRotation: 0,
    callback: (v: number | string, i: number, all: readonly unknown[]) =>
      i === all.length - 1 && unit !== '' ? `${shown(v)} ${unit}` : shown(v),
  };
}

function acrossAxis({ across, span, end, range, logX, digits }: Axes): object {
  const { unit, factor } = across;
  return {
    type: logX ? 'logarithmic' : 'linear',
    ...(across.of === 'time' ? { min: span?.[0] ?? 0, max: span?.[1] ?? (end || 1) } : {}),
    ...(span ? {} : limitsOf(endOf(range.left, unit, factor, true), endOf(range.right, unit, factor, true))),
    ...named(across, across.label, unit),
    grid: line(),
    border: line(),
    ticks: ticks(unit, 7, digits),
  };
}

function upwardAxis({ traces, across, units, range, logY, digits }: Axes, unit: string, i: number): object {
  const own = traces.filter((t) => t.unit === unit),
    { factor } = own[0]!;
  const levels =
    across.of === 'time'
      ? useReadings
          .getState()
          .limits.filter((l) => own.some((t) => t.gauge === l.gauge))
          .flatMap((l) => l.bounds.map((level) => level / factor))
      : [];
  return {
    type: logY ? 'logarithmic' : 'linear',
    position: i === 0 ? 'left' : 'right',
    border: line(),
    ticks: ticks(units.length > 1 ? unit : '', 5, digits),
    grid: i === 0 ? line() : { drawOnChartArea: false },
    ...(levels.length > 0 && !logY ? { suggestedMin: Math.min(...levels), suggestedMax: Math.max(...levels) } : {}),
    ...limitsOf(endOf(range.low, unit, factor, i === 0), endOf(range.high, unit, factor, i === 0)),
    ...named(across, [...new Set(own.map((t) => t.gauge))].join(', '), unit),
    ...(logY ? { afterBuildTicks: (axis: Scale) => (axis.ticks = decades(axis)) } : {}),
  };
}

/** Only whole powers of ten on a logarithmic axis, unless there are fewer than two. */
function decades(axis: Scale): { value: number }[] {
  const whole = axis.ticks.filter((t) => Math.abs(Math.log10(t.value) - Math.round(Math.log10(t.value))) < 1e-6);
  return whole.length > 1 ? whole : axis.ticks;
}
