/** A gauge is a pure function of a stored state: readings of any run, also for gauges made after it. */
import type { Channel, Snapshot } from '../elements/declarations';
import type { Freedom } from '../equations/freedom';
import type { Model } from '../model/document';
import type { Mechanism } from '../system/mechanism';
import { type RecordLayout, offsets, recordLayout } from './record';

export class Readings {
  private readonly layout: RecordLayout;
  private readonly from: ReturnType<typeof offsets>;
  private readonly snapshot: Snapshot;
  private row: Float64Array = new Float64Array(0);

  constructor(private readonly m: Mechanism) {
    this.layout = recordLayout(m);
    this.from = offsets(this.layout);
    const { system } = m;
    const angleAt = new Map(m.angles.map((f, i) => [f, i]));
    const { bodies, rows } = system;
    this.snapshot = {
      t: 0,
      K: system.K,
      acceleration: new Float64Array(6 * bodies),
      G: system.G,
      multipliers: new Float64Array(rows),
      angle: (f: Freedom) => this.row[this.from.angles + angleAt.get(f)!]!,
    };
  }

  /** Puts a recorded row into the snapshot. */
  private load(row: Float64Array, loads = false): void {
    const { from, snapshot, m } = this;
    this.row = row;
    snapshot.t = row[0]!;
    snapshot.K.load(row.subarray(from.state, from.acceleration));
    snapshot.acceleration.set(row.subarray(from.acceleration, from.multipliers));
    snapshot.multipliers.set(row.subarray(from.multipliers, from.angles));
    m.memories.recall(row, from.memory);
    m.system.jacobian();
    if (loads) {
      m.system.ldlt.factorise(m.system.G);
      m.system.spreadLoads(m.size, snapshot.multipliers);
    }
  }

  /** Residuals of positions and velocities at a recorded row: the constraints as they are met there. */
  residuals(row: Float64Array): { position: number; velocity: number } {
    this.load(row);
    this.m.system.segment(0, Infinity);
    return { position: this.m.system.residual(row[0]!), velocity: this.m.system.velocityResidual(row[0]!) };
  }

  /** Values of channels over recorded chunks, one array each. */
  read(channels: readonly Channel[], chunks: readonly Float64Array[]): Float64Array[] {
    const { width } = this.layout;
    const n = chunks.reduce((s, c) => s + c.length / width, 0);
    const out = channels.map(() => new Float64Array(n));
    const loads = channels.some((c) => c.loads);
    let i = 0;
    for (const chunk of chunks) {
      for (let p = 0; p < chunk.length; p += width, i++) {
        this.load(chunk.subarray(p, p + width), loads);
        for (let k = 0; k < channels.length; k++) out[k]![i] = channels[k]!.read(this.snapshot);
      }
    }
    if (channels.some((c) => c.after)) {
      const time = times(chunks, width);
      channels.forEach((c, k) => c.after && out[k]!.set(c.after(time, out[k]!)));
    }
    return out;
  }
}

/** Recorded times of a run. */
export function times(chunks: readonly Float64Array[], width: number): Float64Array {
  const out: number[] = [];
  for (const c of chunks) for (let p = 0; p < c.length; p += width) out.push(c[p]!);
  return Float64Array.from(out);
}

/** The model of a run with the gauges of a later model, and the points those may need. */
export function withGauges(run: Model, now: Model): Model {
  const known = new Set(run.points.map((p) => p.name));
  return { ...run, gauges: now.gauges, points: [...run.points, ...now.points.filter((p) => !known.has(p.name))] };
}
