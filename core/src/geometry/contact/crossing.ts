/** All edges of one solid against all of another: those that come near it. */
import { norm, sub } from '../vector';
import { CurvedProbe } from './curved-crossing';
import { type Edge, edgesOf } from './edges';
import { type Field, fieldOf } from './field';
import type { Form } from './form';
import type { Pose, Probe } from './probe';
import { EdgeProbe, Inside } from './straight-crossing';

/** Balls about edges, four numbers each, and whether they reach another solid. */
class Near {
  readonly near: Uint8Array;
  private readonly balls: Float64Array;
  constructor(edges: readonly Edge[]) {
    this.near = new Uint8Array(edges.length);
    this.balls = Float64Array.from(
      edges.flatMap((e) =>
        e.type === 'arc' ? [...e.centre, e.ring] : [...[0, 1, 2].map((k) => (e.from[k]! + e.to[k]!) / 2), norm(sub(e.to, e.from)) / 2],
      ),
    );
  }
  /** @param at takes an edge’s middle into the axes of a field @returns whether any is near */
  look(field: Field, at: (x: number, y: number, z: number) => void, to: Float64Array): boolean {
    const { near, balls } = this;
    let any = false;
    for (let k = 0; k < near.length; k++) {
      at(balls[4 * k]!, balls[4 * k + 1]!, balls[4 * k + 2]!);
      near[k] = field.at(to[0]!, to[1]!, to[2]!) <= balls[4 * k + 3]! ? 1 : 0;
      any ||= near[k] === 1;
    }
    return any;
  }
}

/** Pairs of edges that are looked at: beyond that, of parts of very many facets, corners alone tell where they touch. */
export const MOST = 20_000;

export class Crossing {
  readonly probes: readonly Probe[];
  private readonly own: Near;
  private readonly other: Near;
  private readonly field: Field;
  private readonly surface: Field;
  private readonly to = new Float64Array(3);
  private pose!: Pose;

  /** @param thick of the thinner one: none is deeper in the other, m */
  constructor(bones: Form, surface: Form, thick: number) {
    const [mine, theirs] = [edgesOf(bones), edgesOf(surface)],
      inside = new Inside(bones, thick),
      own = (this.own = new Near(mine)),
      other = (this.other = new Near(theirs));
    this.field = fieldOf(bones);
    this.surface = fieldOf(surface);
    if (mine.length * theirs.length > MOST) {
      this.probes = [];
      return;
    }
    this.probes = mine.flatMap((a, i) =>
      theirs.flatMap((b, k): Probe[] => {
        const near = () => own.near[i] === 1 && other.near[k] === 1;
        return a.type === 'straight' && b.type === 'straight'
          ? [new EdgeProbe(a, b, near, inside)]
          : [0, 1].map((which) => new CurvedProbe(a, b, near, which, inside));
      }),
    );
  }
  /** Takes over where both are. */
  stand(pose: Pose): void {
    this.pose = pose;
    if (this.probes.length === 0) return;
    if (this.own.look(this.surface, this.out, this.to)) this.other.look(this.field, this.back, this.to);
    else this.other.near.fill(0);
  }
  private readonly out = (x: number, y: number, z: number): void => {
    const { R, p } = this.pose;
    for (let k = 0; k < 3; k++) this.to[k] = p[k]! + R[3 * k]! * x + R[3 * k + 1]! * y + R[3 * k + 2]! * z;
  };
  private readonly back = (x: number, y: number, z: number): void => {
    const { R, p } = this.pose,
      [a, b, c] = [x - p[0]!, y - p[1]!, z - p[2]!];
    for (let k = 0; k < 3; k++) this.to[k] = R[k]! * a + R[3 + k]! * b + R[6 + k]! * c;
  };
}
