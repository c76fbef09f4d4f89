/**
 * A document that several windows have open: each saves into one store and hears of the others' saves. Every save reads what is there in the same
 * transaction; what another
 * window saved meanwhile is merged in, and what a merge cannot keep is handed on to be kept beside it. So all windows end with the same document.
 */
import { merge } from './merge';

export interface Kept<M> {
  model: M;
  /** Grows with every save. */
  revision: number;
}

export interface Shelf<M> {
  read(): Promise<Kept<M> | undefined>;
  /** In one transaction. @param change gives what is to stand there, and what is lost by it */
  update(change: (now: Kept<M> | undefined) => Kept<M> & { lost?: M }): Promise<Kept<M>>;
}

export interface Desk<M> {
  now(): M;
  /** A state from elsewhere comes in, as an edit. */
  take(model: M): void;
  /** Other windows are told. */
  tell(revision: number): void;
}

export class Sync<M> {
  private queue: Promise<unknown> = Promise.resolve();
  /** @param settled what the store holds as far as is known */
  constructor(
    private readonly shelf: Shelf<M>,
    private readonly desk: Desk<M>,
    private settled: M,
    private revision: number,
  ) {}

  /** Whether what stands here is in the store. */
  get saved(): boolean {
    return this.desk.now() === this.settled;
  }

  /** @throws what the store says */
  save(): Promise<void> {
    return this.after(() => this.saveNow());
  }

  /** Another window has saved. @throws what the store says */
  heard(revision: number): Promise<void> {
    return this.after(async () => {
      if (revision <= this.revision) return;
      if (!this.saved) return this.saveNow();
      const kept = await this.shelf.read();
      if (!kept || kept.revision <= this.revision) return;
      // what was changed while reading
      if (!this.saved) return this.saveNow();
      this.settle(kept);
    });
  }

  /** One after the other. */
  private after(act: () => Promise<void>): Promise<void> {
    const mine = this.queue.then(act, act);
    this.queue = mine.catch(() => undefined);
    return mine;
  }

  private async saveNow(): Promise<void> {
    while (!this.saved) {
      const ours = this.desk.now(),
        base = this.settled;
      const kept = await this.shelf.update((now) => {
        if (!now || now.revision === this.revision) return { model: ours, revision: this.revision + 1 };
        const { merged, clash } = merge(base, ours, now.model);
        return { model: merged, revision: now.revision + 1, ...(clash ? { lost: now.model } : {}) };
      });
      if (kept.model === ours) {
        this.settled = ours;
        this.revision = kept.revision;
      } else {
        const now = this.desk.now();
        if (now === ours) this.settle(kept);
        else {
          // edited while it was saved: that comes on top
          const { merged } = merge(ours, now, kept.model);
          this.settled = kept.model;
          this.revision = kept.revision;
          this.desk.take(merged);
        }
      }
      this.desk.tell(this.revision);
    }
  }

  private settle(kept: Kept<M>): void {
    this.desk.take(kept.model);
    this.settled = this.desk.now();
    this.revision = kept.revision;
  }
}
