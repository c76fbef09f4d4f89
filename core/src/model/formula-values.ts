/** Formulas of a model: compiled with its parameters, tables and gauges, evaluated at the start, and sampled where they vary. */
import type { Diagnosis, ElementRef } from '../diagnosis';
import { jsonPath } from '../diagnosis';
import { FormulaError, LARGEST, mustBeUsable } from '../formula/parse';
import { type Scope, compile } from '../formula/compile';
import type { Program } from '../formula/program';
import type { Dimension } from '../quantity/dimension';
import type { Model, RawValue } from './document';
import type { Family } from './families';
import { kindOf } from './kinds';
import { type LiveValue, resolveParameters } from './parameters';
import { askedDimension } from './rules';

/** Values of a formula of time over the run. */
const SAMPLES = 121;

export type Path = readonly (string | number)[];

/** Where a formula stands and what it may refer to besides parameters and tables. */
export interface Standing {
  path: Path;
  element?: ElementRef;
  time?: boolean;
  gauges?: boolean;
}

export class Formulas {
  /** By JSON path. */
  readonly live = new Map<string, LiveValue>();
  /** End of the run, s: formulas of time are sampled up to it. */
  until = 1;
  readonly tables;
  private readonly lookup;
  /** Fixed values by dimension: the same wherever they stand, so what is written alike is read once. */
  private readonly fixed = new Map<Dimension | undefined, Map<string | number, Program>>();

  constructor(
    readonly model: Model,
    private readonly off: Record<Family, ReadonlySet<string>>,
    private readonly diagnoses: Diagnosis[],
  ) {
    const { lookup, tables } = resolveParameters(model, diagnoses, this.live, off.tables);
    this.lookup = lookup;
    this.tables = tables;
  }

  /** Undefined where it is in error, which is noted. @param wanted its dimension; left out: any */
  read(raw: RawValue, wanted: Dimension | undefined, { path, element, time = false, gauges = false }: Standing): Program | undefined {
    if (typeof raw !== 'string' && typeof raw !== 'number') {
      this.fault('value-missing', 'A value is needed here.', path, element);
      return undefined;
    }
    const alike = time || gauges ? undefined : (this.fixed.get(wanted) ?? this.fixed.set(wanted, new Map()).get(wanted)!);
    const known = alike?.get(raw);
    if (known) {
      this.live.set(jsonPath(path), { value: known.v, dim: known.dim, varies: false });
      return known;
    }
    try {
      const p = compile(
        raw,
        this.scope(time, gauges ? (name) => this.gaugeDimension(name, element ? [element.name] : [], element) : undefined),
        wanted,
      );
      p.at(0);
      if (alike && Math.abs(p.v) <= LARGEST) alike.set(raw, p);
      // its value is known only while the machine moves
      if (p.inputs.length > 0) return p;
      mustBeUsable(p.v);
      this.live.set(jsonPath(path), { value: p.v, dim: p.dim, varies: p.varies, ...(p.varies ? { samples: this.sampled(p) } : {}) });
      p.at(0);
      return p;
    } catch (e) {
      if (!(e instanceof FormulaError)) throw e;
      this.fault(e.code, e.message, path, element);
      return undefined;
    }
  }

  /** A formula of time, and of gauges whose dimensions are given. @throws FormulaError */
  readonly compile = (text: string, gauge: (name: string) => Dimension | undefined): Program =>
    compile(text, this.scope(true, gauge), undefined);

  private scope(time: boolean, gauge: Scope['gauge']): Scope {
    const { model } = this;
    return {
      lookup: this.lookup,
      time,
      names: () => [...model.parameters, ...model.tables].map((p) => p.name),
      table: (name) => this.tables.get(name)?.asFunction(name),
      ...(gauge ? { gauge } : {}),
    };
  }

  /**
   * Of a gauge that a load or a drive may use: what is known only after the forces are, it may not.
   * @param way by which it is asked for: who asks, then gauges whose formulas name each other @throws FormulaError
   */
  private gaugeDimension(name: string, way: readonly string[], asker: ElementRef | undefined): Dimension | undefined {
    const { model, off } = this,
      refused = (message: string): never => {
        throw new FormulaError('formula-gauge', message, 0, 0);
      };
    const e = model.gauges.find((g) => g.name === name);
    const kind = e && kindOf('gauges', e);
    if (!e || !kind) return undefined;
    if (off.gauges.has(name)) refused(`The gauge “${name}” is switched off.`);
    const further = [...way, name];
    if (way.slice(1).includes(name)) refused(`The gauges depend on each other: ${further.slice(way.indexOf(name)).join(' → ')}.`);
    const { worksOut } = kind;
    if (worksOut) {
      if ((e[worksOut.where.field] ?? worksOut.where.is) !== worksOut.where.is)
        refused(`“${name}” is known only over the whole run: it cannot be used in a load.`);
      const scope = this.scope(true, (inner) => this.gaugeDimension(inner, further, asker));
      return compile(String(e[worksOut.formula] ?? '0'), scope, undefined).dim;
    }
    const d = askedDimension(kind.reads, kind.fields, e, model);
    if (d) return d;
    const own = asker?.family === 'loads' && e.load === asker.name;
    return refused(
      own
        ? `It would depend on itself at the same instant: ${[...further, asker.name].join(' → ')}.`
        : `“${name}” cannot be used in a load: it is known only after the forces are${way.length > 1 ? ` (${further.slice(1).join(' → ')})` : ''}. Use a position, a speed, an angle or a travel.`,
    );
  }

  private sampled(p: Program): number[] {
    return Array.from({ length: SAMPLES }, (_, i) => p.at((this.until * i) / (SAMPLES - 1)).v);
  }

  private fault(code: string, message: string, path: Path, element: ElementRef | undefined): void {
    this.diagnoses.push({ code, severity: 'error', message, path, ...(element ? { element } : {}) });
  }
}
