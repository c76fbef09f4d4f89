/** The free motions of a posture, each told apart by the joint coordinate or body motion that leads it. */
import type { Freedom } from '../equations/freedom';
import type { Kinematics } from '../equations/kinematics';
import type { Mechanism } from '../system/mechanism';
import { freeBasis } from './reduced';

export interface FreeMotion {
  /** What leads it, in words. */
  name: string;
  element: { family: 'joints' | 'bodies'; name: string };
  /** Velocities as a motion (six numbers a body, ground axes and body axes; then those of coordinates): unit rate of what leads it. */
  shape: Float64Array;
  /** What leads it: a joint coordinate, or an entry of a motion. */
  leads: { readonly freedom: Freedom } | { readonly entry: number };
  /** Acceleration of the leader, for the accelerations of a motion. */
  acceleration(K: Kinematics, a: Float64Array): number;
}

const BODY_WORDS = [
  'moving along x',
  'moving along y',
  'moving along z',
  'turning about its x',
  'turning about its y',
  'turning about its z',
];

/** Needs the kinematics of an assembled posture. Velocities of the basis are combined so that each motion has a leader the others leave at rest. */
export function freeMotions(m: Mechanism, N = freeBasis(m.system)): FreeMotion[] {
  const { system } = m;
  const { K } = system;
  const leaders: {
    name: string;
    element: FreeMotion['element'];
    rate: (u: Float64Array) => number;
    bonus: number;
    leads: FreeMotion['leads'];
    acceleration: FreeMotion['acceleration'];
  }[] = [];
  // a body that spins carries its axes round: its components are no coordinates
  const spins = (i: number) => Math.abs(K.w[3 * i]!) + Math.abs(K.w[3 * i + 1]!) + Math.abs(K.w[3 * i + 2]!) > 1e-9;
  for (const j of m.joints)
    for (const [type, f] of j.freedoms) {
      const row = f.row(K).slice();
      const { a, b } = f.equation;
      leaders.push({
        name: `${j.name} ${type === 'rotation' ? 'turns' : 'slides'}`,
        element: { family: 'joints', name: j.name },
        bonus: (type === 'rotation' ? 1 : 1 / m.size) * (a >= system.bodies || b >= system.bodies ? 4 : 1), // a joint on the ground leads where it can
        leads: { freedom: f },
        acceleration: (at, acc) => f.acceleration(at, acc),
        rate: (u) => {
          let s = 0;
          for (let k = 0; k < 6; k++)
            s += (a < system.bodies ? row[k]! * u[6 * a + k]! : 0) + (b < system.bodies ? row[6 + k]! * u[6 * b + k]! : 0);
          return s;
        },
      });
    }
  m.bodies.forEach((b, i) =>
    BODY_WORDS.forEach((w, k) =>
      leaders.push({
        name: `${b.name} ${w}`,
        element: { family: 'bodies', name: b.name },
        bonus: (k < 3 ? 1 / m.size : 1) * (spins(i) ? 1e-6 : 1e-3),
        rate: (u) => u[6 * i + k]!,
        leads: { entry: 6 * i + k },
        acceleration: (_K, acc) => acc[6 * i + k]!,
      }),
    ),
  );

  for (const { body, law, first } of system.own.list)
    law.coordinates.forEach(({ does, length }, j) => {
      const { name } = m.bodies[body]!,
        at = 6 * system.bodies + first + j;
      leaders.push({
        name: `${name} ${does}`,
        element: { family: 'bodies', name },
        bonus: 4 * (length ? 1 / m.size : 1),
        rate: (u) => u[at]!,
        leads: { entry: at },
        acceleration: (_K, acc) => acc[at]!,
      });
    });

  // Gauss-Jordan with complete choice of the leader
  const columns = N.map((c) => c.slice());
  const rates = leaders.map((l) => columns.map((c) => l.rate(c) * l.bonus));
  const chosen: { leader: number; column: number }[] = [];
  for (let step = 0; step < columns.length; step++) {
    let best = -1,
      at = -1,
      most = 0;
    rates.forEach((row, i) =>
      row.forEach((x, j) => {
        if (chosen.some((c) => c.column === j) || Math.abs(x) <= most * (1 + 1e-9)) return;
        most = Math.abs(x);
        best = i;
        at = j;
      }),
    );
    if (best < 0) break;
    const scale = leaders[best]!.bonus / rates[best]![at]!;
    for (let i = 0; i < columns[at]!.length; i++) columns[at]![i] = columns[at]![i]! * scale;
    rates.forEach((row) => (row[at] = row[at]! * scale));
    columns.forEach((c, j) => {
      if (j === at) return;
      const f = rates[best]![j]! / rates[best]![at]!;
      if (f === 0) return;
      for (let i = 0; i < c.length; i++) c[i] = c[i]! - f * columns[at]![i]!;
      rates.forEach((row) => (row[j] = row[j]! - f * row[at]!));
    });
    chosen.push({ leader: best, column: at });
  }
  return chosen.map(({ leader, column }) => ({
    name: leaders[leader]!.name,
    element: leaders[leader]!.element,
    shape: columns[column]!,
    leads: leaders[leader]!.leads,
    acceleration: leaders[leader]!.acceleration,
  }));
}
