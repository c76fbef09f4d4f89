/** What is told of a contact at a state: sums over its places and what overlaps, for gauges, checks and arrows. */
import type { Vec3 } from '../../geometry/vector';
import type { Kinematics } from '../kinematics';
import type { LoadReadings } from '../load-readings';
import { size } from './at-place';
import type { Gaps } from './gaps';
import type { Normal } from './law';
import type { Meeting } from './meeting';
import { FREE, type Places } from './places';
import type { Rubbing } from './rubbing';
import type { Tally } from './tally';
import type { ContactReading, Overlap, Touches } from './touches';

/** What of a contact is asked. */
export interface Asked {
  readonly pairs: Touches['pairs'];
  readonly places: Places;
  readonly rubbing: Rubbing;
  readonly normal: Normal;
  readonly gaps: Gaps;
  readonly tally: Tally;
  /** Finds out about all places at a state. */
  look(K: Kinematics): void;
  /** The same of one. @returns its meeting, with the place in it */
  lookAt(K: Kinematics, i: number): Meeting;
  /** The meeting of a place, and the number of its probe there. */
  at(i: number): readonly [Meeting, number];
  /** What a push at a place that was looked at meets, kg. */
  massOf(K: Kinematics, m: Meeting): number;
  /** All that a place does to the body that touches, N, ground axes: good until the next. */
  pushing(K: Kinematics, i: number): Float64Array;
}

export class Told implements Touches {
  readonly pairs: Touches['pairs'];
  readonly readings: LoadReadings = {
    parts: 1,
    turns: () => false,
    effort: (K) => Math.max(0, this.sum(K, this.of.places.presses)),
    deflection: (K) => Math.max(0, this.most(K, this.of.places.depth)),
    positive: { effort: 'What presses at all places together, never negative.', deflection: 'The deepest place; never negative.' },
  };
  constructor(private readonly of: Asked) {
    this.pairs = of.pairs;
  }

  read(K: Kinematics, what: ContactReading, body: number | undefined): number {
    const { places, tally } = this.of;
    if (what === 'impulse') return tally.impulse(K);
    if (what === 'wear') return tally.work(K);
    this.of.look(K);
    let out = 0;
    for (let i = 0; i < places.count; i++) {
      if (places.does[i] === FREE) continue;
      const [m] = this.of.at(i);
      if (body !== undefined && m.a !== body && m.b !== body) continue;
      const x = this.readAt(K, i, what);
      out = what === 'depth' || what === 'slip' ? Math.max(out, x) : out + x;
    }
    return out;
  }
  private readAt(K: Kinematics, i: number, what: ContactReading): number {
    const { places, rubbing } = this.of;
    if (what === 'places') return 1;
    if (what === 'depth') return Math.max(0, places.depth[i]!);
    if (what === 'normal') return Math.max(0, places.presses[i]!);
    if (what === 'slip') return size(places.slip, 3 * i);
    if (!rubbing.acts) return 0;
    this.of.lookAt(K, i);
    rubbing.at(K, i);
    return size(rubbing.rub, 0);
  }
  private sum(K: Kinematics, list: Float64Array): number {
    this.of.look(K);
    return list.reduce((sum, x, i) => (this.of.places.does[i] === FREE ? sum : sum + x), 0);
  }
  private most(K: Kinematics, list: Float64Array): number {
    this.of.look(K);
    return list.reduce((most, x, i) => (this.of.places.does[i] === FREE ? most : Math.max(most, x)), 0);
  }

  overlaps(K: Kinematics): readonly Overlap[] {
    const { places, gaps, normal } = this.of,
      out = new Map<Meeting, Overlap>(),
      take = (m: Meeting, k: number) => {
        m.stand(K, false);
        const depth = -m.look(k),
          known = out.get(m)?.depth ?? 0;
        if (!(depth > known)) return;
        const speed = Math.sqrt((2 * normal.energy(depth)) / this.of.massOf(K, m));
        out.set(m, {
          ...{ shapes: [m.bones.shape, m.surface.shape], a: m.a, b: m.b, depth, speed },
          at: [...m.x] as unknown as Vec3,
          n: [...m.n] as unknown as Vec3,
        });
      };
    gaps.forget();
    gaps.near(K, (_, m, k) => take(m, k));
    places.does.forEach((does, i) => does !== FREE && take(...this.of.at(i)));
    return [...out.values()];
  }

  places(K: Kinematics): ReturnType<Touches['places']> {
    return Array.from(this.of.places.does.keys()).flatMap((i) => {
      if (this.of.places.does[i] === FREE) return [];
      const m = this.of.lookAt(K, i),
        force = this.of.pushing(K, i);
      return [{ a: m.a, b: m.b, at: [...m.x] as unknown as Vec3, force: [...force] as unknown as Vec3 }];
    });
  }
}
