/** Keeps the parts of a run as they arrive: one transaction at a time, of all that waits. */
import { runWorker } from '../../workers/client';
import { keepParts } from './db';
import { keeping } from './storage';
import type { Postures } from '../runs/track';

export class Recorder {
  private waiting: { run: string; index: number; data: Float64Array; postures: Postures }[] = [];
  private work: Promise<boolean>;
  private busy = false;
  /** @param begun whether what the parts belong to is kept */
  constructor(
    private readonly run: string,
    private readonly what: string,
    begun: Promise<boolean>,
  ) {
    this.work = begun;
  }
  add(index: number, data: Float64Array, postures: Postures): void {
    this.waiting.push({ run: this.run, index, data, postures });
    if (this.busy) return;
    this.busy = true;
    this.work = this.work.then((kept) => this.write(kept));
  }
  /** Once one part cannot be kept the rest is not either. @returns whether all of it is kept, when nothing waits any more */
  get done(): Promise<boolean> {
    return this.work;
  }
  private async write(kept: boolean): Promise<boolean> {
    while (this.waiting.length > 0) {
      const parts = this.waiting;
      this.waiting = [];
      kept &&= await keeping(this.what, () => keepParts(parts));
      // what is kept need not stay in the worker
      if (kept) void runWorker().ask({ type: 'stored', run: this.run, parts: parts.map((p) => p.index) }, 'done');
    }
    this.busy = false;
    return kept;
  }
}
