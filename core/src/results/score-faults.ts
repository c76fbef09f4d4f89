/** What scores and limits ask for that cannot be. */
import { type Diagnosis, Refusal } from '../diagnosis';
import type { Channel } from '../elements/declarations';
import type { Resolution } from '../model/resolve';
import type { ResolvedElement } from '../model/resolved-element';
import { type Dimension, compatible, inWords } from '../quantity/dimension';
import type { Mechanism } from '../system/mechanism';

/** A field of a score or limit that asks for what cannot be. */
interface AskFault {
  field: string;
  message: string;
  remedy?: string;
}

/** What a score or limit asks for that cannot be: levels that do not fit its gauge, bounds that bound nothing. @param of dimension that its levels have */
export function askFaults({ live, model }: Resolution, family: 'scores' | 'limits', e: ResolvedElement, of: Dimension): AskFault[] {
  const v = e.values as { gauge: string; other?: string; low?: number; high?: number; from?: number; to?: number };
  const out: AskFault[] = [];
  for (const field of ['low', 'high', 'level']) {
    const value = live.get(`$.${family}[${e.index}].${field}`);
    // zero is zero of any quantity
    if (e.values[field] !== undefined && value && value.value !== 0 && !compatible(value.dim, of))
      out.push({ field, message: `“${v.other ?? v.gauge}” is ${inWords(of)}; this is ${inWords(value.dim)}.` });
  }
  const raw = model[family][e.index]!,
    given = (x: unknown) => x !== undefined && x !== '';
  if (family === 'limits' && !given(raw.low) && !given(raw.high))
    out.push({ field: 'high', message: 'It sets no limit.', remedy: 'Give the smallest or the largest allowed value.' });
  if (family === 'limits' && v.low !== undefined && v.high !== undefined && v.low > v.high)
    out.push({ field: 'low', message: 'The smallest allowed value is larger than the largest.' });
  if (v.from !== undefined && v.to !== undefined && v.from >= v.to) out.push({ field: 'to', message: 'Its span ends before it begins.' });
  return out;
}

/** Scores and limits that ask for what cannot be, and limits that cannot stop a run as they should. */
export function scoreFaults(m: Mechanism): Diagnosis[] {
  const { elements } = m.resolution;
  const out: Diagnosis[] = [];
  for (const family of ['scores', 'limits'] as const)
    for (const e of elements[family]) {
      const v = e.values as { gauge: string; other?: string; then?: string };
      const fault = ({ field, ...f }: AskFault) =>
        out.push({
          code: 'limit-level',
          severity: v.then === 'stop' ? 'error' : 'warning',
          path: [family, e.index, field],
          element: { family, name: e.name },
          ...f,
        });
      let channel: Channel;
      try {
        channel = m.channel(v.other ?? v.gauge);
      } catch (error) {
        if (!(error instanceof Refusal)) throw error;
        if (v.then === 'stop')
          fault({
            field: 'gauge',
            message: `“${v.gauge}” cannot be read, so that the limit could not stop a run.`,
            remedy: 'Mend the gauge, or let the limit only be reported.',
          });
        continue; // told at the gauge
      }
      if (v.then === 'stop' && channel.after)
        fault({
          field: 'then',
          message: `“${v.gauge}” is known only over the whole run, and cannot stop one.`,
          remedy: 'Let the limit only be reported, or watch a gauge that is read as the run goes on.',
        });
      askFaults(m.resolution, family, e, channel.dim).forEach(fault);
    }
  return out;
}
