/** What is recorded with each state because no state tells it. */
import type { Constraint } from '../../equations/constraint';
import { Memories, type Memory } from '../../equations/memory';
import type { System } from '../system';
import type { Parts } from './groups';
import type { SwitchInfo } from './switches';

/** Memories in an order that depends on the model alone. */
export function memoriesOf(system: System, { joints, drives, forces }: Parts, switches: readonly SwitchInfo[]): Memories {
  /** Whether rows hold that can be switched. */
  const switched = (c: Constraint): Memory => ({
    cells: 1,
    keep: (out, at) => (out[at] = system.ldlt.off[c.row] ? 0 : 1),
    recall: (from, at) => system.hold(c, from[at] === 1),
  });
  /** How far from where it meets a joint that closes again was closed. */
  const closed = (c: Constraint): Memory => ({
    cells: c.rows,
    keep(out, at) {
      for (let k = 0; k < c.rows; k++) out[at + k] = system.offsets[c.row + k]!;
    },
    recall(from, at) {
      for (let k = 0; k < c.rows; k++) system.offsets[c.row + k] = from[at + k]!;
    },
  });
  const closing = new Set(switches.filter((s) => s.family === 'joints' && s.again).map((s) => s.name));
  const releasing = switches.filter((s) => s.family === 'joints').map((s) => joints.find((j) => j.name === s.name)!);
  return new Memories([
    ...system.groups.flatMap((g) => g.constraints.flatMap((c) => c.memory ?? [])),
    ...joints.flatMap((j) => [...j.freedoms.values()].flatMap((f) => f.equation.memory ?? [])),
    ...drives.flatMap((d) => (d.condition ? [switched(d.constraint), ...(d.course.memory ? [d.course.memory] : [])] : [])),
    ...switches.map((s) => s.switch),
    ...releasing.flatMap((j) => j.constraints.flatMap((c) => [switched(c), ...(closing.has(j.name) ? [closed(c)] : [])])),
    ...forces.flatMap(({ force: { memory, holding } }) => [
      ...(memory ? [memory] : []),
      ...(holding ? [switched(holding.constraint)] : []),
    ]),
  ]);
}
