/** Force over depth without damping: a power of the depth, or a table. */
import { refuse } from '../../diagnosis';
import type { Table } from '../../formula/table';
import { pow } from '../../quantity/elementary';

export interface Elastic {
  /** Force, N, its slope, N/m, and its curvature after `at`. */
  readonly f: number;
  readonly f1: number;
  readonly f2: number;
  /** @param depth at least 0, m */
  at(depth: number): this;
  /** ∫ F dδ from 0, J. */
  energy(depth: number): number;
}

/** k δⁿ */
export class Power implements Elastic {
  f = 0;
  f1 = 0;
  f2 = 0;
  /** @param k N/mⁿ @param n at least 1 */
  constructor(
    private readonly k: number,
    private readonly n: number,
  ) {}
  private power(x: number): number {
    const { n } = this;
    return n === 1 ? x : n === 1.5 ? x * Math.sqrt(x) : pow(x, n);
  }
  at(depth: number): this {
    const { k, n } = this;
    this.f = k * this.power(depth);
    this.f1 = depth > 0 ? (n * this.f) / depth : n > 1 ? 0 : k;
    this.f2 = depth > 0 ? ((n - 1) * this.f1) / depth : 0;
    return this;
  }
  energy(depth: number): number {
    return (this.k * this.power(depth) * depth) / (this.n + 1);
  }
}

/** @param table force over depth @throws Refusal where it does not begin with nothing at no depth, falls, or is repeated */
export function tabled(table: Table, name: string): Elastic {
  const { x, y, beyond } = table,
    because = (why: string): never =>
      refuse({
        code: 'contact-curve',
        message: 'The table of force over depth cannot be a contact.',
        why,
        remedy: 'Let it begin with 0 at 0, and rise.',
        element: { family: 'loads', name },
      });
  if (x[0] !== 0 || y[0] !== 0) because('It does not begin with no force at no depth.');
  if (y.some((f, i) => i > 0 && !(f > y[i - 1]!))) because('Its force does not rise from row to row.');
  if (beyond === 'repeat') because('It is repeated after its end.');
  return {
    get f() {
      return table.f;
    },
    get f1() {
      return table.f1;
    },
    get f2() {
      return table.f2;
    },
    at(depth) {
      table.at(depth);
      return this;
    },
    energy: (depth) => table.integral(depth),
  };
}
