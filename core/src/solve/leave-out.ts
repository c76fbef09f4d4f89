import type { Fold } from '../equations/fold';
import { COMPILER } from '../system/compiler';
import { foldOf } from '../system/folding';
import type { Mechanism } from '../system/mechanism';
import type { System } from '../system/system';

/** Accelerations with and without what is left out agree to this part of the largest. */
const AGREES = 1e-7;

/**
 * Leaves out of a run what the joints of a machine never allow its bodies, where nothing in the run asks what that carries. Needs the assembled
 * state in K; `system.fold()` takes it back.
 * @returns how many bodies are concerned
 */
export function leaveOut(m: Mechanism): number {
  const { system } = m;
  if (system.forces.some((f) => f.react && f.across !== false)) return 0;
  const fold = found(m);
  if (!fold) return 0;
  const start = new Float64Array(system.size);
  system.K.store(start);
  const full = whileMoving(system, fold);
  system.K.load(start);
  system.fold(fold);
  system.compile(COMPILER);
  const folded = whileMoving(system, fold);
  system.K.loadWhole(start);
  system.K.lay(fold); // at rest across as well
  const largest = full.reduce((a, x) => Math.max(a, Math.abs(x)), 0);
  if (full.every((x, i) => Math.abs(x - folded[i]!) <= AGREES * largest))
    return Array.from({ length: system.bodies }, (_, i) => fold.moves.subarray(6 * i, 6 * i + 6)).filter((x) => x.includes(0)).length;
  system.fold(undefined);
  return 0;
}

/** Leaves out of a machine what is left out of one next to it, where its joints never allow that either. Needs the assembled state in K. */
export function leaveOutLike(m: Mechanism, { leftOut }: System): void {
  const { system } = m,
    fold = found(m);
  if (!fold || !leftOut || fold.moves.join() !== leftOut.moves.join() || fold.idle.join() !== leftOut.idle.join()) return;
  const start = new Float64Array(system.size);
  system.K.store(start);
  const moving = whileMoving(system, fold),
    largest = moving.reduce((a, x) => Math.max(a, Math.abs(x)), 0);
  system.K.load(start);
  // a joint that is a little askew soon leads out of the plane
  if (moving.some((x, k) => !fold.moves[k] && Math.abs(x) > AGREES * largest)) return;
  system.fold(fold);
  system.K.loadWhole(start);
  system.K.lay(fold);
}

/** What its joints never allow the bodies of a machine. */
function found({ system, switches, size }: Mechanism): Fold | undefined {
  const lasting = system.groups.filter(
    ({ family, name }) => family === 'joints' && !switches.some((s) => s.family === family && s.name === name),
  );
  return foldOf(system, lasting, size);
}

/** One of five speeds from 0.2 on. */
const speed = (i: number): number => (1 + ((3 * i) % 5)) / 5;

/** Accelerations while the bodies move in every way they can, each in its own. */
function whileMoving(system: System, { moves }: Fold): Float64Array {
  const { K, bodies } = system;
  for (let i = 0; i < bodies; i++)
    for (let k = 0; k < 3; k++) {
      K.v[3 * i + k] = moves[6 * i + k]! * speed(6 * i + k);
      K.w[3 * i + k] = moves[6 * i + 3 + k]! * speed(6 * i + 3 + k);
    }
  system.accelerate(0);
  return system.acceleration.slice();
}
