/**
 * The motion of a machine about a posture and motion, in coordinates p that lead its free motions: how accelerations p̈, and all bodies, answer to changes
 * of p and ṗ, to what loads take in, and to what drives ask for. Everything is exact: displaced postures stay on the constraints, with the rates of all p as
 * they are.
 */
import type { Constraint } from '../equations/constraint';
import type { Force } from '../equations/forces';
import type { Mechanism } from '../system/mechanism';
import { Tangent } from '../system/tangent/tangent';
import { mustBeFinite } from './finite';
import type { FreeMotion } from './motions';
import { respond } from './respond';

export interface LinearMotion {
  /** Rows of ∂p̈/∂p and ∂p̈/∂ṗ, and p̈ itself. */
  stiffness: Float64Array[];
  damping: Float64Array[];
  rest: Float64Array;
}

/** How everything answers to one change. */
export interface Answer {
  /** Displacements and velocities of all bodies. */
  readonly dq: Float64Array;
  readonly du: Float64Array;
  /** Accelerations of all bodies, then what constraints carry. */
  readonly ds: Float64Array;
  /** Accelerations of all leaders. */
  readonly leaders: Float64Array;
}

export class Leading {
  private readonly tangent: Tangent;
  private readonly rest: Float64Array;
  /** Which of the further rows is that of a leader; −1: it is an entry of a motion. And the rows of those that are coordinates. */
  private readonly nth: readonly number[];
  private readonly rowsOf: readonly (Float64Array | undefined)[];
  private readonly followed: number;

  /** About the posture and motion in K. @param inputs loads of which more is asked for */
  constructor(
    private readonly m: Mechanism,
    private readonly t: number,
    readonly leaders: readonly FreeMotion[],
    inputs: readonly Force[] = [],
  ) {
    const { system } = m,
      { K } = system,
      followed = leaders.flatMap((l) => ('freedom' in l.leads ? [l.leads.freedom] : []));
    this.tangent = new Tangent(system, { followed, drifts: true, inputs });
    system.accelerate(t);
    this.tangent.look();
    this.followed = followed.length;
    this.rest = Float64Array.from(leaders, (l) => l.acceleration(K, system.acceleration));
    this.nth = leaders.map((l) => ('freedom' in l.leads ? followed.indexOf(l.leads.freedom) : -1));
    this.rowsOf = leaders.map((l) => ('freedom' in l.leads ? l.leads.freedom.row(K).slice() : undefined));
  }

  /** Rate of a leader by velocities. */
  private rate(k: number, u: Float64Array): number {
    const { leads } = this.leaders[k]!,
      { bodies } = this.m.system;
    if ('entry' in leads) return u[leads.entry]!;
    const { a, b } = leads.freedom.equation,
      row = this.rowsOf[k]!;
    let s = 0;
    for (let e = 0; e < 6; e++) {
      if (a < bodies) s += row[e]! * u[6 * a + e]!;
      if (b < bodies) s += row[6 + e]! * u[6 * b + e]!;
    }
    return s;
  }
  private room(): Float64Array {
    const { motions, rows } = this.m.system;
    return new Float64Array(motions + rows + this.followed);
  }
  /** What of a motion is none of the leaders. */
  private without(u: Float64Array, rates = (k: number) => this.rate(k, u)): Float64Array {
    const out = u.slice(),
      off = this.leaders.map((_, k) => rates(k));
    this.leaders.forEach((l, k) => {
      for (let e = 0; e < out.length; e++) out[e] = out[e]! - off[k]! * l.shape[e]!;
    });
    return out;
  }

  private answered(dq: Float64Array, du: Float64Array, r: Float64Array): Answer {
    const { system } = this.m,
      base = system.motions + system.rows,
      ds = respond(system, this.tangent, r.subarray(0, base));
    return {
      dq,
      du,
      ds,
      leaders: Float64Array.from(this.leaders, (_, k) => this.rate(k, ds) - (this.nth[k]! < 0 ? 0 : r[base + this.nth[k]!]!)),
    };
  }

  /** To a displacement that joints allow, all leaders keeping their rates. */
  private displaced(dq: Float64Array): Answer {
    const { tangent, m, nth } = this,
      { motions, rows } = m.system,
      r = this.room(),
      drift = this.room(),
      push = new Float64Array(motions + rows);
    tangent.times('posture', dq, r);
    tangent.times('drift', dq, drift);
    // velocities follow, so that all rows still hold
    for (let k = 0; k < rows; k++) push[motions + k] = m.system.ldlt.off[k] ? 0 : -drift[motions + k]!;
    m.system.solve(push);
    const du = this.without(push.slice(0, motions), (k) => this.rate(k, push) + (nth[k]! < 0 ? 0 : drift[motions + rows + nth[k]!]!));
    tangent.times('motion', du, r);
    return this.answered(dq, du, r);
  }
  private quickened(du: Float64Array): Answer {
    const r = this.room();
    this.tangent.times('motion', du, r);
    return this.answered(new Float64Array(du.length), du, r);
  }

  byPlace(j: number): Answer {
    return this.displaced(this.leaders[j]!.shape);
  }
  byRate(j: number): Answer {
    return this.quickened(this.leaders[j]!.shape);
  }
  /** To more of the last value that a load takes in. */
  byInput(k: number): Answer {
    const r = this.room(),
      none = new Float64Array(this.m.system.motions);
    const { row, column, at } = this.tangent.entries.input;
    for (let e = 0; e < at.length; e++) if (column[e] === k) r[row[e]!] = r[row[e]!]! + this.tangent.values[at[e]!]!;
    return this.answered(none, none, r);
  }
  /** To a drive that asks for more: of its place, its rate, its acceleration. */
  byDrive({ row }: Constraint, of: 0 | 1 | 2): Answer {
    const { system } = this.m,
      { motions, rows } = system,
      none = new Float64Array(motions);
    if (of === 2) {
      const r = this.room();
      r[motions + row] = 1;
      return this.answered(none, none, r);
    }
    const push = new Float64Array(motions + rows);
    push[motions + row] = 1;
    system.solve(push);
    const x = this.without(push.slice(0, motions));
    return of === 0 ? this.displaced(x) : this.quickened(x);
  }

  get linear(): LinearMotion {
    const { leaders, rest, m, t } = this,
      d = leaders.length,
      [p, v] = [leaders.map((_, j) => this.byPlace(j).leaders), leaders.map((_, j) => this.byRate(j).leaders)],
      rowsOf = (columns: readonly Float64Array[]) => Array.from({ length: d }, (_, i) => Float64Array.from(columns, (c) => c[i]!)),
      [stiffness, damping] = [rowsOf(p), rowsOf(v)];
    mustBeFinite(m, t, rest, ...stiffness, ...damping);
    return { stiffness, damping, rest };
  }
}
