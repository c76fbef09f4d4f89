/** What instances bring is put in its place: every placed value is carried by the motion of its instance, which may be a reflection. */
import { type Diagnosis, Refusal, refuse } from '../diagnosis';
import type { Vec3 } from '../geometry/vector';
import type { Expanded } from './expand';
import { FAMILIES, type Family } from './families';
import { HERE, type InstanceKind, type Placing, commonTail, inverse, placingsOf, together } from './instances';
import type { Pose } from './layout';
import { carried, carriedPoint } from './moved-values';
import type { ResolvedElement } from './resolved-element';

type Elements = Record<Family, ResolvedElement[]>;

/** Changes the values of what instances bring; what belongs to an instance in error is taken out. */
export function placeInstances(elements: Elements, expanded: Expanded, diagnoses: Diagnosis[]): void {
  if (elements.instances.length === 0) return;
  const { model } = expanded;
  const poseOf = motions(elements, expanded, diagnoses);
  // what carries: the bodies of each whole, so that what is given in their axes is known to come along
  const carriers = new Map(model.bodies.map((b) => [b.name, placingsOf(b)]));
  const comes = (body: string) => (carriers.get(body)?.length ?? 0) > 0;
  for (const { key: family } of FAMILIES) {
    if (family === 'instances') continue;
    elements[family] = elements[family].flatMap((e) => {
      const placings = placingsOf(model[family][e.index]!);
      if (placings.length === 0) return [e];
      const by = poseOf(placings);
      // its instance has an error of its own
      if (!by) return [];
      if (family === 'points') return [placedPoint(e, placings, by)];
      const values: Record<string, unknown> = { ...e.values };
      for (const [key, f] of Object.entries(e.kind.fields)) {
        if (f.type === 'vector' && values[key] !== undefined)
          values[key] = carried(family, e.kind, e.values as never, f, values[key] as Vec3, by, comes);
      }
      return [{ ...e, values, by }];
    });
  }

  /** A point fixed in a body that stays behind is moved from where it is drawn, within what carries both. */
  function placedPoint(e: ResolvedElement, placings: readonly Placing[], by: Pose): ResolvedElement {
    const home = (e.values.body ?? model.ground) as string,
      held = carriers.get(home),
      tail = held ? commonTail(placings, held) : placings;
    if (tail.length < placings.length) return { ...e, by, moved: together(by, inverse(poseOf(tail) ?? HERE)) };
    return { ...e, values: { ...e.values, at: carriedPoint(e.values.at as Vec3, by, home !== model.ground) }, by };
  }
}

/** The motion that puts an element in its place, by the instances that bring it, each within the next; undefined where one is in error. */
function motions({ instances, points }: Elements, { model, counts }: Expanded, diagnoses: Diagnosis[]) {
  const named = new Map(instances.map((e) => [e.name, e]));
  // coordinates before anything is carried: those of a path are in the axes of its own instance
  const ground = new Map(points.filter((p) => (p.values.body ?? model.ground) === model.ground).map((p) => [p.name, p]));
  const members = new Map<string, readonly Pose[]>();
  const poses = new Map<readonly Placing[], Pose | undefined>();

  function membersOf(e: ResolvedElement): readonly Pose[] {
    const scope = placingsOf(model.instances[e.index]!);
    const at = (name: string): Vec3 => {
      const p = ground.get(name);
      return p && placingsOf(model.points[p.index]!) === scope
        ? (p.values.at as Vec3)
        : refuse({
            code: 'path-point',
            message: `The point “${name}” of the path is not given in the axes of the path itself.`,
            remedy: 'Use points in the ground, made beside the path.',
          });
    };
    try {
      return (e.kind as unknown as InstanceKind).members(e.values as never, counts.get(e.name) ?? 1, at);
    } catch (fault) {
      if (!(fault instanceof Refusal)) throw fault;
      for (const d of fault.diagnoses)
        diagnoses.push({ path: ['instances', e.index], element: { family: 'instances', name: e.name }, ...d });
      return [];
    }
  }

  function own({ instance, member }: Placing): Pose | undefined {
    const e = named.get(instance);
    if (!e) return undefined;
    if (!members.has(instance)) members.set(instance, membersOf(e));
    return members.get(instance)![member];
  }

  return (placings: readonly Placing[]): Pose | undefined => {
    if (!poses.has(placings))
      poses.set(
        placings,
        placings.reduce<Pose | undefined>((inner, p) => {
          const outer = inner && own(p);
          return outer && together(outer, inner);
        }, HERE),
      );
    return poses.get(placings);
  };
}
