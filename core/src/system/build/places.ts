/** Points and directions of the drawing as bodies carry them: relative to their centres of mass, in their axes. */
import type { Places } from '../../elements/declarations';
import { unusable } from '../../elements/usable';
import { type Mat3, type Vec3, applyT, mul, sub, transpose } from '../../geometry/vector';
import type { Side } from '../../equations/contact/contacts';
import type { Corners } from '../../geometry/gaps';
import type { Layout } from '../../model/layout';
import type { BodyInfo } from './bodies';
import type { ShapeInfo } from './shapes';

/** Facets of a full turn where surfaces are measured. */
const FINE = 192;

/** Bodies count from 0; the ground comes after the last. */
export class BodyPlaces implements Places {
  private readonly indices: ReadonlyMap<string, number>;
  private readonly poses: readonly Pick<BodyInfo, 'origin' | 'turn' | 'centre'>[];
  constructor(
    bodies: readonly BodyInfo[],
    private readonly layout: Layout,
    ground: string,
  ) {
    this.indices = new Map([...bodies.map((b) => b.name), ground].map((name, i) => [name, i]));
    this.poses = [...bodies, { origin: [0, 0, 0], turn: layout.body(ground).turn, centre: [0, 0, 0] }];
  }
  private pose(body: string) {
    return this.poses[this.index(body)]!;
  }
  readonly index = (body: string): number => this.indices.get(body) ?? unusable(body, 'bodies');
  readonly place = (point: string, body: string): Vec3 => this.atCentre(this.layout.point(point), body);
  readonly direction = (d: Vec3, body: string): Vec3 => applyT(this.pose(body).turn, d);
  /** Origin of the body's axes. */
  readonly home = (body: string): Vec3 => sub([0, 0, 0], this.pose(body).centre);
  /** A triad of the drawing in the axes of a body. */
  private triad(frame: Mat3, body: string): Mat3 {
    return mul(transpose(this.pose(body).turn), frame);
  }
  /** The two sides of what joins two bodies: places of one point or of two, and a triad of the drawing, as each carries them. */
  sides([first, second]: readonly [string, string], [pa, pb]: readonly [string, string?], frame: Mat3) {
    return {
      a: this.index(first),
      b: this.index(second),
      sa: this.place(pa, first),
      sb: this.place(pb ?? pa, second),
      fa: this.triad(frame, first),
      fb: this.triad(frame, second),
    };
  }
  /** A place of the drawing, ground axes. */
  private atCentre(p: Vec3, body: string): Vec3 {
    const { turn, origin, centre } = this.pose(body);
    return sub(applyT(turn, sub(p, origin)), centre);
  }
  /** What shapes of a body are exactly, as the body carries them. */
  forms(body: string, shapes: readonly ShapeInfo[]): Side[] {
    const index = this.index(body);
    return shapes.flatMap(({ name, forms }) =>
      (forms ?? []).map(({ form, turn, shift }) => ({
        ...{ form, body: index, shape: name },
        turn: this.triad(turn, body),
        shift: this.atCentre(shift, body),
      })),
    );
  }
  /** The surface of some shapes of a body, as one. */
  surface(body: string, shapes: readonly ShapeInfo[], round = FINE): Corners {
    const corners: number[] = [],
      indices: number[] = [];
    for (const s of shapes) {
      const own = s.surface(round),
        first = corners.length / 3;
      for (let i = 0; i < own.positions.length; i += 3)
        corners.push(...this.atCentre([own.positions[i]!, own.positions[i + 1]!, own.positions[i + 2]!], body));
      for (const i of own.indices) indices.push(first + i);
    }
    return { corners, indices };
  }
}
