/** Limits that stop a run, as watches: their passing is located like any other event, and the run ends there. */
import type { Diagnosis } from '../diagnosis';
import type { Channel, Snapshot } from '../elements/declarations';
import type { Kinematics } from '../equations/kinematics';
import type { Watch } from '../equations/watch';
import { LeastNorm } from '../linear/least-norm';
import { formatQuantity } from '../quantity/units';
import type { Mechanism } from '../system/mechanism';
import type { Turns } from './turns';

interface Bounds {
  gauge: string;
  low?: number;
  high?: number;
  of: string;
  from?: number;
  to?: number;
  at?: number;
}

class StopLimit implements Watch {
  readonly carried = true;
  /** What was read when it was passed, SI. */
  passedAt: number | undefined;
  constructor(
    readonly name: string,
    readonly bounds: Bounds,
    readonly channel: Channel,
    private readonly snapshotAt: (K: Kinematics, t: number, loads: boolean) => Snapshot,
  ) {}
  private read(K: Kinematics, t: number): number {
    const value = this.channel.read(this.snapshotAt(K, t, !!this.channel.loads));
    return this.bounds.of === 'size' ? Math.abs(value) : value;
  }
  /** Room left to the nearer bound. */
  value(K: Kinematics, t: number): number {
    const { low = -Infinity, high = Infinity, from = -Infinity, to = Infinity, at } = this.bounds;
    if (at === undefined ? t < from || t > to : t !== at) return NaN;
    const value = this.read(K, t);
    return Math.min(high - value, value - low);
  }
  fire(K: Kinematics, t: number): undefined {
    this.passedAt = this.read(K, t);
  }
}

export class StopLimits {
  readonly watches: readonly { element: { family: 'limits'; name: string }; watch: StopLimit }[];

  /** @throws Refusal when a gauge cannot be read */
  constructor(
    m: Mechanism,
    private readonly turns: Turns,
  ) {
    const { system, size } = m;
    const norm = new LeastNorm(system.ldlt, system.lengths),
      multipliers = new Float64Array(system.rows),
      indexOf = new Map(m.angles.map((f, i) => [f, i]));
    const snapshot: Snapshot = {
      t: 0,
      K: system.K,
      acceleration: system.acceleration,
      G: system.G,
      multipliers,
      angle: (f) => this.turns.peek(indexOf.get(f)!, snapshot.t),
    };
    const snapshotAt = (K: Kinematics, t: number, loads: boolean): Snapshot => {
      snapshot.K = K;
      snapshot.t = t;
      multipliers.set(system.multipliers);
      if (loads) norm.spread(size, multipliers);
      return snapshot;
    };
    this.watches = m.resolution.elements.limits
      .filter((e) => e.values.then === 'stop')
      .map(({ name, values }) => {
        const bounds = values as unknown as Bounds;
        return { element: { family: 'limits' as const, name }, watch: new StopLimit(name, bounds, m.channel(bounds.gauge), snapshotAt) };
      });
  }

  /** Whether what joints carry is looked at. */
  get loads(): boolean {
    return this.watches.some(({ watch }) => watch.channel.loads);
  }

  /** Times at which a limit begins or ceases to count: steps end there. */
  times(until: number): number[] {
    return this.watches.flatMap(({ watch: { bounds: b } }) =>
      [b.from, b.to, b.at].filter((t): t is number => t !== undefined && t > 0 && t < until),
    );
  }

  /** Whether one is passed at the state in K, for which accelerations are at hand. */
  passed(K: Kinematics, t: number): boolean {
    return this.watches.some(({ watch }) => watch.value(K, t) < 0);
  }

  /** What stopped the run, if anything did. @param t the time at which it was passed, s */
  reason(K: Kinematics, t: number): Diagnosis | undefined {
    for (const { watch } of this.watches) if (watch.passedAt === undefined && watch.value(K, t) < 0) watch.fire(K, t);
    const found = this.watches.find(({ watch }) => watch.passedAt !== undefined);
    if (!found) return undefined;
    const {
        watch: { bounds, channel, passedAt },
        element,
      } = found,
      show = (x: number) => formatQuantity(x, channel.dim, channel.unit);
    const above = bounds.high !== undefined && passedAt! > bounds.high,
      bound = above ? bounds.high! : bounds.low!;
    return {
      code: 'limit-stop',
      severity: 'warning',
      time: t,
      element,
      message: `The limit “${element.name}” stopped the run at ${Number(t.toPrecision(6))} s: ${bounds.of === 'size' ? 'the size of ' : ''}${bounds.gauge} went ${above ? 'above' : 'below'} ${show(bound)}.`,
      remedy: 'Change the machine or the limit, or let it only be reported.',
    };
  }
}
