/**
 * The motion at the start. What is typed for a body (velocity of its centre, spin) is kept; what is left out follows the joints with the least kinetic energy;
 * where joints and drives contradict what is typed, they win and it is told by how much.
 */
import { type Diagnosis, Refusal } from '../diagnosis';
import type { Constraint } from '../equations/constraint';
import type { Kinematics } from '../equations/kinematics';
import { type Vec3, applyT } from '../geometry/vector';
import { Ldlt } from '../linear/ldlt';
import { type Dimension, D } from '../quantity/dimension';
import { formatQuantity } from '../quantity/units';
import type { Mechanism } from '../system/mechanism';
import { where } from '../model/where';

/** How much more what is typed weighs than what is not. Each round leaves about its inverse of what is still off. */
const WEIGHT = 1e4;
const ROUNDS = 6;
/** Part of the largest speed below which a difference is rounding. */
const SAME = 1e-9;
/** Part of the largest speed from which on a difference is told. */
const TOLD = 1e-6;

interface Typed {
  /** `speeds` are those of its own coordinates. */
  field: 'velocity' | 'spin' | 'speeds';
  body: number;
  /** As typed, ground axes: m/s or rad/s. */
  value: readonly number[];
}

/** Sets velocities at the assembled posture in K. @returns what was typed and could not be kept @throws Refusal when a strict start speed is impossible */
export function setOff(m: Mechanism): Diagnosis[] {
  const { system } = m;
  system.K.rest();
  system.segment(0, Infinity);
  const typed = typedMotions(m),
    held = m.starts.filter((s) => s.speed);
  for (const s of held) system.hold(s.speed!, true);
  fit(m, typed);
  const guesses = held.filter((s) => !s.strict);
  if (guesses.length > 0) {
    // a guess holds as far as nothing else contradicts it
    for (const s of guesses) system.hold(s.speed!, false);
    system.linearise();
    system.projectVelocities(0);
  }
  system.velocityResidual(0);
  const impossible = held.filter(
    (s) => s.strict && Math.abs(system.phi[s.speed!.row]!) > 1e-6 * (1 + Math.abs(startSpeed(s.speed!, system.K))),
  );
  for (const s of held) system.hold(s.speed!, false);
  if (impossible.length > 0) {
    throw new Refusal(
      impossible.map((s) => ({
        code: 'start-impossible',
        severity: 'error',
        message: 'The machine cannot start with this speed.',
        why: 'Joints, drives or other start values hold this freedom at another speed.',
        remedy: 'Leave the speed out, or let it be a guess.',
        ...where(m.model, 'starts', s.name, 'speed'),
      })),
    );
  }
  if (held.length > 0) {
    system.linearise();
    system.projectVelocities(0);
  }
  const speed = typed.length > 0 ? fastest(m) : 0;
  return typed.flatMap((t) => contradicted(m, t, speed));
}

function typedMotions(m: Mechanism): Typed[] {
  const values = new Map(m.resolution.elements.bodies.map((e) => [e.name, e.values]));
  return m.bodies.flatMap(({ name }, body) => {
    const v = values.get(name) as { velocity?: Vec3; spin?: Vec3 };
    const speeds = m.system.own.of[body]?.speeds;
    return [
      ...(['velocity', 'spin'] as const).flatMap((field): Typed[] => (v[field] ? [{ field, body, value: v[field] }] : [])),
      ...(speeds ? [{ field: 'speeds' as const, body, value: speeds }] : []),
    ];
  });
}

/** Velocities on the constraints, next to what is typed; all others as slow as they can be. */
function fit(m: Mechanism, typed: readonly Typed[]): void {
  const { system } = m,
    { K, motions, rows } = system;
  system.linearise();
  if (typed.length === 0) {
    system.projectVelocities(0);
    return;
  }
  const masses = system.masses.slice(),
    inertias = system.inertias.slice();
  for (const { field, body } of typed) {
    if (system.own.of[body]) K.own!.weigh(body, field, WEIGHT);
    else if (field === 'velocity') masses[body] = masses[body]! * WEIGHT;
    else for (let k = 9 * body; k < 9 * body + 9; k++) inertias[k] = inertias[k]! * WEIGHT;
  }
  const ldlt = new Ldlt(system.ldlt.plan, masses, inertias, K.own),
    step = new Float64Array(motions + rows);
  ldlt.weights.set(system.ldlt.weights);
  ldlt.off.set(system.ldlt.off);
  ldlt.factorise(system.G);
  const least = SAME * typed.reduce((most, t) => Math.max(most, among(m, t)), fastest(m));
  for (let round = 0; round < ROUNDS; round++) {
    for (const t of typed) put(m, t);
    system.velocityResidual(0);
    step.fill(0);
    for (let r = 0; r < rows; r++) step[motions + r] = ldlt.off[r] ? 0 : -system.phi[r]!;
    ldlt.solve(step);
    K.quicken(step, 1);
    if (typed.every((t) => apart(motionOf(m, t), t.value) <= least)) break;
  }
  system.projectVelocities(0);
}

const axesOf = (m: Mechanism, i: number) => Array.from(m.system.K.A.subarray(9 * i, 9 * i + 9)) as never;

function put(m: Mechanism, { field, body, value }: Typed): void {
  const { v, w, own } = m.system.K;
  if (field === 'velocity') v.set(value, 3 * body);
  else if (field === 'speeds') own!.setSpeeds(body, value);
  else w.set(applyT(axesOf(m, body), value as Vec3), 3 * body);
}

/** What a typed motion has become, ground axes. */
function motionOf(m: Mechanism, { field, body }: Typed): number[] {
  const { v, w, A, own } = m.system.K,
    p = 3 * body;
  if (field === 'speeds') return own!.speedsOf(body);
  if (field === 'velocity') return [v[p]!, v[p + 1]!, v[p + 2]!];
  return [0, 1, 2].map((k) => A[9 * body + 3 * k]! * w[p]! + A[9 * body + 3 * k + 1]! * w[p + 1]! + A[9 * body + 3 * k + 2]! * w[p + 2]!);
}

const length = (x: readonly number[]): number => Math.sqrt(x.reduce((s, y) => s + y * y, 0));
const apart = (x: readonly number[], y: readonly number[]): number => length(x.map((v, k) => v - y[k]!));

/** The largest speed there is, as m/s and rad/s alike at the size of the machine. */
function fastest({ system: { K }, size }: Mechanism): number {
  let most = 0;
  for (const x of K.v) most = Math.max(most, Math.abs(x) / size);
  for (const x of K.w) most = Math.max(most, Math.abs(x));
  return most * Math.min(1, size);
}
/** What is typed, measured so. */
const among = ({ size }: Mechanism, { field, value }: Typed): number =>
  (length(value) / (field === 'velocity' ? size : 1)) * Math.min(1, size);

/** @param speed the largest there is */
function contradicted(m: Mechanism, t: Typed, speed: number): Diagnosis[] {
  const now = motionOf(m, t),
    off = apart(now, t.value);
  if (off <= TOLD * Math.max(speed, among(m, t))) return [];
  const lengths = t.field === 'velocity' || (t.field === 'speeds' && m.system.own.of[t.body]!.law.coordinates[0]?.length);
  const [dim, unit]: [Dimension, string] = lengths ? [D.speed, 'm/s'] : [D.angularSpeed, 'rad/s'],
    name = m.bodies[t.body]!.name;
  const show = (v: readonly number[]) =>
    `(${v.map((x) => formatQuantity(Math.abs(x) < 1e-9 * off ? 0 : x, dim, unit, 4).replace(` ${unit}`, '')).join(', ')}) ${unit}`;
  return [
    {
      code: 'start-contradicted',
      severity: 'warning',
      message: `It cannot start with the ${t.field} typed, ${show(t.value)}: it starts with ${show(now)}, ${formatQuantity(off, dim, unit, 3)} away.`,
      why: 'Its joints, drives or what is typed for other bodies do not allow it.',
      remedy: `Correct the ${t.field}, or leave it out: then it follows the joints.`,
      ...(t.field === 'speeds' ? where(m.model, 'bodies', name) : where(m.model, 'bodies', name, t.field)),
    },
  ];
}

function startSpeed(c: Constraint, K: Kinematics): number {
  const out = new Float64Array(c.row + 1);
  c.nu(K, 0, out);
  return out[c.row]!;
}
