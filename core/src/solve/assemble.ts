/**
 * Assembly: closing all joints from the drawn posture by damped, mass-weighted Gauss-Newton (Levenberg-Marquardt
 * with the damping relative to each row), then velocities that fit, then the start of every drive.
 */
import { type Diagnosis, Refusal } from '../diagnosis';
import { formatQuantity } from '../quantity/units';
import { D } from '../quantity/dimension';
import { type Mechanism, draw } from '../system/mechanism';
import { ledgerStates } from '../system/ledger';
import { POSITION_TOLERANCE, type System } from '../system/system';
import type { Vec3 } from '../geometry/vector';
import { applyT } from '../geometry/vector';

export interface Assembled {
  /** State vector at the start. */
  y: Float64Array;
  /** Largest residual left, m or 1. */
  residual: number;
}

const GOOD = 1e-8;

/**
 * @returns the start state at t = 0
 * @throws Refusal naming the joint that stays open and by how much
 */
export function assemble(m: Mechanism): Assembled {
  const { system } = m;
  draw(system, m.bodies);
  // A drive of speed or acceleration starts wherever its freedom is drawn.
  for (const d of m.drives) d.course.begin(system.K);
  for (const c of m.couplings) for (const q of c.coordinates) q.begin(system.K);
  const residual = close(system);
  const open = openGroups(m);
  if (open.length > 0) throw new Refusal(open);
  const { K } = system;
  for (const c of m.couplings) for (const q of c.coordinates) q.begin(K);
  for (const f of m.assembly.forces) f.force.extra?.begin(K);
  m.bodies.forEach((b, i) => {
    const v = m.resolution.elements.bodies.find((e) => e.name === b.name)!.values as { velocity: Vec3; spin: Vec3 };
    K.v.set(v.velocity, 3 * i);
    K.w.set(applyT(matrixOf(K.A, i), v.spin), 3 * i);
  });
  system.segment(0, Infinity);
  system.linearise();
  system.projectVelocities(0);
  for (const l of ledgerStates(m.ledgers)) l.begin(K);
  const y = new Float64Array(system.size);
  K.store(y);
  return { y, residual };
}

const matrixOf = (A: Float64Array, i: number) => Array.from(A.subarray(9 * i, 9 * i + 9)) as never;

/** Gauss-Newton with damping that grows on failure and fades on success. Returns the largest residual. */
export function close(system: System, t = 0): number {
  const { K, bodies, rows, ldlt } = system;
  const step = new Float64Array(6 * bodies + rows);
  const q = new Float64Array(system.size);
  let damping = 1e-4;
  system.linearise(damping);
  let error = largest(system, t);
  let merit = square(system.phi);
  for (let i = 0; i < 200 && error > POSITION_TOLERANCE; i++) {
    system.linearise(damping);
    system.residual(t);
    step.fill(0);
    for (let r = 0; r < rows; r++) step[6 * bodies + r] = -system.phi[r]!;
    ldlt.solve(step);
    let turn = 0;
    for (let b = 0; b < bodies; b++) for (let k = 3; k < 6; k++) turn = Math.max(turn, Math.abs(step[6 * b + k]!));
    K.store(q);
    K.displace(step, turn > 0.5 ? 0.5 / turn : 1);
    const now = largest(system, t);
    const m = square(system.phi);
    if (m < merit || now <= POSITION_TOLERANCE) {
      if (m > 0.999999 * merit && damping < 1e-9 && now > GOOD) break;
      merit = m;
      error = now;
      damping = Math.max(damping * 0.1, 1e-12);
    } else {
      K.load(q);
      damping *= 10;
      if (damping > 1e4) break;
    }
  }
  return error;
}

/** Largest residual over all rows, redundant ones included. */
function largest(system: System, t: number): number {
  system.residual(t);
  let m = 0;
  for (const x of system.phi) m = Math.max(m, Math.abs(x));
  return m;
}
const square = (v: Float64Array): number => v.reduce((s, x) => s + x * x, 0);

/** Joints and drives that do not meet at the present posture, the worst first. */
export function openGroups(m: Mechanism): Diagnosis[] {
  const { system } = m;
  largest(system, 0);
  const found = system.groups.flatMap((g) => {
    let gap = 0, angle = 0;
    for (const c of g.constraints) c.lengths.forEach((isLength, k) => {
      const x = Math.abs(system.phi[c.row + k]!);
      if (isLength) gap = Math.sqrt(gap * gap + x * x);
      else angle = Math.sqrt(angle * angle + x * x);
    });
    return gap > GOOD || angle > GOOD ? [{ g, gap, angle }] : [];
  });
  found.sort((x, y) => y.gap / m.size + y.angle - (x.gap / m.size + x.angle));
  return found.map(({ g, gap, angle }): Diagnosis => {
    const parts = [...(gap > GOOD ? [formatQuantity(gap, D.length, 'mm', 3)] : []), ...(angle > GOOD ? [formatQuantity(angle, D.angle, 'deg', 3)] : [])];
    const index = m.model[g.family].findIndex((e) => e.name === g.name);
    return {
      code: 'assembly-open', severity: 'error',
      message: g.family === 'couplings' ? `The coupling cannot be met: its joints stay ${parts.join(' and ')} out.` : g.family === 'joints' ? `The joint cannot be closed: its two sides stay ${parts.join(' and ')} apart.` : `The drive cannot reach its start: ${parts.join(' and ')} short.`,
      why: 'The lengths and places given do not fit together.',
      remedy: 'Check the lengths round its loop, or draw the bodies nearer to where they belong.',
      path: [g.family, index], element: { family: g.family, name: g.name },
    };
  });
}
