/** Several states of one machine at once: runs that are advanced by turns, readings between; each in a workspace of its own, by the same code. */
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { type Mechanism, type Model, Readings, Refusal, build, check, recordLayout } from '../src';
import { analyse } from '../src/solve/run';
import { readModel } from '../src/model/file';
import type { RunEvent, RunOptions } from '../src/solve/run-events';
import { COMPILER } from '../src/system/compiler';
import { doublePendulum } from './models';

const example = (name: string) => readModel(readFileSync(`examples/${name}.pivot.json`, 'utf8'));
const OPTIONS: Partial<RunOptions> = { until: 0.6, every: 0.01 };
const started = (m: Mechanism, more: object = {}) => analyse(m, { ...m.resolution.run, ...OPTIONS, ...more });
const numbers = (e: RunEvent) => (e.type === 'records' ? Array.from(e.data) : []);
const whole = (m: Mechanism, more: object = {}) => [...started(m, more)].flatMap(numbers);

describe.each<[string, () => Model]>([
  ['the sorting gate', () => example('sorting-gate')],
  ['the wing fold, with curves and what joints remember', () => example('wing-fold')],
  ['the slot cam', () => example('slot-cam')],
  ['two bars in space', doublePendulum],
])('%s', (_, model) => {
  const made = () => check(model()).built.mechanism!;
  it('two runs by turns give what each gives alone, at other accuracies and in other analyses as well', () => {
    const m = made(),
      ways = [{}, { accuracy: 1e-4 }, { planar: 'off' }, ...(m.drives.length > 0 ? [{ analysis: 'kinematic' }] : [])],
      alone = ways.map((way) => whole(made(), way)),
      runs = ways.map((way) => started(m, way)),
      out = ways.map((): number[] => []);
    for (let going = true; going;) {
      going = false;
      runs.forEach((run, i) => {
        const { value, done } = run.next();
        if (done) return;
        going = true;
        out[i]!.push(...numbers(value));
      });
    }
    out.forEach((list, i) => {
      expect(list.length).toBeGreaterThan(100);
      expect(list).toEqual(alone[i]);
    });
    // and it is free again
    expect(m.taken).toBe(false);
    // what was run before leaves nothing behind: the code may know of rows that have let go, so that last digits differ
    whole(m).forEach((x, i) => expect(Math.abs(x - alone[0]![i]!)).toBeLessThan(1e-12 * (1 + Math.abs(x))));
  });
  it('while one is at work, readings of it are refused and taken in another workspace', () => {
    const m = made(),
      records = whole(made(), { planar: 'off' }),
      layout = recordLayout(m),
      run = started(m),
      out: number[] = [],
      read = (of: Mechanism) => new Readings(of, layout).read([of.channel(of.gauges[0]!)], [Float64Array.from(records)])[0]!;
    for (let i = 0; ; i++) {
      const { value, done } = run.next();
      if (done) break;
      out.push(...numbers(value));
      if (i % 7 > 0) continue;
      expect(() => read(m)).toThrow(Refusal);
      expect(read(m.apart()).length).toBe(61);
    }
    expect(out).toEqual(whole(made()));
    expect(read(m)).toEqual(read(m.apart()));
  });
});

it('several workspaces share their code', () => {
  const m = build(doublePendulum()).mechanism!,
    code = (of: Mechanism) => {
      of.system.compile(COMPILER);
      of.system.accelerate(0);
      return (of.system as unknown as { kernels: object }).kernels;
    };
  expect(code(m.apart())).toBe(code(m));
});
