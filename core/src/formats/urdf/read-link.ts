/** Links: the mass, centre and inertia they state, and the shapes they are drawn with. */
import type { Diagnosis } from '../../diagnosis';
import { type Mat3, type Vec3, add, apply, mul, scale, sub, toRollPitchYaw, transpose } from '../../geometry/vector';
import type { RawElement } from '../../model/document';
import { type Node, type Pose, clean, leftOut, list, number, numbers, one, poseOf, text, vector } from './xml';

/** Adds an element to the model. */
export type Put = (family: 'points' | 'bodies' | 'shapes' | 'joints' | 'loads' | 'couplings', e: RawElement) => void;

/** A body with its frame, at the zero position. */
export function readBody(put: Put, body: string, l: Node, pose: Pose): void {
  const rotation = vector(toRollPitchYaw(pose.turn));
  const inertial = one(l.inertial);
  put('points', { name: `${body} frame`, at: vector(pose.at) });
  put('bodies', {
    name: body,
    origin: `${body} frame`,
    ...(rotation.some((x) => x !== 0) ? { rotation } : {}),
    ...(inertial ? massOf(inertial, body) : {}),
  });
}

function massOf(inertial: Node, body: string): Partial<RawElement> {
  const own = poseOf(inertial, `the inertia of “${body}”`);
  const i = one(inertial.inertia);
  const [xx, yy, zz, xy, yz, zx] = ['ixx', 'iyy', 'izz', 'ixy', 'iyz', 'ixz'].map((k) =>
    number(text(i, k), `The inertia of “${body}”`),
  ) as [number, number, number, number, number, number];
  const J: Mat3 = mul(mul(own.turn, [xx, xy, zx, xy, yy, yz, zx, yz, zz]), transpose(own.turn));
  const products = [J[1], J[5], J[2]];
  return {
    mass: number(text(one(inertial.mass), 'value'), `The mass of “${body}”`),
    centre: vector(own.at),
    inertia: vector([J[0], J[4], J[8]]),
    ...(products.some((x) => Math.abs(x) > 1e-15) ? { products: vector(products) } : {}),
  };
}

/** Shapes a link is drawn with. @param fixed it is the ground @returns what is left out */
export function readShapes(put: Put, name: string, l: Node, fixed: boolean): Diagnosis[] {
  const body = clean(name);
  return list(l.visual).flatMap((v, k) => {
    const label = `${body} shape${k > 0 ? ` ${k + 1}` : ''}`;
    const point = (suffix: string, at: Vec3) => {
      put('points', { name: `${label} ${suffix}`, ...(fixed ? {} : { body }), at: vector(at) });
      return `${label} ${suffix}`;
    };
    const shape = shapeOf(one(v.geometry), poseOf(v, `a shape of “${body}”`), label, point);
    if (!shape) return [leftOut(name, 'a mesh from another file')];
    put('shapes', { name: label, body, ...shape });
    return [];
  });
}

type Point = (suffix: string, at: Vec3) => string;
function shapeOf(g: Node | undefined, at: Pose, label: string, point: Point): Partial<RawElement> | undefined {
  const [box, cylinder, sphere] = [one(g?.box), one(g?.cylinder), one(g?.sphere)];
  if (sphere) return { kind: 'sphere', centre: point('middle', at.at), radius: number(text(sphere, 'radius'), label) };
  if (cylinder) {
    const half = scale(apply(at.turn, [0, 0, 1]), number(text(cylinder, 'length'), label) / 2);
    return {
      kind: 'cylinder',
      from: point('start', sub(at.at, half)),
      to: point('end', add(at.at, half)),
      radius: number(text(cylinder, 'radius'), label),
    };
  }
  if (!box) return undefined;
  const [x, y, z] = numbers(text(box, 'size'), 3, label, [0, 0, 0]) as [number, number, number];
  const corners = [
    [-x / 2, -y / 2],
    [x / 2, -y / 2],
    [x / 2, y / 2],
    [-x / 2, y / 2],
  ];
  return {
    kind: 'extruded',
    at: point('middle', at.at),
    unit: 'm',
    corners: corners as unknown as string[],
    x: vector(apply(at.turn, [1, 0, 0])),
    normal: vector(apply(at.turn, [0, 0, 1])),
    thickness: z,
  };
}
