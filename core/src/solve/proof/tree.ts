/**
 * Bodies that joints connect to the ground without closing a loop, each joint leaving screws: where they stand follows from the coordinates by products of
 * exponentials (Brockett, Robotic Manipulators and the Product of Exponentials Formula, 1984), and so do bounds of that, of what pushes along each coordinate,
 * Q = Σ f·u, u being the velocities of a body while the coordinate moves by 1, and of how these change: ∂Q/∂σ = Σ u·(∂f/∂z) v + f·∂u/∂σ.
 */
import type { Freedom } from '../../equations/freedom';
import {
  type Mat3,
  type Vec3,
  IDENTITY,
  add as sumOf,
  apply as turned,
  cross as crossOf,
  mul,
  norm,
  quaternion,
  scale,
  sub,
} from '../../geometry/vector';
import { cos, sin } from '../../quantity/elementary';
import { above, below } from '../../quantity/interval';
import type { Mechanism } from '../../system/mechanism';
import { EquationBounds, type LoadPart, type Part } from '../../system/tangent/equation-bounds';
import { numbersFrom } from '../reduced';
import { type Around, type Between, between } from './around';
import { Carried, type Told } from './carried';
import type { Pushed } from './cells';
import { Sums } from './sums';
import { Unproved } from './why';

/** Part of the machine's size, or of 1, that what screws say may be off what joints allow; and in how many postures that is looked at. */
const AGREE = 1e-11;
const POSTURES = 24;
/** The same of loads that act between bodies in themselves. */
const OWN = 1e-9;
const MOVED = 4;

/** A motion by a coordinate. */
interface Screw extends Told {
  readonly freedom: Freedom;
}
/** Loads, and the coordinates that do not matter to them. */
interface Within {
  readonly still: readonly boolean[];
  readonly loads: readonly LoadPart[];
  /** Where their parts of f and of K stand. */
  readonly pushes: readonly number[];
  readonly changes: readonly number[];
}
const vec = (x: ArrayLike<number>, at: number): Vec3 => [x[at]!, x[at + 1]!, x[at + 2]!];
function turn({ n }: Screw, by: number): Mat3 {
  const size = norm(n);
  if (size === 0) return IDENTITY;
  const [x, y, z] = scale(n, 1 / size) as [number, number, number],
    [s, c] = [sin(size * by), 1 - cos(size * by)];
  return [
    1 - c * (y * y + z * z), c * x * y - s * z, c * x * z + s * y,
    c * x * y + s * z, 1 - c * (x * x + z * z), c * y * z - s * x,
    c * x * z - s * y, c * y * z + s * x, 1 - c * (x * x + y * y),
  ]; // prettier-ignore
}
/** Where expressions of it stand. */
export const entriesOf = ({ from, to }: Part): number[] => Array.from(from, (_, k) => to + k);
const ORIGIN: Vec3 = [0, 0, 0];
const shifted = (s: Screw, by: number, x: Vec3): Vec3 => sumOf(sumOf(turned(turn(s, by), sub(x, s.p)), s.p), scale(s.d, by));

export class Tree {
  readonly bounds: EquationBounds;
  /** Those nearer to the ground first. */
  private readonly screws: readonly Screw[];
  /** Of each coordinate, as they were given, its screw. */
  readonly order: readonly number[];
  private readonly y: Float64Array;
  private readonly r: readonly Vec3[];
  private readonly A: readonly Mat3[];
  private readonly values: readonly number[];
  private readonly within: readonly Within[];
  readonly carried: Carried;
  readonly totals: Sums;
  private readonly none: readonly boolean[];
  /** How far coordinates go in a single posture. */
  readonly still: readonly number[];
  /** Of each screw which carries it, and of each body which moves it alone: the last of them; −1 where none does. */
  private readonly inner: readonly number[];
  private readonly last: readonly number[];
  /** Further states that count a coordinate, and its screw. */
  private readonly counted: readonly (readonly [state: number, screw: number])[];
  /** Of each screw how far it goes, how it then moves what it carries, and where it stands itself. */
  private readonly by: number[];
  private readonly turns: Mat3[] = [];
  private readonly shifts: Vec3[] = [];
  private readonly there: Screw[];
  /** What of places is rounding. */
  readonly rounding: number;

  /**
   * About the posture in K, at rest. @param shapes motions in which one coordinate moves by 1 and no other
   * @param closing rows that it leaves open, and tells of
   * @throws Unproved where its joints do not leave screws
   */
  constructor(
    private readonly m: Mechanism,
    private readonly t: number,
    private readonly freedoms: readonly Freedom[],
    shapes: readonly Float64Array[],
    closing: readonly number[] = [],
  ) {
    const { system, counters } = m,
      { K, bodies } = system,
      list = [...Array(bodies).keys()];
    this.bounds = new EquationBounds(system, (row) => closing.includes(row));
    this.rounding = AGREE * Math.max(1, m.size);
    this.y = new Float64Array(system.size);
    K.store(this.y);
    this.r = list.map((b) => vec(K.r, 3 * b));
    this.A = list.map((b) => [...K.A.subarray(9 * b, 9 * b + 9)] as unknown as Mat3);
    this.values = freedoms.map((f) => counters.find((c) => c.states > 0 && c.freedom === f)?.value(K) ?? f.value(K));
    const screws = freedoms.map((freedom, k) => this.screw(freedom, shapes[k]!)),
      moved = (s: Screw) => s.moves.filter(Boolean).length;
    this.screws = [...screws].sort((a, b) => moved(b) - moved(a));
    this.order = screws.map((s) => this.screws.indexOf(s));
    this.carried = new Carried(bodies, screws.length, this.rounding, AGREE);
    this.totals = new Sums(screws.length, bodies);
    this.none = screws.map(() => false);
    this.by = screws.map(() => 0);
    this.still = screws.map(() => 0);
    this.there = [...this.screws];
    const among = (which: (s: Screw) => boolean) => this.screws.reduce((last, s, k) => (which(s) ? k : last), -1);
    this.inner = this.screws.map((s, k) => among((o) => this.screws.indexOf(o) < k && s.moves.some((x, b) => x && o.moves[b])));
    this.last = list.map((b) => among((s) => s.moves[b]!));
    this.counted = counters.flatMap((c) => {
      const k = this.screws.findIndex((s) => s.freedom === c.freedom);
      return c.states > 0 && k >= 0 ? [[c.first, k] as const] : [];
    });
    if (!this.holds()) throw new Unproved('its joints leave other motions than screws');
    this.within = this.sorted();
  }

  private screw(freedom: Freedom, shape: Float64Array): Screw {
    const { A, r, m } = this,
      of = r.map((place, b) => {
        const n = turned(A[b]!, vec(shape, 6 * b + 3));
        return { n, v: sub(vec(shape, 6 * b), crossOf(n, place)) };
      }),
      far = of.map(({ n, v }) => Math.max(norm(n), norm(v) / m.size)),
      most = Math.max(...far),
      moves = far.map((x) => x > 1e-9 * most),
      { n: found, v } = of[far.indexOf(most)]!,
      n: Vec3 = norm(found) > 1e-9 * most ? found : [0, 0, 0],
      square = norm(n) * norm(n);
    if (square === 0) return { freedom, moves, n, p: [0, 0, 0], d: v };
    const along = (n[0] * v[0] + n[1] * v[1] + n[2] * v[2]) / square;
    return { freedom, moves, n, p: scale(crossOf(n, v), 1 / square), d: scale(n, along) };
  }
  /** Whether bodies stand as joints allow wherever screws put them. */
  private holds(): boolean {
    const { m, t, freedoms, values } = this,
      { system, size } = m,
      random = numbersFrom(11),
      turns = (f: Freedom) => f.type === 'rotation';
    for (let k = 0; k < POSTURES; k++) {
      const σ = freedoms.map((f) => random() * (turns(f) ? 3 : size));
      this.put(σ);
      if (!(system.residual(t) <= AGREE * Math.max(1, size))) return false;
      const as = freedoms.every((f, i) => {
        const off = f.value(system.K) - values[i]! - σ[i]!;
        return turns(f) ? Math.abs(sin(0.5 * off)) < AGREE : Math.abs(off) < AGREE * size;
      });
      if (!as) return false;
    }
    return true;
  }
  /** Puts the machine there, at rest. @param σ coordinates, from where they were on */
  put(σ: readonly number[]): void {
    const { m, y, r, A, screws, inner, last, turns, shifts, there } = this,
      { K } = m.system;
    this.order.forEach((at, k) => (this.by[at] = σ[k]!));
    K.load(y);
    screws.forEach((s, k) => {
      const [R, x] = k === 0 || inner[k]! < 0 ? [IDENTITY, ORIGIN] : [turns[inner[k]!]!, shifts[inner[k]!]!],
        by = this.by[k]!,
        own = turn(s, by);
      there[k] = { ...s, n: turned(R, s.n), d: turned(R, s.d), p: sumOf(turned(R, s.p), x) };
      // p + d by − own p, carried by those nearer to the ground
      turns[k] = mul(R, own);
      shifts[k] = sumOf(turned(R, sumOf(sub(s.p, turned(own, s.p)), scale(s.d, by))), x);
    });
    r.forEach((place, b) => {
      const k = last[b]!;
      K.r.set(k < 0 ? place : sumOf(turned(turns[k]!, place), shifts[k]!), 3 * b);
      K.q.set(quaternion(k < 0 ? A[b]! : mul(turns[k]!, A[b]!)), 4 * b);
    });
    K.orient();
    for (const [z, k] of this.counted) K.z[z] = this.values[this.order.indexOf(k)]! + this.by[k]!;
  }
  /** Coordinates of the posture in K, from where they were on. */
  of(): number[] {
    const { m, freedoms, values } = this,
      { K } = m.system;
    return freedoms.map((f, k) => (m.counters.find((c) => c.states > 0 && c.freedom === f)?.value(K) ?? f.value(K)) - values[k]!);
  }

  /** Operations of interval arithmetic since the start. */
  get work(): number {
    return this.bounds.work;
  }
  /** What pushes where coordinates are as much as that. */
  at(centre: readonly number[]): readonly Between[] {
    return this.told(
      centre,
      centre.map(() => 0),
      false,
    ).push;
  }
  /** Bounds of pushes where coordinates are within half of some to both sides. */
  about(centre: readonly number[], half: readonly number[]): Pushed {
    return this.told(centre, half, true);
  }
  private told(centre: readonly number[], half: readonly number[], slopes: boolean): Pushed {
    const { order, totals, screws } = this,
      n = screws.length;
    this.put(centre);
    const jumps = this.sums(half, slopes);
    return {
      jumps,
      push: order.map((a) => between(totals.push, a)),
      slope: order.map((a) => order.map((c) => between(totals.slope, a * n + c))),
    };
  }
  /** The same by screws, into the totals; the machine stands in the middle, and bounds are those of `whole` at the end. @returns whether something jumps */
  sums(half: readonly number[], slopes: boolean): boolean {
    const { bounds, within, totals, carried } = this,
      { f, K } = bounds;
    let jumps = false;
    totals.clear();
    for (const { still, loads, pushes, changes } of within) {
      this.carry(half, still);
      bounds.look(loads, false);
      jumps ||= bounds.jumps;
      totals.rest();
      for (const e of pushes) totals.force(f.row[e]!, f.lo[e]!, f.hi[e]!);
      totals.pushes(carried);
      if (!slopes) continue;
      bounds.bending(loads, false);
      totals.slopes(K, changes, carried);
    }
    if (within.at(-1)?.still.some(Boolean) !== false) this.whole(half);
    return jumps;
  }
  /** Puts bounds of where bodies are into those of the equations, and of what they move with into `carried`; the machine stands in the middle. */
  whole(half: readonly number[]): void {
    this.carry(half, this.none);
  }
  private carry(half: readonly number[], still: readonly boolean[]): void {
    const { carried, m, bounds, there, order } = this,
      { K, bodies } = m.system,
      { r, A } = carried;
    bounds.take();
    order.forEach((at, k) => (this.by[at] = half[k]!));
    carried.put(there, this.by, K.r, K.A, still);
    for (let b = 0; b < bodies; b++) {
      this.tell(bounds.placeOf(b), r, 3 * b, 3);
      this.tell(bounds.turnOf(b), A, 9 * b, 9);
    }
  }
  private tell(to: number, { mid, rad }: Around, from: number, count: number): void {
    const { lo, hi } = this.bounds;
    for (let k = 0; k < count; k++) {
      lo[to + k] = below(mid[from + k]! - rad[from + k]!);
      hi[to + k] = above(mid[from + k]! + rad[from + k]!);
    }
  }
  /**
   * Loads by what coordinates do not matter to them: of those that act between bodies in themselves, each as the bodies stand to each other, all that
   * move these together. There they do no work, and nothing that they do changes.
   */
  private sorted(): readonly Within[] {
    const { bounds, screws, m } = this,
      out = new Map<string, { still: readonly boolean[]; loads: LoadPart[] }>();
    for (const load of bounds.loads) {
      const own = load.bodies.every((b) => b < m.system.bodies) && this.isOwn(load),
        still = screws.map((s) => own && load.bodies.every((b) => s.moves[b])),
        key = still.join(),
        known = out.get(key) ?? { still, loads: [] };
      known.loads.push(load);
      out.set(key, known);
    }
    // what all coordinates matter to comes last
    const count = (still: readonly boolean[]) => still.filter(Boolean).length,
      groups = [...out.values()].sort((a, b) => count(b.still) - count(a.still));
    return groups.map(({ still, loads: of }) => ({
      ...{ still, loads: of },
      pushes: of.flatMap((l) => l.f.flatMap(entriesOf)),
      changes: of.flatMap((l) => l.K.flatMap(entriesOf)),
    }));
  }
  /** Whether a load acts between its bodies alone, however they stand: looked at in some postures, each moved as a whole. */
  private isOwn(load: LoadPart): boolean {
    const { bounds, m, rounding } = this,
      { K, bodies } = m.system,
      random = numbersFrom(5),
      axis = (): Vec3 => [random(), random(), random()];
    for (let k = 0; k < MOVED; k++) {
      this.put(this.freedoms.map(() => random()));
      const whole: Screw = { freedom: this.freedoms[0]!, moves: [], n: axis(), p: axis(), d: axis() },
        R = turn(whole, 1),
        pushes = (moved: boolean) => {
          bounds.take();
          for (let b = 0; b < bodies; b++) {
            const r = vec(K.r, 3 * b),
              A = [...K.A.subarray(9 * b, 9 * b + 9)] as unknown as Mat3,
              [x, y] = moved ? [shifted(whole, 1, r), mul(R, A)] : [r, A];
            for (const [to, list] of [
              [bounds.placeOf(b), x],
              [bounds.turnOf(b), y],
            ] as const) {
              bounds.lo.set(list, to);
              bounds.hi.set(list, to);
            }
          }
          bounds.look([load]);
          const of = new Float64Array(6 * bodies);
          for (const { from, to } of load.f)
            from.forEach((_, e) => (of[bounds.f.row[to + e]!] = 0.5 * (bounds.f.lo[to + e]! + bounds.f.hi[to + e]!)));
          return of;
        },
        [f, g] = [pushes(false), pushes(true)];
      let [F, T]: [Vec3, Vec3] = [
          [0, 0, 0],
          [0, 0, 0],
        ],
        off = 0;
      for (let b = 0; b < bodies; b++) {
        const [force, torque] = [vec(f, 6 * b), vec(f, 6 * b + 3)],
          A = [...K.A.subarray(9 * b, 9 * b + 9)] as unknown as Mat3;
        F = sumOf(F, force);
        T = sumOf(T, sumOf(crossOf(vec(K.r, 3 * b), force), turned(A, torque)));
        off = Math.max(off, norm(sub(turned(R, force), vec(g, 6 * b))), norm(sub(torque, vec(g, 6 * b + 3))));
      }
      const size = f.reduce((most, x) => Math.max(most, Math.abs(x)), 0) * Math.max(1, m.size, rounding);
      if (!(Math.max(off, norm(F), norm(T)) <= OWN * size)) return false;
    }
    return true;
  }
}
