/**
 * Tooth forces. The relation between two joint coordinates passes pure efforts; real teeth push on each other at the pitch point, along the
 * line of action. What is added here is the difference: it does no work in any motion the joints allow, so the motion is that of the
 * relation, and the bearings carry what they carry in the machine (Dudley's Handbook of Practical Gear Design, ch. 1; ISO 21771).
 */
import type { Ex } from '../expressions/arithmetic';
import type { Graph } from '../expressions/graph';
import { type VectorEx, cross, dot, minus, norm, plus, times } from '../expressions/vectors';
import type { Coupled } from './coupled';
import type { Force } from './forces';
import type { Freedom } from './freedom';
import { rateOn } from './laws/on-coordinate';
import type { ForceLaw, Work } from './laws/law';
import { type CarriedLaw, StatedForce } from './laws/stated-force';
import { type BodyEx, direction, place, spin } from './stated/body';
import { vectorOf } from './values';

/** A gear: its body, centre relative to the centre of mass and axis, body axes. */
export interface Gear {
  body: number;
  centre: readonly number[];
  axis: readonly number[];
}

/** Where teeth meet, and directions there, ground axes: the force on the first gear is its tangential part along `along`, and `apart` of its size besides. */
interface Mesh {
  point: VectorEx;
  along: VectorEx;
  apart: VectorEx;
  /** Tangential force on the first gear per effort on its coordinate. */
  per: Ex;
}
/** A gear as it stands: its body, centre and axis, ground axes. */
interface Placed {
  centre: VectorEx;
  axis: VectorEx;
}
/** How teeth of a kind lie. @param carrier the body that holds both axes, where that is asked @param n its own numbers */
interface MeshLaw {
  readonly name: string;
  /** Whether, in a machine that moves in a plane, they push across it. */
  readonly across: boolean;
  of(g: Graph, a: Placed, b: Placed, carrier: BodyEx, n: readonly Ex[]): Mesh;
}
export interface Meshing {
  readonly law: MeshLaw;
  readonly a: Gear;
  readonly b: Gear;
  readonly carrier: number;
  readonly numbers: readonly number[];
}

/** From the first axis to a place, square to the axis: its length and its direction. */
function fromAxis(g: Graph, { centre, axis }: Placed, p: VectorEx): { arm: VectorEx; length: Ex; out: VectorEx } {
  const to = minus(g, p, centre),
    arm = minus(g, to, times(g, dot(g, to, axis), axis)),
    length = norm(g, arm);
  return { arm, length, out: times(g, g.divide(g.one, length), arm) };
}

/** Of the line of centres, how far along it the pitch point lies (negative: beyond the first centre); and the sense in which the first gear is pushed. */
const parallel: MeshLaw = {
  name: 'parallel gears',
  across: false,
  of(g, a, b, _carrier, [part, sense]) {
    const { arm, length, out } = fromAxis(g, a, b.centre);
    return {
      point: plus(g, a.centre, times(g, part!, arm)),
      along: cross(g, a.axis, out),
      apart: times(g, sense!, out),
      per: g.divide(g.one, g.multiply(part!, length)),
    };
  },
};
/** Gears on parallel axes. Teeth counts are positive; in an internal pair the one with more teeth is the ring. */
export function parallelGears(a: Gear, b: Gear, [n1, n2]: readonly [number, number], internal: boolean): Meshing {
  const part = internal ? -n1 / (n2 - n1) : n1 / (n1 + n2);
  // pushed away from the pitch point; a ring is pushed towards it
  return { law: parallel, a, b, carrier: a.body, numbers: [part, (internal && n1 > n2 ? 1 : -1) * Math.sign(part)] };
}

/** The pitch point and the apex, fixed in the carrier. */
const bevel: MeshLaw = {
  name: 'bevel gears',
  across: true,
  of(g, a, _b, carrier, n) {
    const point = place(g, carrier, vectorOf(n, 0)),
      { length, out } = fromAxis(g, a, point),
      run = minus(g, point, place(g, carrier, vectorOf(n, 3))),
      along = cross(g, a.axis, out),
      // square to the tooth's run and to the motion, away from the pitch point
      square = cross(g, along, times(g, g.divide(g.one, norm(g, run)), run)),
      sense = g.choose(g.zero, dot(g, square, out), g.constant(-1), g.one);
    return { point, along, apart: times(g, sense, square), per: g.divide(g.one, length) };
  },
};
/** Gears whose axes meet. @param pitch,apex in the axes of the carrier */
export const bevelGears = (a: Gear, b: Gear, carrier: number, pitch: readonly number[], apex: readonly number[]): Meshing => ({
  law: bevel,
  a,
  b,
  carrier,
  numbers: [...pitch, ...apex],
});

/** The radius, and the sense in which the pinion is pushed. */
const rack: MeshLaw = {
  name: 'rack and pinion',
  across: false,
  of(g, a, b, _carrier, [radius, sense]) {
    const out = cross(g, b.axis, a.axis);
    return {
      point: plus(g, a.centre, times(g, radius!, out)),
      along: b.axis,
      apart: times(g, sense!, out),
      per: g.divide(g.one, radius!),
    };
  },
};
/** A pinion (first) on a rack: the second gear's axis is the direction of travel, and its centre any place of the rack. */
export const rackAndPinion = (a: Gear, b: Gear, radius: number): Meshing => ({
  law: rack,
  a,
  b,
  carrier: a.body,
  numbers: [radius, -Math.sign(radius)],
});

/** What a row carries. */
const multiplier: CarriedLaw = { of: (_g, _bodies, _n, [row]) => [row!.multiplier] };

type Rate = ReturnType<typeof rateOn>;
/** How many numbers it takes in. */
const countOf = ({ inputs }: Rate): number => inputs.reduce((s, i) => s + i.count, 0);

const laws = new Map<string, ForceLaw>();
/** The law of a kind of teeth between two coordinates: their bodies come first, then those of the gears, then the carrier. */
function lawOf(mesh: MeshLaw, [one, two]: readonly [Rate, Rate], own: number): ForceLaw {
  const name = `${mesh.name}, ${one.name}, ${two.name}`,
    known = laws.get(name);
  if (known) return known;
  const counts = [one.values.length, two.values.length, 4, 6, 6, own],
    made: ForceLaw = {
      name,
      bodies: 7,
      numbers: Object.fromEntries(Array.from({ length: counts.reduce((s, c) => s + c) }, (_, k) => [`n${k}`, 'number'])),
      inputs: 1 + countOf(one) + countOf(two),
      does(g, bodies, n, [lambda, ...rows]) {
        let at = 0;
        const all = Object.values(n as unknown as Record<string, Ex>),
          [forOne, forTwo, [factor, other, pressure, helix], ofA, ofB, ofMesh] = counts.map((c) => all.slice(at, (at += c))) as [
            Ex[],
            Ex[],
            [Ex, Ex, Ex, Ex],
            Ex[],
            Ex[],
            Ex[],
          ],
          [gearA, gearB, carrier] = bodies.slice(4) as [BodyEx, BodyEx, BodyEx],
          placed = (b: BodyEx, of: readonly Ex[]): Placed => ({
            centre: place(g, b, vectorOf(of, 0)),
            axis: direction(g, b, vectorOf(of, 3)),
          }),
          [a, b] = [placed(gearA, ofA), placed(gearB, ofB)],
          { point, along, apart, per } = mesh.of(g, a, b, carrier, ofMesh),
          // the pure effort −λ c is taken away, and passed on here
          size = g.negate(g.multiply(g.multiply(lambda!, factor), per)),
          force = plus(
            g,
            plus(g, times(g, size, along), times(g, g.multiply(g.size(size), pressure), apart)),
            times(g, g.multiply(size, helix), a.axis),
          ),
          speed = (body: BodyEx) => plus(g, body.v, cross(g, spin(g, body), minus(g, point, body.r))),
          slip = minus(g, speed(gearA), speed(gearB)),
          cut = countOf(one);
        return {
          works: [
            [g.multiply(lambda!, factor), one.of(g, bodies.slice(0, 2), forOne, rows.slice(0, cut))],
            [g.multiply(lambda!, other), two.of(g, bodies.slice(2, 4), forTwo, rows.slice(cut))],
            ...force.map((f, k): Work => [f, slip[k as 0]]),
          ],
        };
      },
    };
  laws.set(name, made);
  return made;
}

export class TeethForce extends StatedForce {
  readonly across: boolean;
  override readonly workless = true;
  constructor(
    row: Coupled,
    freedoms: readonly [Freedom, Freedom],
    factors: readonly [number, number],
    { law, a, b, carrier, numbers }: Meshing,
    /** Tangents of the pressure angle and of the helix angle. */
    pressure: number,
    helix: number,
  ) {
    const [one, two] = freedoms.map(rateOn) as [Rate, Rate],
      carried = { lambda: 0 };
    super(
      lawOf(law, [one, two], numbers.length),
      [
        {
          bodies: [...freedoms.flatMap((f) => f.bodies), a.body, b.body, carrier],
          values: [
            ...[...one.values, ...two.values, ...factors, pressure, helix],
            ...[...a.centre, ...a.axis, ...b.centre, ...b.axis, ...numbers],
          ],
        },
      ],
      [
        {
          count: 1,
          carried: { law: multiplier, constraints: [row], bodies: [], numbers: [] },
          fill: (_K, _t, to, at) => (to[at] = carried.lambda),
        },
        ...one.inputs,
        ...two.inputs,
      ],
    );
    this.across = law.across || helix !== 0;
    this.react = (K, t, multipliers, _G, F) => {
      carried.lambda = multipliers[row.row]!;
      if (carried.lambda !== 0) super.apply(K, t, F);
    };
  }
  override readonly react: NonNullable<Force['react']>;
  override apply(): void {}
}
