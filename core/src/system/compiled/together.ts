/** Much of a step in one call, where a machine has code of its own that asks for nothing: its stages, and the records that fall into it. */
import { type Records, recordsOf } from '../../kernel/records';
import { type Stages, stagesOf } from '../../kernel/stages';
import type { Sum } from '../../kernel/sums';
import type { MachineKernels } from './machine';
import { LOOKED, type Room, TOGETHER } from './room';

/** Records made in one call: of `told` numbers each, then what is looked at, and measured coordinates with their rates. */
export interface RecordsTogether {
  readonly make: Records;
  readonly told: number;
  readonly stride: number;
  /** How many at most. */
  readonly most: number;
  readonly times: Float64Array;
  readonly rows: Float64Array;
}

/** @param settles see `Room.bring` @param nodes,sums of the method @returns undefined where these kernels are no compiled code */
export function stagesTogether(
  room: Room,
  kernels: MachineKernels,
  settles: boolean,
  nodes: readonly number[],
  sums: readonly Sum[],
): Stages | undefined {
  const { K, from, scratch, places } = room,
    { own } = places,
    { memory, at } = K,
    p = kernels.place.raw(memory, scratch),
    raw = kernels.accelerate.raw(memory, scratch),
    d = raw && settles ? { code: room.settling(kernels), scratched: false } : raw;
  return p && d && stagesOf(memory, nodes, sums, p, d, { kinematics: at.r, own: from, scratch, clock: from + own.clock });
}

/** @param dense gives a state within a step @param told numbers of a record @returns undefined where these kernels are no compiled code */
export function recordsTogether(room: Room, { place, record }: MachineKernels, dense: Sum, told: number): RecordsTogether | undefined {
  const { K, from, scratch, sizes, measured, places } = room,
    { memory, at } = K,
    stride = told + LOOKED + 2 * measured.length,
    [p, r] = [place.raw(memory, scratch), record.raw(memory, scratch)],
    where = { kinematics: at.r, own: from, scratch, clock: from + places.own.clock, stride },
    make = p && r && recordsOf(memory, dense, p, r, where),
    most = Math.min(TOGETHER, Math.floor(sizes.records / stride));
  return make && { make, told, stride, most, times: room.view('times'), rows: room.view('records') };
}
