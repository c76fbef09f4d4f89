/**
 * How the memory of a machine changes with a number of its model: what its equations read there, and where its bodies stand that never move. With the
 * derivatives of something by all of this (`Adjoint`), one product gives that by the number.
 */
import type { Adjoint } from '../../system/adjoint/adjoint';
import type { ByKinematics } from '../../system/adjoint/pull';
import type { Variation } from '../../system/adjoint/variation';
import type { Sizes } from '../../system/compiled/places';
import type { System } from '../../system/system';

/** Parts of its first difference, and of what stands beside it times the square of the change, beyond which a second difference is a jump. */
const JUMP = 100;

/** What of the memory follows from the model alone. */
const FROM_MODEL: readonly (keyof Sizes)[] = ['masses', 'inertias', 'numbers', 'values'];

/** Where that lies, from the first of a machine's own numbers on: that, and what loads are told. */
function rangesOf({ room }: System): (readonly [from: number, count: number])[] {
  const { own } = room.places;
  return [
    ...FROM_MODEL.map((key) => [own[key], room.sizes[key]] as const),
    ...[...room.loads, ...room.reacting].map(({ force, numbers, inputs }) => [numbers, inputs - numbers + force.law.inputs] as const),
  ];
}
const alike = (one: System, other: System): boolean => JSON.stringify(rangesOf(one)) === JSON.stringify(rangesOf(other));

export class Cells {
  private readonly at: Int32Array;
  private readonly change: Float64Array;
  private readonly r: Float64Array;
  private readonly A: Float64Array;

  /**
   * @param of the machine itself @param less,more machines with so much less and more of the number
   * @returns undefined where they read other things (a number that is 1 belongs to the structure of a formula, and is read where it is not), or where what
   * they read jumps (directions across an axis are chosen by its largest part)
   */
  static of(of: System, less: System, more: System, part: number): Cells | undefined {
    return alike(less, of) && alike(more, of) && !jumps(of, less, more, part) ? new Cells(less, more, part) : undefined;
  }
  private constructor(less: System, more: System, part: number) {
    const at: number[] = [],
      change: number[] = [],
      half = 1 / (2 * part);
    for (const [from, count] of rangesOf(less)) {
      const [a, b] = [less, more].map((s) => s.room.numbers(from, count)) as [Float64Array, Float64Array];
      for (let k = 0; k < count; k++)
        if (a[k] !== b[k]) {
          at.push(from + k);
          change.push(half * (b[k]! - a[k]!));
        }
    }
    this.at = Int32Array.from(at);
    this.change = Float64Array.from(change);
    const { layout, bodies } = less.K,
      still = (key: 'r' | 'A', per: number, moves: (body: number, k: number) => boolean) => {
        const out = new Float64Array(per * bodies);
        for (let k = 0; k < out.length; k++) if (!moves(Math.floor(k / per), k % per)) out[k] = half * (more.K[key][k]! - less.K[key][k]!);
        return out;
      };
    this.r = still('r', 3, (body, k) => !layout.fold || layout.fold.moves[6 * body + k] === 1);
    this.A = still('A', 9, (body) => layout.turns[body] !== 0);
  }

  /** Whether nothing of it changes. */
  get none(): boolean {
    return this.at.length === 0 && ![this.r, this.A].some((list) => list.some((x) => x !== 0));
  }

  /** Tells all that changes here. */
  put({ numbers, change: to }: Variation): void {
    const { at, change, r, A } = this;
    for (let k = 0; k < at.length; k++) numbers[at[k]!] = change[k]!;
    for (let k = 0; k < r.length; k++) to.r[k] = to.r[k]! + r[k]!;
    for (let k = 0; k < A.length; k++) to.A[k] = to.A[k]! + A[k]!;
  }
  /** How what the derivatives are of changes with the number, through all that changes here. */
  times({ numbers, stands }: Adjoint): number {
    const { at, change } = this;
    let sum = 0;
    for (let k = 0; k < at.length; k++) {
      const by = numbers[at[k]!]!;
      // what nothing reads may hold anything
      if (by !== 0) sum += by * change[k]!;
    }
    return sum + this.standing(stands);
  }
  /** So through where bodies stand that never move alone. */
  standing(by: Pick<ByKinematics, 'r' | 'A'>): number {
    const { r, A } = this;
    let sum = 0;
    for (let k = 0; k < r.length; k++) sum += by.r[k]! * r[k]!;
    for (let k = 0; k < A.length; k++) sum += by.A[k]! * A[k]!;
    return sum;
  }
}

function jumps(of: System, less: System, more: System, part: number): boolean {
  return rangesOf(of).some(([from, count]) => {
    const [o, a, b] = [of, less, more].map((s) => s.room.numbers(from, count)) as [Float64Array, Float64Array, Float64Array],
      largest = o.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
    return a.some((x, k) => Math.abs(x + b[k]! - 2 * o[k]!) > JUMP * part * Math.max(Math.abs(b[k]! - x), part * largest));
  });
}
