import { Refusal, refuse } from '../diagnosis';
import { ledgerStates } from '../system/ledger';
import type { Mechanism } from '../system/mechanism';
import { assemble, chooseModes, close, openGroups } from './assemble';
import { HELD } from './held';

/** A recorded state as a start. @throws Refusal when it is of another mechanism */
export function resume(m: Mechanism, start: Float64Array): Float64Array {
  const { system } = m;
  const y = assemble(m).y;
  const same = system.K.whole.further;
  if (start.length < same)
    refuse({
      code: 'start-other',
      message: 'The state to start from has other bodies than this model.',
      remedy: 'Start from a run of this model.',
    });
  const { K } = system,
    whole = new Float64Array(K.whole.size);
  K.storeWhole(whole);
  whole.set(start.subarray(0, same));
  K.loadWhole(whole);
  for (const g of system.groups) for (const c of g.constraints) c.reset();
  for (const d of m.drives) d.course.begin(K);
  for (const q of m.counters) q.begin(K);
  for (const s of m.switches) s.switch.begin(K, 0);
  const remembered = start.length === whole.length + m.memories.cells ? start.subarray(whole.length) : undefined;
  if (remembered) m.memories.recall(remembered);
  system.linearise();
  const gap = close(system);
  const open = openGroups(m);
  if (open.length > 0 || gap > HELD.position) throw new Refusal(open);
  for (const f of m.assembly.forces) f.force.begin?.(K, 0);
  if (remembered) m.memories.recall(remembered);
  system.linearise();
  system.projectVelocities(0);
  chooseModes(m);
  for (const l of ledgerStates(m.ledgers)) l.begin(K);
  K.store(y);
  return y;
}
