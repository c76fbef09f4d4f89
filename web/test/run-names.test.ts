/** How runs are told apart, and their models compared. */
import { describe, expect, it } from 'vitest';
import { type Model, kitContent } from '@vim-pivot/core';
import { differences, tellingApart } from '../state/runs/run-names';
import { evenPlaces } from '../state/readings/sheets';

const model = (crank: string, more: object = {}): Model =>
  kitContent('M', {
    ground: 'Frame',
    parameters: [
      { name: 'crank', value: crank },
      { name: 'rod', value: '180 mm' },
    ],
    points: [{ name: 'A' }],
    ...more,
  });
const run = (id: string, m: Model, kit?: string) => ({ id, model: m, kit });

describe('runs', () => {
  it('are told apart by the parameters that are not the same in all of them', () => {
    expect([...tellingApart([run('1', model('90 mm')), run('2', model('60 mm')), run('3', model('90 mm'))])]).toEqual([
      ['1', 'crank 90 mm'],
      ['2', 'crank 60 mm'],
      ['3', 'crank 90 mm'],
    ]);
    expect(tellingApart([run('1', model('90 mm')), run('2', model('90 mm'))]).size).toBe(0);
    // a run of a kit is compared with runs of that kit alone
    expect(tellingApart([run('1', model('90 mm')), run('2', model('60 mm'), 'Arm')]).size).toBe(0);
  });
  it('that lack a parameter say so, and no name grows longer than a number tells', () => {
    const bare = { ...model('90 mm'), parameters: [] };
    expect(tellingApart([run('1', model('90 mm')), run('2', bare)]).get('2')).toBe('crank –, rod –');
    expect(tellingApart([run('1', model('90 mm + 0.000000001 mm * sin(0.000000001)')), run('2', model('1 mm'))]).has('1')).toBe(false);
  });
});

it('two models are compared with what moves first, and sheets, notes and colours last', () => {
  const a = model('90 mm', { sheets: [{ name: 'S' }], gauges: [{ name: 'G', kind: 'point', point: 'A' }] }),
    b = model('60 mm', { gauges: [], sheets: [], points: [{ name: 'A', note: 'here', at: ['1 mm', 0, 0] }] });
  expect(differences(a, b).map((d) => d.of)).toEqual(['motion', 'motion', 'readings', 'sheets', 'sheets']);
  expect(differences(a, b)[0]!.text).toBe('crank, value: 90 mm → 60 mm');
  expect(differences(a, a)).toEqual([]);
});

it.each(Array.from({ length: 12 }, (_, i) => i + 1))('%i tiles are arranged over the whole sheet, none on another', (count) => {
  const cells = evenPlaces(count).flatMap(([x, y, w, h]) =>
    Array.from({ length: w * h }, (_, i) => `${x + (i % w)},${y + Math.floor(i / w)}`),
  );
  expect(new Set(cells).size).toBe(cells.length);
  const rows = new Set(cells.map((c) => c.split(',')[1]));
  expect(cells.length).toBe(12 * rows.size);
});
