/** Loads whose formulas switch to and fro: the integrator can only creep along the switch in ever shorter steps. */
import type { Diagnosis } from '../diagnosis';
import type { Force } from '../equations/forces';
import { where } from '../model/where';
import type { Mechanism } from '../system/mechanism';

/** Attempts over which the progress of a run is judged. */
const SPAN = 400;
/** Of these so many are refused, and the run has come no further than this part of it. */
const REFUSED = SPAN / 4;
const CREEPS = 1e-3;
/** Attempts after which a run that has come no further than this part of it will not come to its end. */
const LONG = 20_000;
const STANDS = 1e-7;
/** Steps to both sides of a state within which a load is looked at. */
const REACH = [1, 10, 100];
/** Halvings of that reach after which a jump is still there, and what is steep is not. */
const HALVINGS = 20;

/** Whether a run creeps; it is told of every attempt of a step. */
export class Creeping {
  private attempts = 0;
  private refused = 0;
  private from = 0;
  private longer = 0;
  private since = 0;
  /** Whether it crept over the last whole span. */
  creeps = false;
  /** Whether it stands still: what holds its steps down does so for good. */
  stands = false;
  constructor(private readonly until: number) {}
  /** @param t reached so far */
  attempt(t: number, refused: boolean): void {
    if (refused) this.refused++;
    if (++this.longer >= LONG) {
      this.stands = t - this.since < STANDS * this.until;
      this.longer = 0;
      this.since = t;
    }
    if (++this.attempts < SPAN) return;
    this.creeps = this.refused > REFUSED && t - this.from < CREEPS * this.until;
    this.attempts = this.refused = 0;
    this.from = t;
  }
}

/**
 * A load with a formula that jumps within a few steps of a state.
 * @param y the state @param rates its derivative @param h length of the steps at hand, s
 */
export function switching(
  m: Mechanism,
  t: number,
  y: Float64Array,
  rates: Float64Array,
  h: number,
): Omit<Diagnosis, 'severity'> | undefined {
  const { system } = m,
    { K } = system,
    state = new Float64Array(y.length);
  const jumps = (force: Force, reach: number) => {
    const at = (s: number) => {
      const F = new Float64Array(6 * (system.bodies + 1));
      for (let i = 0; i < y.length; i++) state[i] = y[i]! + s * rates[i]!;
      K.load(state);
      force.apply(K, t + s, F);
      return F;
    };
    let [from, to] = [-reach, reach],
      [before, after] = [at(from), at(to)];
    const size = Math.max(...before.map(Math.abs), ...after.map(Math.abs)),
      change = apart(before, after);
    if (!(change > 0.5 * size)) return false;
    // the half in which more of it happens, again and again
    for (let i = 0; i < HALVINGS; i++) {
      const middle = (from + to) / 2,
        between = at(middle);
      if (apart(before, between) > apart(between, after)) [to, after] = [middle, between];
      else [from, before] = [middle, between];
    }
    // a sign is zero in between: its jump is then two
    return apart(before, after) > 0.25 * change;
  };
  const found = m.assembly.forces.find(({ force }) => force.programs?.length && REACH.some((steps) => jumps(force, steps * h)));
  K.load(y);
  return (
    found && {
      code: 'load-switches',
      message: 'Its formula switches to and fro here, faster than any step: what it gives drives back at once what switches it.',
      why: 'Dry friction is such a switch; what really happens is that the part sticks, which a formula cannot say.',
      remedy: 'Put a friction load on the joint instead, or let the formula pass gradually: 2*smoothstep(-1, 1, x) - 1 instead of sign(x).',
      ...where(m.model, 'loads', found.name),
    }
  );
}

/** Largest difference of two lists. */
const apart = (a: Float64Array, b: Float64Array): number => a.reduce((most, x, i) => Math.max(most, Math.abs(x - b[i]!)), 0);
