/**
 * Tooth forces. The relation between two joint coordinates passes pure efforts; real teeth push on each other at the pitch point, along the
 * line of action. What is added here is the difference: it does no work in any motion the joints allow, so the motion is that of the
 * relation, and the bearings carry what they carry in the machine (Dudley's Handbook of Practical Gear Design, ch. 1; ISO 21771).
 */
import type { Kinematics } from './kinematics';
import { type Force, placeAt, pushAt } from './forces';
import type { Coupled } from './coupled';
import type { Freedom } from './freedom';

/** A gear: its body, centre relative to the centre of mass and axis, body axes. */
export interface Gear {
  body: number;
  centre: ArrayLike<number>;
  axis: ArrayLike<number>;
}

/** Pitch point and the directions there, ground axes; the force on the first gear is its tangential part along `along`, and `apart` of its size besides. */
export class Mesh {
  readonly point = new Float64Array(3);
  readonly along = new Float64Array(3);
  readonly apart = new Float64Array(3);
}

export interface Meshing {
  readonly a: Gear;
  readonly b: Gear;
  /** Tangential force on the first gear per unit effort on the first coordinate, with the mesh brought up to date. */
  locate(K: Kinematics, mesh: Mesh): number;
}

export class TeethForce implements Force {
  readonly bodies: readonly number[];
  private readonly mesh = new Mesh();
  private readonly at = new Float64Array(3);
  constructor(
    private readonly row: Coupled,
    private readonly freedoms: readonly [Freedom, Freedom],
    private readonly factors: readonly [number, number],
    private readonly meshing: Meshing,
    /** Tangents of the pressure angle and of the helix angle. */
    private readonly pressure: number,
    private readonly helix: number,
  ) {
    this.bodies = [...new Set([...freedoms.flatMap((f) => f.bodies), meshing.a.body, meshing.b.body])];
  }
  apply(): void {}
  react(K: Kinematics, _t: number, multipliers: Float64Array, _G: Float64Array, F: Float64Array): void {
    const { mesh, meshing, freedoms, factors, row } = this;
    const lambda = multipliers[row.row]!;
    if (lambda === 0) return;
    for (let i = 0; i < 2; i++) freedoms[i]!.push(K, F, lambda * factors[i]!); // takes the pure effort −λ c away
    const size = -lambda * factors[0] * meshing.locate(K, mesh);
    const away = Math.abs(size) * this.pressure;
    const { along, apart } = mesh;
    const axis = this.helix === 0 ? undefined : meshing.a;
    let fx = size * along[0]! + away * apart[0]!,
      fy = size * along[1]! + away * apart[1]!,
      fz = size * along[2]! + away * apart[2]!;
    if (axis) {
      const p = 9 * axis.body,
        z = axis.axis,
        s = size * this.helix;
      fx += s * (K.A[p]! * z[0]! + K.A[p + 1]! * z[1]! + K.A[p + 2]! * z[2]!);
      fy += s * (K.A[p + 3]! * z[0]! + K.A[p + 4]! * z[1]! + K.A[p + 5]! * z[2]!);
      fz += s * (K.A[p + 6]! * z[0]! + K.A[p + 7]! * z[1]! + K.A[p + 8]! * z[2]!);
    }
    this.push(K, F, meshing.a.body, fx, fy, fz);
    this.push(K, F, meshing.b.body, -fx, -fy, -fz);
  }
  private push(K: Kinematics, F: Float64Array, i: number, fx: number, fy: number, fz: number): void {
    const { at, mesh } = this,
      { A, r } = K,
      m = 9 * i;
    const x = mesh.point[0]! - r[3 * i]!,
      y = mesh.point[1]! - r[3 * i + 1]!,
      z = mesh.point[2]! - r[3 * i + 2]!;
    for (let k = 0; k < 3; k++) at[k] = A[m + k]! * x + A[m + 3 + k]! * y + A[m + 6 + k]! * z;
    pushAt(K, F, i, at, fx, fy, fz);
  }
}

const A1 = new Float64Array(3);
const C = new Float64Array(3);

function axisOf(K: Kinematics, { body, axis }: Gear, out: Float64Array): void {
  const p = 9 * body;
  for (let k = 0; k < 3; k++) out[k] = K.A[p + 3 * k]! * axis[0]! + K.A[p + 3 * k + 1]! * axis[1]! + K.A[p + 3 * k + 2]! * axis[2]!;
}
const cross = (a: Float64Array, b: Float64Array, out: Float64Array): void => {
  const x = a[1]! * b[2]! - a[2]! * b[1]!,
    y = a[2]! * b[0]! - a[0]! * b[2]!,
    z = a[0]! * b[1]! - a[1]! * b[0]!;
  out[0] = x;
  out[1] = y;
  out[2] = z;
};

/** Gears on parallel axes. Teeth counts are positive; in an internal pair the one with more teeth is the ring. */
export class ParallelGears implements Meshing {
  constructor(
    readonly a: Gear,
    readonly b: Gear,
    private readonly teeth: readonly [number, number],
    private readonly internal: boolean,
  ) {}
  locate(K: Kinematics, mesh: Mesh): number {
    const {
      a,
      b,
      teeth: [n1, n2],
      internal,
    } = this;
    axisOf(K, a, A1);
    let axial = 0;
    for (let k = 0; k < 3; k++) {
      C[k] = placeAt(K, b.body, b.centre, k) - placeAt(K, a.body, a.centre, k);
      axial += C[k]! * A1[k]!;
    }
    let d = 0;
    for (let k = 0; k < 3; k++) {
      C[k] = C[k]! - axial * A1[k]!;
      d += C[k]! * C[k]!;
    }
    d = Math.sqrt(d);
    // signed distance of the pitch point from the first centre along the line of centres
    const r = internal ? (-d * n1) / (n2 - n1) : (d * n1) / (n1 + n2);
    for (let k = 0; k < 3; k++) {
      C[k] = C[k]! / d;
      mesh.point[k] = placeAt(K, a.body, a.centre, k) + r * C[k]!;
      // pushed away from the pitch point; a ring is pushed towards it
      mesh.apart[k] = (internal && n1 > n2 ? 1 : -1) * Math.sign(r) * C[k]!;
    }
    cross(A1, C, mesh.along);
    return 1 / r;
  }
}

/** Gears whose axes meet; the pitch point is given, fixed in the carrier. */
export class BevelGears implements Meshing {
  private readonly out = new Float64Array(3);
  constructor(
    readonly a: Gear,
    readonly b: Gear,
    private readonly carrier: number,
    private readonly pitch: ArrayLike<number>,
    private readonly apex: ArrayLike<number>,
  ) {}
  locate(K: Kinematics, mesh: Mesh): number {
    const { a, out } = this;
    axisOf(K, a, A1);
    let axial = 0,
      r2 = 0,
      l2 = 0;
    for (let k = 0; k < 3; k++) {
      mesh.point[k] = placeAt(K, this.carrier, this.pitch, k);
      C[k] = mesh.point[k]! - placeAt(K, a.body, a.centre, k);
      out[k] = mesh.point[k]! - placeAt(K, this.carrier, this.apex, k);
      axial += C[k]! * A1[k]!;
    }
    for (let k = 0; k < 3; k++) {
      C[k] = C[k]! - axial * A1[k]!;
      r2 += C[k]! * C[k]!;
      l2 += out[k]! * out[k]!;
    }
    const r = Math.sqrt(r2),
      l = Math.sqrt(l2);
    for (let k = 0; k < 3; k++) {
      C[k] = C[k]! / r;
      out[k] = out[k]! / l;
    }
    cross(A1, C, mesh.along);
    // square to the tooth's run and to the motion, away from the pitch point
    cross(mesh.along, out, mesh.apart);
    const side = mesh.apart[0]! * C[0]! + mesh.apart[1]! * C[1]! + mesh.apart[2]! * C[2]!;
    for (let k = 0; k < 3; k++) mesh.apart[k] = side > 0 ? -mesh.apart[k]! : mesh.apart[k]!;
    return 1 / r;
  }
}

/** A pinion (first) on a rack: the second gear's axis is the direction of travel, and its centre any place of the rack. */
export class RackAndPinion implements Meshing {
  private readonly travel = new Float64Array(3);
  constructor(
    readonly a: Gear,
    readonly b: Gear,
    private readonly radius: number,
  ) {}
  locate(K: Kinematics, mesh: Mesh): number {
    const { a, b, radius: r, travel } = this;
    axisOf(K, a, A1);
    axisOf(K, b, travel);
    cross(travel, A1, C);
    for (let k = 0; k < 3; k++) {
      mesh.point[k] = placeAt(K, a.body, a.centre, k) + r * C[k]!;
      mesh.along[k] = travel[k]!;
      mesh.apart[k] = -Math.sign(r) * C[k]!;
    }
    return 1 / r;
  }
}
