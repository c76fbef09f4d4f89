/** Two windows, one store: random edits at random times, messages that are late or lost; nothing is lost and all windows end alike. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { merge } from '../state/kept/merge';
import { type Kept, Sync } from '../state/kept/sync';

interface Doc {
  name: string;
  points: { name: string; at: number; note?: string }[];
}

describe('merging', () => {
  const base = {
    name: 'A',
    points: [
      { name: 'P', at: 1 },
      { name: 'Q', at: 2 },
      { name: 'R', at: 3 },
    ],
  };
  it('takes changes of both, field by field, with what is new, gone and moved', () => {
    const ours = {
      name: 'A',
      points: [
        { name: 'P', at: 9 },
        { name: 'Q', at: 2, note: 'x' },
        { name: 'N', at: 5 },
      ],
    };
    const theirs = {
      name: 'B',
      points: [
        { name: 'P', at: 1, note: 'y' },
        { name: 'M', at: 4 },
        { name: 'Q', at: 2 },
        { name: 'R', at: 3 },
      ],
    };
    expect(merge(base, ours, theirs)).toEqual({
      clash: false,
      merged: {
        name: 'B',
        points: [
          { name: 'P', at: 9, note: 'y' },
          { name: 'M', at: 4 },
          { name: 'Q', at: 2, note: 'x' },
          { name: 'N', at: 5 },
        ],
      },
    });
  });
  it('says where both changed the same', () => {
    expect(merge(base, { ...base, name: 'X' }, { ...base, name: 'Y' })).toEqual({ clash: true, merged: { ...base, name: 'X' } });
    expect(merge(base, { ...base, points: [] }, { ...base, points: [{ name: 'P', at: 7 }] }).clash).toBe(true);
    expect(merge(base, { ...base, name: 'X' }, { ...base, name: 'X' }).clash).toBe(false);
  });
  const doc = fc.record({
    name: fc.constantFrom('A', 'B', 'C'),
    points: fc.uniqueArray(fc.record({ name: fc.constantFrom('P', 'Q', 'R', 'S'), at: fc.nat({ max: 3 }) }), { selector: (p) => p.name }),
  });
  it('with one side unchanged is the other; with both alike is that', () => {
    fc.assert(
      fc.property(doc, doc, (a, b) => {
        expect(merge(a, b, a)).toEqual({ merged: b, clash: false });
        expect(merge(a, a, b)).toEqual({ merged: b, clash: false });
        expect(merge(a, b, structuredClone(b)).clash).toBe(false);
      }),
    );
  });
});

/** A store in which every access takes a while and transactions stand in line. */
class Store {
  kept: Kept<Doc>;
  lost: Doc[] = [];
  private line: Promise<unknown> = Promise.resolve();
  constructor(
    model: Doc,
    private readonly pause: () => Promise<void>,
    private readonly fails: () => boolean,
  ) {
    this.kept = { model, revision: 1 };
  }
  async read(): Promise<Kept<Doc>> {
    await this.pause();
    const now = structuredClone(this.kept);
    await this.pause();
    return now;
  }
  update(change: (now: Kept<Doc>) => Kept<Doc> & { lost?: Doc }): Promise<Kept<Doc>> {
    const mine = this.line.then(async () => {
      await this.pause();
      if (this.fails()) throw new DOMException('full', 'QuotaExceededError');
      const { lost, ...next } = change(structuredClone(this.kept));
      if (lost) this.lost.push(lost);
      this.kept = structuredClone(next);
      await this.pause();
      return next;
    });
    this.line = mine.catch(() => undefined);
    return mine;
  }
}

describe('two windows', () => {
  const move = fc.record({
    window: fc.constantFrom(0, 1),
    wait: fc.nat({ max: 6 }),
    what: fc.constantFrom('add', 'change', 'field', 'remove', 'save'),
    point: fc.nat({ max: 4 }),
  });
  it('end with the same document as the store, and every edit is in it or in what was kept beside it', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(move, { minLength: 1, maxLength: 25 }),
        fc.infiniteStream(fc.nat({ max: 3 })),
        fc.infiniteStream(fc.boolean()),
        async (moves, pauses, failures) => {
          const pause = async () => {
            for (let n = pauses.next().value as number; n > 0; n--) await Promise.resolve();
          };
          let unruly = true;
          const first: Doc = {
            name: 'A',
            points: [
              { name: 'P0', at: 0 },
              { name: 'P1', at: 0 },
              { name: 'P2', at: 0 },
            ],
          };
          const store = new Store(first, pause, () => unruly && (failures.next().value as boolean) && (failures.next().value as boolean));
          const edits: { point: string; at?: number; note?: string }[] = [];
          const taken: Doc[] = [];
          const windows = [0, 1].map((w) => {
            const desk = {
              doc: structuredClone(first),
              now: () => desk.doc,
              take: (m: Doc) => {
                taken.push(desk.doc);
                desk.doc = structuredClone(m);
              },
              tell: (revision: number) =>
                void pause()
                  .then(() => windows[1 - w]!.sync.heard(revision))
                  .catch(() => undefined),
            };
            return { desk, sync: new Sync<Doc>(store, desk, desk.doc, 1) };
          });
          let n = 0;
          for (const m of moves) {
            for (let k = 0; k < m.wait; k++) await Promise.resolve();
            const { desk, sync } = windows[m.window]!,
              name = `P${m.point}`,
              { points } = desk.doc;
            const put = (list: Doc['points']) => (desk.doc = { ...desk.doc, points: list });
            n++;
            if (m.what === 'add') {
              put([...points, { name: `N${n}`, at: n }]);
              edits.push({ point: `N${n}`, at: n });
            } else if (m.what === 'change' && points.some((p) => p.name === name)) {
              put(points.map((p) => (p.name === name ? { ...p, at: n } : p)));
              edits.push({ point: name, at: n });
            } else if (m.what === 'field' && points.some((p) => p.name === name)) {
              put(points.map((p) => (p.name === name ? { ...p, note: String(n) } : p)));
              edits.push({ point: name, note: String(n) });
            } else if (m.what === 'remove') put(points.filter((p) => p.name !== name));
            void sync.save().catch(() => undefined);
          }
          // the store has room again, and each window saves once more and hears of the last save
          unruly = false;
          for (let round = 0; round < 3; round++)
            for (const w of windows) {
              await w.sync.save();
              await w.sync.heard(Infinity);
            }
          expect(windows[0]!.desk.doc).toEqual(store.kept.model);
          expect(windows[1]!.desk.doc).toEqual(store.kept.model);
          expect(windows.every((w) => w.sync.saved)).toBe(true);
          // an edit that is not there was written over by a later one, was removed, or stands in what was kept beside
          const states = [store.kept.model, ...store.lost, ...taken];
          for (const e of edits) {
            const later = edits
              .slice(edits.indexOf(e) + 1)
              .some((x) => x.point === e.point && (e.at === undefined) === (x.at === undefined));
            const removed = moves.some((m) => m.what === 'remove' && `P${m.point}` === e.point);
            const there = states.some((s) =>
              s.points.some((p) => p.name === e.point && (e.at === undefined ? p.note === e.note : p.at === e.at)),
            );
            expect(there || later || removed, JSON.stringify(e)).toBe(true);
          }
        },
      ),
      { numRuns: 400 },
    );
  });
  it('what both changed differently is handed on to be kept', async () => {
    const first: Doc = { name: 'A', points: [] },
      store = new Store(
        first,
        () => Promise.resolve(),
        () => false,
      );
    const desk = (doc: Doc) => {
      const d = { doc, now: () => d.doc, take: (m: Doc) => void (d.doc = m), tell: () => undefined };
      return d;
    };
    const [a, b] = [desk({ ...first, name: 'one' }), desk({ ...first, name: 'two' })];
    await new Sync<Doc>(store, a, first, 1).save();
    const late = new Sync<Doc>(store, b, first, 1);
    await late.save();
    expect(store.kept.model.name).toBe('two');
    expect(store.lost.map((l) => l.name)).toEqual(['one']);
  });
});
