/** The energy ledger of a machine, and what gauges may read from it. */
import type { Assembly, EnergyReadings } from '../../elements/declarations';
import { usable } from '../../elements/usable';
import type { Force } from '../../equations/forces';
import type { Kinematics } from '../../equations/kinematics';
import { DriveLedger, type Ledgers, LoadLedger, StartLedger, closingError, kineticEnergy } from '../ledger';
import type { BuiltDrive } from './drives';

/** Loads are added one by one, each with its ledger; readings see those that are there. */
export class Energies {
  readonly forces: { name: string; force: Force }[] = [];
  readonly ledgers: Ledgers & { loads: LoadLedger[] };
  /** @param carried what has mass between bodies; more may still come */
  constructor(masses: Float64Array, inertias: Float64Array, drives: readonly BuiltDrive[], carried: Assembly['carried']) {
    const between = (K: Kinematics) => carried.reduce((sum, { masses }) => masses.reduce((s, c) => s + c.kinetic(K), sum), 0),
      kinetic = (K: Kinematics) => kineticEnergy(K, masses, inertias) + (K.own?.kinetic ?? 0) + between(K);
    this.ledgers = {
      start: new StartLedger((K) => kinetic(K) + this.potential(K, 0)),
      loads: [],
      drives: drives.map((d) => new DriveLedger(d.name, d.freedom, d.constraint)),
      kinetic,
      stored: (K) => K.own?.stored ?? 0,
    };
  }
  /** A further load: it counts from now on. */
  add(name: string, force: Force): void {
    this.forces.push({ name, force });
    this.ledgers.loads.push(new LoadLedger(name, force, this.ledgers.loads.length));
  }
  private potential(K: Kinematics, t: number): number {
    return this.forces.reduce((s, f) => s + (f.force.energy?.(K, t) ?? 0), K.own?.stored ?? 0);
  }
  readonly readings: EnergyReadings = {
    kinetic: (K) => this.ledgers.kinetic(K),
    potential: (K, t) => this.potential(K, t),
    closing: (K) => closingError(this.ledgers, K),
    stored: (load, K, t) => usable(this.forces, load, 'loads').force.energy?.(K, t) ?? 0,
    fed: (load, K, t) => usable(this.ledgers.loads, load, 'loads').fed(K, t),
    work: (drive, K) => usable(this.ledgers.drives, drive, 'drives').work(K),
  };
}
