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
import type { Mechanism } from '../../system/mechanism';
import { EquationBounds, type LoadPart, type Part } from '../../system/tangent/equation-bounds';
import { numbersFrom } from '../reduced';
import type { Between } from './around';
import {
  type Nine,
  type Three,
  about,
  add,
  apply,
  applyT,
  cross,
  dot,
  exactly,
  minus,
  multiply,
  plus,
  product,
  rotation,
  scaled,
  subtract,
  three,
} from './intervals';
import { Unproved } from './why';

/** Part of the machine's size, or of 1, that what screws say may be off what joints allow; and in how many postures that is looked at. */
const AGREE = 1e-11;
const POSTURES = 24;
/** The same of loads that act between bodies in themselves. */
const OWN = 1e-9;
const MOVED = 4;

/** A motion by a coordinate: turn about an axis through p, by |n| for each 1, and along d. */
interface Screw {
  readonly freedom: Freedom;
  readonly moves: readonly boolean[];
  readonly n: Vec3;
  readonly p: Vec3;
  readonly d: Vec3;
}
export interface Pushed {
  /** What pushes along each coordinate. */
  readonly push: readonly Between[];
  /** How each of these changes with each. */
  readonly slope: readonly (readonly Between[])[];
  readonly jumps: boolean;
}

/** A screw within bounds, how far it goes, and the rotation that it makes so. */
interface Axis {
  readonly n: Three;
  readonly p: Three;
  readonly d: Three;
  readonly by: Between;
  readonly turn: Nine | undefined;
}
/** Loads, and the coordinates that do not matter to them. */
interface Within {
  readonly still: readonly boolean[];
  readonly loads: readonly LoadPart[];
}
interface Sums {
  readonly push: Between[];
  readonly slope: Between[][];
}
const ZERO = exactly(0);

/** By body and coordinate; undefined where the one does not move the other. */
type Velocities = readonly (readonly ({ readonly n: Three; readonly v: Three; readonly w: Three } | undefined)[])[];

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
const carried = (s: Screw, by: number, x: Vec3): Vec3 => sumOf(sumOf(turned(turn(s, by), sub(x, s.p)), s.p), scale(s.d, by));

export class Tree {
  private readonly bounds: EquationBounds;
  /** Those nearer to the ground first. */
  private readonly screws: readonly Screw[];
  /** Of each coordinate, as they were given, its screw. */
  private readonly order: readonly number[];
  private readonly y: Float64Array;
  private readonly r: readonly Vec3[];
  private readonly A: readonly Mat3[];
  private readonly values: readonly number[];
  private readonly within: readonly Within[];
  private readonly rounding: number;

  /**
   * About the posture in K, at rest. @param shapes motions in which one coordinate moves by 1 and no other
   * @throws Unproved where its joints do not leave screws
   */
  constructor(
    private readonly m: Mechanism,
    private readonly t: number,
    private readonly freedoms: readonly Freedom[],
    shapes: readonly Float64Array[],
  ) {
    const { system, counters } = m,
      { K, bodies } = system,
      list = [...Array(bodies).keys()];
    this.bounds = new EquationBounds(system, true);
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
  private by(σ: readonly number[]): number[] {
    const out = new Array<number>(σ.length).fill(0);
    this.order.forEach((at, k) => (out[at] = σ[k]!));
    return out;
  }

  /** Puts the machine there, at rest. @param σ coordinates, from where they were on */
  put(σ: readonly number[]): void {
    const { m, y, r, A, screws } = this,
      { K } = m.system,
      by = this.by(σ);
    K.load(y);
    r.forEach((place, b) => {
      let [x, turns] = [place, A[b]!];
      for (let k = screws.length - 1; k >= 0; k--) {
        const s = screws[k]!;
        if (!s.moves[b]) continue;
        x = carried(s, by[k]!, x);
        turns = mul(turn(s, by[k]!), turns);
      }
      K.r.set(x, 3 * b);
      K.q.set(quaternion(turns), 4 * b);
    });
    K.orient();
    for (const c of m.counters) {
      const k = this.freedoms.indexOf(c.freedom);
      if (c.states > 0 && k >= 0) K.z[c.first] = this.values[k]! + σ[k]!;
    }
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
    this.put(centre);
    const { bounds, order, within } = this,
      there = this.axes(centre, half),
      sums: Sums = { push: order.map(() => ZERO), slope: order.map(() => order.map(() => ZERO)) };
    let jumps = false;
    bounds.take();
    for (const { still, loads } of within) {
      const velocities = this.moving(there, still);
      bounds.look(loads);
      jumps ||= bounds.jumps;
      if (slopes) bounds.bending(loads);
      this.add(sums, loads, velocities, slopes);
    }
    return { jumps, push: order.map((a) => sums.push[a]!), slope: order.map((a) => order.map((c) => sums.slope[a]![c]!)) };
  }
  /** Screws as they are there, by which a posture is told from that in the middle. */
  private axes(centre: readonly number[], half: readonly number[]): readonly Axis[] {
    const by = this.by(half),
      there = this.moved(this.by(centre)),
      vector = (x: Vec3, off = this.rounding): Three => three((k) => about(x[k], off));
    return there.map((s, k) => {
      const size = norm(s.n),
        far = { lo: -by[k]!, hi: by[k]! };
      return {
        n: vector(s.n, AGREE),
        p: vector(s.p),
        d: vector(s.d),
        by: far,
        turn: size > 0 ? rotation(vector(scale(s.n, 1 / size), AGREE), multiply(about(size, AGREE), far)) : undefined,
      };
    });
  }
  /**
   * Puts bounds of where bodies are into those of the equations. @param still coordinates that stay what they are
   * @returns of each body what it moves with by each of the others
   */
  private moving(axes: readonly Axis[], still: readonly boolean[]): Velocities {
    const { m, screws, rounding } = this,
      { K, bodies } = m.system,
      turnedBy = (k: number, x: Three): Three => (axes[k]!.turn ? apply(axes[k]!.turn, x) : x),
      carriedBy = (k: number, x: Three): Three => {
        const { p, d, by } = axes[k]!;
        return plus(plus(turnedBy(k, minus(x, p)), p), scaled(by, d));
      },
      // screws as those nearer to the ground carry them
      now = axes.map((s, k) => {
        let { n, p, d } = s;
        for (let j = k - 1; j >= 0; j--) if (!still[j] && this.meets(k, j)) [n, d, p] = [turnedBy(j, n), turnedBy(j, d), carriedBy(j, p)];
        return { n, p, d };
      });
    return Array.from({ length: bodies }, (_, b) => {
      let r: Three = three((k) => about(K.r[3 * b + k]!, rounding)),
        A: Nine = Array.from({ length: 9 }, (_x, e) => about(K.A[9 * b + e]!, AGREE));
      for (let k = screws.length - 1; k >= 0; k--) {
        if (still[k] || !screws[k]!.moves[b]) continue;
        r = carriedBy(k, r);
        const R = axes[k]!.turn;
        if (R) A = product(R, A);
      }
      this.tell(b, r, A);
      return now.map(({ n, p, d }, k) =>
        !still[k] && screws[k]!.moves[b] ? { n, v: plus(cross(n, minus(r, p)), d), w: applyT(A, n) } : undefined,
      );
    });
  }
  /** Whether a screw carries another. */
  private meets(k: number, j: number): boolean {
    const { screws } = this;
    return screws[k]!.moves.some((x, b) => x && screws[j]!.moves[b]);
  }
  /** Screws as those nearer to the ground have carried them. */
  private moved(by: readonly number[]): Screw[] {
    return this.screws.map((s, k) => {
      let { n, p, d } = s;
      for (let j = k - 1; j >= 0; j--) {
        if (!this.meets(k, j)) continue;
        const g = this.screws[j]!,
          R = turn(g, by[j]!);
        [n, d, p] = [turned(R, n), turned(R, d), carried(g, by[j]!, p)];
      }
      return { ...s, n, p, d };
    });
  }
  private tell(b: number, r: Three, A: Nine): void {
    const { bounds } = this,
      [p, q] = [bounds.placeOf(b), bounds.turnOf(b)];
    r.forEach((x, k) => ([bounds.lo[p + k], bounds.hi[p + k]] = [x.lo, x.hi]));
    A.forEach((x, k) => ([bounds.lo[q + k], bounds.hi[q + k]] = [x.lo, x.hi]));
  }
  /** Adds what some loads push with. */
  private add({ push, slope }: Sums, loads: readonly LoadPart[], velocities: Velocities, slopes: boolean): void {
    const { f, K } = this.bounds,
      n = push.length,
      at = (i: number, k: number): Between | undefined => {
        const u = velocities[Math.floor(i / 6)]![k];
        return u && (i % 6 < 3 ? u.v[(i % 6) as 0] : u.w[((i % 6) - 3) as 0]);
      },
      entries = ({ from, to }: Part) => Array.from(from, (_, k) => to + k),
      force = new Map<number, Between>();
    for (const e of loads.flatMap((l) => l.f.flatMap(entries))) {
      const i = f.row[e]!,
        x = { lo: f.lo[e]!, hi: f.hi[e]! },
        known = force.get(i);
      force.set(i, known ? add(known, x) : x);
    }
    for (const [i, x] of force)
      for (let k = 0; k < n; k++) {
        const u = at(i, k);
        if (u) push[k] = add(push[k]!, multiply(x, u));
      }
    if (!slopes) return;
    for (const e of loads.flatMap((l) => l.K.flatMap(entries))) {
      const [i, j] = [K.row[e]!, K.column[e]!],
        x = { lo: K.lo[e]!, hi: K.hi[e]! };
      for (let a = 0; a < n; a++) {
        const u = at(i, a),
          xu = u && multiply(x, u);
        for (let c = 0; xu && c < n; c++) {
          const v = at(j, c);
          if (v) slope[a]![c] = add(slope[a]![c]!, multiply(xu, v));
        }
      }
    }
    velocities.forEach((of, b) => {
      const vector = (from: number) => three((k) => force.get(6 * b + from + k) ?? ZERO),
        [F, T] = [vector(0), vector(3)];
      for (let a = 0; a < n; a++)
        for (let c = 0; c < n; c++) {
          const [u, v] = [of[a], of[c]];
          if (!u || !v) continue;
          // the one nearer to the ground carries the other; what that says of turns about own axes then stays
          const further = a >= c ? dot(F, cross(v.n, u.v)) : subtract(dot(F, cross(u.n, v.v)), dot(T, cross(v.w, u.w)));
          slope[a]![c] = add(slope[a]![c]!, further);
        }
    });
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
    return [...out.values()];
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
              [x, y] = moved ? [carried(whole, 1, r), mul(R, A)] : [r, A];
            this.tell(
              b,
              three((i) => exactly(x[i])),
              y.map(exactly),
            );
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
