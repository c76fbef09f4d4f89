/** What holds a run up: the quickest thing in the machine, which the steps must follow. */
import type { Diagnosis } from '../diagnosis';
import { TWO_PI } from '../quantity/elementary';
import { D, type Dimension } from '../quantity/dimension';
import { formatNumber, formatQuantity } from '../quantity/units';
import type { Mechanism } from '../system/mechanism';

/** A run that would take longer than this is told, s. */
export const PATIENCE = 600;

interface Quick {
  /** 1/s. */
  rate: number;
  words: string;
  element: { family: 'loads' | 'bodies'; name: string };
}

/** Tells when a run advances too slowly to be waited for. Whoever runs it says what time it is. */
export class Pace {
  private readonly began: number;
  private last: number;
  private reached = 0;
  private steps = 0;
  private told = false;
  /** @param until end of the run @param now time of the clock, s @param window time over which the pace is measured, s */
  constructor(
    private readonly until: number,
    now: number,
    private readonly window = 5,
  ) {
    this.began = this.last = now;
  }

  /** @returns once, when it is slow: seconds it would still take, and the step at hand */
  look(t: number, now: number): { left: number; step: number; since: number } | undefined {
    this.steps++;
    if (this.told || now - this.last < this.window) return undefined;
    const gained = t - this.reached,
      left = gained > 0 ? ((this.until - t) * (now - this.last)) / gained : Infinity,
      step = gained / this.steps;
    this.last = now;
    this.reached = t;
    this.steps = 0;
    if (left < PATIENCE) return undefined;
    this.told = true;
    return { left, step, since: now - this.began };
  }
}

/**
 * The finding about a slow run, at the state in K, which is left as it was.
 * @param left seconds it would still take @param step length of its steps, s
 */
export function holdUp(m: Mechanism, t: number, { left, step }: { left: number; step: number }): Diagnosis {
  const found = quickest(m, t),
    long =
      left < 7200
        ? `${formatNumber(left / 60, 2)} minutes`
        : left < 72 * 3600
          ? `${formatNumber(left / 3600, 2)} hours`
          : left < 1e10
            ? `${formatNumber(left / 86_400, 2)} days`
            : 'no foreseeable time';
  const s = (x: number) => formatQuantity(x, D.time, 's', 2);
  return {
    code: 'run-slow',
    severity: 'warning',
    time: t,
    ...(found ? { element: found.element } : {}),
    message: `At ${s(t)} the run would take ${long} more: steps are ${s(step)}${found ? `; ${found.words}, once in ${s(TWO_PI / found.rate)}` : ''}.`,
    why: 'The steps must follow the quickest motion there is.',
    remedy: 'Stop it; or lower that stiffness or speed, raise the mass, or choose implicit steps.',
  };
}

function quickest(m: Mechanism, t: number): Quick | undefined {
  const { system } = m,
    { K, bodies } = system,
    { masses, inertias } = system.apparent;
  let best: Quick | undefined;
  const offer = (rate: number, words: () => string, element: Quick['element']) => {
    if (Number.isFinite(rate) && rate > (best?.rate ?? 0)) best = { rate, words: words(), element };
  };
  m.bodies.forEach(({ name }, i) => {
    const w = Math.sqrt(K.w[3 * i]! * K.w[3 * i]! + K.w[3 * i + 1]! * K.w[3 * i + 1]! + K.w[3 * i + 2]! * K.w[3 * i + 2]!);
    offer(w, () => `${name} turns at ${formatQuantity(w, D.angularSpeed, 'rad/s', 3)}`, { family: 'bodies', name });
  });
  const y = new Float64Array(K.whole.size),
    F0 = new Float64Array(6 * (bodies + 1)),
    F1 = new Float64Array(F0.length),
    step = new Float64Array(system.motions);
  K.storeWhole(y);
  // of a very large machine only what turns quickly is looked for
  for (const { name, force } of m.assembly.forces.length * bodies > 40_000 ? [] : m.assembly.forces) {
    F0.fill(0);
    force.apply(K, t, F0);
    for (let i = 0; i < bodies; i++)
      for (let k = 0; k < 6; k++) {
        const weight = k < 3 ? masses[i]! : inertias[9 * i + 4 * (k - 3)]!,
          h = k < 3 ? 1e-6 * m.size : 1e-6;
        const after = (): number => {
          F1.fill(0);
          force.apply(K, t, F1);
          K.loadWhole(y);
          return (F0[6 * i + k]! - F1[6 * i + k]!) / h;
        };
        step.fill(0);
        step[6 * i + k] = h;
        K.displace(step, 1);
        const stiffness = after();
        const velocity = k < 3 ? K.v : K.w,
          at = 3 * i + (k % 3);
        velocity[at] = velocity[at]! + h;
        const damping = after();
        const tell = (x: number, dim: Dimension, unit: string, what: string, end: string) =>
          `${what} ${formatQuantity(x, dim, unit, 3)} of ${name} on ${m.bodies[i]!.name}, ${k < 3 ? formatQuantity(masses[i]!, D.mass, 'kg', 3) : formatQuantity(weight, D.inertia, 'kg*m^2', 3)}, ${end}`;
        if (stiffness > 0)
          offer(
            Math.sqrt(stiffness / weight),
            () => tell(stiffness, k < 3 ? D.stiffness : D.torsionStiffness, k < 3 ? 'N/m' : 'N*m/rad', 'the stiffness', 'swings'),
            { family: 'loads', name },
          );
        if (damping > 0)
          offer(
            damping / weight,
            () => tell(damping, k < 3 ? D.damping : D.torsionDamping, k < 3 ? 'N*s/m' : 'N*m*s/rad', 'the damping', 'acts'),
            { family: 'loads', name },
          );
      }
  }
  K.loadWhole(y);
  return best;
}
