/** A machine that was made ready needs no code made when it is run; what cannot be made ready is left to the run. */
import { beforeAll, expect, it } from 'vitest';
import { complete } from '@vim-pivot/core';
import gateFile from '../../examples/sorting-gate.pivot.json';
import type { Reply, Request } from '../workers/protocol';

const model = { ...complete(gateFile as object), run: { until: '50 ms', every: '5 ms', accuracy: 1e-5 } };
type Unsent = Request extends infer R ? (R extends Request ? Omit<R, 'id'> : never) : never;
let end: (r: Reply) => void = () => undefined;
let modules = 0;

beforeAll(async () => {
  (globalThis as { self?: unknown }).self = {
    location: { href: 'http://localhost/engine/engine.js', origin: 'http://localhost' },
    postMessage: (reply: Reply) => ['done', 'ended', 'refused'].includes(reply.type) && end(reply),
  };
  const { Module } = WebAssembly;
  WebAssembly.Module = new Proxy(Module, {
    construct(target, args) {
      modules++;
      return new target(...(args as [BufferSource]));
    },
  });
  await import('../workers/engine.worker');
});
const ask = (request: Unsent): Promise<Reply> =>
  new Promise((resolve) => {
    end = resolve;
    (globalThis as unknown as { self: { onmessage(e: { data: unknown }): void } }).self.onmessage({ data: { ...request, id: 1 } });
  });

it('makes all its code before the run', async () => {
  expect((await ask({ type: 'ready', model })).type).toBe('done');
  expect(modules).toBeGreaterThan(10);
  modules = 0;
  // an edit of a number is no other machine
  const arm = model.parameters.map((p) => (p.name === 'arm' ? { ...p, value: '61 mm' } : p));
  expect(await ask({ type: 'run', run: 'one', model: { ...model, parameters: arm } })).toMatchObject({ type: 'ended', status: 'done' });
  expect(modules).toBe(0);
});
it('leaves what cannot be made ready to the run, which says why', async () => {
  const faulty = { ...model, joints: model.joints.map((j) => ({ ...j, at: ['Nowhere'] })) };
  expect((await ask({ type: 'ready', model: faulty as never })).type).toBe('done');
  expect((await ask({ type: 'run', run: 'two', model: faulty as never })).type).toBe('refused');
});
