/** Places that touch at a time: what each does and remembers, and what was found of it at a state. */

/** What a place does. */
export const FREE = 0;
export const STICKS = 1;
export const SLIDES = 2;

/** Numbers kept of each place: which it is, what it does, the speed at which it met, and how deep it began. */
export const KEPT = 4;

/** Cosine of the angle between two normals that are the same. */
const SAME = 0.999;

export class Places {
  /** Its probe, −1 where it has none; what it does; at which speed it met, m/s. */
  readonly probe: Int32Array;
  readonly does: Uint8Array;
  readonly met: Float64Array;
  /** How deep it was when it began to touch, m: edges may come to cross where both solids overlap, held by others; what presses begins with nothing. */
  readonly from: Float64Array;
  /** Found at a state: depth and its rate, what presses, the velocity along the surface, the mass that is met, and the normal. */
  readonly depth: Float64Array;
  readonly rate: Float64Array;
  readonly presses: Float64Array;
  readonly slip: Float64Array;
  readonly mass: Float64Array;
  readonly normals: Float64Array;
  /** Where it is, ground axes, m. */
  readonly spots: Float64Array;

  constructor(readonly count: number) {
    this.probe = new Int32Array(count).fill(-1);
    this.does = new Uint8Array(count);
    [this.met, this.from, this.depth, this.rate, this.presses, this.mass] = Array.from({ length: 6 }, () => new Float64Array(count)) as [
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
    ];
    [this.slip, this.normals, this.spots] = Array.from({ length: 3 }, () => new Float64Array(3 * count)) as [
      Float64Array,
      Float64Array,
      Float64Array,
    ];
  }
  /** Whether a place is where another would be that is so deep: no farther from it than that, and with its normal. */
  isAt(i: number, x: Float64Array, n: Float64Array, depth: number): boolean {
    let [far, along] = [0, 0];
    for (let k = 0; k < 3; k++) {
      const d = x[k]! - this.spots[3 * i + k]!;
      far += d * d;
      along += n[k]! * this.normals[3 * i + k]!;
    }
    return far <= depth * depth && Math.abs(along) > SAME;
  }
  clear(): void {
    this.probe.fill(-1);
    this.does.fill(FREE);
  }
  keep(out: Float64Array, at: number): void {
    const { count, probe, does, met, from } = this;
    for (let i = 0; i < count; i++) {
      const p = at + KEPT * i;
      out[p] = probe[i]!;
      out[p + 1] = does[i]!;
      out[p + 2] = met[i]!;
      out[p + 3] = from[i]!;
    }
  }
  recall(kept: Float64Array, at: number): void {
    const { count, probe, does, met, from } = this;
    for (let i = 0; i < count; i++) {
      const p = at + KEPT * i;
      probe[i] = kept[p]!;
      does[i] = kept[p + 1]!;
      met[i] = kept[p + 2]!;
      from[i] = kept[p + 3]!;
    }
  }
}
