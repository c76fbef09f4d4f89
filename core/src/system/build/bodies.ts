/** Bodies: where they are drawn, their mass, centre and inertia, and what is wrong with these. */
import type { Diagnosis } from '../../diagnosis';
import { type MassProperties, combine } from '../../geometry/mass';
import { type Mat3, type Vec3, add, apply, mul, quaternion, scaleM, sub, transpose } from '../../geometry/vector';
import type { Model } from '../../model/document';
import type { Layout } from '../../model/layout';
import type { ResolvedElement } from '../../model/resolve';
import type { BodyKind } from '../../elements/declarations';
import type { OwnCoordinates } from '../../equations/coordinates/law';
import type { System } from '../system';
import { valuesOf } from './attempts';
import type { ShapeInfo } from './shapes';
import { where } from '../../model/where';

export interface BodyInfo {
  name: string;
  mass: number;
  /** About the centre of mass, body axes, kg·m². */
  inertia: Mat3;
  /** Centre of mass in the body's axes, m. */
  centre: Vec3;
  /** As drawn. */
  origin: Vec3;
  turn: Mat3;
  /** What its shapes alone come to. */
  shapes: MassProperties;
  /** Of a body that is told by coordinates of its own. */
  own?: OwnCoordinates | undefined;
}

/** What is typed counts; what is not follows from the shapes, the inertia in the ratio of the masses. */
export function bodyInfo(b: ResolvedElement, layout: Layout, shapes: readonly ShapeInfo[]): BodyInfo {
  const v = b.values as { mass?: number; centre?: Vec3; inertia?: Vec3; products?: Vec3 };
  const pose = layout.body(b.name);
  const all = combine(shapes.filter((s) => s.body === b.name).map((s) => s.mass));
  const back = transpose(pose.turn);
  const shape = {
    mass: all.mass,
    centre: all.mass > 0 ? apply(back, sub(all.centre, pose.origin)) : ([0, 0, 0] as Vec3),
    inertia: mul(mul(back, all.inertia), pose.turn),
  };
  const mass = v.mass ?? shape.mass;
  const centre = v.centre ?? shape.centre;
  const own = shape.mass > 0 ? scaleM(shape.inertia, mass / shape.mass) : shape.inertia;
  // moments typed in without products have none; products typed in alone stand beside the moments of the shapes
  const [xx, yy, zz] = v.inertia ?? [own[0], own[4], own[8]],
    [xy, yz, zx] = v.products ?? (v.inertia ? [0, 0, 0] : [own[1], own[5], own[2]]);
  const coordinates = (b.kind as BodyKind).coordinates?.(valuesOf(b), {
    centre: add(pose.origin, apply(pose.turn, centre)),
    turn: quaternion(pose.turn),
  });
  return {
    name: b.name,
    mass,
    centre,
    inertia: [xx, xy, zx, xy, yy, yz, zx, yz, zz],
    origin: pose.origin,
    turn: pose.turn,
    shapes: shape,
    own: coordinates,
  };
}

/**
 * Bodies without mass or with an impossible inertia: refused by name. No inertia about some axes is refused only where such a direction is left free.
 * @param bears whether it bears mass of a load, and need have none of its own
 */
export function massFaults(b: BodyInfo, model: Model, bears: boolean): Diagnosis[] {
  const at = (field: string) => where(model, 'bodies', b.name, field);
  if (!(b.mass > 0) && !bears) {
    return [
      {
        code: 'mass-zero',
        severity: 'error',
        message: 'The body has no mass.',
        why: 'A free body without mass has no equation of motion.',
        remedy: 'Give it a shape with a material, type in mass and inertia, or give mass to a beam that it holds.',
        ...at('mass'),
      },
    ];
  }
  const [xx, xy, xz, , yy, yz, , , zz] = b.inertia;
  const det = xx * (yy * zz - yz * yz) - xy * (xy * zz - yz * xz) + xz * (xy * yz - yy * xz);
  const scale = Math.max(xx, yy, zz),
    least = -1e-14 * scale * scale;
  if (Math.min(xx, yy, zz) < 0 || [xx * yy - xy * xy, yy * zz - yz * yz, zz * xx - xz * xz].some((x) => x < least) || det < least * scale) {
    return [
      {
        code: 'inertia-negative',
        severity: 'error',
        message: 'Its moment of inertia is negative about some axis.',
        why: 'A torque would turn it the wrong way.',
        remedy: 'Check the typed moments, and the signs and sizes of the products.',
        ...at('inertia'),
      },
    ];
  }
  if (scale === 0 && bears) return [];
  if (scale === 0) {
    return [
      {
        code: 'point-mass',
        severity: 'note',
        message: 'It has mass and no moment of inertia: it counts as a point mass.',
        remedy: 'Give it a shape with a material, or type in its inertia, if it is more than that.',
        ...at('inertia'),
      },
    ];
  }
  // moments about one axis alone are usual where all moves in a plane
  const alone = [xx, yy, zz].filter((x) => x === 0).length === 2;
  if (!alone && (xx + yy < zz * (1 - 1e-9) || yy + zz < xx * (1 - 1e-9) || zz + xx < yy * (1 - 1e-9))) {
    return [
      {
        code: 'inertia-triangle',
        severity: 'warning',
        message: 'No real body has this inertia: one moment is larger than the sum of the other two.',
        remedy: 'Check the typed values and their axes.',
        ...at('inertia'),
      },
    ];
  }
  return [];
}

/** Puts the system's bodies where they are drawn, at rest. */
export function draw(system: System, bodies: readonly BodyInfo[]): void {
  const { K } = system;
  bodies.forEach((b, i) => {
    K.r.set(add(b.origin, apply(b.turn, b.centre)), 3 * i);
    K.q.set(quaternion(b.turn), 4 * i);
  });
  K.x.fill(0);
  K.z.fill(0);
  K.orient();
  K.rest();
}

/** Characteristic size, m: the widest extent of points and centres of mass as drawn, and at least a millimetre. */
export function sizeOf(points: readonly Vec3[], bodies: readonly BodyInfo[]): number {
  const reach = [...points, ...bodies.map((b) => add(b.origin, apply(b.turn, b.centre)))];
  return Math.max(1e-3, ...reach.map((p) => Math.max(...p.map((x, k) => Math.abs(x - reach[0]![k]!)))));
}
