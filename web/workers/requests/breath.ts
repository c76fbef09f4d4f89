/** Long work gives way to other messages. */

/** It does so this often, ms. */
const SLICE = 12;

const channel = new MessageChannel();
const waiting: (() => void)[] = [];
channel.port1.onmessage = () => waiting.shift()?.();
/** Lets messages in that wait. */
const breath = (): Promise<void> =>
  new Promise((resolve) => {
    waiting.push(resolve);
    channel.port2.postMessage(0);
  });

/** Asked between pieces of work: gives way whenever a slice of time is over. */
export class Breather {
  private since = performance.now();
  /** A slice is over. */
  get due(): boolean {
    return performance.now() - this.since > SLICE;
  }
  async giveWay(): Promise<void> {
    await breath();
    this.since = performance.now();
  }
  async ifDue(): Promise<void> {
    if (this.due) await this.giveWay();
  }
}
