/**
 * Mass between two bodies, as of a beam: a point that both carry with them, X = Σ c r + A u. Its inertia is that of a row Φ = X which does not hold, but pushes
 * with −m Φ̈: with ½ m |Ẋ|² the equations of motion are M u̇ + Gᵀλ = f and G u̇ − λ/m = γ (Lagrange's; X follows from the postures alone).
 */
import { plus, toGround, type VectorEx } from '../expressions/vectors';
import type { Mat3, Vec3 } from '../geometry/vector';
import type { Graph } from '../expressions/graph';
import type { Ex } from '../expressions/arithmetic';
import type { Kinematics } from './kinematics';
import type { BodyEx } from './stated/body';
import { elementary } from './stated/elementary';
import { Stated } from './stated/stated';

/** A share of the place of the centre of mass, and a vector fixed in the body. */
const part = (g: Graph, { r, A }: BodyEx, share: Ex, u: VectorEx): VectorEx =>
  plus(g, r.map((x) => g.multiply(share, x)) as unknown as VectorEx, toGround(g, A, u));

export const carriedPoint = elementary({
  name: 'point that two bodies carry',
  numbers: { ca: 'number', ua: 'vector', cb: 'number', ub: 'vector' },
  lengths: [true, true, true],
  phi: (g, a, b, { ca, ua, cb, ub }) => plus(g, part(g, a, ca, ua), part(g, b, cb, ub)),
});

/** What a body has of such a point: a share of its centre of mass, and a vector in its axes, m. */
export interface Share {
  readonly body: number;
  readonly of: number;
  readonly u: Vec3;
}

export class CarriedMass extends Stated {
  override readonly inertia: number;
  /** @param mass kg */
  constructor(
    mass: number,
    readonly first: Share,
    readonly second: Share,
  ) {
    super(carriedPoint, first.body, second.body, [first.of, ...first.u, second.of, ...second.u]);
    this.inertia = mass;
  }

  /** Where it is; ground axes, m. */
  at(K: Kinematics): Vec3 {
    this.work('phi', K);
    return this.told(K);
  }
  /** How it moves; ground axes, m/s. */
  speed(K: Kinematics): Vec3 {
    this.work('rate', K);
    return this.told(K);
  }
  private told({ memory, at }: Kinematics): Vec3 {
    return [memory.numbers[at.out]!, memory.numbers[at.out + 1]!, memory.numbers[at.out + 2]!];
  }
  /** J. */
  kinetic(K: Kinematics): number {
    const [x, y, z] = this.speed(K);
    return 0.5 * this.inertia * (x * x + y * y + z * z);
  }

  /** What each body has of its inertia while the other rests: mass, kg, and moments about its centre of mass in its axes, kg·m². */
  get alone(): readonly { readonly body: number; readonly mass: number; readonly moments: Mat3 }[] {
    return [this.first, this.second].map(({ body, of, u: [x, y, z] }) => {
      const m = this.inertia;
      return {
        body,
        mass: m * of * of,
        moments: [
          m * (y * y + z * z),
          -m * x * y,
          -m * x * z,
          -m * x * y,
          m * (z * z + x * x),
          -m * y * z,
          -m * x * z,
          -m * y * z,
          m * (x * x + y * y),
        ],
      };
    });
  }
}
