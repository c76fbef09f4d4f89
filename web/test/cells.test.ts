/** Blocks of cells to and from a spreadsheet, rows pasted, values filled down: each one undo step; and any edits at all come undone. */
import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Model } from '@vim-pivot/core';

vi.mock('../state/kept/db', () => ({
  db: {
    transaction: (_m: unknown, _t: unknown, act: () => unknown) => act(),
    projects: { put: async () => undefined, update: async () => 0 },
    revisions: { add: async () => 1, where: () => ({ equals: () => ({ primaryKeys: async () => [] }) }) },
  },
}));
vi.mock('../workers/client', () => ({
  checkModel: async () => ({ diagnoses: [], live: [], gauges: [] }),
  fetchDeclarations: async () => [],
  parseModel: async () => undefined,
  runWorker: () => undefined,
  modelWorker: () => undefined,
}));

const { edit, redo, select, undo, useDocument } = await import('../state/document/document');
const { addElement, familyColumns, removeElement, renameElement, setNote, setText, toggleOff } = await import('../state/document/elements');
const { fillDown, pasteBlock, pasteRows } = await import('../state/document/cells');
const { EXAMPLES } = await import('../state/adding/examples');
const { FAMILIES, kindsOf } = await import('@vim-pivot/core');

const model = (): Model => useDocument.getState().model!;
const past = () => useDocument.getState().past.length;
const columns = () => familyColumns('points', model().points);

beforeEach(() => {
  vi.useFakeTimers();
  const whole = structuredClone(EXAMPLES[0]!) as Model;
  useDocument.setState({
    id: 'p',
    model: whole,
    whole,
    inside: undefined,
    past: [],
    future: [],
    selected: undefined,
    picked: [],
    live: new Map(),
  });
});
afterEach(() => vi.useRealTimers());

describe('a block of cells', () => {
  it('is written to the right and downwards; what reaches past the last row or column is left out; one undo step', () => {
    const before = model(),
      rows = before.points.map((p) => p.name),
      at = columns().filter((c) => c.field === 'at');
    pasteBlock('points', rows, columns(), rows[rows.length - 2]!, at[1]!.key, '1 mm\t2 mm\t3 mm\n4 mm\t5 mm\t6 mm\n7 mm\t8 mm\t9 mm');
    const [a, b] = model()
      .points.slice(-2)
      .map((p) => p.at as unknown[]);
    expect([a![1], a![2], b![1], b![2]]).toEqual(['1 mm', '2 mm', '4 mm', '5 mm']);
    expect(model().points.slice(0, -2)).toEqual(before.points.slice(0, -2));
    expect(past()).toBe(1);
    undo();
    expect(model()).toEqual(before);
  });
  it('plain numbers take the unit in which the place is shown, as when they are typed', () => {
    const rows = model().points.map((p) => p.name),
      at = columns().filter((c) => c.field === 'at');
    pasteBlock('points', rows, columns(), rows[0]!, at[0]!.key, '12\t0\t-3.5\r\n');
    expect(model().points[0]!.at).toEqual(['12 mm', 0, '-3.5 mm']);
  });
});

describe('rows', () => {
  it('with their header become elements, with names of their own where they are taken', () => {
    const names = model().points.map((p) => p.name),
      at = columns()
        .filter((c) => c.field === 'at')
        .map((c) => c.label);
    expect(pasteRows('points', `Name\t${at.join('\t')}\nNew pin\t10 mm\t0\t2*arm\n${names[0]}\t1 m\t\t\n`, columns())).toBe(2);
    const [one, two] = model().points.slice(-2);
    expect(one).toMatchObject({ name: 'New pin', at: ['10 mm', 0, '2*arm'] });
    expect(two!.name).not.toBe(names[0]);
    expect(two!.at).toEqual(['1 m', 0, 0]);
    expect(past()).toBe(1);
    expect(new Set(model().points.map((p) => p.name)).size).toBe(model().points.length);
  });
  it('without one, or with a column there is none of, are refused in words and change nothing', () => {
    const before = model();
    for (const text of ['10\t20', '', 'Name', 'Name\tColour of hope\nA\tgreen'])
      expect(pasteRows('points', text, columns())).toMatch(/header line|no column/);
    expect(model()).toBe(before);
    expect(past()).toBe(0);
  });
});

describe('fill down', () => {
  it('goes into the next row, or into all that are picked with it', () => {
    const rows = model().points.map((p) => p.name),
      z = columns().filter((c) => c.field === 'at')[2]!;
    setText('points', rows[1]!, z, '77 mm');
    fillDown('points', rows, rows[1]!, z);
    expect((model().points[2]!.at as unknown[])[2]).toBe('77 mm');
    useDocument.setState({ picked: [1, 4, 5].map((i) => ({ family: 'points' as const, name: rows[i]! })) });
    fillDown('points', rows, rows[1]!, z);
    expect([3, 4, 5].map((i) => (model().points[i]!.at as unknown[])[2] === '77 mm')).toEqual([false, true, true]);
  });
  it('of a column that another kind has not, leaves that alone', () => {
    const shapes = model().shapes.map((s) => s.name),
      bore = familyColumns('shapes', model().shapes).find((c) => c.field === 'width')!,
      others = model().shapes.filter((s) => s.kind !== 'link');
    useDocument.setState({ picked: shapes.map((name) => ({ family: 'shapes' as const, name })) });
    fillDown('shapes', shapes, model().shapes.find((s) => s.kind === 'link')!.name, bore);
    expect(model().shapes.filter((s) => s.kind !== 'link')).toEqual(
      others.map((s) =>
        s.kind && 'width' in kindsOf('shapes').find((k) => k.kind === s.kind)!.fields ? { ...s, width: expect.anything() } : s,
      ),
    );
  });
});

it('edits of any kind, in any order, come undone to the last detail, and come again', () => {
  const families = FAMILIES.map((f) => f.key).filter((f) => kindsOf(f).length > 0 && f !== 'kits');
  const step = fc.record({
    what: fc.nat({ max: 7 }),
    family: fc.constantFrom(...families),
    which: fc.nat(),
    to: fc.nat(),
    text: fc.constantFrom('12 mm', '', 'arm', '3', 'Frame', '2*arm + 1 mm', 'x'),
  });
  fc.assert(
    fc.property(fc.array(step, { minLength: 1, maxLength: 25 }), (steps) => {
      const whole = structuredClone(EXAMPLES[0]!) as Model;
      useDocument.setState({ id: 'p', model: whole, whole, past: [], future: [], selected: undefined, picked: [] });
      const before = JSON.stringify(whole);
      for (const { what, family, which, to, text } of steps) {
        const list = model()[family],
          e = list[which % Math.max(1, list.length)],
          kinds = kindsOf(family);
        if (what === 0) addElement(family, kinds[to % kinds.length]!);
        else if (!e) continue;
        else if (what === 1) removeElement(family, e.name);
        else if (what === 2) renameElement(family, e.name, `Name ${to}`);
        else if (what === 3) toggleOff(family, e.name);
        else if (what === 4) setNote(family, e.name, text);
        else if (what === 5) select({ family, name: e.name });
        else if (what === 6) edit('Run on', (m) => void (m.run.until = `${1 + (to % 9)} s`));
        else {
          const all = familyColumns(family, [e]),
            c = all[to % Math.max(1, all.length)];
          if (c) setText(family, e.name, c, text);
        }
      }
      const after = JSON.stringify(model()),
        n = past();
      for (let i = 0; i < n; i++) undo();
      expect(JSON.stringify(model())).toBe(before);
      for (let i = 0; i < n; i++) redo();
      expect(JSON.stringify(model())).toBe(after);
    }),
    { numRuns: 150 },
  );
});
