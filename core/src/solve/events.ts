/** Finding the first event inside a step, on the step's interpolation. */
import type { Fired, Watch } from '../equations/watch';
import type { System } from '../system/system';

export interface Happening {
  t: number;
  kind: Fired['kind'] | 'singular' | 'stiff' | 'not stiff';
  element: { family: string; name: string };
  message: string;
  /** Numbers that belong to it, SI. */
  values?: Readonly<Record<string, number>>;
}

/** Parts into which a step is looked at, so that two crossings in one step are not missed. */
const PARTS = 4;

export class Events {
  readonly watching: boolean;
  private readonly found: number[] = [];
  constructor(
    private readonly system: System,
    private readonly watches: readonly { element: { family: string; name: string }; watch: Watch }[],
  ) {
    this.watching = watches.length > 0;
  }

  /** Smallest value of all watches at the state in K; `violated` lists those below zero. */
  private look(t: number): boolean {
    const { system, watches } = this;
    this.found.length = 0;
    if (watches.some((w) => w.watch.carried)) system.accelerate(t);
    watches.forEach(({ watch }, i) => {
      if (watch.value(system.K, t, system) < 0) this.found.push(i);
    });
    return this.found.length > 0;
  }

  /**
   * The time just after the first change of sign in (t0, t1], or undefined.
   * @param at puts the state at a time of the step into the system
   */
  first(t0: number, t1: number, at: (t: number) => void): number | undefined {
    let lo = t0;
    for (let i = 1; i <= PARTS; i++) {
      const hi = i === PARTS ? t1 : t0 + ((t1 - t0) * i) / PARTS;
      at(hi);
      if (this.look(hi)) return this.bisect(lo, hi, at);
      lo = hi;
    }
    return undefined;
  }

  private bisect(lo: number, hi: number, at: (t: number) => void): number {
    for (let i = 0; i < 60; i++) {
      const mid = lo + (hi - lo) / 2;
      if (mid <= lo || mid >= hi) break;
      at(mid);
      if (this.look(mid)) hi = mid;
      else lo = mid;
    }
    return hi;
  }

  /** Lets every watch that is below zero at the state in K fire. @param project brings the machine onto the rows that now hold */
  fire(t: number, project: () => void): Happening[] {
    const { system, watches } = this;
    this.look(t);
    const before = watches.map((w) => w.watch.mode?.().kind);
    const told = [...this.found].flatMap((i): Happening[] => {
      const { watch, element } = watches[i]!,
        fired = watch.fire(system.K, t);
      return fired ? [{ t, element, ...fired }] : [];
    });
    project();
    watches.forEach(({ watch, element }, i) => {
      const now = watch.mode?.();
      if (now && now.kind !== before[i]) told.push({ t, element, ...now });
    });
    return told;
  }
}
