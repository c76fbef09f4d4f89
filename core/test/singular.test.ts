/** Linkages that pass through positions in which they could branch: finer accuracy gives finer answers there too. */
import { expect, it } from 'vitest';
import { type FinishedRun, type Model, type RawElement, Readings, runModel, snapshotChannel } from '../src';
import { fourBars } from './benchmarks';
import { model } from './models';
import { nearABranch } from './near-a-branch';

const e = (list: object[]) => list as RawElement[];

const ASKED = [1e-3, 1e-4, 1e-5, 1e-6, 3e-7, 1e-7, 5e-8, 2e-8, 1e-8, 1e-9, 1e-10];

it.each([1, 10])('%i coupled loops of four bars keep their energy to what is asked, through nine flat positions', (loops) => {
  const worst = ASKED.map((accuracy) => {
    const m = fourBars(loops),
      run = runModel({ ...m, run: { ...m.run, accuracy } });
    expect(run.end.status).toBe('done');
    const energy = run.gauge('energy');
    // against the energy of the start above the lowest position
    return Math.max(...energy.map((e) => Math.abs(e - energy[0]!))) / (9.81 * 1.5 * loops);
  });
  worst.forEach((error, i) => expect(error).toBeLessThan(ASKED[i]!));
  expect(worst.at(-1)! * 30).toBeLessThan(worst[0]!);
});

it('a machine that comes to a branch ends there and says so, whatever accuracy is asked', () => {
  // the shafts of a joint are bent back on each other: at 1e-5 and at 1e-7 it once went on in different ways, and in neither as its joint demands
  const ends = [1e-4, 3e-5, 1e-5, 1e-6, 1e-7, 1e-8, 1e-9].map((accuracy) => {
    const m = nearABranch(),
      { end } = runModel({ ...m, run: { ...m.run, accuracy } });
    expect(end.status).toBe('failed');
    expect(end.diagnoses).toContainEqual(
      expect.objectContaining({ code: 'shafts-bent-back', element: { family: 'joints', name: 'J3' } }) as unknown,
    );
    return end.t;
  });
  for (const t of ends) expect(Math.abs(t - ends[0]!)).toBeLessThan(1e-5);
});

/** A shaft led by two pins across each other, free to turn in them, that turns with another one at rest. */
const led = (turn: string, tilt: string, analysis: string): Model =>
  model('Led', {
    run: { until: '2 s', every: '10 ms', analysis },
    points: e([{ name: 'O' }]),
    bodies: e(['Outer', 'Inner', 'Shaft'].map((name) => ({ name, mass: 1, inertia: [0.01, 0.012, 0.015] }))),
    joints: e([
      { name: 'Turn', kind: 'revolute', bodies: ['Ground', 'Outer'], at: ['O'], axis: [1, 0, 0] },
      { name: 'Tilt', kind: 'revolute', bodies: ['Outer', 'Inner'], at: ['O'], axis: [0, 1, 0] },
      { name: 'Bush', kind: 'revolute', bodies: ['Inner', 'Shaft'], at: ['O'], axis: [0, 0, 1] },
      { name: 'Ball', kind: 'constant-velocity', bodies: ['Ground', 'Shaft'], at: ['O'], axis: [0, 0, 1] },
    ]),
    drives: e([
      { name: 'Turning', joint: 'Turn', prescribes: 'position', value: turn },
      { name: 'Tilting', joint: 'Tilt', prescribes: 'position', value: tilt },
    ]),
    gauges: e([{ name: 'twist', kind: 'joint', joint: 'Bush' }]),
  });

/** Of each record whether the shaft has no twist against the ground: half a turn of it makes the sum of the first two diagonal entries negative. */
const untwisted = ({ mechanism, layout, chunks }: FinishedRun): boolean[] => {
  const out: boolean[] = [];
  new Readings(mechanism, layout).read([snapshotChannel(({ K: { A } }) => out.push(A[18]! + A[22]! > 0))], chunks);
  return out;
};

it.each(['dynamic', 'kinematic'])('shafts led past 180° by hardly anything turn alike before and after, or end a %s run', (analysis) => {
  const statuses = [0.3, 0.03, 1e-7].map((apart) => {
    const run = runModel(led('2 rad + 1 rad/s * t', `${apart} rad`, analysis));
    if (run.end.status === 'failed')
      expect(['shafts-bent-back', 'solver-locked', 'solver-stuck', 'kinematic-locked']).toContain(run.end.diagnoses[0]!.code);
    else expect(untwisted(run)).not.toContain(false);
    return run.end.status;
  });
  expect(statuses.slice(0, 2)).toEqual(['done', 'done']);
});
