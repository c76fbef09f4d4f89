/** The document store without a screen: edits, undo, what typed text becomes; and the track a run is played from. */
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Model, RawElement } from '@vim-pivot/core';

const put = vi.hoisted(() => vi.fn(async () => undefined));
vi.mock('../state/kept/db', () => ({
  db: {
    transaction: (_m: unknown, _t: unknown, act: () => unknown) => act(),
    isOpen: () => true,
    projects: { put, get: async () => undefined },
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

const { edit, gesture, openKit, redo, select, undo, useDocument } = await import('../state/document/document');
const { addElement, freeName, liveText, rawAt, removeElement, renameElement, setNames, setNote, setText, toggleOff } =
  await import('../state/document/elements');
const { askedOf, give, takeKits } = await import('../state/adding/kits');
const { EXAMPLES } = await import('../state/adding/examples');
const { Track } = await import('../state/runs/track');
const { contentOf, kindsOf, kitContent } = await import('@vim-pivot/core');

const model = (): Model => useDocument.getState().model!;
const row = (family: 'parameters' | 'points' | 'bodies' | 'joints' | 'shapes', name: string) =>
  model()[family].find((e) => e.name === name)!;

beforeEach(() => {
  vi.useFakeTimers();
  put.mockClear();
  const whole = structuredClone(EXAMPLES[0]!) as Model;
  useDocument.setState({ id: 'p', model: whole, whole, inside: undefined, past: [], future: [], selected: undefined, live: new Map() });
});
afterEach(() => vi.useRealTimers());

describe('edits', () => {
  it('are one undo step each, both ways, and the model comes back exactly', async () => {
    const before = model();
    setText('parameters', 'arm', { field: 'value' }, '70 mm');
    setText('points', 'Motor axis', { field: 'at', part: 2 }, '120 mm');
    renameElement('parameters', 'arm', 'throw_arm');
    await vi.dynamicImportSettled();
    removeElement('joints', 'Rail slide');
    toggleOff('bodies', 'Pusher');
    setNote('bodies', 'Crank', 'Forged');
    setNames('joints', 'Motor pin', 'bodies', ['Frame', 'Rocker']);
    const after = model();
    expect(useDocument.getState().past.length).toBe(7);
    for (let i = 0; i < 7; i++) undo();
    expect(model()).toEqual(before);
    undo();
    expect(model()).toEqual(before);
    for (let i = 0; i < 7; i++) redo();
    expect(model()).toEqual(after);
    redo();
    expect(model()).toEqual(after);
  });

  it('that change nothing are no step; a new edit drops what was undone', () => {
    setText('parameters', 'arm', { field: 'value' }, '60 mm');
    edit('Nothing', () => undefined);
    expect(useDocument.getState().past.length).toBe(0);
    setText('parameters', 'arm', { field: 'value' }, '61 mm');
    undo();
    setText('parameters', 'arm', { field: 'value' }, '62 mm');
    expect(useDocument.getState().future.length).toBe(0);
  });

  it('are saved shortly after, once for a burst', async () => {
    for (const mm of [61, 62, 63]) setText('parameters', 'arm', { field: 'value' }, `${mm} mm`);
    expect(put).not.toHaveBeenCalled();
    await vi.advanceTimersByTimeAsync(250);
    expect(put).toHaveBeenCalledTimes(1);
    expect((put.mock.calls as unknown as [{ model: Model }][])[0]![0].model.parameters.find((p) => p.name === 'arm')!.value).toBe('63 mm');
  });
});

describe('typed text', () => {
  it.each([
    ['70', '70 mm'],
    ['2*span + 10 mm', '2*span + 10 mm'],
    ['-5', '-5 mm'],
    ['  80 mm ', '80 mm'],
    ['3*arm + 10 kg', '3*arm + 10 kg'],
  ])('“%s” over 60 mm is kept as %j', (typed, kept) => {
    setText('parameters', 'arm', { field: 'value' }, typed);
    expect(row('parameters', 'arm').value).toBe(kept);
  });

  it('without a unit takes the unit in which the place is shown, unless it is a plain number', () => {
    setText('bodies', 'Crank', { field: 'mass' }, '3');
    expect(row('bodies', 'Crank').mass).toBe('3 kg');
    setText('joints', 'Motor pin', { field: 'axis', part: 0 }, '1');
    expect(row('joints', 'Motor pin').axis).toEqual([1, -1, 0]);
    setText('points', 'Motor axis', { field: 'at', part: 0 }, '0');
    expect((row('points', 'Motor axis').at as unknown[])[0]).toBe(0);
    setText('shapes', 'Crank bar', { field: 'width' }, '');
    expect(row('shapes', 'Crank bar').width).toBeUndefined();
    expect(rawAt('shapes', row('shapes', 'Crank bar'), { field: 'width' })).toEqual({ value: '20 mm', isDefault: true });
  });

  it('refuses names that clash, are empty or carry markup', () => {
    expect(renameElement('bodies', 'Crank', 'Rocker')).toContain('already');
    expect(renameElement('bodies', 'Crank', 'Frame')).toContain('already');
    expect(renameElement('bodies', 'Crank', '  ')).toContain('needed');
    expect(renameElement('bodies', 'Crank', '<b>')).toContain('no quotes');
    expect(useDocument.getState().past.length).toBe(0);
  });
});

describe('adding', () => {
  it('gives a free name and selects what was added', () => {
    const pin = kindsOf('joints').find((k) => k.kind === 'revolute')!;
    addElement('joints', pin);
    addElement('joints', pin);
    expect(
      model()
        .joints.slice(-2)
        .map((j) => j.name),
    ).toEqual(['Revolute', 'Revolute 2']);
    expect(useDocument.getState().selected).toEqual({ family: 'joints', name: 'Revolute 2' });
    expect(freeName('parameters', 'arm', model())).toBe('arm_2');
    expect(freeName('bodies', 'Frame', model())).toBe('Frame 2');
  });

  it('live values are shown with unit, formulas of time with their range', () => {
    expect(liveText({ value: 0.19, dim: [1, 0, 0, 0, 0, 0], varies: false })).toBe('190 mm');
    expect(liveText({ value: 0, dim: [0, 0, -1, 0, 0, 1], varies: true, samples: [0, 3 * Math.PI] })).toBe('0 … 90 rpm');
  });
});

it('a value that is taken away goes; beside a formula at fault the last good one stays', async () => {
  const { liveAfter } = await import('../state/document/live-after');
  const v = (value: number) => ({ value, dim: [0, 0, 1, 0, 0, 0] as never, varies: false });
  const before = new Map([
    ['$.tiles[0].to', v(0.1)],
    ['$.points[0].at[0]', v(2)],
    ['$.run.until', v(4)],
  ]);
  const fault = { code: 'x', severity: 'error' as const, message: 'x', path: ['points', 0, 'at', 0] };
  expect([...liveAfter(before, { live: [['$.run.until', v(5)]], diagnoses: [fault] })]).toEqual([
    ['$.points[0].at[0]', v(2)],
    ['$.run.until', v(5)],
  ]);
  expect(liveAfter(before, { live: [], diagnoses: [] }).size).toBe(3);
});

describe('track', () => {
  const layout = { bodies: 1, extra: 0, rows: 0, angles: 0, memory: 0, width: 1 + 13 + 6 };
  const record = (t: number, x: number, angle: number) => {
    const r = new Float64Array(layout.width);
    r.set([t, x, 0, 0, Math.cos(angle / 2), 0, 0, Math.sin(angle / 2)]);
    return r;
  };
  const track = new Track(layout);
  for (let i = 0; i <= 3000; i++) track.add(record(i * 1e-3, i * 0.01, i * 0.004));

  it('gives the posture at any time, straight between records, with unit quaternions', () => {
    const out = new Float64Array(7);
    for (const t of [0, 0.0005, 1.2345, 2.9999, 3]) {
      track.at(t, out);
      expect(out[0]).toBeCloseTo(10 * t, 9);
      expect(Math.hypot(...out.subarray(3))).toBeCloseTo(1, 12);
      expect(Math.abs(out[3]! * Math.cos(2 * t) + out[6]! * Math.sin(2 * t))).toBeCloseTo(1, 6);
    }
  });

  it('stands at its ends outside of them, and takes the short way between opposite quaternions', () => {
    const out = new Float64Array(7);
    track.at(-1, out);
    expect(out[0]).toBe(0);
    track.at(99, out);
    expect(out[0]).toBeCloseTo(30, 9);
    expect(track.end).toBeCloseTo(3, 12);
    const flip = new Track(layout);
    flip.add(record(0, 0, 0));
    flip.add(record(1, 0, 2 * Math.PI + 0.2));
    flip.at(0.5, out);
    expect(Math.abs(out[3]!)).toBeCloseTo(Math.cos(0.05), 6);
  });
});

describe('a kit that is open', () => {
  const arm: RawElement = {
    name: 'Arm',
    content: kitContent('Arm', {
      parameters: [{ name: 'long', value: '1 m' }],
      bodies: [
        { name: 'Root', kind: 'mount' },
        { name: 'Bar', mass: '1 kg' },
      ],
    }),
  } as unknown as RawElement;
  beforeEach(() => {
    edit('kit', (m) => {
      m.kits.push(arm);
      m.instances.push(
        { name: 'A', kind: 'single', kit: 'Arm', values: 'long = 2 m', on: 'Root = Crank' },
        { name: 'B', kind: 'single', kit: 'Arm' },
      );
    });
    openKit('Arm');
  });
  const content = () => contentOf(useDocument.getState().whole!.kits[0]!);
  it('is what is worked on; edits reach it alone, and undo opens it again', () => {
    expect(model().bodies.map((b) => b.name)).toEqual(['Root', 'Bar']);
    setText('bodies', 'Bar', { field: 'mass' }, '3');
    expect(content().bodies[1]!.mass).toBe('3 kg');
    openKit(undefined);
    expect(model().bodies.length).toBe(EXAMPLES[0]!.bodies.length);
    undo();
    expect(useDocument.getState().inside).toBe('Arm');
    expect(content().bodies[1]!.mass).toBe('1 kg');
    redo();
    expect(content().bodies[1]!.mass).toBe('3 kg');
  });
  it('what instances give to it follows a new name, as one undo step', async () => {
    renameElement('parameters', 'long', 'reach');
    await vi.dynamicImportSettled();
    renameElement('bodies', 'Root', 'Foot');
    await vi.dynamicImportSettled();
    expect(useDocument.getState().whole!.instances[0]).toMatchObject({ values: 'reach = 2 m', on: 'Foot = Crank' });
    undo();
    undo();
    expect(useDocument.getState().whole!.instances[0]).toMatchObject({ values: 'long = 2 m', on: 'Root = Crank' });
    expect(content().parameters[0]!.name).toBe('long');
  });
  it('is renamed with its instances; a gesture in it is one step', async () => {
    renameElement('kits', 'Arm', 'Limb');
    await vi.dynamicImportSettled();
    expect(useDocument.getState().inside).toBe('Limb');
    expect(useDocument.getState().whole!.instances.map((i) => i.kit)).toEqual(['Limb', 'Limb']);
    const before = useDocument.getState().past.length,
      g = gesture();
    for (const mass of [4, 5, 6]) g.set('heavier', (m) => void (m.bodies[1]!.mass = mass));
    expect(content().bodies[1]!.mass).toBe(6);
    expect(useDocument.getState().past.length).toBe(before + 1);
    g.cancel();
    expect(content().bodies[1]!.mass).toBe('1 kg');
  });
  it('values are given one by one, and what an instance brought stands for it', () => {
    openKit(undefined);
    give('B', 'values', 'long', '3 m');
    give('A', 'values', 'long', '');
    expect(model().instances.map((i) => i.values)).toEqual([undefined, 'long = 3 m']);
    expect(askedOf(model(), model().instances[0]!)).toEqual({ parameters: [{ name: 'long', usual: '1 m' }], mounts: ['Root'] });
    select({ family: 'bodies', name: 'B/Bar' });
    expect(useDocument.getState().selected).toEqual({ family: 'instances', name: 'B' });
  });
  it('a kit taken in under a name that is taken gets another, also where other kits need it', async () => {
    openKit(undefined);
    const other = { name: 'Arm', content: kitContent('Arm', { bodies: [{ name: 'Other' }] }) } as unknown as RawElement;
    const pair = {
      name: 'Pair',
      content: kitContent('Pair', { instances: [{ name: 'One', kind: 'single', kit: 'Arm' }] }),
    } as unknown as RawElement;
    await takeKits([pair, other]);
    expect(model().kits.map((k) => k.name)).toEqual(['Arm', 'Pair', 'Arm 2']);
    expect(contentOf(model().kits[1]!).instances[0]!.kit).toBe('Arm 2');
    await takeKits([pair, { ...other, content: contentOf(model().kits[2]!) } as unknown as RawElement]);
    undo();
    expect(model().kits).toHaveLength(3);
  });
});
