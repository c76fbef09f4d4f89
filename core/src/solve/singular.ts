/** Postures at which a machine is singular: more can move there than next to them, and the motion could branch. */
import { refuse } from '../diagnosis';
import { where } from '../model/where';
import type { Mechanism } from '../system/mechanism';
import { anyMotion, extent, freedomCount, move, numbersFrom } from './reduced';

/** How far it is moved to see whether as much can move there, in parts of its size or rad; and directions that are tried. */
const ASIDE = 1e-3;
const TRIES = 3;

/** Machines are not made linear at such a posture. K is left as it was. @throws Refusal there */
export function refuseSingular(m: Mechanism, t: number): void {
  const { system } = m,
    { K, ldlt } = system;
  const freedoms = freedomCount(system),
    redundant = ldlt.redundant.slice();
  if (freedoms === 0 || !redundant.includes(1)) return;
  const state = new Float64Array(K.whole.size),
    random = numbersFrom(99);
  K.storeWhole(state);
  let found = -1;
  for (let k = 0; k < TRIES && found < 0; k++) {
    const motion = anyMotion(m, random),
      far = extent(system, motion, m.size);
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
