/** Model files that somebody, or something, has damaged: each is refused in words or read, and what is read is checked and run without a crash. */
import { readFileSync, readdirSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Refusal, check, runModel, writeModel } from '../src';
import { readModel } from '../src/model/file';

type Json = null | boolean | number | string | Json[] | { [key: string]: Json };
const examples = readdirSync('examples')
  .filter((f) => f.endsWith('.pivot.json'))
  .map((f) => JSON.parse(readFileSync(`examples/${f}`, 'utf8')) as Json);

/** Every place of a document, as the way to it. */
function places(v: Json, way: (string | number)[] = []): (string | number)[][] {
  if (Array.isArray(v)) return [way, ...v.flatMap((x, i) => places(x, [...way, i]))];
  return typeof v === 'object' && v !== null ? [way, ...Object.entries(v).flatMap(([k, x]) => places(x, [...way, k]))] : [way];
}
/** The document with something else at a place; undefined takes it out. */
function put(v: Json, way: readonly (string | number)[], to: Json | undefined): Json {
  const [first, ...rest] = way;
  if (first === undefined) return to ?? null;
  const copy = (Array.isArray(v) ? [...v] : { ...(v as object) }) as Record<string | number, Json>;
  if (rest.length === 0 && to === undefined) {
    if (Array.isArray(copy)) copy.splice(first as number, 1);
    else return Object.fromEntries(Object.entries(copy).filter(([k]) => k !== first));
  } else copy[first] = rest.length === 0 ? to! : put(copy[first]!, rest, to);
  return copy as Json;
}

const NAMES = ['Frame', 'Crank', 'Rocker', 'Motor pin', 'arm', 'Gravity', 'Nobody', '', '<b>', 'Left/Arm', 'toString', '__proto__'];
const junk: fc.Arbitrary<Json | undefined> = fc.oneof(
  fc.constant(undefined),
  fc.constant(null),
  fc.boolean(),
  fc.double({ noNaN: true, noDefaultInfinity: true }),
  fc.constantFrom(0, -1, 1e-300, 1e300, 1e9),
  fc.constantFrom(...NAMES),
  fc.string({ maxLength: 12 }),
  fc.constantFrom(
    '1/0',
    '0/0 * 1 m',
    'arm',
    '2*arm',
    'arm + 1 kg',
    'sin(',
    '{Crank torque}',
    't',
    't*1 m/s',
    '1e999',
    '-5 mm',
    '((((1))))',
    'gate_speed',
    'toString',
    'constructor(1)',
    '__proto__',
  ),
  fc.constant<Json>([]),
  fc.constant<Json>({}),
  fc.array(fc.constantFrom<Json>(...NAMES, 0, '1 mm'), { maxLength: 4 }),
);
const damaged = (most: number) =>
  fc.record({ which: fc.nat(), hits: fc.array(fc.tuple(fc.nat(), junk), { minLength: 1, maxLength: most }) }).map(({ which, hits }) =>
    hits.reduce<Json>(
      (doc, [at, to]) => {
        const all = places(doc);
        return put(doc, all[at % all.length]!, to);
      },
      examples[which % examples.length]!,
    ),
  );

/** What is read of a text; undefined where it is refused. */
function read(text: string) {
  try {
    return readModel(text);
  } catch (e) {
    if (!(e instanceof Refusal)) throw e;
    for (const d of e.diagnoses) expect(d.message.length).toBeGreaterThan(5);
    return undefined;
  }
}

describe('a damaged model file', () => {
  it('is refused in words, or read; what is read is checked, and written as it was read', () => {
    let taken = 0;
    fc.assert(
      fc.property(damaged(3), (doc) => {
        const m = read(JSON.stringify(doc));
        if (!m) return;
        taken++;
        const { diagnoses } = check(m);
        for (const d of diagnoses) {
          expect(d.message).not.toMatch(/undefined|NaN|\[object/);
          expect(['error', 'warning', 'note']).toContain(d.severity);
        }
        expect(writeModel(readModel(writeModel(m)))).toBe(writeModel(m));
      }),
      { numRuns: 400 },
    );
    expect(taken).toBeGreaterThan(20);
  }, 120_000);
  it('that has no error is run, to an end of one kind or another', () => {
    let run = 0;
    fc.assert(
      fc.property(damaged(1), (doc) => {
        const m = read(JSON.stringify(doc));
        const report = m && check(m);
        if (!m || !report || report.diagnoses.some((d) => d.severity === 'error')) return;
        run++;
        const { end } = runModel({ ...m, limits: [] }, { until: 0.02, every: 0.01, accuracy: 1e-4 });
        expect(['done', 'failed', 'cancelled']).toContain(end.status);
        if (end.status === 'failed') expect(end.diagnoses.some((d) => d.severity === 'error')).toBe(true);
      }),
      { numRuns: 300 },
    );
    expect(run).toBeGreaterThan(10);
  }, 120_000);
  it('of which bytes are cut or changed is refused, or is a model', () => {
    const texts = examples.map((e) => JSON.stringify(e));
    fc.assert(
      fc.property(
        fc.nat(),
        fc.array(fc.tuple(fc.nat(), fc.constantFrom('', '{', '}', '"', ',', ':', '0', '\\', '\u0000', 'é', '[', ']')), {
          minLength: 1,
          maxLength: 4,
        }),
        (which, hits) => {
          const text = hits.reduce(
            (t, [at, c]) => t.slice(0, at % t.length) + c + t.slice((at % t.length) + 1),
            texts[which % texts.length]!,
          );
          read(text);
        },
      ),
      { numRuns: 400 },
    );
  });
});
