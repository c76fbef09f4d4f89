/** Every example and template opens without a finding that matters, runs to its end, keeps its energy books, and its file is as it would be saved. */
import { readFileSync, readdirSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { assemble, build, check, runModel, writeModel } from '../src';
import { readModel } from '../src/model/file';
import { modes } from '../src/solve/modes';

const files = ['examples', 'examples/templates'].flatMap((d) => readdirSync(d).filter((f) => f.endsWith('.pivot.json')).map((f) => `${d}/${f}`));

describe.each(files)('%s', (file) => {
  const text = readFileSync(file, 'utf8');
  const model = readModel(text);
  it('is written as it is saved, and opens without errors or warnings but those of redundancy', () => {
    expect(writeModel(model)).toBe(text);
    expect(check(model).diagnoses.filter((d) => d.severity !== 'note' && d.code !== 'joint-redundant').map((d) => `${d.element?.name}: ${d.message}`)).toEqual([]);
  });
  it('runs to its end and closes its energy books', () => {
    const run = runModel({ ...model, gauges: [...model.gauges, { name: 'books', kind: 'energy', of: 'closing' }, { name: 'all', kind: 'energy', of: 'kinetic' }] }, { every: 0.01 });
    expect(run.end.status).toBe('done');
    const size = Math.max(...run.gauge('all'));
    expect(Math.max(...Array.from(run.gauge('books'), Math.abs))).toBeLessThan(1e-4 * size);
  });
});

it('hoist hook: across its pin, link and block swing as the one pendulum they are', () => {
  const { mechanism } = build({ ...readModel(readFileSync('examples/hoist-hook.pivot.json', 'utf8')), gauges: [] });
  const m = mechanism!;
  m.system.K.load(assemble(m).y);
  const found = modes(m).modes.map((x) => x.frequency);
  // about the cross: its drop below, every mass hangs straight down as drawn
  const cross = m.layout.point('Jib head');
  let inertia = 0, moment = 0;
  for (const name of ['Link', 'Block']) {
    const b = m.bodies.find((x) => x.name === name)!;
    const below = cross[2] - (b.origin[2] + b.centre[2]);
    inertia += b.inertia[0] + b.mass * below * below;
    moment += b.mass * below;
  }
  const expected = Math.sqrt((9.80665 * moment) / inertia) / (2 * Math.PI);
  expect(Math.min(...found.map((f) => Math.abs(f / expected - 1)))).toBeLessThan(1e-6);
});
