/** The core in a worker: one handler for each request (`requests/`). */
import { showComma, usesComma } from '@vim-pivot/core/engine';
import { answered } from './answer';
import type { Request } from './protocol';
import { CHECKING } from './requests/checking';
import { FILES } from './requests/files';
import { type Handlers, post } from './requests/post';
import { POSTURES } from './requests/postures';
import { READING } from './requests/reading';
import { RUNNING } from './requests/running';
import { supplied } from './requests/supply';
import { VALUES } from './requests/values';

const HANDLERS: Handlers<Request['type']> = { ...CHECKING, ...VALUES, ...POSTURES, ...FILES, ...RUNNING, ...READING };

// what it says of numbers is written as the page writes them
showComma(usesComma((self as { navigator?: Navigator }).navigator?.language ?? 'en'));

/** The solver comes once the first machine stands. */
setTimeout(() => void import('@vim-pivot/core/simulate'), 4000);

self.onmessage = ({ data }: MessageEvent<Request>): void => {
  void answered(
    String(data.type),
    () => handle(data),
    (diagnoses) => post({ type: 'refused', id: data.id, diagnoses }),
  );
};

async function handle(m: Request): Promise<void> {
  await supplied(m);
  if (!Object.hasOwn(HANDLERS, m.type)) throw new Error('there is no such request');
  await HANDLERS[m.type](m as never);
}
