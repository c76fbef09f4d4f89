/** Every request to the engine's worker ends in a result or in words, wherever it fails. */
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { type RecordLayout, complete } from '@vim-pivot/core';
import gateFile from '../../examples/sorting-gate.pivot.json';
import type { Reply, Request } from '../workers/protocol';

const model = { ...complete(gateFile as object), run: { until: '20 ms', every: '5 ms', accuracy: 1e-5 } };
type Unsent = Request extends infer R ? (R extends Request ? Omit<R, 'id'> : never) : never;

/** What the worker's page would see. */
const replies = new Map<number, { all: Reply[]; end: (r: Reply) => void }>();
let next = 1;
const LAST: ReadonlySet<Reply['type']> = new Set([
  'refused',
  'ended',
  'parsed',
  'declarations',
  'checked',
  'done',
  'explored',
  'analyses',
  'words',
  'evaluated',
  'characteristic',
  'mass',
  'features',
  'layout',
  'packed',
  'unpacked',
  'made',
  'kits',
  'read-urdf',
  'write-urdf',
  'read',
  'body-loads',
  'acting',
  'passings',
  'spectrum',
  'identify',
  'columns',
  'pulled',
  'kept',
]);

beforeAll(async () => {
  (globalThis as { self?: unknown }).self = {
    location: { href: 'http://localhost/engine/engine.js', origin: 'http://localhost' },
    postMessage(reply: Reply) {
      const asked = replies.get(reply.id);
      asked?.all.push(reply);
      if (LAST.has(reply.type)) asked?.end(reply);
    },
  };
  await import('../workers/engine.worker');
});

function ask(request: Unsent): Promise<Reply> {
  const id = next++;
  return new Promise((resolve) => {
    replies.set(id, { all: [], end: resolve });
    (globalThis as unknown as { self: { onmessage(e: { data: unknown }): void } }).self.onmessage({ data: { ...request, id } });
  });
}

/** The same content, which fails when it is looked at for the nth time. */
function failing<T extends object>(content: T, after: number, error: () => unknown): T {
  let left = after;
  const wrap = <O extends object>(o: O): O =>
    new Proxy(o, {
      get(target, key) {
        if (--left < 0) throw error();
        const value: unknown = Reflect.get(target, key);
        return typeof value === 'object' && value !== null ? wrap(value) : value;
      },
    });
  return wrap(content);
}

const kinds = [
  'check',
  'run',
  'layout',
  'analyses',
  'explore',
  'evaluate',
  'characteristic',
  'mass',
  'write-urdf',
  'grab',
  'pack',
] as const;
const request = (type: (typeof kinds)[number], m: typeof model): Unsent =>
  ({
    type,
    model: m,
    run: 'r',
    what: 'equilibria',
    given: { settings: {} },
    path: '$.parameters[0].value',
    family: type === 'mass' ? 'bodies' : 'loads',
    name: 'Crank',
    packed: { model: m, runs: [], geometry: [] },
  }) as unknown as Unsent;

describe('the engine’s worker', () => {
  // the sorting gate has loops, which URDF cannot hold
  it.each(kinds.filter((k) => k !== 'write-urdf'))('%s: ends in a result as it is', async (type) => {
    expect((await ask(request(type, model))).type).not.toBe('refused');
  });
  it('answers in words wherever it fails, and works on afterwards (random places)', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom(...kinds),
        fc.nat({ max: 6000 }),
        fc.constantFrom<() => unknown>(
          () => new TypeError('x is undefined'),
          () => new RangeError('Invalid typed array length: -8'),
          () => 'thrown as a text',
        ),
        async (type, after, error) => {
          const reply = await ask(request(type, failing(model, after, error)));
          if (reply.type !== 'refused') return;
          expect(reply.diagnoses.length).toBeGreaterThan(0);
          for (const d of reply.diagnoses) expect(d.message.length).toBeGreaterThan(10);
          expect((await ask(request('layout', model))).type).toBe('layout');
        },
      ),
      { numRuns: 150 },
    );
  });
  it('tells what passed through what in a run that was made', async () => {
    const inTheWay = complete({
      ...gateFile,
      points: gateFile.points.map((p) => (p.name.startsWith('Motor stand') ? { ...p, at: [0, 0, p.at[2]] } : p)),
      run: { ...gateFile.run, until: '1 s' },
    });
    expect((await ask({ ...request('run', model), model: inTheWay } as Unsent)).type).toBe('ended');
    const reply = await ask({ type: 'passings', run: 'r' });
    expect(reply.type).toBe('passings');
    if (reply.type === 'passings') expect(reply.diagnoses.map((d) => d.code)).toEqual(['passed-through']);
    expect((await ask({ type: 'passings', run: 'gone' })).type).toBe('refused');
  });
  it('answers what it does not know, and runs that are not there', async () => {
    expect((await ask({ type: 'no-such-thing' } as unknown as Unsent)).type).toBe('refused');
    expect((await ask({ type: 'read', run: 'gone', now: model, gauges: [], from: 0 } as unknown as Unsent)).type).toBe('refused');
    expect((await ask({ type: 'restore', run: 'old', model, layout: { width: 7 } as RecordLayout, records: [3] })).type).toBe('refused');
  });
});
