/**
 * Whether the code that is made for a machine gives the accelerations of its equations one by one: looked at before every run, next to its start and in
 * motion. Code is derived by program, with what is 0 or ±1 left out; were a term lost on the way, this is where it shows.
 */
import { square } from '../quantity/elementary';
import type { Mechanism } from '../system/mechanism';
import { anyMotion, extent, leastInertia, numbersFrom } from './reduced';

/** How far the machine is moved for it, in parts of its size or rad; and how fast, beside that in a second. */
const ASIDE = 0.01;
const FAST = 30;
/** Part of the largest acceleration by which they may differ: more than rounding makes of machines that are nearly singular. */
const AGREES = 1e-5;
/** Part of what joints hold of a body, and of what turns it round as fast, by which its acceleration is rounded, at most. */
const ROUNDING = 1e-11;

const largest = (list: Float64Array): number => list.reduce((most, x) => Math.max(most, Math.abs(x)), 0);

export class OneByOne {
  private readonly state: Float64Array;
  private readonly found: readonly { readonly t: number; readonly acceleration: Float64Array; readonly near: number }[];

  /** Evaluates them next to the state in K, which is left as it was; there is to be no code yet. @param until end of the run, s */
  constructor(
    private readonly m: Mechanism,
    until: number,
  ) {
    const { system } = m,
      { K } = system,
      start = new Float64Array(K.whole.size);
    K.storeWhole(start);
    moveAside(m);
    this.state = new Float64Array(K.whole.size);
    K.storeWhole(this.state);
    const swing = square(ASIDE * FAST) * Math.max(1, m.size);
    // also where formulas of the time are not at their beginning
    this.found = [0, 0.37 * until].map((t) => {
      system.accelerate(t);
      return {
        t,
        acceleration: system.acceleration.slice(),
        near: AGREES * largest(system.acceleration) + ROUNDING * (largest(system.multipliers) / leastInertia(system) + swing),
      };
    });
    K.loadWhole(start);
  }

  /** Whether it is evaluated alike now. The state in K is left as it was. */
  agree(): boolean {
    const { system } = this.m,
      { K } = system,
      start = new Float64Array(K.whole.size);
    K.storeWhole(start);
    K.loadWhole(this.state);
    const good = this.found.every(({ t, acceleration, near }) => {
      system.accelerate(t);
      return !acceleration.every(Number.isFinite) || system.acceleration.every((x, i) => Math.abs(x - acceleration[i]!) <= near);
    });
    K.loadWhole(start);
    return good;
  }
}

/** As its joints allow. */
function moveAside(m: Mechanism): void {
  const { system } = m,
    { K } = system;
  system.linearise();
  const way = anyMotion(m, numbersFrom(31)),
    far = extent(system, way, m.size);
  if (!(far > 0)) return;
  K.displace(way, ASIDE / far);
  system.linearise();
  system.projectPositions(0);
  K.quicken(way, (ASIDE * FAST) / far);
  system.linearise();
  system.projectVelocities(0);
}
