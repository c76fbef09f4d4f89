/** Formula gauges in loads and conditions: worked out at the instant, with their kinks; and the circles that cannot be, by name. */
import { describe, expect, it } from 'vitest';
import { type Model, type RawElement, build, runModel } from '../src';
import { model } from './models';

const e = (list: object[]) => list as RawElement[];

/** A block of 2 kg on a guide, pushed by a formula. */
const block = (effort: string, gauges: object[], more: Partial<Record<'joints' | 'loads', object[]>> = {}): Model =>
  model('Block', {
    run: { until: '2 s', every: '20 ms', accuracy: 1e-8 },
    points: e([{ name: 'O' }, { name: 'End', at: [1, 0, 0] }]),
    bodies: e([{ name: 'Block', mass: 2, inertia: [0.02, 0.02, 0.02] }]),
    joints: e(more.joints ?? [{ name: 'Way', kind: 'prismatic', bodies: ['Ground', 'Block'], at: ['O'], axis: [1, 0, 0] }]),
    starts: e([{ name: 'Start', joint: 'Way', position: 0.5 }]),
    loads: e([{ name: 'Push', kind: 'actuator', joint: 'Way', effort }, ...(more.loads ?? [])]),
    gauges: e([
      { name: 'x', kind: 'joint', joint: 'Way' },
      { name: 'v', kind: 'joint', joint: 'Way', of: 'rate' },
      { name: 'a', kind: 'joint', joint: 'Way', of: 'acceleration' },
      { name: 'load', kind: 'reaction', joint: 'Way' },
      { name: 'own', kind: 'load', load: 'Push' },
      ...gauges,
    ]),
  } as never);
const formula = (name: string, value: string, more: object = {}) => ({ name, kind: 'formula', value, ...more });

describe('a formula gauge in a load', () => {
  it('is worked out at every instant: the same motion as with its formula written out', () => {
    const direct = runModel(block('-18 N/m * ({x} - 0.1 m * sin(t * 3 rad/s)) - 1.2 N*s/m * {v}', []));
    const through = runModel(
      block('{spring} + {damper}', [
        formula('target', '0.1 m * sin(t * 3 rad/s)'),
        formula('error', '{x} - {target}'),
        formula('spring', '-18 N/m * {error}'),
        formula('damper', '-1.2 N*s/m * {v}'),
      ]),
    );
    expect(through.end.status).toBe('done');
    through.gauge('x').forEach((x, i) => expect(x).toBeCloseTo(direct.gauge('x')[i]!, 9));
    // and is what it reads
    through.gauge('a').forEach((a, i) => expect(2 * a).toBeCloseTo(through.gauge('spring')[i]! + through.gauge('damper')[i]!, 7));
  });

  it('brings its kinks along: no step goes over them', () => {
    const of = (effort: string, gauges: object[]) =>
      runModel({ ...block(effort, gauges), run: { until: '2 s', every: '20 ms', accuracy: 1e-4 } } as Model);
    const through = of('{on}', [formula('on', '5 N * step(0.7012345 s, t)')]);
    // from then on v = 2.5 (t − t0)
    expect(through.gauge('v').at(-1)).toBeCloseTo(2.5 * (2 - 0.7012345), 10);
  });

  it('stands in conditions as well', () => {
    const m = block('3 N', [formula('gone', '0.2 - ({x} - 0.5 m) / (1 m)')], {
      joints: [{ name: 'Way', kind: 'prismatic', bodies: ['Ground', 'Block'], at: ['O'], axis: [1, 0, 0], while: '{gone}' }],
    });
    const run = runModel(m),
      event = run.end.happenings.find((h) => h.kind === 'releases')!;
    expect(event.t).toBeCloseTo(Math.sqrt((2 * 0.2) / 1.5), 6);
  });
});

describe('what cannot be worked out before the forces are is told', () => {
  const told = (effort: string, gauges: object[], loads: object[] = []) =>
    build(block(effort, gauges, { loads }))
      .diagnoses.filter((d) => d.severity === 'error')
      .map((d) => d.message)
      .join(' ');
  it('a load that depends on itself, with the whole way round', () => {
    expect(told('0.5 * {own}', [])).toContain('Push → own → Push');
    expect(told('{half}', [formula('half', '{twice} / 4'), formula('twice', '2 * {own}')])).toContain('Push → half → twice → own → Push');
  });
  it('a load of the acceleration or of a joint’s load, with the gauge that reads it', () => {
    expect(told('1 kg * {a}', [])).toMatch(/“a” cannot be used in a load: it is known only after the forces are\./);
    expect(told('{damped}', [formula('damped', '0.1 * {load}')])).toMatch(/“load” cannot be used in a load.*\(damped → load\)/);
  });
  it('gauges that depend on each other, and one that is known only over the whole run', () => {
    expect(told('{p}', [formula('p', '{q} + 1 N'), formula('q', '{r} + 1 N'), formula('r', '2 * {p}')])).toContain('p → q → r → p');
    expect(told('{late}', [formula('late', '1 N/m * {x}', { then: 'low-pass' })])).toMatch(/“late” is known only over the whole run/);
  });
  it('a formula gauge in error, or of another dimension', () => {
    expect(told('{bad}', [formula('bad', '{x} + 1 N')])).toMatch(/adds|like quantities/);
    expect(told('{x2}', [formula('x2', '2 * {x}')])).toMatch(/a length .*a force .*is needed here/);
  });
});
