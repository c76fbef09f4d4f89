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
  /** How many there is room for. */
  get room(): number {
    return CHUNK - this.filled;
  }
  /** The state in the system. @returns false, and keeps nothing, when a number of it is not finite */
  put(t: number, turns: Turns): boolean {
    const { system, memories } = this.m,
      { chunk, from } = this,
      at = this.filled * this.layout.width;
    chunk[at] = t;
    system.K.storeWhole(this.state);
    this.states.write(this.state, chunk, at);
    memories.follow(system.K);
    memories.keep(chunk, at + from.memory);
    return this.kept(turns, this.m.ledgers.kinetic(system.K));
  }
  /** Time and what is told of a state, as they stand from a place on; nothing remembers anything. @returns as `put` */
  take(rows: Float64Array, place: number, turns: Turns, kinetic: number): boolean {
    const { chunk, from } = this,
      at = this.filled * this.layout.width;
    for (let k = 0; k < from.angles; k++) chunk[at + k] = rows[place + k]!;
    return this.kept(turns, kinetic);
  }

  /** The rest of a record, and all that is noticed of it. */
  private kept({ angle }: Turns, kinetic: number): boolean {
    const { chunk, from, filled } = this,
      { width } = this.layout,
      at = filled * width;
    for (let i = 0; i < angle.length; i++) chunk[at + from.angles + i] = angle[i]!;
    if (!finite(chunk, at, at + width)) return false;
    this.liveliest = Math.max(this.liveliest, kinetic);
    this.filled++;
    this.stats.records++;
    this.moved ||= this.moves(at);
    return true;
  }
  /** Whether a record is another posture than the first. */
  private moves(at: number): boolean {
    const { size, system } = this.m,
      { kind, motions } = system.K.whole,
      { state, chunk } = this;
    this.states.read(chunk, at, state);
    const first = (this.first ??= state.slice(0, motions));
    return first.some((x, i) => Math.abs(x - state[i]!) > (kind[i] === KIND.place ? 1e-9 * size : 1e-9));
  }
  *flush(t: number): Generator<RunEvent, void, void> {
    if (this.filled === 0) return;
    yield { type: 'records', count: this.filled, data: this.chunk.slice(0, this.filled * this.layout.width), t };
    this.filled = 0;
  }
}
