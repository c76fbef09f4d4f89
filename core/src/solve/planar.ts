/** Loops that move in a plane: their joints hold three directions across the plane more often than is needed, which is as it should be. */
import type { Diagnosis, Fix } from '../diagnosis';
import type { Vec3 } from '../geometry/vector';
import { refsOf } from '../model/bundle';
import { FAMILIES } from '../model/families';
import type { Mechanism } from '../system/mechanism';

/** Cosine from which on two axes are parallel. */
const PARALLEL = 1 - 1e-9;

/** The normal of the plane in which a loop of joints moves, ground axes; undefined where it does not. Needs the kinematics of a posture. */
export function planeOf(m: Mechanism, loop: readonly string[]): Vec3 | undefined {
  const joints = loop.map((name) => m.joints.find((j) => j.name === name));
  let normal: Vec3 | undefined;
  const sliding: Vec3[] = [];
  for (const j of joints) {
    if (!j || j.kind.leaves > 1) return undefined;
    if (j.kind.leaves === 0) continue;
    const A = m.system.K.A, p = 9 * j.sides.a, z = [j.sides.fa[2], j.sides.fa[5], j.sides.fa[8]] as const;
    const axis = [0, 1, 2].map((k) => A[p + 3 * k]! * z[0] + A[p + 3 * k + 1]! * z[1] + A[p + 3 * k + 2]! * z[2]) as unknown as Vec3;
    if (j.kind.freedoms[0] === 'translation') sliding.push(axis);
    else if (!normal) normal = axis;
    else if (Math.abs(axis[0] * normal[0] + axis[1] * normal[1] + axis[2] * normal[2]) < PARALLEL) return undefined;
  }
  const n = normal;
  return n && sliding.every((s) => Math.abs(s[0] * n[0] + s[1] * n[1] + s[2] * n[2]) < 1e-6) ? n : undefined;
}

/** One note for all planar loops of a machine, with a change that makes each exact: one pin of it then holds its two directions in the plane alone. */
export function planarNote(m: Mechanism, loops: readonly { joints: readonly string[]; held: number }[]): Diagnosis {
  const count = loops.reduce((s, l) => s + l.held, 0), fix = exact(m, loops.filter((l) => l.held === 3).map((l) => l.joints));
  const all = [...new Set(loops.flatMap((l) => l.joints))];
  return {
    code: 'planar-redundant', severity: 'note',
    message: `Planar loop${loops.length === 1 ? '' : 's'}: ${count} redundant constraint${count === 1 ? '' : 's'}; loads across the plane are not unique.`,
    why: 'This is usual in a machine that moves in a plane: its motion, and the loads in the plane, are right.',
    remedy: 'Nothing need be done. Make it planar-exact if loads across the plane matter.',
    others: all.map((name) => ({ family: 'joints', name })), ...(fix ? { fix } : {}),
  };
}

/** A pin of each loop of which nothing but the loop itself makes use becomes a point on a line along its axis. */
function exact(m: Mechanism, loops: readonly (readonly string[])[]): Fix | undefined {
  const { model } = m;
  const used = new Set(FAMILIES.flatMap(({ key }) => model[key].flatMap((e) => (key === 'gauges' && e.kind === 'reaction' ? [] : refsOf(key, e).flatMap((r) => (r.family === 'joints' ? r.names : []))))));
  const changed = new Set<string>();
  for (const loop of loops) {
    const pin = loop.find((name) => !changed.has(name) && !used.has(name) && model.joints.some((j) => j.name === name && j.kind === 'revolute' && j.while === undefined));
    if (pin === undefined) return undefined;
    changed.add(pin);
  }
  return changed.size === 0 ? undefined : { label: 'Make it planar-exact', changes: [...changed].map((name) => ({ family: 'joints', name, field: 'kind', value: 'point-on-line' })) };
}
