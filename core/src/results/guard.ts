/** Limits that stop a run: looked at as its records come, on a mechanism of their own, so that the one being solved is not disturbed. */
import type { Diagnosis } from '../diagnosis';
import type { Model } from '../model/document';
import { formatQuantity } from '../quantity/units';
import { build } from '../system/mechanism';
import { Readings, times } from './readings';
import { recordLayout } from './record';
import { violations } from './scores';

export class LimitGuard {
  private readonly look: ((chunk: Float64Array) => Diagnosis | undefined) | undefined;

  /** @param model the model that is run */
  constructor(model: Model) {
    const stops = model.limits.filter((l) => l.then === 'stop' && !l.off);
    const mechanism = stops.length > 0 ? build(model).mechanism : undefined;
    if (!mechanism) return;
    const limits = mechanism.resolution.elements.limits.filter((e) => stops.some((l) => l.name === e.name)).map((e) => ({ name: e.name, values: e.values as { gauge: string; low?: number; high?: number; of: string; from?: number; to?: number }, channel: mechanism.channel((e.values as { gauge: string }).gauge) })).filter((l) => !l.channel.after);
    const readings = new Readings(mechanism), { width } = recordLayout(mechanism);
    this.look = (chunk) => {
      const time = times([chunk], width), read = readings.read(limits.map((l) => l.channel), [chunk]);
      for (const [k, { name, values, channel }] of limits.entries()) {
        const [first] = violations(values, { time, values: read[k]!, dim: channel.dim });
        if (first) return { code: 'limit-stop', severity: 'warning', message: `The run was stopped at ${first.from.toFixed(4)} s: ${values.gauge} passed its limit, ${formatQuantity(first.worst, channel.dim, channel.unit)}.`, element: { family: 'limits', name }, time: first.from, remedy: 'Change the machine or the limit, or let it only be told.' };
      }
      return undefined;
    };
  }

  /** The first limit that a chunk of records passes. */
  passed(chunk: Float64Array): Diagnosis | undefined {
    return this.look?.(chunk);
  }
}
