/** Published problems: the seven-body squeezer, coupled four-bar loops through their singular position, the Bricard loop. */
import { describe, expect, it } from 'vitest';
import { check, runModel } from '../src';
import { SQUEEZER_END, SQUEEZER_START, bricard, fourBars, squeezer } from './benchmarks';

describe('seven-body squeezer', () => {
  it.each([1e-3, 1e-5, 1e-7])('reaches the published angles at 0.03 s within the asked accuracy %d', (accuracy) => {
    const run = runModel(squeezer(), { accuracy });
    expect(run.end.status).toBe('done');
    run.mechanism.gauges.forEach((g, k) => {
      const ours = SQUEEZER_START[k]! + run.gauge(g).at(-1)!;
      // angles reach 16 rad: measured against the motion
      expect(Math.abs(ours - SQUEEZER_END[k]!) / 16).toBeLessThan(accuracy);
    });
  });

  it('has one freedom, and its redundant directions do not disturb', () => {
    expect(check(squeezer()).mobility).toMatchObject({ joints: 1, redundant: 9 });
  });
});

describe('coupled four-bar loops', () => {
  it.each([1, 2, 5, 10])('%d of them keep their energy and stay parallelograms through the singular position for 10 s', (n) => {
    const run = runModel(fourBars(n));
    expect(run.end.status).toBe('done');
    const energy = run.gauge('energy');
    // the energy that is exchanged between height and motion: posts and beams falling by their height
    const size = 9.81 * 1.5 * n;
    for (const x of energy) expect(Math.abs(x - energy[0]!) / size).toBeLessThan(1e-5);
    const first = run.gauge('angle 0');
    expect(Math.min(...first)).toBeLessThan(-Math.PI); // past the level, where all bars lie on one line
    for (let i = 1; i <= n; i++) run.gauge(`angle ${i}`).forEach((q, k) => expect(Math.abs(q - first[k]!)).toBeLessThan(1e-5));
    // short steps meet the singular position, and say so
    const fine = runModel(fourBars(n), { accuracy: 1e-8 }).end;
    expect(fine.statistics.guarded).toBeGreaterThan(0);
    expect(fine.status).toBe('done');
  });
});

describe('Bricard loop', () => {
  it('has one freedom and one redundant direction, named', () => {
    const { mobility, diagnoses } = check(bricard());
    expect(mobility).toMatchObject({ joints: 1, redundant: 1 });
    expect(diagnoses.find((d) => d.code === 'joint-redundant')?.message).toContain('Hinge');
  });

  it('moves for 10 s and keeps its energy', () => {
    const run = runModel(bricard());
    expect(run.end.status).toBe('done');
    const energy = run.gauge('energy'),
      x = run.gauge('x');
    for (const v of energy) expect(Math.abs(v - energy[0]!) / (5 * 9.81)).toBeLessThan(1e-5);
    expect(Math.max(...x) - Math.min(...x)).toBeGreaterThan(0.5);
  });
});
