/** What only shows never stops a run; scores and workings in formulas; limits at an instant; where gauges read. */
import { describe, expect, it } from 'vitest';
import { build, resolve } from '../src';
import { check } from '../src/checks/check';
import { checkModel } from '../src/model/file';
import { rename } from '../src/model/rename';
import { violations } from '../src/results/scores';
import { D } from '../src/quantity/dimension';
import { writeModel } from '../src/model/document';
import { sliderCrank } from './models';

const slider = sliderCrank();
const withParts = (parts: object) => checkModel({ ...(JSON.parse(writeModel(slider)) as object), ...parts });

describe('sheets and tiles', () => {
  const gauges = [...slider.gauges, { name: 'Travel', kind: 'joint', joint: 'Slide' }];
  it('with what is no longer there are warned of, and stop no run', () => {
    const m = withParts({
      gauges,
      sheets: [{ name: 'S' }],
      tiles: [
        { name: 'T', kind: 'chart', sheet: 'S', gauges: ['Travel', 'Gone'] },
        { name: 'U', kind: 'note', sheet: 'Nowhere' },
      ],
    });
    const told = check(m).diagnoses.filter((d) => d.element?.family === 'tiles');
    expect(told.map((d) => [d.element!.name, d.severity])).toEqual([
      ['T', 'warning'],
      ['U', 'warning'],
    ]);
    expect(check(m).built.mechanism).toBeDefined();
  });
  it('follow when a gauge or a sheet is renamed, and come back from the file as they were', () => {
    const m = withParts({
      gauges,
      sheets: [{ name: 'S' }],
      tiles: [{ name: 'T', kind: 'chart', sheet: 'S', gauges: ['Travel'], over: 'Travel', place: [[2, 0, 6, 8]] }],
    });
    const after = rename(rename(m, 'gauges', 'Travel', 'Stroke'), 'sheets', 'S', 'Timing');
    expect(after.tiles[0]).toMatchObject({ sheet: 'Timing', gauges: ['Stroke'], over: 'Stroke' });
    expect(checkModel(JSON.parse(writeModel(after))).tiles).toEqual(after.tiles);
  });
  it('hold pictures only as pictures', () => {
    const of = (image: string) => withParts({ sheets: [{ name: 'S' }], tiles: [{ name: 'P', kind: 'picture', sheet: 'S', image }] });
    expect(of('data:image/png;base64,iVBORw0KGgo=').tiles).toHaveLength(1);
    for (const bad of ['https://elsewhere.example/a.png', 'data:text/html;base64,PGI+', 'javascript:alert(1)'])
      expect(() => of(bad)).toThrow('data address');
  });
});

describe('what was measured, in formulas', () => {
  const m = withParts({
    gauges: [...slider.gauges, { name: 'Travel', kind: 'joint', joint: 'Slide' }],
    scores: [{ name: 'Range', gauge: 'Travel', of: 'range' }],
    workings: [
      { name: 'Twice the arm', value: '2*arm', score: 'Range' },
      { name: 'Share', value: '{Range} / {Twice the arm}' },
    ],
    limits: [{ name: 'L', gauge: 'Travel', high: '{Range} * 0.9' }],
  });
  it('is no error before a run', () => expect(check(m).diagnoses.filter((d) => d.severity === 'error')).toEqual([]));
  it('is worked out from values given by name, with their units', () => {
    const p = resolve(m).compile('{Range} / {Twice the arm}', (n) => (n === 'Range' || n === 'Twice the arm' ? D.length : undefined));
    p.inputs.forEach((i) => p.set(i, i.gauge === 'Range' ? 0.1 : 0.05));
    p.at(0);
    expect([p.v, p.dim]).toEqual([2, D.none]);
    expect(() => resolve(m).compile('{Range} + 1 kg', () => D.length)).toThrow();
    expect(() => resolve(m).compile('{Nothing}', () => undefined)).toThrow();
  });
  it('follows when the score is renamed, and not when a gauge of that name is', () => {
    const after = rename(rename(m, 'scores', 'Range', 'Stroke'), 'workings', 'Twice the arm', 'Twice');
    expect(after.workings[1]!.value).toBe('{Stroke} / {Twice}');
    expect(after.limits[0]!.high).toBe('{Stroke} * 0.9');
    expect(rename(m, 'gauges', 'Range', 'X').workings[1]!.value).toBe('{Range} / {Twice the arm}');
  });
});

describe('a limit at an instant', () => {
  const time = Float64Array.from({ length: 101 }, (_, i) => i / 100),
    s = { time, values: time.map((t) => Math.sin(2 * Math.PI * t)), dim: D.none };
  it('counts there alone, between records too', () => {
    expect(violations({ high: 0.5, at: 0.75 }, s)).toEqual([]);
    const [v] = violations({ high: 0.5, at: 0.2537 }, s);
    expect([v!.from, v!.to, v!.at]).toEqual([0.2537, 0.2537, 0.2537]);
    expect(v!.worst).toBeCloseTo(Math.sin(2 * Math.PI * 0.2537), 3);
    expect(violations({ high: 0.5, of: 'size', at: 0.75 }, s)).toHaveLength(1);
  });
  it('that the run does not reach is not passed', () => expect(violations({ high: -5, at: 3 }, s)).toEqual([]));
});

it('gauges say where they read and along what: the axis of the joint, the component in its axes', () => {
  const m = withParts({
    gauges: [
      { name: 'Turn', kind: 'joint', joint: 'Bearing' },
      { name: 'Load', kind: 'reaction', joint: 'Wrist', component: 'y' },
      { name: 'Size', kind: 'reaction', joint: 'Wrist' },
      { name: 'Spot', kind: 'point', body: 'Rod', at: 'Rod end', component: 'x', axes: 'Rod' },
      { name: 'Apart', kind: 'distance', bodies: ['Ground', 'Slider'], at: ['Axle', 'Slide pin'] },
      { name: 'All', kind: 'energy' },
    ],
  });
  const { mechanism } = build(m),
    sign = (n: string) => mechanism!.channel(n).sign,
    of = (b: string) => mechanism!.assembly.index(b);
  expect(sign('Turn')).toMatchObject({ at: { body: of('Ground') }, direction: [0, 0, 1], turning: true });
  expect(sign('Load')).toMatchObject({ at: { body: of('Slider') }, direction: [0, 1, 0], carrier: of('Ground') });
  expect(sign('Size')!.direction).toBeUndefined();
  expect(sign('Spot')).toMatchObject({ at: { body: of('Rod') }, direction: [1, 0, 0], carrier: of('Rod') });
  expect(sign('Apart')).toMatchObject({ at: { body: of('Ground') }, to: { body: of('Slider') } });
  expect(sign('All')).toBeUndefined();
});
