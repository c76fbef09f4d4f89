/** Every example and template opens without a finding that matters, runs to its end, keeps its energy books, and its file is as it would be saved. */
import { readFileSync, readdirSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { assemble, build, check, runModel, writeModel } from '../src';
import { readModel } from '../src/model/file';
import { modes } from '../src/solve/modes';

const files = ['examples', 'examples/templates'].flatMap((d) =>
  readdirSync(d)
    .filter((f) => f.endsWith('.pivot.json'))
    .map((f) => `${d}/${f}`),
);

describe.each(files)('%s', (file) => {
  const text = readFileSync(file, 'utf8');
  const model = readModel(text);
  it('is written as it is saved, and opens without errors or warnings but those of redundancy', () => {
    expect(writeModel(model)).toBe(text);
    expect(
      check(model)
        .diagnoses.filter((d) => d.severity !== 'note' && d.code !== 'joint-redundant')
        .map((d) => `${d.element?.name}: ${d.message}`),
    ).toEqual([]);
  });
  it('runs to its end and closes its energy books', () => {
    const run = runModel(
      {
        ...model,
        gauges: [...model.gauges, { name: 'books', kind: 'energy', of: 'closing' }, { name: 'all', kind: 'energy', of: 'kinetic' }],
      },
      { every: 0.01 },
    );
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
  let inertia = 0,
    moment = 0;
  for (const name of ['Link', 'Block']) {
    const b = m.bodies.find((x) => x.name === name)!;
    const below = cross[2] - (b.origin[2] + b.centre[2]);
    inertia += b.inertia[0] + b.mass * below * below;
    moment += b.mass * below;
  }
  const expected = Math.sqrt((9.80665 * moment) / inertia) / (2 * Math.PI);
  expect(Math.min(...found.map((f) => Math.abs(f / expected - 1)))).toBeLessThan(1e-6);
});

it('wing fold: the mirrored wing carries what the other carries, and both follow one parameter', () => {
  const model = readModel(readFileSync('examples/wing-fold.pivot.json', 'utf8'));
  for (const section of ['1.2 m', '1 m']) {
    const run = runModel(
      { ...model, parameters: model.parameters.map((p) => (p.name === 'section' ? { ...p, value: section } : p)) },
      { every: 0.05 },
    );
    for (const g of ['Fold torque', 'Tip height', 'Guide load', 'Link load', 'Outer/Hinge load']) {
      const [left, right] = [run.gauge(`Left/${g}`), run.gauge(`Right/Left/${g}`)];
      const size = Math.max(...Array.from(left, Math.abs));
      left.forEach((x, i) => expect(Math.abs(x - right[i]!)).toBeLessThan(1e-5 * size));
    }
    // the guide is the way of the tip while the sections stay parallel: root + 3 L cos, L sin of the fold
    const tip = run.gauge('Left/Tip height'),
      long = parseFloat(section);
    expect(tip[tip.length - 1]).toBeCloseTo(1.4 + long * Math.sin((68 * Math.PI) / 180), 3);
  }
});

it('shaker head: the mirrored rotor turns against the other, so that the head shakes up and down and neither sideways nor over', () => {
  const model = readModel(readFileSync('examples/shaker-head.pivot.json', 'utf8'));
  const read = (m: typeof model) => {
    const run = runModel(
      {
        ...m,
        gauges: [
          ...m.gauges,
          { name: 'aside', kind: 'point', body: 'Housing', at: 'Middle', component: 'x' },
          { name: 'over', kind: 'body', body: 'Housing', of: 'angle', component: 'y' },
        ],
      },
      { until: 2, every: 0.005 },
    );
    return (g: string) => Math.max(...run.gauge(g)) - Math.min(...run.gauge(g));
  };
  const both = read(model),
    shaken = both('Head height');
  expect(shaken).toBeGreaterThan(0.005);
  expect(both('aside')).toBeLessThan(1e-6 * shaken);
  expect(both('over')).toBeLessThan(1e-6);
  expect(read({ ...model, instances: [] })('aside')).toBeGreaterThan(0.1 * shaken); // one alone shakes it sideways too
});

it('slot cam: the flap rests while its roller runs where the groove is round, and the posts stand square to the track', () => {
  const model = readModel(readFileSync('examples/slot-cam.pivot.json', 'utf8'));
  const run = runModel(model, { every: 0.01 });
  const angle = run.gauge('Flap angle');
  // a quarter of a turn is done after 0.5 s; shut is the third of a turn in which the groove is round, from 1.0 to 1.33 s
  const rest = Array.from(angle).slice(106, 128);
  expect(Math.max(...rest) - Math.min(...rest)).toBeLessThan(2e-3);
  expect(Math.max(...angle)).toBeGreaterThan(0.25);
  const posts = run.mechanism.bodies.filter((b) => b.name.startsWith('Posts '));
  expect(posts).toHaveLength(6);
  // a post hangs 8 mm below the track, across its chord
  const heads = posts.map((p) => p.origin.map((x, k) => x + 0.008 * p.turn[3 * k + 1]!));
  const chord = (i: number) => heads[i + 1]!.map((x, k) => x - heads[i]![k]!);
  for (let i = 0; i < 5; i++) {
    expect(Math.hypot(...chord(i))).toBeCloseTo(Math.hypot(...chord(0)), 9);
    expect(chord(i).reduce((d, x, k) => d + x * posts[i]!.turn[3 * k]!, 0)).toBeCloseTo(Math.hypot(...chord(i)), 9);
  }
});
