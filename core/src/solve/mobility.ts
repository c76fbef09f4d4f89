/** Mobility by rank at a posture: what joints leave free, what drives take, and what is held twice. */
import { type Diagnosis, listed } from '../diagnosis';
import { Elimination } from '../linear/elimination';
import { Ldlt } from '../linear/ldlt';
import type { Mechanism } from '../system/mechanism';
import type { Group } from '../system/system';
import { loopRows, rankOf } from './loop-rows';
import { freeMotions } from './motions';
import { planarNote, planeOf } from './planar';
import { freeBasis } from './reduced';
import { where } from '../model/where';

export interface Mobility {
  /** Freedoms left by the joints, drives not counted. */
  joints: number;
  /** Freedoms left when every drive holds its own. */
  free: number;
  /** Number of rows that hold what others hold already. */
  redundant: number;
  /** Joints whose loop holds a direction twice, so that their loads are not unique. */
  notUnique: readonly string[];
  /** Freedoms by counting: six a body less what the joints hold. */
  counted: number;
  /** Each loop with its own mobility: by rank and by counting. */
  loops: readonly { joints: readonly string[]; rank: number; counted: number }[];
  /** The free motions at this posture, in words. */
  motions: readonly string[];
  /** Each redundant constraint, in words. */
  details: readonly string[];
  diagnoses: Diagnosis[];
}

/** Requires the kinematics of an assembled posture in the mechanism's system. */
export function mobility(m: Mechanism): Mobility {
  const { system } = m;
  const groups = system.groups.filter((g) => g.family === 'joints' || g.family === 'couplings');
  system.linearise();
  const withDrives = system.ldlt.redundant.reduce((s, x) => s + x, 0);
  // Rows of joints and couplings alone, with what has mass between bodies.
  const rows = groups.reduce((s, g) => s + g.rows, 0),
    { light, own, rowPlaces } = system.ldlt.plan,
    carried = system.groups.filter((g) => g.constraints.some((c) => c.inertia !== undefined));
  const alone = new Ldlt(
    new Elimination(system.bodies, system.rows, [...groups, ...carried], light, own, rowPlaces.blocks),
    system.masses,
    system.inertias,
    system.K.own,
  );
  alone.weights.set(system.ldlt.weights);
  alone.factorise(system.G);
  const redundant = alone.redundant.reduce((s, x) => s + x, 0);
  const joints = system.velocities - rows + redundant;
  const drives = system.groups
    .filter((g) => g.family === 'drives')
    .reduce((s, g) => s + g.constraints.filter((c) => !system.ldlt.off[c.row]).length, 0);
  const fighting = withDrives - redundant;
  const diagnoses: Diagnosis[] = [];
  const notUnique = new Set<string>(),
    details: string[] = [],
    planar: { joints: readonly string[]; held: number }[] = [];

  groups.forEach((g, i) => {
    const first = g.constraints[0]!.row;
    const held = Array.from({ length: g.rows }, (_, k) => k).filter((k) => alone.redundant[first + k]);
    if (held.length === 0) return;
    const holds = g.family === 'joints' ? m.joints.find((j) => j.name === g.name)!.kind.holds : ['a relation'];
    const links = (alone.plan.order.loops.get(i) ?? [i]).map((k) => groups[k]!),
      loop = links.map((l) => l.name);
    loop.forEach((name) => notUnique.add(name));
    const words = held.map((k) => holds[k] ?? 'a direction');
    const rest = loop.filter((n) => n !== g.name),
      already = rest.length > 0 ? `the rest of its loop holds already (${listed(rest)})` : 'others hold already';
    details.push(`${g.name} holds ${list(words)}, which ${already}.`);
    if (g.family === 'joints' && held.length <= 3 && planeOf(m, links)) {
      planar.push({ joints: loop, held: held.length });
      return;
    }
    diagnoses.push({
      code: 'joint-redundant',
      severity: 'warning',
      message: `It holds ${list(words)}, which ${already}.`,
      why: 'The motion is right; loads in these directions are not unique.',
      remedy: `Let one joint of the loop go free in ${held.length === 1 ? 'this direction' : 'these directions'}, for example a spherical joint for a pin.`,
      ...where(m.model, g.family, g.name),
      others: rest.map((name) => ({ family: 'joints', name })),
    });
  });
  if (planar.length > 0) diagnoses.push(planarNote(m, planar));
  if (fighting > 0) {
    const names = m.drives.map((d) => d.name);
    diagnoses.push({
      code: 'drive-fight',
      severity: 'error',
      message:
        names.length > 1
          ? `The drives ${list(names)} prescribe ${names.length} motions, but only ${joints} can be chosen.`
          : `The drive ${names[0] ?? ''} moves a joint that the others hold.`,
      why: 'The machine would have to break to follow them all.',
      remedy: 'Switch one of the drives off, or free a joint.',
      ...(m.drives[0] ? where(m.model, 'drives', m.drives[0].name) : {}),
    });
  }
  const free = joints - drives + fighting;
  system.linearise();
  const motions = free > 0 && free <= 60 ? freeMotions(m, freeBasis(system, free)).map((f) => f.name) : [];
  return {
    joints,
    free,
    redundant,
    counted: system.velocities - rows,
    loops: loopMobility(m, alone, groups),
    motions,
    notUnique: [...notUnique],
    details,
    diagnoses,
  };
}

/** Mobility of every independent loop by itself: its bodies and joints alone, the ground (or its first body) at rest. */
function loopMobility({ system }: Mechanism, { plan: { order } }: Ldlt, groups: readonly Group[]): Mobility['loops'] {
  if (order.loops.size > 200) return [];
  return [...order.loops.values()]
    .filter((loop) => loop.length > 1)
    .map((loop) => {
      const links = loop.map((i) => groups[i]!),
        { velocities, of } = loopRows(system, links),
        rows = of.flat();
      return { joints: links.map((l) => l.name), rank: velocities - rankOf(rows), counted: velocities - rows.length };
    });
}

const list = (words: readonly string[]): string =>
  words.length < 2 ? words.join('') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`;
