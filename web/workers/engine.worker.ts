/** The core in a worker: one handler for each request (`requests/`). */
import { showComma, usesComma } from '@vim-pivot/core/engine';
import { answered } from './answer';
import type { Request } from './protocol';
import { CHECKING } from './requests/checking';
import { FILES } from './requests/files';
import { MOVES } from './requests/moves';
import { type Handlers, post } from './requests/post';
import { POSTURES } from './requests/postures';
import type { Runs } from './requests/runs';
import { supplied } from './requests/supply';
import { VALUES } from './requests/values';

const HANDLERS: Handlers<Exclude<Request['type'], keyof Runs>> = { ...CHECKING, ...VALUES, ...POSTURES, ...MOVES, ...FILES };

// what it says of numbers is written as the page writes them
showComma(usesComma((self as { navigator?: Navigator }).navigator?.language ?? 'en'));

let bringing: Promise<Handlers<keyof Runs>> | undefined;
/** What has to do with runs is not needed for the first machine to stand. One promise for all, so that requests stay in their order. */
const runs = (): Promise<Handlers<keyof Runs>> =>
  (bringing ??= import('./requests/runs').then(
    (m) => m.RUNS,
    (error: unknown) => {
      bringing = undefined;
      throw error;
    },
  ));

/** It comes once that is done, and the solver with it. */
setTimeout(() => void Promise.all([runs(), import('@vim-pivot/core/simulate')]), 4000);

self.onmessage = ({ data }: MessageEvent<Request>): void => {
  void answered(
    String(data.type),
    () => handle(data),
    (diagnoses) => post({ type: 'refused', id: data.id, diagnoses }),
  );
};

async function handle(m: Request): Promise<void> {
  await supplied(m);
  const handlers: Partial<Handlers<Request['type']>> = Object.hasOwn(HANDLERS, m.type) ? HANDLERS : await runs();
  if (!Object.hasOwn(handlers, m.type)) throw new Error('there is no such request');
  await handlers[m.type]!(m as never);
}
