/** Places as drawn: points and body axes hang on each other and are worked out in any order, circles refused. */
import { Refusal } from '../diagnosis';
import {
  type Mat3,
  type Vec3,
  IDENTITY,
  add,
  apply,
  applyT,
  det,
  fromRollPitchYaw,
  mul,
  norm,
  shortestTurn,
  sub,
} from '../geometry/vector';

export interface Pose {
  origin: Vec3;
  turn: Mat3;
}

export interface Layout {
  /** Ground coordinates, m. @throws Refusal */
  point(name: string): Vec3;
  /** @throws Refusal */
  body(name: string): Pose;
}

/** Points and bodies with their values in SI units. */
export interface Placed {
  model: { ground: string };
  elements: { points: readonly PlacedElement[]; bodies: readonly PlacedElement[] };
}
interface PlacedElement {
  name: string;
  index: number;
  values: Readonly<Record<string, unknown>>;
  /** The motion that puts it in its place: that of its instance. */
  by?: Pose;
  /** Of a point: the motion of where it is as drawn, its body not coming along. */
  moved?: Pose;
}

/** Turned round in its own y, a mirrored frame is right-handed again. */
export const upright = (turn: Mat3, mirrored: boolean): Mat3 => (mirrored ? mul(turn, [1, 0, 0, 0, -1, 0, 0, 0, 1]) : turn);

/**
 * Places of points and postures of bodies as drawn, each worked out when it is first asked for; asking throws a Refusal where something is in error or
 * in a circle.
 */
export function layOut({ model, elements }: Placed): Layout {
  const points = new Map(elements.points.map((p) => [p.name, p]));
  const bodies = new Map(elements.bodies.map((b) => [b.name, b]));
  const places = new Map<string, Vec3>();
  const poses = new Map<string, Pose>([[model.ground, { origin: [0, 0, 0], turn: IDENTITY }]]);
  const busy: string[] = [];

  function once<T>(done: Map<string, T>, name: string, family: 'points' | 'bodies', index: number, make: () => T): T {
    const found = done.get(name);
    if (found !== undefined) return found;
    const key = `${family === 'points' ? 'point' : 'body'} ${name}`;
    if (busy.includes(key)) {
      const circle = [...busy.slice(busy.indexOf(key)), key].join(' → ');
      throw new Refusal([
        {
          code: 'layout-cycle',
          severity: 'error',
          message: `The places hang on each other in a circle: ${circle}.`,
          path: [family, index],
          element: { family, name },
          remedy: 'Give one of them coordinates in the ground.',
        },
      ]);
    }
    busy.push(key);
    try {
      const value = make();
      done.set(name, value);
      return value;
    } finally {
      busy.pop();
    }
  }
  const missing = (family: string, name: string): never => {
    throw new Refusal([
      {
        code: 'reference-missing',
        severity: 'error',
        message: `There is no usable ${family === 'points' ? 'point' : 'body'} “${name}”.`,
        element: { family, name },
      },
    ]);
  };

  function point(name: string): Vec3 {
    const p = points.get(name) ?? missing('points', name);
    return once(places, name, 'points', p.index, () => {
      const v = p.values as { body?: string; at: Vec3 };
      const frame = body(v.body ?? model.ground);
      const at = add(frame.origin, apply(frame.turn, v.at));
      return p.moved ? add(p.moved.origin, apply(p.moved.turn, at)) : at;
    });
  }

  function body(name: string): Pose {
    const ready = poses.get(name);
    if (ready) return ready;
    const b = bodies.get(name) ?? missing('bodies', name);
    return once(poses, name, 'bodies', b.index, () => {
      const v = b.values as { origin?: string; aim?: string; rotation: Vec3 };
      const { by } = b;
      const origin: Vec3 = v.origin === undefined ? (by?.origin ?? [0, 0, 0]) : point(v.origin);
      let turn = fromRollPitchYaw(v.rotation);
      if (v.aim !== undefined) {
        const seen = sub(point(v.aim), origin),
          along = by ? applyT(by.turn, seen) : seen;
        if (norm(along) < 1e-12)
          throw new Refusal([
            {
              code: 'aim-no-direction',
              severity: 'error',
              message: `It aims at “${v.aim}”, which is at its own origin.`,
              path: ['bodies', b.index, 'aim'],
              element: { family: 'bodies', name },
            },
          ]);
        turn = mul(shortestTurn([1, 0, 0], along), turn);
      }
      return { origin, turn: by ? upright(mul(by.turn, turn), det(by.turn) < 0) : turn };
    });
  }
  return { point, body };
}
