/** Two frames that coincide as drawn, one in each of two bodies. */
import { BUSHING_READINGS } from '../../equations/laws/bushing';
import type { ForceLaw } from '../../equations/laws/law';
import { StatedForce } from '../../equations/laws/stated-force';
import { IDENTITY, type Mat3, type Vec3, column, mul, transpose, triad } from '../../geometry/vector';
import { refs, vector } from '../../model/fields';
import { D } from '../../quantity/dimension';
import type { Assembly } from '../declarations';

export const COINCIDING = {
  bodies: refs('bodies', 2, 2, 'Between', 'The two bodies; the axes are fixed in the first.'),
  at: refs('points', 1, 2, 'At', 'The point where both meet unloaded; or two points, one in each body.'),
  axis: vector(
    D.none,
    'Its z axis',
    'Direction of the third of its axes as drawn, ground axes. With z upwards its x and y are those of the ground.',
    { direction: true, default: [0, 0, 1] },
  ),
} as const;

/** The frame as each of the two bodies carries it: its place relative to the centre of mass (m), and its axes as columns, in body axes. */
export function coincidingFrames(v: { bodies: readonly string[]; at: readonly string[]; axis: Vec3 }, m: Assembly) {
  const [first, second] = v.bodies as [string, string];
  const [pa, pb] = v.at as [string, string?];
  const upright = v.axis[0] === 0 && v.axis[1] === 0 && v.axis[2] > 0;
  const frame: Mat3 = upright ? IDENTITY : triad(v.axis);
  const inBody = (body: string) => mul(transpose(m.body(body).turn), frame);
  return {
    a: { body: m.index(first), at: m.place(pa, first), frame: inBody(first) },
    b: { body: m.index(second), at: m.place(pb ?? pa, second), frame: inBody(second) },
  };
}

/** A frame in a body: its place relative to the centre of mass (m), its axes as columns, in body axes. */
interface Frame {
  readonly body: number;
  readonly at: Vec3;
  readonly frame: Mat3;
}

/** An elastic connection between two frames. @param values the numbers of its law after those of the frames */
export function betweenFrames(law: ForceLaw, a: Frame, b: Frame, values: readonly number[]): StatedForce {
  const told = ({ at, frame }: Frame) => [...at, ...column(frame, 0), ...column(frame, 1), ...column(frame, 2)];
  return new StatedForce(law, [{ bodies: [a.body, b.body], values: [...told(a), ...told(b), ...values] }], [], {
    readings: { ...BUSHING_READINGS, axes: a },
  });
}
