/** Postures at which a machine is singular: more can move there than next to them, and the motion could branch. */
import { refuse } from '../diagnosis';
import { where } from '../model/where';
import type { Mechanism } from '../system/mechanism';
import { extent, freedomCount, massTimes, move } from './reduced';

/** How far it is moved to see whether as much can move there, in parts of its size or rad; and directions that are tried. */
const ASIDE = 1e-3;
const TRIES = 3;

/** Machines are not made linear at such a posture. K is left as it was. @throws Refusal there */
export function refuseSingular(m: Mechanism, t: number): void {
  const { system } = m,
    { K, ldlt, motions, rows } = system;
  const freedoms = freedomCount(system),
    redundant = ldlt.redundant.slice();
  if (freedoms === 0 || !redundant.includes(1)) return;
  const state = new Float64Array(K.whole.size),
    motion = new Float64Array(motions);
  K.storeWhole(state);
  let seed = 99,
    found = -1;
  for (let k = 0; k < TRIES && found < 0; k++) {
    const step = new Float64Array(motions + rows);
    massTimes(
      system,
      Float64Array.from(
        { length: motions },
        (_, i) => ((seed = (seed * 1103515245 + 12345) % 2147483648) / 1073741824 - 1) * (i % 6 < 3 ? m.size : 1),
      ),
      step.subarray(0, motions),
    );
    system.solve(step);
    motion.set(step.subarray(0, motions));
    const far = extent(system, motion, m.size);
    if (far > 0 && move(m, motion, ASIDE / far, t) < 1e-8) {
      system.linearise();
      if (freedomCount(system) < freedoms) found = redundant.findIndex((r, i) => r === 1 && !ldlt.redundant[i]);
    }
    K.loadWhole(state);
    system.linearise();
  }
  if (found < 0) return;
  const owner = system.ownerOf(found);
  refuse({
    code: 'posture-singular',
    message: `The machine is singular at this posture: more can move here than beside it${owner ? `, as ${owner.name} says` : ''}.`,
    why: 'Its motion could go on in more than one way, and none of them is linear.',
    remedy: 'Move it a little out of this posture, onto the way that is meant.',
    ...(owner ? where(m.model, owner.family, owner.name) : {}),
  });
}
