/** Loops that move in a plane: their joints hold three directions across the plane more often than is needed, which is as it should be. */
import type { Diagnosis, Fix } from '../diagnosis';
import { type Vec3, cross, perpendicular } from '../geometry/vector';
import { refsOf } from '../model/bundle';
import { FAMILIES } from '../model/families';
import type { Mechanism } from '../system/mechanism';
import type { Group } from '../system/system';
import { lengthOf, loopRows, rankOf } from './loop-rows';

/** Cosine from which on two axes are parallel. */
const PARALLEL = 1 - 1e-9;

/**
 * The normal of the plane in which a loop moves, ground axes; undefined where it does not, or where constraints in the plane are redundant too.
 * Its pins are parallel and its slides square to them; whatever else joins it (a point on a curve, a ball) must hold the plane and what is across it
 * apart, with no redundant constraint in the plane. Needs the Jacobian of a posture.
 */
export function planeOf(m: Mechanism, loop: readonly Group[]): Vec3 | undefined {
  const A = m.system.K.A;
  let normal: Vec3 | undefined;
  const sliding: Vec3[] = [];
  for (const { name } of loop) {
    const j = m.joints.find((x) => x.name === name);
    if (!j) return undefined;
    if (j.kind.leaves !== 1) continue;
    const p = 9 * j.sides.a,
      z = [j.sides.fa[2], j.sides.fa[5], j.sides.fa[8]] as const;
    const axis = [0, 1, 2].map((k) => A[p + 3 * k]! * z[0] + A[p + 3 * k + 1]! * z[1] + A[p + 3 * k + 2]! * z[2]) as unknown as Vec3;
    if (j.kind.freedoms[0] === 'translation') sliding.push(axis);
    else if (!normal) normal = axis;
    else if (Math.abs(dot(axis, normal)) < PARALLEL) return undefined;
  }
  const n = normal,
    rigid = loop.every(({ a, b }) => [a, b].every((i) => !m.system.own.of[i]));
  return n && rigid && sliding.every((s) => Math.abs(dot(s, n)) < 1e-6) && parts(m, loop, n) ? n : undefined;
}

/** Whether a loop constrains the motion in a plane and that across it apart, with no redundant constraint in the plane. */
function parts({ system }: Mechanism, loop: readonly Group[], n: Vec3): boolean {
  const { moving, of } = loopRows(system, loop),
    A = system.K.A;
  const e1 = perpendicular(n),
    e2 = cross(n, e1);
  /** A row told in the axes of the plane: of each body the motion in it, or across it. */
  const split = (row: Float64Array, inside: boolean): Float64Array => {
    const told = new Float64Array(3 * moving.length);
    moving.forEach((body, i) => {
      const v = 6 * i,
        w = v + 3,
        [x, y, z] = inside ? [e1, e2, n] : [n, e1, e2];
      told[3 * i] = along(row, v, x);
      told[3 * i + 1] = inside ? along(row, v, y) : turning(A, body, row, w, y);
      told[3 * i + 2] = turning(A, body, row, w, z);
    });
    return told;
  };
  const rank = (rows: readonly Float64Array[], inside: boolean) =>
    rankOf(
      rows.map((r) => split(r, inside)),
      rows.map(lengthOf),
    );
  const rows = of.flat(),
    within = rank(rows, true);
  return within + rank(rows, false) === rankOf(rows) && of.reduce((sum, own) => sum + rank(own, true), 0) === within;
}

const dot = (a: Vec3, b: Vec3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
/** What three numbers of a row have along a direction. */
const along = (row: Float64Array, at: number, e: Vec3): number => row[at]! * e[0] + row[at + 1]! * e[1] + row[at + 2]! * e[2];
/** The same of three in a body's axes, the direction in ground axes. */
function turning(A: Float64Array, body: number, row: Float64Array, at: number, e: Vec3): number {
  let s = 0;
  for (let k = 0; k < 3; k++) {
    const p = 9 * body + 3 * k;
    s += (A[p]! * row[at]! + A[p + 1]! * row[at + 1]! + A[p + 2]! * row[at + 2]!) * e[k]!;
  }
  return s;
}
/** One note for all planar loops of a machine, with a change that makes each exact: one pin of it then holds its two directions in the plane alone. */
export function planarNote(m: Mechanism, loops: readonly { joints: readonly string[]; held: number }[]): Diagnosis {
  const count = loops.reduce((s, l) => s + l.held, 0),
    fix = exact(
      m,
      loops.filter((l) => l.held === 3).map((l) => l.joints),
    );
  const all = [...new Set(loops.flatMap((l) => l.joints))];
  return {
    code: 'planar-redundant',
    severity: 'note',
    message: `Planar loop${loops.length === 1 ? '' : 's'}: ${count} redundant constraint${count === 1 ? '' : 's'}; loads across the plane are not unique.`,
    why: 'This is usual in a machine that moves in a plane: its motion, and the loads in the plane, are right.',
    remedy: 'Nothing need be done. Make it planar-exact if loads across the plane matter.',
    others: all.map((name) => ({ family: 'joints', name })),
    ...(fix ? { fix } : {}),
  };
}

/** A pin of each loop of which nothing but the loop itself makes use becomes a point on a line along its axis. */
function exact(m: Mechanism, loops: readonly (readonly string[])[]): Fix | undefined {
  const { model } = m;
  const used = new Set(
    FAMILIES.flatMap(({ key }) =>
      model[key].flatMap((e) =>
        key === 'gauges' && e.kind === 'reaction' ? [] : refsOf(key, e).flatMap((r) => (r.family === 'joints' ? r.names : [])),
      ),
    ),
  );
  const changed = new Set<string>();
  for (const loop of loops) {
    const pin = loop.find(
      (name) =>
        !changed.has(name) &&
        !used.has(name) &&
        model.joints.some((j) => j.name === name && j.kind === 'revolute' && j.while === undefined),
    );
    if (pin === undefined) return undefined;
    changed.add(pin);
  }
  return changed.size === 0
    ? undefined
    : {
        label: 'Make it planar-exact',
        changes: [...changed].map((name) => ({ family: 'joints', name, field: 'kind', value: 'point-on-line' })),
      };
}
