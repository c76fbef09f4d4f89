/** Joints: the two sides, the equations between them, and the coordinates that can be driven and read. */
import { refuse } from '../../diagnosis';
import { axisEquation } from '../../elements/drives/drive';
import type { JointInfo, JointKind, JointSides } from '../../elements/declarations';
import type { Prescription } from '../../equations/constraint';
import { Freedom } from '../../equations/freedom';
import { type Vec3, apply, norm, sub, triad, unit } from '../../geometry/vector';
import type { Layout } from '../../model/layout';
import type { ResolvedElement } from '../../model/resolve';
import { valuesOf } from './attempts';
import type { BodyPlaces } from './places';

/** A prescription that asks for nothing: for equations that only measure. */
export const still: Prescription = { f: 0, f1: 0, f2: 0, at() {} };

/** The one or two places of a joint: a follower of many points counts by its first. */
const placesOf = (at: readonly string[]): [string, string?] => (at.length === 2 ? [at[0]!, at[1]!] : [at[0]!]);

/** @throws Refusal when the joint cannot be made */
export function jointInfo(j: ResolvedElement, places: BodyPlaces, layout: Layout, ground: string): JointInfo {
  const kind = j.kind as JointKind;
  const values = j.values as { bodies: [string, string]; at: [string, string?]; axis?: Vec3; axisIn?: string; cross?: Vec3 };
  const { bodies } = values;
  const [first, second] = bodies;
  if (first === second)
    refuse({
      code: 'joint-one-body',
      message: `It connects “${first}” with itself.`,
      remedy: 'Choose two different bodies.',
    });
  const [pa, pb] = placesOf(values.at as readonly string[]);
  const carrier = layout.body(values.axisIn ?? ground).turn;
  const frame = triad(apply(carrier, values.axis ?? [0, 0, 1]));
  const sides: JointSides = {
    ...places.sides(bodies, [pa, pb], frame),
    second: values.cross && unit(places.direction(apply(carrier, values.cross), second)),
    drawn: norm(sub(layout.point(pb ?? pa), layout.point(pa))),
  };
  const measure = (type: Freedom['type'], course: Prescription) =>
    kind.measure?.(sides, valuesOf(j), places, type, course) ?? axisEquation(type, sides, course);
  const freedoms = new Map(kind.freedoms.map((type) => [type, new Freedom(type, measure(type, still))]));
  return { name: j.name, kind, sides, bodies, constraints: kind.equations(sides, valuesOf(j), places), freedoms, measure };
}

/** Of each body, how far from its centre of mass the farthest of its joints is, m. */
export function reachOf(joints: readonly JointInfo[], bodies: number): Float64Array {
  const reach = new Float64Array(bodies + 1);
  for (const { sides } of joints) {
    reach[sides.a] = Math.max(reach[sides.a]!, norm(sides.sa));
    reach[sides.b] = Math.max(reach[sides.b]!, norm(sides.sb));
  }
  return reach;
}
