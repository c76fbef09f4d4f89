/**
 * Assembly: closing all joints from the drawn posture by damped, mass-weighted Gauss-Newton (Levenberg-Marquardt
 * with the damping relative to each row), then velocities that fit, then the start of every drive.
 */
import { type Diagnosis, Refusal } from '../diagnosis';
import { formatQuantity } from '../quantity/units';
import { D } from '../quantity/dimension';
import { draw } from '../system/build/bodies';
import type { Force } from '../equations/forces';
import type { Mechanism } from '../system/mechanism';
import { ledgerStates } from '../system/ledger';
import { POSITION_TOLERANCE, type System } from '../system/system';
import { setOff } from './start-motion';
import { where } from '../model/where';

export interface Assembled {
  /** State vector at the start. */
  y: Float64Array;
  /** Largest residual left, m or 1. */
  residual: number;
  /** What was typed of the start motion and could not be kept. */
  diagnoses: Diagnosis[];
}

const GOOD = 1e-8;

/**
 * @returns the start state at t = 0
 * @throws Refusal naming the joint that stays open and by how much
 */
export function assemble(m: Mechanism): Assembled {
  const { system } = m;
  const { K } = system;
  draw(system, m.bodies);
  system.standing(false);
  system.anyTime();
  system.offsets.fill(0);
  for (const g of system.groups) for (const c of g.constraints) c.reset();
  for (const f of m.assembly.forces) if (f.force.holding) system.hold(f.force.holding.constraint, false);
  // A drive of speed or acceleration starts wherever its freedom is drawn.
  for (const d of m.drives) d.course.begin(K);
  for (const q of m.counters) q.begin(K);
  for (const s of m.switches) s.switch.begin(K, 0);

  const residual = place(m);
  // Drives that follow a start value take it up.
  for (const d of m.drives) d.course.begin(K);
  for (const q of m.counters) q.begin(K);
  for (const f of m.assembly.forces) for (const x of f.force.extras ?? []) x.begin(K);
  for (const s of m.switches) s.switch.begin(K, 0);

  const diagnoses = setOff(m);
  system.segment(0, Infinity);
  for (const f of m.assembly.forces) f.force.begin?.(K, 0);
  chooseModes(m);
  for (const l of ledgerStates(m.ledgers)) l.begin(K);
  const y = new Float64Array(system.size);
  K.store(y);
  return { y, residual, diagnoses };
}

/** Closes the joints, with start positions held: guesses only while that is possible. @returns the residual */
function place(m: Mechanism): number {
  const { system } = m;
  const held = m.starts.filter((s) => s.position);
  const hold = (on: boolean, which = held) => which.forEach((s) => system.hold(s.position!, on));
  const follow = holdDrives(m, held.length > 0);
  hold(true);
  let residual = close(system);
  const guesses = held.filter((s) => !s.strict);
  if (guesses.length > 0) {
    hold(false, guesses);
    residual = close(system);
  }
  const open = openGroups(m);
  hold(false);
  follow();
  if (open.length > 0) throw new Refusal(open);
  return residual;
}

/** Drives of speed and acceleration start anywhere: they let go while start positions are sought. @returns what takes hold again */
function holdDrives({ system, drives, switches }: Mechanism, letGo: boolean): () => void {
  const loose = letGo
    ? drives.filter((d) => d.prescribes !== 'position' && !switches.some((s) => s.family === 'drives' && s.name === d.name && !s.switch.on))
    : [];
  for (const d of loose) system.hold(d.constraint, false);
  return () => loose.forEach((d) => system.hold(d.constraint, true));
}

/** Lets friction and ends go, as where only posture counts. */
export function frictionless({ assembly, system }: Mechanism): void {
  for (const { force } of assembly.forces) if (force.holding) system.hold(force.holding.constraint, false);
}

type Holding = NonNullable<Force['holding']>;
/** Releases rows, one by one, that would hold what others hold already. @param given is called for each */
export function leaveToOthers(system: System, rows: readonly Holding[], given: (r: Holding) => void): void {
  if (rows.length === 0) return;
  const surplus = () => {
    system.linearise();
    return system.ldlt.redundant.reduce((s, x) => s + x, 0);
  };
  for (const r of rows) system.hold(r.constraint, false);
  let known = surplus();
  for (const r of rows) {
    system.hold(r.constraint, true);
    const now = surplus();
    if (now === known) continue;
    system.hold(r.constraint, false);
    known = surplus();
    given(r);
  }
}
/** No friction sticks and no end holds where drives move its joint, though its speed be zero just now: it goes the way it is being accelerated. */
function releaseWhereDriven({ system, assembly: { forces } }: Mechanism, t: number): void {
  for (const { force } of forces) force.holding?.again?.(system.K);
  leaveToOthers(
    system,
    forces.flatMap(({ force }) => (force.holding?.on ? [force.holding] : [])),
    (r) => {
      system.accelerate(t);
      r.release(system.K, system.acceleration);
    },
  );
}

/** What cannot hold at rest lets go: frictions slip, ends that would pull are left, bounces end; in at most as many rounds as there are changes. */
export function chooseModes(m: Mechanism, t = 0): void {
  const { system, watches } = m;
  releaseWhereDriven(m, t);
  const changing = watches.filter((w) => w.watch.changeMode);
  for (let i = 0; i <= 2 * changing.length; i++) {
    system.accelerate(t);
    if (!changing.some((w) => w.watch.changeMode!(system.K, t, system))) return;
  }
}

/** Gauss-Newton with damping that grows on failure and fades on success. Returns the largest residual. */
export function close(system: System, t = 0): number {
  const { K, bodies, motions, rows, ldlt } = system;
  const step = new Float64Array(motions + rows);
  const q = new Float64Array(system.size);
  let damping = 1e-4;
  system.linearise(damping);
  let error = largest(system, t);
  let merit = square(system);
  for (let i = 0; i < 200 && error > POSITION_TOLERANCE; i++) {
    system.linearise(damping);
    system.residual(t);
    step.fill(0);
    for (let r = 0; r < rows; r++) step[motions + r] = ldlt.off[r] ? 0 : -system.phi[r]!;
    ldlt.solve(step);
    let turn = 0;
    for (let b = 0; b < bodies; b++) for (let k = 3; k < 6; k++) turn = Math.max(turn, Math.abs(step[6 * b + k]!));
    K.store(q);
    K.displace(step, turn > 0.5 ? 0.5 / turn : 1);
    const now = largest(system, t);
    const m = square(system);
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

/** Largest residual over all rows that are on, redundant ones included. */
function largest(system: System, t: number): number {
  system.residual(t);
  const { off } = system.ldlt;
  let m = 0;
  system.phi.forEach((x, r) => {
    if (!off[r]) m = Math.max(m, Math.abs(x));
  });
  return m;
}
const square = ({ phi, ldlt: { off } }: System): number => phi.reduce((s, x, r) => (off[r] ? s : s + x * x), 0);

/** Joints and drives that do not meet at the present posture, the worst first. */
export function openGroups(m: Mechanism, t = 0): Diagnosis[] {
  const { system } = m;
  largest(system, t);
  const found = system.groups.flatMap((g) => {
    let gap = 0,
      angle = 0;
    for (const c of g.constraints)
      c.lengths.forEach((isLength, k) => {
        if (system.ldlt.off[c.row + k]) return;
        const x = Math.abs(system.phi[c.row + k]!);
        if (isLength) gap = Math.sqrt(gap * gap + x * x);
        else angle = Math.sqrt(angle * angle + x * x);
      });
    return gap > GOOD || angle > GOOD ? [{ g, gap, angle }] : [];
  });
  found.sort((x, y) => y.gap / m.size + y.angle - (x.gap / m.size + x.angle));
  return found.map(({ g, gap, angle }): Diagnosis => {
    const parts = [
      ...(gap > GOOD ? [formatQuantity(gap, D.length, 'mm', 3)] : []),
      ...(angle > GOOD ? [formatQuantity(angle, D.angle, 'deg', 3)] : []),
    ];
    return {
      code: 'assembly-open',
      severity: 'error',
      message:
        g.family === 'couplings'
          ? `The coupling cannot be met: its joints stay ${parts.join(' and ')} out.`
          : g.family === 'joints'
            ? `The joint cannot be closed: its two sides stay ${parts.join(' and ')} apart.`
            : g.family === 'starts'
              ? `The machine cannot start there: ${parts.join(' and ')} short.`
              : `The drive cannot reach its start: ${parts.join(' and ')} short.`,
      why: 'The lengths and places given do not fit together.',
      remedy: 'Check the lengths round its loop, or draw the bodies nearer to where they belong.',
      ...where(m.model, g.family, g.name),
    };
  });
}
