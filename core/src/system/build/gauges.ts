/** Gauges: as channels that read a record, and as functions of posture and motion inside formulas. */
import { refuse } from '../../diagnosis';
import type { Assembly, Channel, GaugeKind } from '../../elements/declarations';
import { usable } from '../../elements/usable';
import type { Freedom } from '../../equations/freedom';
import type { Kinematics } from '../../equations/kinematics';
import { Formula, type Magnitude, type Reading } from '../../equations/magnitude';
import { FormulaError } from '../../formula/parse';
import type { Program } from '../../formula/program';
import type { Model } from '../../model/document';
import { unitOfGauge } from '../../model/gauge-units';
import type { Resolution, ResolvedElement } from '../../model/resolve';
import { askedDimension } from '../../model/rules';
import { valuesOf } from './attempts';
import { where } from '../../model/where';

const NONE = new Float64Array(0);

export class Gauges {
  private readonly elements: readonly ResolvedElement[];
  private readonly byName: ReadonlyMap<string, ResolvedElement>;
  private readonly model: Model;
  /** Gauges that wait for others. */
  private readonly asking: string[] = [];
  /** @param assembly is there by the time a gauge is asked for */
  constructor(
    private readonly resolution: Resolution,
    private readonly assembly: () => Assembly,
  ) {
    this.elements = resolution.elements.gauges;
    this.byName = new Map(this.elements.map((g) => [g.name, g]));
    this.model = resolution.model;
  }

  private element(name: string): ResolvedElement {
    return this.byName.get(name) ?? usable(this.elements, name, 'gauges');
  }

  private declared(g: ResolvedElement) {
    return (g.kind as GaugeKind).channel(valuesOf(g), this.assembly(), g.name);
  }

  /** A gauge with its dimension and the unit in which it is shown. @throws Refusal */
  readonly channel = (name: string): Channel => {
    const g = this.element(name);
    const { loads, ...channel } = this.declared(g);
    const raw = this.model.gauges[g.index]!,
      dim = channel.dim ?? askedDimension(g.kind.reads, g.kind.fields, raw, this.model)!,
      unit = unitOfGauge(this.model, raw, dim) ?? channel.unit;
    return { ...channel, ...(loads ? { loads } : {}), dim, ...(unit === undefined ? {} : { unit }) };
  };

  /** Another gauge, for one that asks. @throws Refusal when it is in error, or depends on the one that asks */
  readonly channelFor = (name: string, asker: string): Channel => {
    const { asking } = this;
    const circle = asking.indexOf(name);
    if (name === asker || circle >= 0) {
      const round = [...asking.slice(Math.max(0, circle)), asker, name].filter((x, i, all) => i === 0 || all[i - 1] !== x);
      refuse({
        code: 'gauge-circle',
        message: `The gauges depend on each other: ${round.join(' → ')}.`,
        element: { family: 'gauges', name: asker },
        remedy: 'Take one of them out of the other’s formula.',
      });
    }
    asking.push(asker);
    try {
      return this.channel(name);
    } finally {
      asking.pop();
    }
  };

  /** A formula of any gauges, for the gauge that asks. @throws Refusal when it is in error */
  readonly compiled = (text: string, asker: string): Program => {
    try {
      return this.resolution.compile(text, (name) => (this.byName.has(name) ? this.channelFor(name, asker).dim : undefined));
    } catch (e) {
      if (!(e instanceof FormulaError)) throw e;
      refuse({
        code: e.code,
        message: e.message,
        ...where(this.model, 'gauges', asker, 'value'),
      });
    }
  };

  /** A formula of a load, drive or condition, with the gauges it refers to. @throws Refusal */
  readonly magnitude = (p: Program): Magnitude =>
    new Formula(
      p,
      p.inputs.map((input) => ({ input, ...this.reader(input.gauge) })),
    );

  /** A gauge as a function of posture and motion, for formulas. */
  private reader(gauge: string): Omit<Reading, 'input'> {
    const { tracked } = this.assembly();
    const channel = this.declared(this.element(gauge));
    for (const f of channel.angles ?? []) tracked(f);
    let at: Kinematics;
    const snapshot = {
      t: 0,
      K: undefined as never as Kinematics,
      acceleration: NONE,
      G: NONE,
      multipliers: NONE,
      angle: (f: Freedom) => tracked(f).value(at),
    };
    return {
      programs: channel.programs ?? [],
      stated: channel.stated?.(tracked),
      read(K, t) {
        at = snapshot.K = K;
        snapshot.t = t;
        return channel.read(snapshot);
      },
    };
  }
}
