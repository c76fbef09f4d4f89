/** Joints: with what they state of damping, friction, limits of travel, and the joint they follow. */
import type { Diagnosis } from '../../diagnosis';
import { ENDLESS, GIVES, RATED, SLOWS } from './stops';
import type { Put } from './read-link';
import type { UrdfJoint } from './tree';
import { clean, leftOut, number, numbers, one, refuse, text, tidy, vector } from './xml';

const KINDS: Readonly<Record<string, string>> = {
  fixed: 'fixed',
  revolute: 'revolute',
  continuous: 'revolute',
  prismatic: 'prismatic',
  planar: 'planar',
};

/** @returns what is left out, and what stands for something else. @throws Refusal */
export function readJoint(put: Put, own: UrdfJoint, joints: readonly UrdfJoint[]): Diagnosis[] {
  const { name, j, parent, child, type } = own;
  if (type === 'floating') return [];
  const kind = KINDS[type] ?? refuse(`The joint “${clean(name)}” is of the type “${clean(type)}”, which URDF does not have.`);
  const joint = clean(name);
  const axis = numbers(text(one(j.axis), 'xyz'), 3, `The axis of “${joint}”`, [1, 0, 0]);
  put('joints', {
    name: joint,
    kind,
    bodies: [clean(parent), clean(child)],
    at: [`${clean(child)} frame`],
    ...(kind === 'fixed' ? {} : { axis: vector(axis), axisIn: clean(child) }),
  });
  if (kind !== 'revolute' && kind !== 'prismatic') return [];
  readLosses(put, own, kind);
  return [...readStop(put, own, kind), ...readFollowing(put, own, kind, joints)];
}

type Moving = 'revolute' | 'prismatic';
const UNITS = {
  revolute: { per: 'rad', effort: 'N*m', damping: 'N*m*s/rad' },
  prismatic: { per: 'm', effort: 'N', damping: 'N*s/m' },
} as const;

function readLosses(put: Put, { name, j }: UrdfJoint, kind: Moving): void {
  const joint = clean(name),
    dynamics = one(j.dynamics),
    unit = UNITS[kind];
  const damping = number(text(dynamics, 'damping'), `The damping of “${joint}”`);
  if (damping > 0) put('loads', { name: `${joint} damping`, kind: 'joint-spring', joint, damping: `${damping} ${unit.damping}` });
  const friction = number(text(dynamics, 'friction'), `The friction of “${joint}”`);
  if (friction > 0)
    put('loads', {
      name: `${joint} friction`,
      kind: 'joint-friction',
      joint,
      static: 0,
      sliding: 0,
      preload: `${friction} ${unit.effort}`,
    });
}

/** A limit of travel as a stop. */
function readStop(put: Put, { name, j, type }: UrdfJoint, kind: Moving): Diagnosis[] {
  const limit = one(j.limit);
  if (!limit || type === 'continuous') return [];
  const joint = clean(name),
    stop = `${joint} stop`,
    { per, effort } = UNITS[kind];
  const [lower, upper, rated] = ['lower', 'upper', 'effort'].map((k) => number(text(limit, k), `The limit of “${joint}”`)) as [
    number,
    number,
    number,
  ];
  if (!(lower < upper)) return [leftOut(name, 'a limit of travel that leaves none')];
  if (upper - lower >= ENDLESS) return [];
  const usual = kind === 'revolute' ? RATED.torque : RATED.force;
  const stiffness = (rated > 0 ? rated : usual) / GIVES;
  put('loads', {
    name: stop,
    kind: 'joint-stop',
    joint,
    lower: `${lower} ${per}`,
    upper: `${upper} ${per}`,
    stiffness: `${tidy(stiffness)} ${effort}/${per}`,
    damping: `${tidy(stiffness * SLOWS)} ${effort}*s/${per}`,
  });
  const under = rated > 0 ? 'its rated effort' : `${usual} ${effort}`;
  const message = `“${joint}”: its limit of travel stands as a stop that gives ${GIVES} ${per} under ${under}.`;
  return [{ code: 'urdf-stop', severity: 'note', message, element: { family: 'loads', name: stop } }];
}

/** A joint that follows another as a coupling. */
function readFollowing(put: Put, { name, j }: UrdfJoint, kind: Moving, joints: readonly UrdfJoint[]): Diagnosis[] {
  const mimic = one(j.mimic);
  if (!mimic) return [];
  const joint = clean(name);
  const leader = joints.find((x) => x.name === text(mimic, 'joint')),
    led = leader && KINDS[leader.type];
  if (!leader || (led !== 'revolute' && led !== 'prismatic')) return refuse(`The joint “${joint}” follows a joint that is not there.`);
  const part = (which: string, usual: number) => number(text(mimic, which), `What “${joint}” follows`, usual);
  if (part('offset', 0) !== 0) return [leftOut(name, 'that it follows another joint with an offset')];
  const times = part('multiplier', 1);
  put('couplings', {
    name: `${joint} follows`,
    kind: 'coupler',
    first: joint,
    second: clean(leader.name),
    ratio: led === kind ? times : `${times} ${UNITS[kind].per}/${UNITS[led].per}`,
  });
  return [];
}
