/** Which edits part a run from its model: all that take part in the motion, none that only read or show it. */
import { readFileSync, readdirSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { FAMILIES, type Model, type RawElement, onlyReads } from '@vim-pivot/core';
import { checkModel } from '@vim-pivot/core/file';
import { changedSince } from '../state/document/changed';

const examples = readdirSync('examples')
  .filter((f) => f.endsWith('.pivot.json'))
  .map((f) => [f, checkModel(JSON.parse(readFileSync(`examples/${f}`, 'utf8')))] as const);

describe.each(examples)('%s', (_file, model) => {
  it('is unchanged as read once more', () => expect(changedSince(model, structuredClone(model))).toEqual([]));

  it.each(FAMILIES.map((f) => [f.label, f] as const))('%s: an element taken out', (label, { key }) => {
    const last = model[key].at(-1);
    if (!last) return;
    const now: Model = { ...model, [key]: model[key].slice(0, -1) };
    const asked =
      (key === 'gauges' &&
        JSON.stringify({ ...model, ...Object.fromEntries(FAMILIES.filter((f) => onlyReads(f.key)).map((f) => [f.key, []])) }).includes(
          last.name,
        )) ||
      (key === 'limits' && last.then === 'stop');
    expect(changedSince(model, now)).toEqual(onlyReads(key) && !asked ? [] : [label]);
  });

  it('is told of run settings, and not of notes and colours', () => {
    expect(changedSince(model, { ...model, run: { ...model.run, until: '77 s' } })).toEqual(['Run settings']);
    expect(changedSince(model, { ...model, bodies: model.bodies.map((b) => ({ ...b, note: 'x', colour: '#123456' })) })).toEqual([]);
    expect(changedSince(model, { ...model, bodies: model.bodies.map((b) => ({ ...b, mass: '7 kg' })) })).toEqual(
      model.bodies.length > 0 ? ['Bodies'] : [],
    );
  });
});

it('counts a gauge that a load reads, and a limit that stops, and no other', () => {
  const [, model] = examples[0]!;
  const gauge = { name: 'Distance kept', kind: 'formula', value: 't' } as unknown as RawElement,
    other = { ...gauge, value: '2*t' };
  const reads = { name: 'Control', kind: 'force', value: '3 N * {Distance kept}' } as unknown as RawElement;
  const of = (m: Model, extra: Partial<Model>): Model => ({ ...m, ...extra });
  expect(changedSince(of(model, { gauges: [gauge] }), of(model, { gauges: [other] }))).toEqual([]);
  const loads = [...model.loads, reads];
  expect(changedSince(of(model, { gauges: [gauge], loads }), of(model, { gauges: [other], loads }))).toEqual(['Gauges']);
  const limit = { name: 'L', gauge: 'x', most: 1, then: 'tell' } as unknown as RawElement;
  expect(changedSince(of(model, { limits: [limit] }), of(model, { limits: [{ ...limit, most: 2 }] }))).toEqual([]);
  expect(changedSince(of(model, { limits: [limit] }), of(model, { limits: [{ ...limit, then: 'stop' }] }))).toEqual(['Limits']);
});
