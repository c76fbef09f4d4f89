import { KIND } from '../equations/layout';
import { type RecordLayout, RecordedStates, type RunStatistics, offsets } from '../results/record';
import type { Mechanism } from '../system/mechanism';
import { finite } from './finite';
import type { RunEvent } from './run-events';
import type { Turns } from './turns';

/** Records handed on at once. */
const CHUNK = 256;

/** Gathers recorded states and hands them on in chunks. */
export class Recorder {
  moved = false;
  /** Largest kinetic energy recorded, J. */
  liveliest = 0;
  private chunk: Float64Array;
  private filled = 0;
  private readonly from: ReturnType<typeof offsets>;
  private readonly states: RecordedStates;
  private readonly state: Float64Array;
  private first: Float64Array | undefined;
  constructor(
    private readonly layout: RecordLayout,
    private readonly m: Mechanism,
    private readonly stats: RunStatistics,
  ) {
    this.chunk = new Float64Array(CHUNK * layout.width);
    this.from = offsets(layout);
    this.states = new RecordedStates(layout);
    this.state = new Float64Array(this.states.size);
  }
  get full(): boolean {
    return this.filled === CHUNK;
  }
  /** @returns false, and keeps nothing, when a number of it is not finite */
  put(t: number, turns: Turns): boolean {
    const { system, size, memories } = this.m,
      { chunk, from } = this,
      { width } = this.layout,
      at = this.filled * width,
      { angle } = turns;
    chunk[at] = t;
    system.K.storeWhole(this.state);
    this.states.write(this.state, chunk, at);
    for (let i = 0; i < angle.length; i++) chunk[at + from.angles + i] = angle[i]!;
    memories.follow(system.K);
    memories.keep(chunk, at + from.memory);
    if (!finite(chunk, at, at + width)) return false;
    this.liveliest = Math.max(this.liveliest, this.m.ledgers.kinetic(system.K));
    this.filled++;
    this.stats.records++;
    if (this.moved) return true;
    const positions = this.state.subarray(0, system.K.whole.motions);
    this.first ??= positions.slice();
    const first = this.first;
    this.moved = positions.some((x, i) => Math.abs(x - first[i]!) > (system.K.whole.kind[i] === KIND.place ? 1e-9 * size : 1e-9));
    return true;
  }
  *flush(t: number): Generator<RunEvent, void, void> {
    if (this.filled === 0) return;
    yield { type: 'records', count: this.filled, data: this.chunk.slice(0, this.filled * this.layout.width), t };
    this.filled = 0;
  }
}
