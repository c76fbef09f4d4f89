/** Dragging a machine: a place of a body is drawn towards a target, everything else follows with least motion and the joints stay closed. */
import type { Mechanism } from '../system/mechanism';
import { placeAt } from '../equations/forces';
import { combine, extent, freeBasis, freedomCount, move } from './reduced';

/** Damping of the least squares, as a part of the machine's response: keeps the posture calm where the target cannot be reached. */
const CALM = 1e-3;

/**
 * Moves the posture in the system towards the target by damped least squares in the reduced coordinates.
 * @param body index of the body held, @param at the place held, relative to its centre of mass in body axes, m
 * @param to where it should be, ground axes, m
 * @returns distance that is left, m
 */
export function pull(m: Mechanism, body: number, at: readonly number[], to: readonly number[], rounds = 4): number {
  const { system } = m;
  const { K } = system;
  const step = new Float64Array(system.motions);
  const gap = () => to.map((x, k) => x - placeAt(K, body, at, k));
  let left = length(gap());
  for (let i = 0; i < rounds; i++) {
    const d = freedomCount(system);
    if (d === 0) break;
    const N = freeBasis(system, d);
    const e = gap();
    // columns of the place's velocity: J = ∂(place)/∂p
    const J = N.map((n) => {
      const p = 9 * body,
        w = [n[6 * body + 3]!, n[6 * body + 4]!, n[6 * body + 5]!] as const;
      const c = [w[1] * at[2]! - w[2] * at[1]!, w[2] * at[0]! - w[0] * at[2]!, w[0] * at[1]! - w[1] * at[0]!];
      return [0, 1, 2].map((k) => n[6 * body + k]! + K.A[p + 3 * k]! * c[0]! + K.A[p + 3 * k + 1]! * c[1]! + K.A[p + 3 * k + 2]! * c[2]!);
    });
    const S = [0, 1, 2].map((a) => [0, 1, 2].map((b) => J.reduce((s, j) => s + j[a]! * j[b]!, 0)));
    const size = S[0]![0]! + S[1]![1]! + S[2]![2]!;
    if (!(size > 0)) break;
    for (let k = 0; k < 3; k++) S[k]![k] = S[k]![k]! + CALM * size;
    const y = solve3(S, e);
    combine(
      N,
      J.map((j) => j[0]! * y[0]! + j[1]! * y[1]! + j[2]! * y[2]!),
      step,
    );
    const most = extent(system, step, m.size);
    const y0 = new Float64Array(system.size);
    K.store(y0);
    const residual = move(m, step, most > 0.4 ? 0.4 / most : 1, 0);
    const now = length(gap());
    if (residual > 1e-7 || now > left * 1.000001) {
      K.load(y0);
      break;
    }
    if (left - now < 1e-6 * m.size) return now;
    left = now;
  }
  return left;
}

const length = (v: readonly number[]): number => Math.sqrt(v.reduce((s, x) => s + x * x, 0));

/** Cramer's rule for three unknowns. */
function solve3(A: readonly number[][], b: readonly number[]): number[] {
  const det = (m: readonly (readonly number[])[]) =>
    m[0]![0]! * (m[1]![1]! * m[2]![2]! - m[1]![2]! * m[2]![1]!) -
    m[0]![1]! * (m[1]![0]! * m[2]![2]! - m[1]![2]! * m[2]![0]!) +
    m[0]![2]! * (m[1]![0]! * m[2]![1]! - m[1]![1]! * m[2]![0]!);
  const d = det(A);
  return [0, 1, 2].map((k) => det(A.map((row, i) => row.map((x, j) => (j === k ? b[i]! : x)))) / d);
}
