/**
 * Derivatives of what is no expression, by central differences of fourth order: how γ of rows on curves changes with the posture (the third derivative of a
 * curve's Φ), relations of coordinates along curves, and loads that take in what only code can say.
 */
import type { Constraint } from '../../equations/constraint';
import type { Differenced, Force } from '../../equations/forces';
import { StatedForce } from '../../equations/laws/stated-force';
import { Called } from '../../equations/stated/stated';
import type { System } from '../system';
import { BY, type By } from './pieces';

/** Parts of the machine's size or rad by which it is moved, and of what it moves with. */
const STEP = 1e-4;

/** Something that is looked at in many states: what it gives, by its rows. */
interface Looked {
  readonly rows: readonly number[];
  readonly columns: Readonly<Record<By, readonly number[]>>;
  /** How it is differenced, where it says so itself. */
  readonly differenced?: Differenced | undefined;
  at(t: number, multipliers: Float64Array, out: Float64Array, by: By): void;
}

export class Differences {
  readonly entries: Readonly<Record<By, { row: number[]; column: number[] }>> = {
    posture: { row: [], column: [] },
    motion: { row: [], column: [] },
    load: { row: [], column: [] },
    drift: { row: [], column: [] },
    input: { row: [], column: [] },
  };
  /** Which entries by posture are those of each load. */
  readonly ranges = new Map<Force, readonly [number, number]>();
  private readonly list: Looked[];
  private readonly state: Float64Array;
  private readonly step: Float64Array;
  private readonly G: Float64Array;
  private readonly rhs: Float64Array;
  private readonly multipliers: Float64Array;
  private readonly results: Float64Array[];

  /** @param forces those that are not known as expressions @param size of the machine, m */
  constructor(
    private readonly system: System,
    /** Constraints and coordinates, with their first row. */
    others: readonly { c: Constraint; at: number }[],
    forces: readonly Force[],
    private readonly size = 1,
  ) {
    this.list = [...others.map(({ c, at }) => this.row(c, at)), ...forces.map((f) => this.load(f))];
    this.list.forEach(({ rows, columns }, i) => {
      const force = forces[i - others.length],
        first = this.entries.posture.row.length;
      for (const by of BY)
        for (const column of columns[by])
          for (const row of rows) {
            this.entries[by].row.push(row);
            this.entries[by].column.push(column);
          }
      if (force) this.ranges.set(force, [first, this.entries.posture.row.length]);
    });
    const { K, motions, rows } = system;
    this.state = new Float64Array(K.whole.size);
    this.step = new Float64Array(motions);
    this.G = new Float64Array(system.G.length);
    this.rhs = new Float64Array(rows + 1);
    this.multipliers = new Float64Array(rows);
    const most = this.list.reduce((n, { rows: r }) => Math.max(n, r.length), 0);
    this.results = [0, 1, 2, 3].map(() => new Float64Array(most));
  }

  private six(bodies: readonly number[]): number[] {
    return [...new Set(bodies)].filter((b) => b < this.system.bodies).flatMap((b) => [0, 1, 2, 3, 4, 5].map((k) => 6 * b + k));
  }
  private pairs(c: Constraint): (readonly [number, readonly [number, number]])[] {
    return [
      ...Array.from({ length: c.rows }, (_, k) => [c.row + k, [c.a, c.b]] as const),
      ...c.more.map((pair, i) => [c.block + i, pair] as const),
    ];
  }

  /**
   * A constraint: γ − G u̇; and what its rows push with where no expression tells that. Where a curve's normals turn with the place, both parts turn alike.
   */
  private row(c: Constraint, first: number): Looked {
    const { system } = this,
      { motions, K } = system,
      own = Array.from({ length: c.rows }, (_, k) => motions + first + k),
      pairs = this.pairs(c),
      bodies = this.six(pairs.flatMap(([, pair]) => pair)),
      told = c instanceof Called;
    return {
      rows: told ? own : [...own, ...bodies],
      columns: { posture: bodies, motion: told ? [] : bodies, load: [], drift: told ? [] : bodies, input: [] },
      at: (t, multipliers, out, by) => {
        c.gamma(K, t, this.rhs);
        c.jacobian(K, this.G);
        for (let k = 0; k < c.rows; k++) out[k] = this.rhs[c.row + k]!;
        if (by === 'drift') out.fill(0, 0, c.rows);
        out.fill(0, c.rows);
        for (const [block, pair] of pairs)
          pair.forEach((b, side) => {
            const to = c.rows + bodies.indexOf(6 * b),
              row = c.more.length > 0 ? c.row : block;
            for (let k = 0; k < (b < system.bodies ? 6 : 0); k++) {
              const g = this.G[12 * block + 6 * side + k]!;
              out[row - c.row] =
                out[row - c.row]! + g * (by === 'drift' ? (k < 3 ? K.v : K.w)[3 * b + (k % 3)]! : -system.acceleration[6 * b + k]!);
              if (!told && by !== 'drift') out[to + k] = out[to + k]! - multipliers[row]! * g;
            }
          });
      },
    };
  }

  private load(force: Force): Looked {
    const { system } = this,
      F = new Float64Array(6 * (system.bodies + 1)),
      rows = this.six(force.bodies),
      { differenced } = force,
      everything = differenced ? rows : Array.from({ length: 6 * system.bodies }, (_, i) => i),
      carried = force instanceof StatedForce ? force.inputs.flatMap((i) => i.carried?.constraints ?? []) : [];
    return {
      rows,
      differenced,
      columns: {
        posture: everything,
        motion: everything,
        drift: [],
        input: [],
        load: [...new Set(carried.flatMap((c) => Array.from({ length: c.rows }, (_, k) => system.motions + c.row + k)))],
      },
      at: (t, multipliers, out) => {
        F.fill(0);
        force.apply(system.K, t, F);
        if (force.react) {
          for (const c of carried) c.jacobian(system.K, this.G);
          force.react(system.K, t, multipliers, this.G, F);
        }
        rows.forEach((r, i) => (out[i] = F[r]!));
      },
    };
  }

  /** Whether there is nothing to be looked at. */
  get none(): boolean {
    return this.list.length === 0;
  }

  /** Works them out at the state in K, which is left as it was. @param put takes a number of one kind, by its position among these */
  look(t: number, put: (by: By, position: number, value: number) => void): void {
    if (this.none) return;
    const { system, state, step, multipliers, list } = this,
      { K } = system,
      position = { posture: 0, motion: 0, load: 0, drift: 0, input: 0 };
    K.storeWhole(state);
    multipliers.set(system.multipliers);
    for (const { rows, columns, at, differenced } of list) {
      differenced?.begin(K);
      for (const by of BY)
        for (const column of columns[by]) {
          const h = this.stepOf(by, column, differenced),
            sample = (k: number, scale: number) => {
              if (by === 'load') multipliers[column - system.motions] = system.multipliers[column - system.motions]! + scale;
              else {
                K.loadWhole(state);
                step[column] = 1;
                if (by === 'motion') K.quicken(step, scale);
                else K.displace(step, scale);
                step[column] = 0;
              }
              at(t, multipliers, this.results[k]!, by);
              if (by === 'load') multipliers[column - system.motions] = system.multipliers[column - system.motions]!;
            };
          [h, -h, 2 * h, -2 * h].forEach((x, k) => sample(k, x));
          const [a, b, c, d] = this.results as [Float64Array, Float64Array, Float64Array, Float64Array];
          for (let i = 0; i < rows.length; i++) put(by, position[by]++, (8 * (a[i]! - b[i]!) - (c[i]! - d[i]!)) / (12 * h));
        }
      if (!differenced) continue;
      differenced.end();
      K.loadWhole(state);
    }
    K.loadWhole(state);
  }
  private stepOf(by: By, column: number, own?: Differenced): number {
    const { system } = this;
    if (own && by === 'posture') return own.displacement;
    if (own && by === 'motion') return own.speed;
    if (by === 'load') return STEP * Math.max(1, Math.abs(system.multipliers[column - system.motions]!));
    const length = column % 6 < 3;
    if (by !== 'motion') return STEP * (length ? this.size : 1);
    const { K } = system,
      b = Math.floor(column / 6),
      now = length ? K.v[3 * b + (column % 6)]! : K.w[3 * b + (column % 6) - 3]!;
    return STEP * Math.max(length ? this.size : 1, Math.abs(now));
  }
}
