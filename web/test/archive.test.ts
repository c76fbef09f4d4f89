/** A project as one file: out and in again the same; damaged and hostile files end in words. */
import { strToU8, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { type Model, Refusal, complete, contentName, geometriesOf, recordLayout, build, runModel } from '@vim-pivot/core';
import sortingGate from '../../examples/sorting-gate.pivot.json';
import { type PackedRun, pack, unpack } from '@vim-pivot/core/project';

const model = complete(sortingGate as object);
const { width } = recordLayout(build(model).mechanism!);
const run = (number: number): PackedRun => ({
  number,
  made: 1,
  model,
  until: 4,
  reached: 4,
  records: 3,
  status: 'done',
  seconds: 0.2,
  diagnoses: [],
  data: Float64Array.from({ length: 3 * width }, (_, i) => Math.sin(i + number) * 1e3 ** (i % 3)),
});
const words = (bytes: Uint8Array) => {
  try {
    unpack(bytes);
  } catch (e) {
    if (e instanceof Refusal) return e.message;
    throw e;
  }
  return 'opened';
};

/** A tetrahedron, stored by the name of its content. */
const cube = (size: number) => {
  const positions = Float32Array.from([0, 0, 0, size, 0, 0, 0, size, 0, 0, 0, size]),
    indices = Uint32Array.from([0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3]);
  return { id: contentName(positions, indices), positions, indices };
};
const meshed = (geometry: string): Model =>
  complete({
    ...sortingGate,
    shapes: [...sortingGate.shapes, { name: 'Part', kind: 'mesh', body: 'Pusher', geometry }],
    kits: [{ name: 'Kit', content: { shapes: [{ name: 'Inner', kind: 'mesh', body: 'B', geometry }], bodies: [{ name: 'B' }] } }],
  });

describe('project files', () => {
  it('geometry goes by its content: two files that call different parts alike do not meet', () => {
    const named = 'a'.repeat(32),
      files = [cube(1), cube(2)].map((g) => pack({ model: meshed(named), runs: [], geometry: [{ ...g, id: named }] }));
    const [mine, theirs] = files.map((f) => unpack(f));
    expect(mine!.geometry[0]!.id).toBe(cube(1).id);
    expect(theirs!.geometry[0]!.id).toBe(cube(2).id);
    expect(mine!.geometry[0]!.id).not.toBe(theirs!.geometry[0]!.id);
    for (const p of [mine!, theirs!]) expect(geometriesOf(p.model)).toEqual([p.geometry[0]!.id]);
  });
  it('geometry that does not fit together is left out and told', () => {
    const back = unpack(
      pack({ model: meshed('b'.repeat(32)), runs: [], geometry: [{ ...cube(1), id: 'b'.repeat(32), indices: Uint32Array.of(0, 1, 9) }] }),
    );
    expect(back.geometry).toEqual([]);
    expect(back.left).toEqual(['geometry bbbbbbbb']);
  });
  it('an entry that would unpack to more than its kind can be is refused before it is unpacked', () => {
    const blanks = zipSync({ 'model.pivot.json': [new Uint8Array(70e6).fill(32), { level: 9 }] });
    expect(blanks.length).toBeLessThan(1e6);
    expect(words(blanks)).toMatch(/would unpack to 70 MB; at most 64 MB/);
    const large = zipSync({
      'model.pivot.json': strToU8(JSON.stringify(sortingGate)),
      'runs/1.json': [new Uint8Array(65e6), { level: 9 }],
    });
    expect(words(large)).toMatch(/runs\/1.json/);
  });
  it('come back the same, to the last bit of every state', () => {
    const back = unpack(pack({ model, runs: [run(1), run(2)], geometry: [cube(1)] }));
    expect(back.model).toEqual(model);
    expect(back.runs.map((r) => r.number)).toEqual([1, 2]);
    expect(Array.from(back.runs[1]!.data)).toEqual(Array.from(run(2).data));
    expect(back.geometry).toEqual([cube(1)]);
    expect(back.left).toEqual([]);
  });
  it('keep what records tell of the bodies, as far as it fits them', () => {
    const { layout, chunks, time } = runModel(model, { until: 0.01 }),
      kept = { ...run(1), records: time.length, data: Float64Array.from(chunks.flatMap((c) => [...c])) },
      told = layout.told!,
      back = (x: object) => unpack(pack({ model, runs: [{ ...kept, ...x }], geometry: [] }));
    expect(back({ told }).runs[0]).toMatchObject({ told, data: kept.data });
    expect(back({}).left).toEqual(['run 1']);
    expect(back({ told: { ...told, moves: told.moves.map(() => 1) } }).left).toEqual(['run 1']);
    expect(back({ told: { ...told, still: [] } }).left).toEqual(['run 1']);
  });
  it('keep what was said of a run, and nothing that is no such thing', () => {
    const said = { label: 'Before', note: 'Short arm', pinned: true, baseline: true, kit: 'Wing' } as const;
    expect(unpack(pack({ model, runs: [{ ...run(1), ...said }], geometry: [] })).runs[0]).toMatchObject(said);
    const odd = {
      ...run(1),
      label: { x: 1 },
      note: 7,
      pinned: 'yes',
      baseline: 1,
      __proto__: { evil: 1 },
      extra: 'x',
    } as unknown as PackedRun;
    const back = unpack(pack({ model, runs: [odd], geometry: [] })).runs[0]!;
    expect(Object.keys(back).sort()).toEqual([
      'data',
      'diagnoses',
      'made',
      'model',
      'number',
      'reached',
      'records',
      'seconds',
      'status',
      'until',
    ]);
  });
  it('refuse what is no zip, is cut short, or holds no model', () => {
    const whole = pack({ model, runs: [run(1)], geometry: [] });
    expect(words(strToU8('hello'))).toMatch(/not a whole project file/);
    expect(words(whole.subarray(0, whole.length - 40))).toMatch(/not a whole project file/);
    expect(words(zipSync({ 'other.txt': strToU8('x') }))).toMatch(/holds no model/);
    expect(words(zipSync({ 'model.pivot.json': strToU8('{"format":"vim-pivot-model","version":99}') }))).toMatch(/version 99/);
  });
  it('leave out names that are not expected, such as ways out of the archive, and runs that do not fit their model', () => {
    const text = pack({ model, runs: [], geometry: [] });
    void text;
    const bytes = zipSync({
      'model.pivot.json': strToU8(JSON.stringify(sortingGate)),
      '../../etc/passwd': strToU8('x'),
      'runs/1.json': strToU8(JSON.stringify({ ...run(1), data: undefined, records: 5 })),
      'runs/1.f64': new Uint8Array(8 * width),
    });
    const back = unpack(bytes);
    expect(back.runs).toEqual([]);
    expect(back.left.sort()).toEqual(['../../etc/passwd', 'run 1']);
  });
  it('refuse a claim of too much before anything is unpacked', () => {
    const bytes = zipSync({ 'model.pivot.json': strToU8(JSON.stringify(sortingGate)), 'runs/1.f64': new Uint8Array(16) }, { level: 0 });
    // the size in the directory is made 2 GB
    const view = new DataView(bytes.buffer, bytes.byteOffset);
    for (let i = 0; i + 46 < bytes.length; i++)
      if (view.getUint32(i, true) === 0x02014b50 && view.getUint16(i + 28, true) === 'runs/1.f64'.length) view.setUint32(i + 24, 2e9, true);
    expect(words(bytes)).toMatch(/would unpack to 2000 MB; at most 1500 MB/);
  });
});
