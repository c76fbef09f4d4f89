/**
 * The energy ledger: what every load and drive has done so far, integrated along with the motion. The balance
 * kinetic energy − start energy − Σ ledgers = 0 closes to the accuracy of the run, or something is wrong.
 */
import type { Changes, ExtraStates } from '../equations/states';
import type { Force } from '../equations/forces';
import type { Freedom } from '../equations/freedom';
import type { Kinematics } from '../equations/kinematics';
import type { Constraint } from '../equations/constraint';

/**
 * Work a load has done on the bodies, less the energy stored in it at the start, J. With the energy stored now added it is what the
 * load has fed in; its opposite is what it has dissipated.
 */
export class LoadLedger implements ExtraStates {
  readonly states = 1;
  readonly changes: Changes;
  readonly ledger = true;
  first = 0;
  /** Where the power of each load stands, and which of them is that of this one; set when the system is put together. */
  powers: Float64Array = new Float64Array(0);
  constructor(
    readonly name: string,
    readonly force: Force,
    private readonly which: number,
  ) {
    this.changes = { by: 'power', which };
  }
  begin(K: Kinematics): void {
    K.z[this.first] = -(this.force.energy?.(K, 0) ?? 0);
  }
  rates(_K: Kinematics, _t: number, dz: Float64Array, at: number): void {
    dz[at + this.first] = this.powers[this.which]!;
  }
  /** Energy fed in so far (negative: dissipated), J. */
  fed(K: Kinematics, t: number): number {
    return K.z[this.first]! + (this.force.energy?.(K, t) ?? 0);
  }
}

/** Work a drive has put in, J. */
export class DriveLedger implements ExtraStates {
  readonly states = 1;
  readonly changes: Changes;
  readonly ledger = true;
  first = 0;
  /** λ of the system; set when it is put together. */
  multipliers: Float64Array = new Float64Array(0);
  constructor(
    readonly name: string,
    private readonly freedom: Freedom,
    private readonly constraint: Constraint,
  ) {
    this.changes = { by: 'work', constraint, freedom };
  }
  begin(K: Kinematics): void {
    K.z[this.first] = 0;
  }
  rates(K: Kinematics, _t: number, dz: Float64Array, at: number): void {
    dz[at + this.first] = -this.multipliers[this.constraint.row]! * this.freedom.rate(K);
  }
  work(K: Kinematics): number {
    return K.z[this.first]!;
  }
}

/** Kinetic and stored energy at the start, J. */
export class StartLedger implements ExtraStates {
  readonly states = 1;
  readonly changes = { by: 'nothing' } as const;
  readonly ledger = true;
  first = 0;
  constructor(private readonly total: (K: Kinematics) => number) {}
  begin(K: Kinematics): void {
    K.z[this.first] = this.total(K);
  }
  rates(_K: Kinematics, _t: number, dz: Float64Array, at: number): void {
    dz[at + this.first] = 0;
  }
  energy(K: Kinematics): number {
    return K.z[this.first]!;
  }
}

/** All ledgers of a system. */
export interface Ledgers {
  start: StartLedger;
  loads: readonly LoadLedger[];
  drives: readonly DriveLedger[];
  kinetic(K: Kinematics): number;
  /** What bodies store themselves, J. */
  stored(K: Kinematics): number;
}

/** All states of the ledgers, in the order in which they are kept. */
export const ledgerStates = (l: Ledgers): ExtraStates[] => [l.start, ...l.loads, ...l.drives];

/** What the balance leaves unexplained, J. */
export function closingError({ start, loads, drives, kinetic, stored }: Ledgers, K: Kinematics): number {
  let e = kinetic(K) + stored(K) - start.energy(K);
  for (const l of loads) e -= K.z[l.first]!;
  for (const d of drives) e -= d.work(K);
  return e;
}

/** ½ Σ m v² + ½ Σ ω · J ω, J. */
export function kineticEnergy(K: Kinematics, masses: ArrayLike<number>, inertias: ArrayLike<number>): number {
  let e = 0;
  for (let i = 0; i < K.bodies; i++) {
    const m = 9 * i,
      j = 3 * i;
    const x = K.w[j]!,
      y = K.w[j + 1]!,
      z = K.w[j + 2]!;
    e += 0.5 * masses[i]! * (K.v[j]! * K.v[j]! + K.v[j + 1]! * K.v[j + 1]! + K.v[j + 2]! * K.v[j + 2]!);
    e +=
      0.5 * (inertias[m]! * x * x + inertias[m + 4]! * y * y + inertias[m + 8]! * z * z) +
      inertias[m + 1]! * x * y +
      inertias[m + 2]! * x * z +
      inertias[m + 5]! * y * z;
  }
  return e;
}
