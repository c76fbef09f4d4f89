/** What each family's kinds declare beyond their fields, and the questions they may ask while being built. */
import type { OwnCoordinates } from '../equations/coordinates/law';
import type { CarriedMass } from '../equations/carried-mass';
import type { Constraint, Prescription } from '../equations/constraint';
import type { Side } from '../equations/contact/contacts';
import type { Course } from '../formula/course';
import type { Meshing } from '../equations/teeth';
import type { Force } from '../equations/forces';
import type { Coordinate, Freedom } from '../equations/freedom';
import type { Magnitude } from '../equations/magnitude';
import type { Tracked } from '../equations/tracked';
import type { Table } from '../formula/table';
import type { Program } from '../formula/program';
import type { StatedValue } from '../equations/values';
import type { Kinematics } from '../equations/kinematics';
import type { Corners } from '../geometry/gaps';
import type { Solid } from '../geometry/solid';
import type { Mat3, Vec3 } from '../geometry/vector';
import type { Fields, ValuesOf } from '../model/fields';
import type { Kind } from '../model/kinds';
import type { Dimension } from '../quantity/dimension';

/** Positions as drawn, m. */
export interface Drawing {
  /** Ground coordinates of a point. */
  point(name: string): Vec3;
  /** Place of a body's axes: origin, and rotation from body to ground axes. */
  body(name: string): { origin: Vec3; turn: Mat3 };
  ground: string;
}

/** A body is rigid, and moves in every way that joints leave it; or coordinates of its own tell how it moves. */
export interface BodyKind<F extends Fields = Fields> extends Kind<F> {
  family: 'bodies';
  /** Those coordinates. @param drawn where its centre of mass and its axes are drawn, ground axes; the turn as a unit quaternion */
  coordinates?(v: ValuesOf<F>, drawn: { centre: Vec3; turn: readonly [number, number, number, number] }): OwnCoordinates;
}

/** For shapes: other shapes as well. */
export interface ShapeDrawing extends Drawing {
  /** Another shape. @throws Refusal when it is in error, or made of this one */
  solid(shape: string): Solid;
}

export interface ShapeKind<F extends Fields = Fields> extends Kind<F> {
  family: 'shapes';
  /** The solid in ground axes, as drawn. @throws Refusal when the shape has no volume */
  solid(v: ValuesOf<F>, drawing: ShapeDrawing): Solid;
}

/** The two sides of a joint: body indices, places relative to the centres of mass and triads (z is the joint axis), in body axes. */
export interface JointSides {
  a: number;
  b: number;
  sa: Vec3;
  sb: Vec3;
  fa: Mat3;
  fb: Mat3;
  /** A further direction, in b's axes, for joints that have one. */
  second: Vec3 | undefined;
  /** Distance of the two places as drawn, m. */
  drawn: number;
}

export interface JointKind<F extends Fields = Fields> extends Kind<F> {
  family: 'joints';
  /** Freedoms that can be driven and read, the first being the one meant when none is named. */
  freedoms: readonly ('rotation' | 'translation')[];
  /** Number of freedoms it leaves between two bodies. */
  leaves: number;
  /** What each row holds, in words. */
  holds: readonly string[];
  equations(s: JointSides, v: ValuesOf<F>, m: Places): Constraint[];
  /** The equation that measures or drives a freedom, where it is not the usual one of its type. */
  measure?(s: JointSides, v: ValuesOf<F>, m: Places, type: 'rotation' | 'translation', course: Prescription): Coordinate;
}

/** Places in bodies. */
export interface Places {
  /** A point relative to a body's centre of mass, in its axes. */
  place(point: string, body: string): Vec3;
}

/** Energies at a state, J. */
export interface EnergyReadings {
  kinetic(K: Kinematics): number;
  potential(K: Kinematics, t: number): number;
  /** What the balance of all energies leaves unexplained. */
  closing(K: Kinematics): number;
  stored(load: string, K: Kinematics, t: number): number;
  /** Fed in by a load so far; negative where it dissipates. */
  fed(load: string, K: Kinematics, t: number): number;
  /** Put in by a drive so far. */
  work(drive: string, K: Kinematics): number;
}

/** What a load or gauge may ask about the mechanism it acts on. Places are relative to centres of mass, in body axes. */
export interface Assembly extends Drawing, Places {
  index(body: string): number;
  /** A ground direction of the drawing, in the body's axes. */
  direction(d: Vec3, body: string): Vec3;
  bodies: readonly { name: string; mass: number; inertia: Mat3 }[];
  joint(name: string): JointInfo;
  drive(name: string): DriveInfo;
  /** A relation of joint coordinates, with its equation. */
  coupling(name: string): { terms: Relation['terms']; constraint: Constraint };
  /** Equations of the drives that act on a joint. */
  drivesOn(joint: string): readonly Constraint[];
  /** Dry frictions in a joint; complete once all loads are there. */
  frictionsOn(joint: string): readonly Force[];
  /** Whether a joint joins two bodies, or fixed joints make them one. */
  joined(one: string, other: string): boolean;
  /** The surface of a body, or of one of its shapes, relative to its centre of mass in its axes. @param round facets of a full turn */
  surface(body: string, shape?: string, round?: number): Corners;
  /** What the shapes of a body are exactly, as it carries them; left out are those that are no more than facets. */
  forms(body: string): Side[];
  /** Origin of a body's axes, relative to its centre of mass. */
  home(body: string): Vec3;
  forces: readonly { name: string; force: Force }[];
  /** Values of the loads of the same kind that come after a load. */
  later(load: string): readonly unknown[];
  /** What has mass between bodies, by the loads that stand there. */
  carried: readonly { name: string; masses: readonly CarriedMass[] }[];
  /** How a load is drawn. */
  outline(load: string): Outline;
  /** The coordinate of a freedom, whole turns counted; one for all who ask. */
  tracked(freedom: Freedom): Tracked;
  /** A formula with the gauges it refers to. @throws Refusal */
  magnitude(p: Program): Magnitude;
  /** Switches the rows of an equation on or off. */
  hold(c: Constraint, on: boolean): void;
  /** @throws Refusal when its units do not fit */
  table(name: string, x: Dimension, y: Dimension): Table;
  /** Readings of the energy ledger, J. */
  energy: EnergyReadings;
  /** Characteristic size of the machine, m. */
  size: number;
  /** A formula of any gauges, for the gauge that asks. @throws Refusal when it is in error */
  compiled(text: string, asker: string): Program;
  /** Another gauge, for one that asks. @throws Refusal when it is in error, or depends on the one that asks */
  channelOf(gauge: string, asker: string): Channel;
}

export interface JointInfo {
  name: string;
  kind: JointKind;
  sides: JointSides;
  bodies: readonly [string, string];
  constraints: readonly Constraint[];
  freedoms: ReadonlyMap<'rotation' | 'translation', Freedom>;
  /** An equation that holds a freedom to a course. */
  measure(type: 'rotation' | 'translation', course: Prescription): Coordinate;
}

/** Linear relations between joint coordinates: factors of freedoms whose sum stays zero; and the teeth, where there are any. */
export interface Relation {
  terms: readonly { joint: string; freedom: Freedom; factor: number }[];
  teeth?: { meshing: Meshing; pressure: number; helix: number };
}

export interface CouplingKind<F extends Fields = Fields> extends Kind<F> {
  family: 'couplings';
  relation(v: ValuesOf<F>, m: Assembly): Relation;
}

export interface DriveInfo {
  name: string;
  /** Left out when it drives two frames. */
  joint: JointInfo | undefined;
  bodies: readonly [string, string];
  freedom: Freedom;
  type: 'rotation' | 'translation';
  constraint: Constraint;
}

/** A place fixed in a body: index, and coordinates relative to the centre of mass in body axes. */
export interface Place {
  body: number;
  at: Vec3;
}

/** How a load is drawn in outline. An arrow's direction is fixed in its carrier (body index). */
export type Outline =
  | { type: 'coil'; from: Place; to: Place }
  | { type: 'line'; through: readonly Place[] }
  /** A bent line between two places, in the directions fixed in their bodies: unit vectors, body axes. */
  | { type: 'bent'; from: Place; to: Place; along: readonly [Vec3, Vec3] }
  | { type: 'arrow'; at: Place; direction: Vec3; carrier: number }
  | { type: 'field'; direction: Vec3 }
  /** Wound about the axis of a joint, or along it up to its place in the other body: the axis is fixed in its carrier. */
  | { type: 'wound'; at: Place; to: Place; axis: Vec3; carrier: number; turns: boolean }
  /** Only its place is marked. */
  | { type: 'none'; at: Place };

/** What an element gives over what it feels, for drawing it: a spring's tension over its length. */
export interface Characteristic {
  x: string;
  y: string;
  dims: readonly [Dimension, Dimension];
  points: readonly (readonly [number, number])[];
  /** What else is to be said of it, in words. */
  says?: string;
}

/** A function sampled evenly. */
export const sampled = (from: number, to: number, f: (x: number) => number, count = 81): [number, number][] =>
  Array.from({ length: count }, (_, i) => {
    const x = from + ((to - from) * i) / (count - 1);
    return [x, f(x)];
  });

/** Mass of a load that stands between bodies: points that they carry, the first of which is its centre of mass; and rotary inertia of bodies, in their axes. */
export interface Carries {
  readonly masses: readonly CarriedMass[];
  readonly rotary: readonly { readonly body: number; readonly inertia: Mat3 }[];
}

export interface LoadKind<F extends Fields = Fields> extends Kind<F> {
  family: 'loads';
  force(v: ValuesOf<F>, m: Assembly, name: string): Force;
  /** The mass it has of its own; and the field that gives it such: left out, it has none. */
  carries?(v: ValuesOf<F>, m: Assembly): Carries;
  massBy?: keyof F & string;
  /** Fields by which it acts: it does nothing while all of them are zero or left out. */
  actsBy?(v: ValuesOf<F>, m: Pick<Assembly, 'joint'>): readonly (keyof F & string)[];
  outline(v: ValuesOf<F>, m: Assembly): Outline;
  /** Undefined where it gives nothing of the kind. */
  characteristic?(v: ValuesOf<F>, m: Assembly, name: string): Characteristic | undefined;
}

/** A stored state with what the solver found there: what a gauge is read from. */
export interface Snapshot {
  t: number;
  K: Kinematics;
  /** Accelerations, six numbers a body: of the centre of mass in ground axes, angular in body axes. */
  acceleration: Float64Array;
  /** Constraint matrix, twelve numbers a row, and multipliers; the joint's force on body b is −Gᵀλ. */
  G: Float64Array;
  multipliers: Float64Array;
  /** Joint angles counting whole turns. */
  angle(freedom: Freedom): number;
}

/** How a gauge is drawn: where it reads, and the direction that counts as positive, fixed in its carrier (body index). Left out: its three axes. */
export interface Sign {
  at: Place;
  /** It reads from here to there. */
  to?: Place;
  direction?: Vec3;
  carrier: number;
  /** The direction is an axis it turns about. */
  turning?: true;
}

export interface Channel {
  dim: Dimension;
  /** Unit in which it is shown; left out: the usual one of the dimension. */
  unit?: string;
  /** What positive means, in words. */
  positive: string;
  read(s: Snapshot): number;
  /** As an expression, where it follows from posture and motion alone. @param counter of a joint angle, the state that counts its turns */
  stated?(counter: (f: Freedom) => { readonly first: number }): StatedValue | undefined;
  /** It reads joint loads: those of least norm where they are not unique. */
  loads?: true;
  /** Angles it reads that count whole turns. */
  angles?: readonly Freedom[];
  /** Formulas in it. */
  programs?: readonly Program[];
  /** Where it reads, and along or about what it counts, to be drawn. */
  sign?: Sign;
  /** Made of the whole course: what was read over the run becomes something else. */
  after?: Course;
}

export interface GaugeKind<F extends Fields = Fields> extends Kind<F> {
  family: 'gauges';
  /** Without its dimension where the declaration says what it `reads`. */
  channel(v: ValuesOf<F>, m: Assembly, name: string): Omit<Channel, 'dim' | 'loads'> & { dim?: Dimension; loads?: true | undefined };
}
