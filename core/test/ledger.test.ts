/** The energy ledger: where the energy of a run came from and where it went. */
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { type RawElement, runModel } from '../src';
import { readModel } from '../src/model/file';
import { doublePendulum, model, sliderCrank } from './models';

const e = (list: object[]) => list as RawElement[];
const balance = e([
  { name: 'closing', kind: 'energy', of: 'closing' },
  { name: 'total', kind: 'energy' },
  { name: 'kinetic', kind: 'energy', of: 'kinetic' },
]);

/** Block on a slide between spring, damper and friction-free rail. */
const oscillator = (spring: object) =>
  model('Oscillator', {
    run: { until: '6 s', every: '20 ms' },
    points: e([{ name: 'Wall' }, { name: 'Eye', at: [0.5, 0, 0] }]),
    bodies: e([{ name: 'Block', origin: 'Eye', mass: 3, inertia: [0.01, 0.01, 0.01] }]),
    joints: e([{ name: 'Slide', kind: 'prismatic', bodies: ['Ground', 'Block'], at: ['Wall', 'Eye'], axis: [1, 0, 0] }]),
    loads: e([
      { name: 'Spring', kind: 'spring', bodies: ['Ground', 'Block'], at: ['Wall', 'Eye'], stiffness: 1200, free: '450 mm', ...spring },
    ]),
    gauges: [
      ...balance,
      ...e([
        { name: 'stored', kind: 'load-energy', load: 'Spring', of: 'stored' },
        { name: 'lost', kind: 'load-energy', load: 'Spring' },
      ]),
    ],
  });

describe('energy ledger', () => {
  it('books what a damper takes: all that was stored, once the block has come to rest', () => {
    const r = runModel(oscillator({ damping: '12 N*s/m' }));
    const start = 0.5 * 1200 * 0.05 ** 2;
    expect(r.gauge('stored')[0]).toBeCloseTo(start, 9);
    expect(r.gauge('lost').at(-1)).toBeCloseTo(start, 6);
    r.gauge('closing').forEach((x) => expect(Math.abs(x) / start).toBeLessThan(1e-5));
    r.gauge('lost').forEach((x, i) => expect(Math.abs(start - r.gauge('total')[i]! - x) / start).toBeLessThan(1e-5));
  });

  it('books the work of a drive against the energy gained', () => {
    const m = sliderCrank();
    m.drives[0]!.value = '300 rpm * smoothstep(0 s, 0.3 s, t)';
    m.gauges.push(...balance, ...e([{ name: 'work', kind: 'drive', drive: 'Motor', of: 'work' }]));
    const r = runModel(m);
    const total = r.gauge('total'),
      work = r.gauge('work');
    const size = Math.max(...r.gauge('kinetic'));
    expect(size).toBeGreaterThan(1);
    work.forEach((w, i) => expect(Math.abs(total[i]! - total[0]! - w) / size).toBeLessThan(1e-5));
    r.gauge('closing').forEach((x) => expect(Math.abs(x) / size).toBeLessThan(1e-5));
  });

  it.each([
    ['double pendulum', () => doublePendulum('2 s')],
    ['sorting gate', () => readModel(readFileSync('examples/sorting-gate.pivot.json', 'utf8'))],
  ])('closes for the %s', (_name, make) => {
    const m = make();
    m.gauges.push(...balance.map((g) => ({ ...g, name: `ledger ${g.name}` })));
    const r = runModel(m);
    const size = Math.max(...r.gauge('ledger kinetic'));
    r.gauge('ledger closing').forEach((x) => expect(Math.abs(x) / size).toBeLessThan(1e-5));
    expect(r.end.diagnoses).toEqual([]);
  });

  it('names the load that feeds energy in', () => {
    const m = model('Fed', {
      run: { until: '3 s', every: '20 ms' },
      points: e([{ name: 'Foot' }]),
      bodies: e([{ name: 'Machine', mass: 2, inertia: [0.1, 0.1, 0.1], velocity: [0.1, 0, 0] }]),
      loads: e([
        {
          name: 'Good bushing',
          kind: 'bushing',
          bodies: ['Ground', 'Machine'],
          at: ['Foot'],
          stiffness: [1000, 1000, 1000],
          torsion: [1, 1, 1],
        },
        { name: 'Wrong bushing', kind: 'bushing', bodies: ['Ground', 'Machine'], at: ['Foot'], damping: [-5, 0, 0] },
      ]),
    });
    const found = runModel(m).end.diagnoses.filter((d) => d.code === 'energy-fed');
    expect(found.map((d) => d.element?.name)).toEqual(['Wrong bushing']);
    expect(found[0]!.message).toMatch(/fed .* J into/);
  });
});
