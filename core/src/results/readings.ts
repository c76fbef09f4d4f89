/** A gauge is a pure function of a stored state: readings of any run, also for gauges made after it. */
import type { Channel, Snapshot } from '../elements/declarations';
import { refuse } from '../diagnosis';
import type { Freedom } from '../equations/freedom';
import type { Model } from '../model/document';
import { LeastNorm } from '../linear/least-norm';
import { COMPILER } from '../system/compiler';
import type { Mechanism } from '../system/mechanism';
import { type RecordLayout, RecordedStates, offsets } from './record';

/** A recorded state at which accelerations and constraint forces are worked out once something asks for them. */
class Recorded implements Snapshot {
  t = 0;
  private row: Float64Array = new Float64Array(0);
  private readonly from: ReturnType<typeof offsets>;
  private readonly angleAt: ReadonlyMap<Freedom, number>;
  private readonly own: { acceleration: Float64Array; multipliers: Float64Array };
  private readonly norm: LeastNorm;
  private readonly states: RecordedStates;
  private readonly state: Float64Array;
  private leastNorm = false;
  private solved = false;

  constructor(
    private readonly m: Mechanism,
    private readonly layout: RecordLayout,
  ) {
    const { motions, rows } = m.system;
    this.from = offsets(layout);
    this.states = new RecordedStates(layout);
    this.state = new Float64Array(this.states.size);
    this.angleAt = new Map(m.angles.map((f, i) => [f, i]));
    this.norm = new LeastNorm(m.system.ldlt, m.system.lengths);
    this.own = { acceleration: new Float64Array(motions), multipliers: new Float64Array(rows) };
  }

  /** @param leastNorm constraint forces that are not unique are those of least norm */
  load(row: Float64Array, leastNorm: boolean): void {
    const { m, from } = this;
    this.row = row;
    this.t = row[0]!;
    this.leastNorm = leastNorm;
    this.solved = false;
    this.states.read(row, 0, this.state);
    this.K.loadWhole(this.state);
    m.memories.recall(row, from.memory);
    // where a formula has a kink, the record is that of the time before it
    m.system.segment(0, this.t);
  }

  get K() {
    return this.m.system.K;
  }
  get acceleration(): Float64Array {
    return this.solution.acceleration;
  }
  get multipliers(): Float64Array {
    return this.solution.multipliers;
  }
  get G(): Float64Array {
    void this.solution;
    return this.m.system.G;
  }
  angle(f: Freedom): number {
    return this.row[this.from.angles + this.angleAt.get(f)!]!;
  }

  private get solution(): { acceleration: Float64Array; multipliers: Float64Array } {
    const { own, m, from, row } = this;
    if (this.solved) return own;
    this.solved = true;
    const { system } = m;
    if (this.layout.solution === 0) {
      system.accelerate(this.t);
      own.acceleration.set(system.acceleration);
      own.multipliers.set(system.multipliers);
    } else {
      system.linearise();
      own.acceleration.set(row.subarray(from.acceleration, from.multipliers));
      own.multipliers.set(row.subarray(from.multipliers, from.angles));
    }
    if (this.leastNorm) this.norm.spread(m.size, own.multipliers);
    return own;
  }
}

export class Readings {
  private readonly snapshot: Recorded;

  /** @param layout of the records, which may be those of an earlier version */
  constructor(
    private readonly m: Mechanism,
    private readonly layout: RecordLayout,
  ) {
    this.snapshot = new Recorded(m, layout);
  }

  /** Residuals of positions and velocities at a recorded row: the constraints as they are met there. */
  residuals(row: Float64Array): { position: number; velocity: number } {
    const { snapshot, m } = this;
    snapshot.load(row, false);
    m.system.linearise();
    return { position: m.system.residual(snapshot.t), velocity: m.system.velocityResidual(snapshot.t, true) };
  }

  /**
   * Values of channels over recorded chunks, one array each.
   * @throws Refusal while a run is at work in the machine: read it in another workspace of it (`Mechanism.apart`)
   */
  read(channels: readonly Channel[], chunks: readonly Float64Array[]): Float64Array[] {
    const out = this.taken(channels, chunks);
    if (channels.some((c) => c.after)) {
      const time = times(chunks, this.layout.width);
      channels.forEach((c, k) => c.after && out[k]!.set(c.after(time, out[k]!)));
    }
    return out;
  }
  /** The same before anything is made of a whole course. */
  taken(channels: readonly Channel[], chunks: readonly Float64Array[]): Float64Array[] {
    const { width } = this.layout;
    if (this.m.taken)
      refuse({
        code: 'machine-taken',
        message: 'A run is at work in this machine.',
        why: 'Reading puts the bodies where the records say, and the run would go on from there.',
        remedy: 'Read when the run is over.',
      });
    this.m.system.standing(this.layout.standing ?? false);
    this.m.system.compile(COMPILER);
    const n = chunks.reduce((s, c) => s + c.length / width, 0);
    const out = channels.map(() => new Float64Array(n));
    const loads = channels.some((c) => c.loads);
    let i = 0;
    for (const chunk of chunks) {
      for (let p = 0; p < chunk.length; p += width, i++) {
        this.snapshot.load(chunk.subarray(p, p + width), loads);
        for (let k = 0; k < channels.length; k++) out[k]![i] = channels[k]!.read(this.snapshot);
      }
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
