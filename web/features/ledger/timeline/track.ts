/** Drives as timelines: read from their formulas, and written into them. */
import { type Timeline, readTimeline, writeTimeline } from '@vim-pivot/core/timeline';
import { type LiveValue, type Model, type RawElement, askedDimension, kindOf, shownUnit } from '@vim-pivot/core/page';
import { edit } from '@/state/document/document';

/** A drive with its formula seen as a timeline, where it can be. */
export interface Track {
  name: string;
  raw: string;
  unit: string;
  line: Timeline | undefined;
  live: LiveValue | undefined;
}

const valueField = (e: RawElement) => kindOf('drives', e)!.fields;
/** The dimension of what a drive prescribes. */
export const dimOf = (model: Model, e: RawElement) => {
  const fields = valueField(e),
    f = fields.value!;
  return f.type === 'quantity' ? askedDimension(f.dim, fields, e, model) : undefined;
};

export function tracksOf(model: Model, live: ReadonlyMap<string, LiveValue>): Track[] {
  const known = (n: string) => {
    const k = model.parameters.findIndex((p) => p.name === n),
      p = live.get(`$.parameters[${k}].value`);
    return k < 0 || !p ? undefined : { value: p.value, dim: p.dim };
  };
  return model.drives.map((e, i): Track => {
    const dim = dimOf(model, e),
      raw = String(e.value ?? ''),
      unit = dim ? shownUnit(dim).replaceAll('·', '*') : '';
    return {
      name: e.name,
      raw,
      unit,
      line: dim && raw !== '' ? readTimeline(raw, dim, unit, known) : undefined,
      live: live.get(`$.drives[${i}].value`),
    };
  });
}

/** As one undo step. */
export function writeLine(drive: string, line: Timeline, label: string): void {
  edit(label, (m) => {
    putLine(m, drive, line);
  });
}

export function putLine(m: Model, drive: string, line: Timeline): void {
  const d = m.drives.find((x) => x.name === drive);
  if (d) d.value = writeTimeline(line);
}
