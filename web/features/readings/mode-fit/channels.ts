/** Curves to which modes can be fitted: of the run, or of a file that was measured. */
import { readUnit } from '@vim-pivot/core/page';
import { within } from '@vim-pivot/core/scores';
import { modelWorker } from '@/workers/client';
import type { GaugeLines } from '../use-lines';

export interface Channel {
  name: string;
  unit: string;
  factor: number;
  time: Float64Array;
  values: Float64Array;
}

/** @param span the part of the run that is looked at, s */
export const channelsOf = (lines: readonly GaugeLines[], span: readonly [number, number] | undefined): Channel[] =>
  lines.map((l) => ({
    name: l.gauge,
    unit: l.unit,
    factor: readUnit(l.unit)?.factor ?? 1,
    ...within({ time: l.current.time, values: l.current.values, dim: l.dim }, span?.[0], span?.[1]),
  }));

/** The columns of a CSV file over its first. @throws Refusal when it is none */
export async function channelsIn(f: File): Promise<Channel[]> {
  const { names, columns } = await modelWorker().ask({ type: 'columns', text: await f.text() }, 'columns');
  return names.slice(1).map((name, k) => {
    const unit = /\[([^\]]+)\]\s*$/.exec(name)?.[1] ?? '';
    return { name, unit: readUnit(unit) ? unit : '', factor: 1, time: columns[0]!, values: columns[k + 1]! };
  });
}
