/** Bones of a form of one body before the surface of a form of another: where they touch, in ground axes. */
import { type Ball, BallTree } from '../../geometry/contact/ball-tree';
import { type Bones, bonesOf } from '../../geometry/contact/bones';
import { partsOf } from '../../geometry/contact/chains';
import { Crossing } from '../../geometry/contact/crossing';
import { type Extent, extentOf } from '../../geometry/contact/extent';
import { Facets } from '../../geometry/contact/facets';
import { type Field, fieldOf } from '../../geometry/contact/field';
import type { Form } from '../../geometry/contact/form';
import { type Pose, type Probe, cornersOf, endsOf, probesOf } from '../../geometry/contact/probe';
import { sideProbes } from '../../geometry/contact/sides';
import { add, apply, norm } from '../../geometry/vector';
import type { Kinematics } from '../kinematics';
import type { Side } from './contacts';
import { Standing } from './standing';

/** Where a place touches, at the last `look`. */
export interface Touch {
  /** Ground axes: the middle between both surfaces, and the direction from the surface to what touches it. */
  readonly x: Float64Array;
  readonly n: Float64Array;
}

/** Places of which a tree is no quicker than to look at all. */
const FEW = 6;
/** Corners of facets have one already. */
const treeOf = (form: Form, balls: readonly Ball[]): BallTree =>
  form.type === 'facets' && balls.length === Facets.of(form).tree.count ? Facets.of(form).tree : new BallTree(balls);

export class Meeting implements Touch {
  readonly a: number;
  readonly b: number;
  readonly probes: readonly Probe[];
  readonly x = new Float64Array(3);
  readonly n = new Float64Array(3);
  private readonly field: Field;
  private readonly part: Field;
  private readonly crossing: Crossing | undefined;
  /** Where there are many: a tree of those whose place is known, and which they are; and the others. */
  private readonly tree: BallTree | undefined;
  private readonly placed: readonly number[] = [];
  private readonly others: readonly number[];
  private readonly reach: Extent;
  private readonly surfaceReach: Extent;
  /** How far what has the bones reaches from the centre of mass of its body, m. */
  private readonly arm: number;
  private readonly at = new Float64Array(3);
  private readonly out = new Float64Array(3);
  private readonly pose: Pose;
  /** Where edges that may cross are known. */
  private seen: Kinematics | undefined;
  private stamp = -1;

  constructor(
    readonly bones: Side,
    readonly surface: Side,
    /** What may touch beside its bones: nothing, edges, or all that both have, which the other meeting leaves out; or alone their ends, or straight edges. */
    more: 'none' | 'edges' | 'all' | 'ends' | 'straight' = 'none',
    /** A part of the surface that is met alone; left out: all of it. */
    part?: Field,
    private readonly standing = new Standing(bones, surface),
  ) {
    this.pose = standing.pose;
    this.a = bones.body;
    this.b = surface.body;
    this.field = fieldOf(surface.form);
    this.part = part ?? this.field;
    this.reach = extentOf(bones.form);
    this.surfaceReach = extentOf(surface.form);
    this.arm = norm(add(bones.shift, apply(bones.turn, this.reach.centre))) + this.reach.radius;
    this.crossing =
      more === 'all' ? new Crossing(bones.form, surface.form, Math.min(this.reach.thick, this.surfaceReach.thick)) : undefined;
    const { list } = bonesOf(bones.form);
    this.probes =
      more === 'ends'
        ? list.flatMap(endsOf)
        : more === 'straight'
          ? [...list.flatMap(cornersOf), ...sideProbes(bones.form, surface.form, false)]
          : [
              ...list.flatMap(probesOf),
              ...(this.crossing?.probes ?? []),
              ...(more === 'none' ? [] : sideProbes(bones.form, surface.form, more === 'all')),
            ];
    const all = [...this.probes.keys()];
    this.placed = all.filter((k) => this.probes[k]!.ball);
    this.others = all.filter((k) => !this.probes[k]!.ball);
    if (this.placed.length > FEW)
      this.tree = treeOf(
        bones.form,
        this.placed.map((k) => this.probes[k]!.ball!),
      );
    else this.others = all;
  }

  /** Takes over where both are. @param looking for what does not touch yet as well */
  stand(K: Kinematics, looking = true): void {
    this.standing.take(K);
    if (!looking || !this.crossing || (this.seen === K && this.stamp === K.moved)) return;
    this.seen = K;
    this.stamp = K.moved;
    this.crossing.stand(this.pose);
  }
  /** How far both are apart at least, as they were at the last `stand`, m; negative where that says nothing. */
  get apart(): number {
    const { reach, surfaceReach, pose, field, at } = this;
    let far = 0;
    for (let i = 0; i < 3; i++) {
      at[i] = pose.p[i]! + pose.R[3 * i]! * reach.centre[0] + pose.R[3 * i + 1]! * reach.centre[1] + pose.R[3 * i + 2]! * reach.centre[2];
      const d = at[i]! - surfaceReach.centre[i as 0];
      far += d * d;
    }
    const balls = Math.sqrt(far) - reach.radius - surfaceReach.radius;
    return balls > 0 ? balls : field.at(at[0]!, at[1]!, at[2]!) - reach.radius;
  }
  /** Whether a part that is met alone is so far away that it cannot be touched within what may go through unseen. */
  private get away(): boolean {
    const { ball } = this.part,
      { reach, pose } = this;
    if (!ball) return false;
    let far = 0;
    for (let i = 0; i < 3; i++) {
      const r = 3 * i,
        at = pose.p[i]! + pose.R[r]! * reach.centre[0] + pose.R[r + 1]! * reach.centre[1] + pose.R[r + 2]! * reach.centre[2],
        d = at - ball.centre[i]!;
      far += d * d;
    }
    return Math.sqrt(far) > reach.radius + ball.radius + this.through;
  }
  /** How far one may move against the other, when they just do not touch, before anything can have gone through it, m. */
  get through(): number {
    return (this.reach.thick + this.surfaceReach.thick) / 4;
  }
  /**
   * How far both may have moved against one another after a time is about V t + A t²/2 at most, wherever on the first that is.
   * @param acceleration of all bodies, six numbers each @param out takes V, m/s, and A, m/s²
   */
  motion({ v, w, r, bodies }: Kinematics, acceleration: Float64Array, out: Float64Array): void {
    const { a, b, arm } = this;
    let [far, speed, gain] = [0, 0, 0];
    for (let k = 0; k < 3; k++) {
      const d = r[3 * a + k]! - r[3 * b + k]!,
        s = v[3 * a + k]! - v[3 * b + k]!,
        g = (a < bodies ? acceleration[6 * a + k]! : 0) - (b < bodies ? acceleration[6 * b + k]! : 0);
      far += d * d;
      speed += s * s;
      gain += g * g;
    }
    out[0] = Math.sqrt(speed);
    out[1] = Math.sqrt(gain);
    for (const [body, reach] of [
      [a, arm],
      [b, arm + Math.sqrt(far)],
    ] as const) {
      // prettier-ignore
      let [spin, more] = [0, 0];
      for (let k = 0; k < 3 && body < bodies; k++) {
        spin += w[3 * body + k]! * w[3 * body + k]!;
        more += acceleration[6 * body + 3 + k]! * acceleration[6 * body + 3 + k]!;
      }
      out[0] = out[0]! + Math.sqrt(spin) * reach;
      out[1] = out[1]! + (Math.sqrt(more) + spin) * reach;
    }
  }
  /**
   * Gaps of all probes, as both were at the last `stand`: those that are farther than may be passed unseen are endless.
   * @param placeOf of each of them, from there on as well, the place at which it touches already, which is left out; −1 where it does not
   */
  gaps(to: Float64Array, from: number, placeOf: Int32Array): void {
    const { probes, tree, others, placed, through } = this;
    to.fill(Infinity, from, from + probes.length);
    if (this.away) return;
    const take = (k: number) => {
      if (placeOf[from + k]! < 0) to[from + k] = this.gap(k);
    };
    tree?.look(this.farFrom, through, (i) => take(placed[i]!));
    for (let i = 0; i < others.length; i++) take(others[i]!);
  }
  /** How far a place of what has the bones is from the surface, m. */
  private readonly farFrom = (x: number, y: number, z: number): number => {
    const { R, p } = this.pose;
    return this.part.at(
      p[0]! + R[0]! * x + R[1]! * y + R[2]! * z,
      p[1]! + R[3]! * x + R[4]! * y + R[5]! * z,
      p[2]! + R[6]! * x + R[7]! * y + R[8]! * z,
    );
  };
  /**
   * How the depth of a place that touches will grow at a rate that grows itself, m/s²: by where it is a little before and after, as both move on.
   * @param acceleration of all bodies, six numbers each @param time before and after, s
   */
  hastens(K: Kinematics, k: number, acceleration: Float64Array, time: number): number {
    const { standing, part, at, out } = this,
      probe = this.probes[k]!,
      gap = (after: number) => {
        standing.after(K, acceleration, after);
        return probe.seek(standing.beside, part, at, out, true);
      };
    return (2 * probe.seek(this.pose, part, at, out, true) - gap(time) - gap(-time)) / (time * time);
  }
  /** @returns the gap of a place, m, as both were at the last `stand` */
  gap(k: number): number {
    return this.probes[k]!.seek(this.pose, this.part, this.at, this.out);
  }
  /** The same, and where that is. @param on it touches */
  look(k: number, on = false): number {
    const { at, part, x, n, out } = this,
      { S, s } = this.standing,
      probe = this.probes[k]!,
      gap = probe.seek(this.pose, part, at, out, on),
      back = probe.radius + gap / 2;
    for (let i = 0; i < 3; i++) at[i] = at[i]! - back * out[i]!;
    for (let i = 0; i < 3; i++) {
      const r = 3 * i;
      x[i] = s[i]! + S[r]! * at[0]! + S[r + 1]! * at[1]! + S[r + 2]! * at[2]!;
      n[i] = S[r]! * out[0]! + S[r + 1]! * out[1]! + S[r + 2]! * out[2]!;
    }
    return gap;
  }
}

const hasLine = ({ list }: Bones): boolean => list.some((x) => x.type === 'line');

/** Meetings of two forms: the bones of each before the surface of the other, or of one alone where that is all that can touch. */
export function meetingsOf(one: Side, other: Side): Meeting[] {
  const [a, b] = [one, other].map(({ form }) => bonesOf(form)) as [ReturnType<typeof bonesOf>, ReturnType<typeof bonesOf>],
    /** What is round may touch several parts of a surface at once. */
    inParts = (round: Side, surface: Side) => {
      const standing = new Standing(round, surface);
      return (partsOf(surface.form) ?? [undefined]).map((part) => new Meeting(round, surface, 'none', part, standing));
    };
  if (a.whole && b.whole) {
    const [first, second] = b.list.length < a.list.length ? [other, one] : [one, other];
    // what lies along the other in part is carried by the ends of both
    return [new Meeting(first, second), ...([a, b].every(hasLine) ? [new Meeting(second, first, 'ends')] : [])];
  }
  if (a.whole) return [...inParts(one, other), ...across(other, one, a)];
  if (b.whole) return [...inParts(other, one), ...across(one, other, b)];
  return [new Meeting(one, other, 'all'), new Meeting(other, one, 'edges')].filter((m) => m.probes.length > 0);
}

/** What is round about a line lies across edges of the other as well: those, and its corners, before its round side. */
function across(edges: Side, round: Side, bones: Bones): Meeting[] {
  return hasLine(bones) ? [new Meeting(edges, round, 'straight')].filter((m) => m.probes.length > 0) : [];
}
