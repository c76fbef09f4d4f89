/**
 * Parts of a surface that what is round may touch at once: walls on both sides of a corner that goes in, and the rim of a hole on all sides. Each is a distance
 * of its own; where nothing of it is nearest, it is infinitely far.
 */
import { extentOf } from './extent';
import { FacetField } from './facet-field';
import { Facets } from './facets';
import { type Field, RevolvedField, fieldOf } from './field';
import type { Form } from './form';
import { type Chain, OutlineField, chainsOf } from './outline-field';

type Extruded = Extract<Form, { type: 'extruded' }>;
type Revolved = Extract<Form, { type: 'revolved' }>;

/** Nothing bent is asked of parts. */
class Part {
  readonly n = new Float64Array(3);
  readonly face: number = -1;
  readonly bent: boolean = false;
  flat = false;
}

/** Walls that follow one another, of what is extruded, with their edges at both ends. */
class Walls extends Part implements Field {
  readonly ball: NonNullable<Field['ball']>;
  private readonly chain: OutlineField;
  constructor(
    private readonly half: number,
    chain: Chain,
  ) {
    super();
    this.chain = new OutlineField([chain.pieces], false, chain);
    this.ball = extentOf({ type: 'extruded', outlines: [chain.pieces], half });
  }
  at(x: number, y: number, z: number): number {
    const { n, chain, half } = this,
      side = chain.at(x, y),
      end = Math.abs(z) - half;
    if (end > 0 && side <= 0) return Infinity;
    const d = end > 0 ? Math.sqrt(side * side + end * end) : side,
      across = end > 0 ? side / d : 1;
    this.flat = !chain.isArc;
    n[0] = chain.nx * across;
    n[1] = chain.ny * across;
    n[2] = end > 0 ? ((z < 0 ? -1 : 1) * end) / d : 0;
    return d;
  }
}
/** Both its ends, without their edges. */
class Ends extends Part implements Field {
  private readonly outline: OutlineField;
  constructor(private readonly form: Extruded) {
    super();
    this.outline = new OutlineField(form.outlines);
    this.flat = this.outline.straight;
  }
  at(x: number, y: number, z: number): number {
    if (this.outline.at(x, y) > 0) return Infinity;
    this.n[2] = z < 0 ? -1 : 1;
    return Math.abs(z) - this.form.half;
  }
}

/** Parts of a solid, m, by which the distance of one of its walls may lie below its own. */
const SAME = 1e-12;

/** What lies behind a wall without being in the solid has not met that wall, and what is in the solid is in front of all but the nearest. */
class Before implements Field {
  constructor(
    private readonly wall: Field,
    private readonly all: Field,
  ) {}
  get n(): Float64Array {
    return this.wall.n;
  }
  get face(): number {
    return this.wall.face;
  }
  get bent(): boolean {
    return this.wall.bent;
  }
  get flat(): boolean {
    return this.wall.flat;
  }
  get ball(): Field['ball'] {
    return this.wall.ball;
  }
  at(x: number, y: number, z: number): number {
    const d = this.wall.at(x, y, z);
    return d < 0 && d < this.all.at(x, y, z) - SAME ? Infinity : d;
  }
}

const COS = -0.5;
const SIN = 0.8660254037844386;
/** Cosine of the angle between two directions from which on both lead to places apart, and not to the same one. */
const APART = 0.87;

/** What faces the axis of something revolved, a third of a turn from where it is nearest: it carries what lies in it, as in a ring. */
class AThird extends Part implements Field {
  private readonly outline: OutlineField;
  private readonly nearest: OutlineField;
  constructor(
    { outline }: Revolved,
    private readonly side: 1 | -1,
  ) {
    super();
    this.outline = new OutlineField([outline], true);
    this.nearest = new OutlineField([outline], true);
  }
  at(x: number, y: number, z: number): number {
    const { n, outline, nearest, side } = this,
      radius = Math.sqrt(x * x + y * y),
      [c, s] = radius > 0 ? [x / radius, y / radius] : [1, 0],
      // from here on in the half-plane that is a third of a turn on: out, round and up
      [u, w] = [radius * COS, -side * radius * SIN],
      flat = outline.at(u, z);
    if (!(flat > 0) || outline.nx >= 0) return Infinity;
    const [out, up] = [flat * outline.nx, flat * outline.ny],
      d = Math.sqrt(flat * flat + w * w),
      // its axes as seen from the first
      [ux, uy] = [c * COS - side * s * SIN, s * COS + side * c * SIN];
    n[0] = (out * ux - w * uy) / d;
    n[1] = (out * uy + w * ux) / d;
    n[2] = up / d;
    nearest.at(radius, z);
    return nearest.nx * (n[0] * c + n[1] * s) + nearest.ny * n[2] < APART ? d : Infinity;
  }
}

/** Distances from parts of a surface; undefined where what is round can touch it at one place alone. */
export function partsOf(form: Form): Field[] | undefined {
  if (form.type === 'facets') {
    const { parts } = Facets.of(form);
    return parts > 1 ? Array.from({ length: parts }, (_, i) => new Before(new FacetField(form, i), fieldOf(form))) : undefined;
  }
  if (form.type !== 'extruded' && form.type !== 'revolved') return undefined;
  const axis = form.type === 'revolved',
    chains = chainsOf(axis ? [form.outline] : form.outlines, axis);
  if (form.type === 'extruded')
    return chains.length > 1
      ? [...chains.map((c) => new Walls(form.half, c)), new Ends(form)].map((part) => new Before(part, fieldOf(form)))
      : undefined;
  const hollow = form.outline.some((p) => (p.type === 'arc' ? p.to < p.from : p.from[0] > 0 && p.to[1] < p.from[1]));
  if (!hollow && chains.length < 2) return undefined;
  return [
    ...chains.map((c) => new Before(new RevolvedField(new OutlineField([c.pieces], true, c)), fieldOf(form))),
    ...(hollow ? [new AThird(form, 1), new AThird(form, -1)] : []),
  ];
}
