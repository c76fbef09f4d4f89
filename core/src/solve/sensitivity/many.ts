/** A state and several changes of it as one vector: the parts that steer come first, of all of them, then those that are only integrated. */
import { KIND, type StateLayout } from '../../equations/layout';
import type { Turned } from '../../system/tangent/turned';
import type { Newton } from '../newton';

/** Part of what they come to up to which changes of an iteration are none. */
const SETTLED = 1e-6;
/** Part of the state itself below which a change of it is small. */
const SMALL = 1e-3;

export class Many {
  /** @param n length of a state @param free how many of its entries steer @param count of changes */
  constructor(
    private readonly n: number,
    readonly free: number,
    readonly count: number,
  ) {}
  get size(): number {
    return this.n * (this.count + 1);
  }
  vector(): Float64Array {
    return new Float64Array(this.size);
  }
  private rest(p: number): number {
    const { n, free, count } = this;
    return (count + 1) * free + p * (n - free);
  }
  /** The state (0) or a change (from 1 on). */
  read(all: Float64Array, p: number, out: Float64Array): Float64Array {
    const { n, free } = this,
      [a, b] = [p * free, this.rest(p)];
    for (let j = 0; j < free; j++) out[j] = all[a + j]!;
    for (let j = free; j < n; j++) out[j] = all[b + j - free]!;
    return out;
  }
  write(from: Float64Array, all: Float64Array, p: number): void {
    const { n, free } = this,
      [a, b] = [p * free, this.rest(p)];
    for (let j = 0; j < free; j++) all[a + j] = from[j]!;
    for (let j = free; j < n; j++) all[b + j - free] = from[j]!;
  }
  private part(all: Float64Array, p: number): Float64Array {
    return all.subarray(p * this.free, (p + 1) * this.free);
  }

  /** What solves for a state solves for each change of it as well: the derivative of its rates is the same. */
  newton(of: Newton): Newton {
    const { n, count } = this,
      y = new Float64Array(n),
      f = new Float64Array(n),
      each = (go: (p: number) => void) => {
        for (let p = 0; p <= count; p++) go(p);
      };
    return {
      differentiate: (t, Y, F) => of.differentiate(t, this.read(Y, 0, y), this.read(F, 0, f)),
      factorise: (real, re, im) => of.factorise(real, re, im),
      solve: (r) => each((p) => of.solve(this.part(r, p))),
      solveBoth: (r, re, im) => each((p) => of.solveBoth(this.part(r, p), this.part(re, p), this.part(im, p))),
      rate: () => of.rate(),
      nested: true,
      turned: of.turned && this.turned(of.turned),
    };
  }
  private turned(of: Pick<Turned, 'note' | 'turn'>): Pick<Turned, 'note' | 'turn'> {
    return {
      note: (place, Y) => of.note(place, this.part(Y, 0)),
      turn: (place, x, sense) => {
        for (let p = 0; p <= this.count; p++) of.turn(place, this.part(x, p), sense);
      },
    };
  }

  /** How large a change that an iteration makes is: below 1 it need not go on. @param size of the machine, m @param until length of the run, s */
  norms({ kind, further }: StateLayout, size: number, until: number): (e: Float64Array, Y: Float64Array) => number {
    const { free, count } = this,
      scales = new Float64Array(KIND.further + 1),
      usual = new Float64Array(KIND.further + 1);
    const largest = (x: Float64Array) => {
      scales.fill(0);
      for (let j = 0; j < free; j++) {
        const k = j < further ? kind[j]! : KIND.further;
        scales[k] = Math.max(scales[k]!, Math.abs(x[j]!));
      }
    };
    return (e, Y) => {
      let most = 0;
      for (let p = 0; p <= count; p++) {
        largest(this.part(Y, p));
        if (p === 0) {
          usual.set(scales);
          usual[KIND.place] = size;
          usual[KIND.turn] = 1;
          usual[KIND.velocity] = Math.max(usual[KIND.velocity]!, (SMALL * size) / until);
          usual[KIND.spin] = Math.max(usual[KIND.spin]!, SMALL / until);
          usual[KIND.further] = 1 + usual[KIND.further]!;
        }
        const change = this.part(e, p);
        for (let j = 0; j < free; j++) {
          const k = j < further ? kind[j]! : KIND.further,
            scale = p === 0 ? usual[k]! : Math.max(scales[k]!, SMALL * usual[k]!);
          most = Math.max(most, Math.abs(change[j]!) / (SETTLED * scale));
        }
      }
      return most;
    };
  }
}
