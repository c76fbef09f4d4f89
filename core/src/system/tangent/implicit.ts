/**
 * The matrix that implicit steps solve with, of the states and multipliers of a machine: (γ − J) δy = r, J being the derivative of the state's rates. With
 * δq = P x, x = δu + r_q for displacements, P = (γ + ½ ω×)⁻¹, and u̇, λ as they follow from M δu̇ + Gᵀδλ = ∂r₁, G δu̇ = ∂r₂ (`tangent.ts`), it is
 *   [γM − ∂r₁/∂u − ∂r₁/∂q P   Gᵀ − ∂f/∂λ] [x ]   [M (r_u + γ r_q) − ∂r₁/∂u r_q    ]
 *   [G − (∂r₂/∂u + ∂r₂/∂q P)/γ          0] [δλ] = [(G (r_u + γ r_q) − ∂r₂/∂u r_q)/γ],
 * sparse as the machine is, without any solution for accelerations in between.
 */
import { Chart } from '../../equations/chart';
import { eliminationOrder } from '../../linear/order';
import { entryAt, filledIn, entriesOf, placesOf } from '../../linear/pattern';
import { SparseComplexLu, SparseLu } from '../../linear/sparse-lu';
import { FoldedRows } from '../looped/folded-rows';
import type { System } from '../system';
import type { Tangent } from './tangent';

/** Entries of the matrix: where they stand (`SparseLu.values`), where their numbers come from, and through which number of P. */
interface Scatter {
  readonly to: Int32Array;
  readonly from: Int32Array;
  readonly through: Int32Array;
}
class Gathered {
  private readonly list: { to: number; from: number; through: number }[] = [];
  put(to: number, from: number, through = 0): void {
    this.list.push({ to, from, through });
  }
  get done(): Scatter {
    const of = (key: 'to' | 'from' | 'through') => Int32Array.from(this.list, (x) => x[key]);
    return { to: of('to'), from: of('from'), through: of('through') };
  }
}
function gather(out: Float64Array, { to, from }: Scatter, values: Float64Array, by: number): void {
  for (let e = 0; e < to.length; e++) out[to[e]!] = out[to[e]!]! + by * values[from[e]!]!;
}
function through(out: Float64Array, s: Scatter, values: Float64Array, P: Float64Array, by: number): void {
  const { to, from } = s;
  for (let e = 0; e < to.length; e++) out[to[e]!] = out[to[e]!]! + by * values[from[e]!]! * P[s.through[e]!]!;
}

/** Rows that hold once and for all, since what changes them is left out. */
function idleRows({ leftOut, room, groups, G, rows }: System): Uint8Array | undefined {
  if (!leftOut) return undefined;
  const stated = new Set(room.statements.map((s) => s.constraint)),
    others = groups.flatMap((g) => g.constraints.filter((c) => !stated.has(c)));
  return new FoldedRows(room.site, leftOut, { numbers: 0, courses: 0, G: 0, gamma: 0 }, G.length, rows, room.statements, others).idle;
}

export class ImplicitMatrix {
  readonly chart: Chart;
  private readonly real: SparseLu;
  private readonly complex: SparseComplexLu;
  /** Place in the order of each variable: a motion, then the rows; −1 of what never changes. */
  private readonly place: Int32Array;
  /** Numbers of G, and entries of it above and below; numbers of M. */
  private readonly G: Float64Array;
  private readonly above: Scatter;
  private readonly below: Scatter;
  private readonly mass: Scatter;
  private readonly masses: Float64Array;
  /** Entries by velocity, and by what is carried: of bodies, and of rows; and by displacement. */
  private readonly moved: Readonly<Record<'body' | 'row' | 'carried', Scatter>>;
  private readonly displaced: Readonly<Record<'body' | 'row', Scatter>>;
  /** P: 1/γ, then nine numbers to a body. */
  private readonly P: readonly [Float64Array, Float64Array];
  private readonly w: Float64Array;
  /** Rows that do not count: they do not hold, or are redundant. */
  private readonly out: Uint8Array;
  private readonly rowPlaces: Int32Array;
  /** Three right-hand sides: a real one, and a complex one. */
  private readonly displacement: readonly Float64Array[];
  private readonly velocity: readonly Float64Array[];
  private readonly rhs: readonly Float64Array[];
  private readonly lengths: readonly Float64Array[];
  private readonly slower: readonly [Float64Array, Float64Array];
  private readonly x: readonly [Float64Array, Float64Array];
  private readonly du: readonly [Float64Array, Float64Array];
  private readonly dq: readonly [Float64Array, Float64Array];
  private readonly weighted: { row: number; own: { at: number; G: number }[] }[] = [];
  /** γ of the last factorisations. */
  private gamma = [0, 0, 0];

  constructor(
    private readonly system: System,
    private readonly tangent: Tangent,
  ) {
    const { K, bodies, rows, motions, groups, own, ldlt } = system,
      { plan } = ldlt;
    this.chart = new Chart(K);
    const bodyOf = (column: number) => Math.floor(column / 6),
      meeting = new Map<string, [number, number]>();
    for (const by of ['posture', 'motion'] as const) {
      const { row, column } = tangent.entries[by];
      row.forEach((r, i) => {
        const [a, b] = [r, column[i]!].map(bodyOf) as [number, number];
        if (r < 6 * bodies && a !== b) meeting.set(`${Math.min(a, b)} ${Math.max(a, b)}`, [a, b]);
      });
    }
    const order = eliminationOrder(
        Array.from({ length: bodies }, (_, b) => own.of[b] ?? { velocities: 6, placed: false }),
        groups,
        [...meeting.values()],
      ),
      all = placesOf(own, rows, groups, order).place,
      counts = new Uint8Array(motions + rows),
      idle = idleRows(system);
    for (const m of K.layout.moving) counts[m] = 1;
    for (let r = 0; r < rows; r++) counts[motions + r] = idle?.[r] ? 0 : 1;
    // what never changes is left out
    const order2 = [...all.keys()].filter((i) => all[i]! >= 0 && counts[i]).sort((a, b) => all[a]! - all[b]!);
    this.place = new Int32Array(motions + rows).fill(-1);
    order2.forEach((v, k) => (this.place[v] = k));
    const { place } = this,
      size = order2.length,
      has = (v: number) => place[v]! >= 0;

    const pairs: [number, number][] = [];
    const G = entriesOf(plan.rowPlaces, groups).filter(({ row, variable }) => has(motions + row) && has(variable));
    for (const { row, variable } of G) pairs.push([motions + row, variable]);
    for (let b = 0; b < bodies; b++)
      for (let i = 3; i < 6; i++) for (let j = 3; j < i; j++) if (has(6 * b + i) && has(6 * b + j)) pairs.push([6 * b + i, 6 * b + j]);
    const { posture, motion, load } = tangent.entries,
      /** The velocities that a displacement goes with: of a turn about more than one axis all. */
      goesWith = (column: number): { variable: number; through: number }[] =>
        column % 6 < 3 || column >= 6 * bodies
          ? [{ variable: column, through: 0 }]
          : [0, 1, 2].map((k) => ({
              variable: column - (column % 6) + 3 + k,
              through: 1 + 9 * bodyOf(column) + 3 * ((column % 6) - 3) + k,
            }));
    const spread = [...posture.row].flatMap((row, i) =>
      has(row)
        ? goesWith(posture.column[i]!)
            .filter((g) => has(g.variable))
            .map((g) => ({ row, at: posture.at[i]!, ...g }))
        : [],
    );
    for (const { row, variable } of spread) pairs.push([row, variable]);
    const plain = (e: typeof motion) =>
      [...e.row].flatMap((row, i) => (has(row) && has(e.column[i]!) ? [{ row, column: e.column[i]!, at: e.at[i]! }] : []));
    const [byMotion, byLoad] = [plain(motion), plain(load)];
    for (const { row, column } of [...byMotion, ...byLoad]) pairs.push([row, column]);
    // rows that bodies with next to no inertia need beside M
    const weightedRows =
      plan.light.length === 0 ? [] : Array.from({ length: rows }, (_, r) => r).filter((r) => ldlt.weights[r]! !== 0 && has(motions + r));
    const columnsOf = new Map<number, Set<number>>(weightedRows.map((r) => [r, new Set<number>()]));
    for (const { row, variable } of G) columnsOf.get(row)?.add(variable);
    for (const { row, variable } of spread) columnsOf.get(row - motions)?.add(variable);
    for (const { row, column } of byMotion) columnsOf.get(row - motions)?.add(column);
    const ownOf = new Map<number, { variable: number; entry: number }[]>(weightedRows.map((r) => [r, []]));
    for (const { row, variable, entry } of G) ownOf.get(row)?.push({ variable, entry });
    for (const r of weightedRows) for (const { variable } of ownOf.get(r)!) for (const c of columnsOf.get(r)!) pairs.push([variable, c]);

    const under: Set<number>[] = Array.from({ length: size }, () => new Set());
    for (const [a, b] of pairs) {
      const [i, j] = [place[a]!, place[b]!];
      if (i !== j) under[Math.min(i, j)]!.add(Math.max(i, j));
    }
    const pattern = filledIn(under);
    this.real = new SparseLu(pattern);
    this.complex = new SparseComplexLu(pattern);
    const at = (row: number, column: number) => {
      const [i, j] = [place[row]!, place[column]!];
      return entryAt(pattern, i, j) + (i > j ? 0 : pattern.index.length);
    };
    const of = <K extends string>(...keys: K[]) => Object.fromEntries(keys.map((k) => [k, new Gathered()])) as Record<K, Gathered>,
      lists = of('above', 'below', 'mass', 'carried', 'movedBody', 'movedRow', 'displacedBody', 'displacedRow'),
      masses: number[] = [];
    for (const { row, variable, entry } of G) {
      lists.above.put(at(variable, motions + row), entry);
      lists.below.put(at(motions + row, variable), entry);
    }
    for (let b = 0; b < bodies; b++)
      for (let i = 0; i < 6; i++)
        for (let j = 0; j < 6; j++) {
          if (!has(6 * b + i) || !has(6 * b + j) || (i !== j && (i < 3 || j < 3))) continue;
          lists.mass.put(
            at(6 * b + i, 6 * b + j),
            masses.push(i < 3 ? system.masses[b]! : system.inertias[9 * b + 3 * (i - 3) + j - 3]!) - 1,
          );
        }
    for (const { row, variable, at: from, through: by } of spread)
      lists[row < motions ? 'displacedBody' : 'displacedRow'].put(at(row, variable), from, by);
    for (const { row, column, at: from } of byMotion) lists[row < motions ? 'movedBody' : 'movedRow'].put(at(row, column), from);
    for (const { row, column, at: from } of byLoad) lists.carried.put(at(row, column), from);
    this.above = lists.above.done;
    this.below = lists.below.done;
    this.mass = lists.mass.done;
    this.masses = Float64Array.from(masses);
    this.moved = { body: lists.movedBody.done, row: lists.movedRow.done, carried: lists.carried.done };
    this.displaced = { body: lists.displacedBody.done, row: lists.displacedRow.done };
    this.rowPlaces = Int32Array.from({ length: rows }, (_, r) => place[motions + r]!);
    this.weighted = weightedRows.map((row) => ({
      row,
      own: ownOf.get(row)!.map(({ variable, entry }) => ({ at: place[variable]!, G: entry })),
    }));
    this.G = new Float64Array(system.G.length);
    this.w = new Float64Array(3 * (bodies + 1));
    this.out = new Uint8Array(rows);
    this.P = [new Float64Array(1 + 9 * bodies), new Float64Array(1 + 9 * bodies)];
    const three = (count: number) => [0, 1, 2].map(() => new Float64Array(count)),
      two = (count: number) => [new Float64Array(count), new Float64Array(count)] as const;
    this.displacement = three(motions);
    this.velocity = three(motions);
    this.rhs = three(motions + rows);
    this.lengths = three(this.chart.lengths);
    this.slower = two(this.chart.lengths);
    this.x = two(size);
    this.du = two(motions);
    this.dq = two(motions);
  }

  /** Takes over the derivatives at a state, as `tangent` has just looked at them. */
  take(y: Float64Array): void {
    const { system, G, w, out } = this,
      { ldlt, K } = system;
    this.chart.take(y);
    G.set(system.G);
    w.set(K.w);
    for (let r = 0; r < out.length; r++) out[r] = ldlt.off[r] || ldlt.redundant[r] ? 1 : 0;
  }

  /** 1/γ and P, for γ = a + ib. */
  private through(a: number, b: number): void {
    const [R, I] = this.P,
      { bodies } = this.system,
      square = a * a + b * b,
      p = a / square,
      q = -b / square;
    R[0] = p;
    I[0] = q;
    for (let i = 0; i < bodies; i++) {
      const x = 0.5 * this.w[3 * i]!,
        y = 0.5 * this.w[3 * i + 1]!,
        z = 0.5 * this.w[3 * i + 2]!,
        at = 1 + 9 * i;
      // (γ + v×)⁻¹ = (γ² + v vᵀ − γ v×)/(γ (γ² + v·v))
      const gr = a * a - b * b,
        gi = 2 * a * b,
        nr = gr + x * x + y * y + z * z,
        // 1/(γ² + v·v), and that by γ
        size = nr * nr + gi * gi,
        kr = nr / size,
        ki = -gi / size,
        sr = kr * p - ki * q,
        si = kr * q + ki * p,
        gsr = gr * sr - gi * si,
        gsi = gr * si + gi * sr;
      const put = (e: number, outer: number, across: number, diagonal: boolean) => {
        R[at + e] = outer * sr - across * kr + (diagonal ? gsr : 0);
        I[at + e] = outer * si - across * ki + (diagonal ? gsi : 0);
      };
      put(0, x * x, 0, true);
      put(1, x * y, -z, false);
      put(2, x * z, y, false);
      put(3, y * x, z, false);
      put(4, y * y, 0, true);
      put(5, y * z, -x, false);
      put(6, z * x, -y, false);
      put(7, z * y, x, false);
      put(8, z * z, 0, true);
    }
  }

  /** Puts the entries together, for γ = a + ib. @param im left out where γ is real */
  private assemble(a: number, b: number, re: Float64Array, im?: Float64Array): void {
    const { P, G, above, below, mass, masses, moved, displaced, tangent } = this,
      { values } = tangent,
      [R, I] = P;
    this.through(a, b);
    const p = R[0]!,
      q = I[0]!;
    re.fill(0);
    im?.fill(0);
    gather(re, mass, masses, a);
    gather(re, above, G, 1);
    gather(re, below, G, 1);
    gather(re, moved.carried, values, -1);
    gather(re, moved.body, values, -1);
    gather(re, moved.row, values, -p);
    if (im) {
      gather(im, mass, masses, b);
      gather(im, moved.row, values, -q);
    }
    through(re, displaced.body, values, R, -1);
    if (im) through(im, displaced.body, values, I, -1);
    // rows are divided by γ
    through(re, displaced.row, values, R, -p);
    if (im) {
      through(re, displaced.row, values, I, q);
      through(im, displaced.row, values, R, -q);
      through(im, displaced.row, values, I, -p);
    }
    this.weigh(im ? [re, im] : [re]);
    this.leave(im ? [re, im] : [re]);
  }
  /** Rows that do not count carry nothing. */
  private leave(parts: readonly Float64Array[]): void {
    const { out, rowPlaces, real } = this,
      { start, index } = real.pattern,
      n = index.length;
    for (let row = 0; row < out.length; row++) {
      const k = rowPlaces[row]!;
      if (!out[row] || k < 0) continue;
      for (const x of parts) {
        for (let e = start[k]!; e < start[k + 1]!; e++) x[e] = x[n + e] = 0;
        // and where it stands in columns before it
        for (const e of this.before(k)) x[e] = x[n + e] = 0;
      }
      parts[0]![n + start[k]!] = 1;
    }
  }
  /** Entries of the row and the column of a place in the columns before it. */
  private before(k: number): readonly number[] {
    this.mirrored ??= this.mirror();
    return this.mirrored[k]!;
  }
  private mirrored: number[][] | undefined;
  private mirror(): number[][] {
    const { start, index } = this.real.pattern,
      out: number[][] = Array.from({ length: start.length - 1 }, () => []);
    for (let k = 0; k < start.length - 1; k++) for (let e = start[k]! + 1; e < start[k + 1]!; e++) out[index[e]!]!.push(e);
    return out;
  }

  /** Adds Gᵀ S times their own row to the equations of bodies with next to no inertia. */
  private weigh(parts: readonly Float64Array[]): void {
    const { weighted, rowPlaces, G, out, real } = this,
      { weights } = this.system.ldlt,
      { start, index } = real.pattern,
      n = index.length;
    for (const { row, own } of weighted) {
      if (out[row]) continue;
      const k = rowPlaces[row]!,
        entries: { column: number; x: number[] }[] = [];
      for (let e = start[k]! + 1; e < start[k + 1]!; e++) entries.push({ column: index[e]!, x: parts.map((list) => list[n + e]!) });
      for (const e of this.before(k)) entries.push({ column: this.columnOf(e), x: parts.map((list) => list[e]!) });
      for (const { at, G: g } of own) {
        const s = weights[row]! * G[g]!;
        if (s === 0) continue;
        for (const { column, x } of entries) {
          if (x.every((v) => v === 0)) continue;
          const e = entryAt(real.pattern, at, column) + (at > column ? 0 : n);
          x.forEach((v, part) => (parts[part]![e] = parts[part]![e]! + s * v));
        }
      }
    }
  }
  /** The column in which an entry of the pattern stands. */
  private columnOf(e: number): number {
    const { start } = this.real.pattern;
    let lo = 0,
      hi = start.length - 2;
    while (lo < hi) {
      const mid = (lo + hi + 1) >> 1;
      if (start[mid]! <= e) lo = mid;
      else hi = mid - 1;
    }
    return lo;
  }

  /** Factorises for a real γ and a complex one. @returns whether no pivot vanished */
  factorise(real: number, re: number, im: number): boolean {
    this.gamma = [real, re, im];
    this.assemble(real, 0, this.real.values);
    if (!this.real.factorise()) return false;
    this.assemble(re, im, this.complex.re, this.complex.im);
    return this.complex.factorise();
  }

  /** Solves (γ − J) x = r for the real γ, in place. @param r,x of the state, further states included */
  solve(r: Float64Array): void {
    this.begin([r], false);
    this.end(r, undefined, 0);
  }
  /** The same for a real and for a complex right-hand side, with the γ of each. */
  solveBoth(r: Float64Array, re: Float64Array, im: Float64Array): void {
    this.begin([r, re, im], true);
    this.end(r, undefined, 0);
    this.end(re, im, 1);
  }
  /** Displacements, velocities and lengths of turns of right-hand sides, and what they come to for the equations of the machine. */
  private begin(parts: readonly Float64Array[], both: boolean): void {
    const { chart, displacement, velocity, lengths, rhs, tangent } = this,
      { motions } = this.system,
      [real, re, im] = this.gamma as [number, number, number],
      n = parts.length;
    for (let k = 0; k < n; k++) {
      rhs[k]!.fill(0);
      chart.read(parts[k]!, displacement[k]!, velocity[k]!, lengths[k]!);
    }
    // r_u + γ r_q
    const [a, b, c] = displacement as [Float64Array, Float64Array, Float64Array],
      [u, v, w] = velocity as [Float64Array, Float64Array, Float64Array];
    for (let i = 0; i < motions; i++) u[i] = u[i]! + real * a[i]!;
    if (both)
      for (let i = 0; i < motions; i++) {
        v[i] = v[i]! + re * b[i]! - im * c[i]!;
        w[i] = w[i]! + re * c[i]! + im * b[i]!;
      }
    tangent.timesEach('motion', both ? displacement : displacement.slice(0, 1), rhs, -1);
    for (let k = 0; k < n; k++) {
      this.massTimes(velocity[k]!, rhs[k]!);
      this.rowsTimes(velocity[k]!, rhs[k]!);
    }
  }
  /** @param at the first of its parts */
  private end(r: Float64Array, i: Float64Array | undefined, at: 0 | 1): void {
    const { chart, place, P, system, w, out, x, du, dq, slower } = this,
      { motions, rows, K, ldlt } = system,
      [real, re, im] = this.gamma as [number, number, number],
      [first, second] = [this.rhs[at]!, this.rhs[2]!],
      [qr, qi] = [this.displacement[at]!, this.displacement[2]!],
      [lr, li] = [this.lengths[at]!, this.lengths[2]!];
    this.through(i ? re : real, i ? im : 0);
    const [p, q] = [P[0][0]!, P[1][0]!];
    // rows are divided by γ
    for (let k = motions; k < motions + rows; k++) {
      const a = first[k]!,
        b = i ? second[k]! : 0,
        counts = out[k - motions] ? 0 : 1;
      first[k] = counts * (a * p - b * q);
      if (i) second[k] = counts * (a * q + b * p);
    }
    for (const { row, own } of this.weighted) {
      if (out[row]) continue;
      for (const { at: to, G: g } of own) {
        const s = ldlt.weights[row]! * this.G[g]!,
          v = this.variableAt(to);
        first[v] = first[v]! + s * first[motions + row]!;
        if (i) second[v] = second[v]! + s * second[motions + row]!;
      }
    }
    for (let k = 0; k < place.length; k++) {
      if (place[k]! < 0) continue;
      x[0][place[k]!] = first[k]!;
      if (i) x[1][place[k]!] = second[k]!;
    }
    if (i) this.complex.solve(x[0], x[1]);
    else this.real.solve(x[0]);
    // δq = P (δu + r_q)
    const [vr, vi] = this.velocity as [Float64Array, Float64Array];
    for (let k = 0; k < motions; k++) {
      const to = place[k]!;
      vr[k] = to < 0 ? qr[k]! : x[0][to]!;
      du[0][k] = vr[k]! - qr[k]!;
      if (!i) continue;
      vi[k] = to < 0 ? qi[k]! : x[1][to]!;
      du[1][k] = vi[k]! - qi[k]!;
    }
    this.apply([vr, vi], dq, i !== undefined);
    chart.lengthening(dq[0], w, slower[0]);
    if (i) chart.lengthening(dq[1], w, slower[1]);
    for (let k = 0; k < lr.length; k++) {
      const a = lr[k]! + slower[0][k]!,
        b = i ? li[k]! + slower[1][k]! : 0;
      lr[k] = a * p - b * q;
      if (i) li[k] = a * q + b * p;
    }
    chart.write(dq[0], du[0], lr, r);
    if (i) chart.write(dq[1], du[1], li, i);
    // what steers nothing is integrated
    for (let k = K.layout.further; k < r.length; k++) {
      const a = r[k]!,
        b = i ? i[k]! : 0;
      r[k] = a * p - b * q;
      if (i) i[k] = a * q + b * p;
    }
  }
  private variables: Int32Array | undefined;
  private variableAt(k: number): number {
    if (!this.variables) {
      const list = (this.variables = new Int32Array(this.real.size));
      this.place.forEach((at, v) => at >= 0 && (list[at] = v));
    }
    return this.variables[k]!;
  }

  /** P times a displacement. */
  private apply(x: readonly [Float64Array, Float64Array], out: readonly [Float64Array, Float64Array], complex: boolean): void {
    const [R, I] = this.P,
      { bodies } = this.system,
      motions = x[0].length,
      p = R[0]!,
      q = I[0]!;
    const [xr, xi] = x,
      [or, oi] = out;
    for (let i = 0; i < motions; i++) {
      or[i] = p * xr[i]! - q * xi[i]!;
      if (complex) oi[i] = p * xi[i]! + q * xr[i]!;
    }
    for (let b = 0; b < bodies; b++)
      for (let j = 0; j < 3; j++) {
        let s = 0,
          t = 0;
        for (let k = 0; k < 3; k++) {
          const r = R[1 + 9 * b + 3 * j + k]!,
            i = I[1 + 9 * b + 3 * j + k]!,
            u = xr[6 * b + 3 + k]!,
            v = complex ? xi[6 * b + 3 + k]! : 0;
          s += r * u - i * v;
          t += r * v + i * u;
        }
        or[6 * b + 3 + j] = s;
        if (complex) oi[6 * b + 3 + j] = t;
      }
  }

  private massTimes(x: Float64Array, out: Float64Array): void {
    const { masses, inertias, bodies } = this.system;
    for (let b = 0; b < bodies; b++)
      for (let k = 0; k < 3; k++) {
        out[6 * b + k] = out[6 * b + k]! + masses[b]! * x[6 * b + k]!;
        for (let j = 0; j < 3; j++) out[6 * b + 3 + k] = out[6 * b + 3 + k]! + inertias[9 * b + 3 * k + j]! * x[6 * b + 3 + j]!;
      }
  }
  /** Adds G x to the rows. */
  private rowsTimes(x: Float64Array, out: Float64Array): void {
    const { G } = this,
      { motions, ldlt } = this.system,
      { bodyOf, further } = ldlt.plan;
    for (let r = 0; r < this.out.length; r++) {
      let s = this.block(G, x, r, bodyOf);
      for (const more of further[r]!) s += this.block(G, x, more, bodyOf);
      out[motions + r] = out[motions + r]! + s;
    }
  }
  private block(G: Float64Array, x: Float64Array, block: number, bodyOf: Int32Array): number {
    let s = 0;
    for (let side = 0; side < 2; side++) {
      const b = bodyOf[2 * block + side]!;
      if (b >= 0) for (let k = 0; k < 6; k++) s += G[12 * block + 6 * side + k]! * x[6 * b + k]!;
    }
    return s;
  }

  /** The rates of a small change of the state, J x, by the machine's own factors: those of the state that was taken must be at hand. */
  times(x: Float64Array, out: Float64Array): void {
    const { chart, tangent, w, system } = this,
      [displacement, velocity, rhs, length] = [this.displacement[0]!, this.velocity[0]!, this.rhs[0]!, this.lengths[0]!];
    rhs.fill(0);
    chart.read(x, displacement, velocity, length);
    tangent.times('posture', displacement, rhs);
    tangent.times('motion', velocity, rhs);
    system.solve(rhs);
    chart.turning(displacement, w, velocity);
    chart.lengthening(displacement, w, length);
    out.fill(0);
    chart.write(velocity, rhs, length, out);
  }
}
