/** A run that is cancelled before it has begun in the worker ends at once: what it waits for lets the cancel in. */
import { expect, it } from 'vitest';
import { type Model, complete } from '@vim-pivot/core';
import sortingGate from '../../examples/sorting-gate.pivot.json';
import type { Reply } from '../workers/protocol';

it('a cancel that comes right behind its run is not lost', async () => {
  const posted: Reply[] = [];
  (globalThis as { self?: unknown }).self = { postMessage: (reply: Reply) => void posted.push(reply) };
  const { RUNNING } = await import('../workers/requests/running');
  const gate = complete(sortingGate as unknown as Partial<Model>),
    model = { ...gate, run: { ...gate.run, until: '1000 s' } };
  const going = RUNNING.run({ type: 'run', id: 1, run: 'long', model } as never);
  // while it waits for its analysis to be loaded
  void RUNNING.cancel({ type: 'cancel', id: 2, run: 'long' } as never);
  await going;
  const ended = posted.find((r) => r.type === 'ended');
  expect(ended).toMatchObject({ status: 'cancelled' });
  expect((ended as { t: number }).t).toBeLessThan(1);
});
