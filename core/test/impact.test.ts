/** Rigid end stops: impacts by Newton's law of restitution, against closed forms. */
import { describe, expect, it } from 'vitest';
import { type FinishedRun, type Model, type RawElement, Readings, bodyLoads, check, runModel, snapshotChannel } from '../src';
import { assemble, build } from '../src';
import { equilibrium } from '../src/analyses';
import { model } from './models';

const e = (list: object[]) => list as RawElement[];
const g = 9.81;

/** A block on an upright guide, dropped from 1 m onto a rigid end. */
const dropped = (restitution: number, more: { until?: string; loads?: object[]; start?: object } = {}): Model =>
  model('Dropped', {
    run: { until: more.until ?? '3 s', every: '5 ms' },
    points: e([{ name: 'O' }, { name: 'Top', at: [0, 0, 1] }]),
    bodies: e([{ name: 'Block', mass: 2, inertia: [0.02, 0.02, 0.02] }]),
    joints: e([{ name: 'Guide', kind: 'prismatic', bodies: ['Ground', 'Block'], at: ['O'], axis: [0, 0, 1] }]),
    starts: e([{ name: 'Height', joint: 'Guide', position: 1, ...more.start }]),
    loads: e([
      { name: 'Gravity', kind: 'gravity', acceleration: [0, 0, -g] },
      { name: 'End', kind: 'joint-stop', joint: 'Guide', lower: 0, law: 'impulse', restitution },
      ...(more.loads ?? []),
    ]),
    gauges: e([
      { name: 'z', kind: 'joint', joint: 'Guide' },
      { name: 'v', kind: 'joint', joint: 'Guide', of: 'rate' },
      { name: 'push', kind: 'load', load: 'End' },
      { name: 'guide', kind: 'reaction', joint: 'Guide' },
      { name: 'open', kind: 'energy', of: 'closing' },
    ]),
  } as never);
const strikes = (r: FinishedRun) => r.end.happenings.filter((h) => h.kind === 'struck');

describe('a block dropped onto a rigid end', () => {
  it.each([1, 0.9, 0.5, 0.1])('bounces with restitution %d at the times of the textbook', (restitution) => {
    const run = runModel(dropped(restitution)),
      v0 = Math.sqrt(2 * g);
    expect(run.end.status).toBe('done');
    let t = v0 / g,
      v = v0;
    for (const hit of strikes(run).slice(0, 12)) {
      expect(hit.t).toBeCloseTo(t, 6);
      expect(hit.values!.speed).toBeCloseTo(-v, 5);
      v *= restitution;
      t += (2 * v) / g;
    }
    expect(strikes(run).length).toBeGreaterThanOrEqual(restitution > 0.8 ? 3 : 4);
    // never through the end, and no energy from nowhere
    run.gauge('z').forEach((z) => expect(z).toBeGreaterThan(-1e-9));
    run.gauge('open').forEach((x) => expect(Math.abs(x)).toBeLessThan(1e-4));
  });

  it('comes to rest after its last bounce, and leans on the end with its weight', () => {
    const run = runModel(dropped(0.5)),
      rest = (Math.sqrt(2 * g) / g) * (1 + (2 * 0.5) / (1 - 0.5));
    run.time.forEach((t, i) => {
      if (t < rest + 1e-3) return;
      expect(Math.abs(run.gauge('v')[i]!)).toBeLessThan(1e-9);
      expect(run.gauge('push')[i]).toBeCloseTo(2 * g, 6);
      // the end carries it, not the guide
      expect(run.gauge('guide')[i]).toBeLessThan(1e-6);
    });
    expect(run.gauge('push')[100]).toBe(0);
    new Readings(run.mechanism, run.layout).read(
      [snapshotChannel((s) => expect(bodyLoads(run.mechanism, 'Block', s).rest.force).toBeLessThan(1e-9))],
      run.chunks,
    );
  });

  it('bounces a hundred times and more, and rests when the textbook says', () => {
    const run = runModel(dropped(0.95, { until: '20 s' })),
      rest = (Math.sqrt(2 * g) / g) * (1 + (2 * 0.95) / (1 - 0.95));
    expect(run.end.status).toBe('done');
    expect(strikes(run).length).toBeGreaterThan(100);
    expect(strikes(run).at(-1)!.t).toBeLessThan(rest);
    expect(strikes(run).at(-1)!.t).toBeGreaterThan(rest - 0.02);
    expect(run.gauge('push').at(-1)).toBeCloseTo(2 * g, 6);
  });

  it('with restitution 0 rests at once; pulled up later, it leaves at the moment the pull exceeds its weight', () => {
    const run = runModel(dropped(0, { loads: [{ name: 'Pull', kind: 'force', body: 'Block', at: 'O', magnitude: '20 N/s * t' }] }));
    const [hit] = strikes(run),
      left = run.end.happenings.find((h) => h.kind === 'releases')!;
    expect(strikes(run)).toHaveLength(1);
    expect(hit!.t).toBeGreaterThan(0.45);
    expect(left.t).toBeCloseTo((2 * g) / 20, 7);
    expect(run.gauge('z').at(-1)).toBeCloseTo(((20 / 2) * (3 - left.t) ** 3) / 6, 5);
  });

  it('starts at rest on its end, and is refused beyond it', () => {
    const run = runModel(dropped(0.7, { start: { position: 0 }, until: '0.5 s' }));
    expect(run.end.happenings).toEqual([]);
    run.gauge('push').forEach((f) => expect(f).toBeCloseTo(2 * g, 9));
    const beyond = check(dropped(0.7, { start: { position: -0.1 } })).diagnoses;
    expect(beyond).toContainEqual(expect.objectContaining({ code: 'stop-beyond', severity: 'error' }) as unknown);
  });

  it('falls the same from record to record when begun anew there', () => {
    const m = dropped(0.6, { until: '1.5 s' }),
      run = runModel(m);
    for (const i of [60, 140, 200, 299]) {
      const on = runModel(m, { until: run.end.t - run.time[i]!, every: 5e-3, start: run.state(i) });
      const z = run.gauge('z');
      on.gauge('z').forEach((x, k) => expect(Math.abs(x - z[i + k]!)).toBeLessThan(1e-5));
    }
  });
});

/** A double pendulum in the plane without gravity, its lower arm turning against an end of its pin. */
const arms = (restitution: number): Model =>
  model('Arms', {
    run: { until: '0.6 s', every: '2 ms', accuracy: 1e-8 },
    points: e([{ name: 'A' }, { name: 'B', at: [1, 0, 0] }, { name: 'Ca', at: [0.5, 0, 0] }, { name: 'Cb', at: [1.4, 0, 0] }]),
    bodies: e([
      { name: 'Upper', origin: 'Ca', mass: 3, inertia: [0.1, 0.2, 0.25] },
      { name: 'Lower', origin: 'Cb', mass: 2, inertia: [0.05, 0.1, 0.12] },
    ]),
    joints: e([
      { name: 'Shoulder', kind: 'revolute', bodies: ['Ground', 'Upper'], at: ['A'] },
      { name: 'Elbow', kind: 'revolute', bodies: ['Upper', 'Lower'], at: ['B'] },
    ]),
    starts: e([{ name: 'Turn', joint: 'Elbow', speed: 2 }]),
    loads: e([{ name: 'End', kind: 'joint-stop', joint: 'Elbow', upper: '30 deg', law: 'impulse', restitution }]),
    gauges: e([
      { name: 'shoulder', kind: 'joint', joint: 'Shoulder', of: 'rate' },
      { name: 'elbow', kind: 'joint', joint: 'Elbow', of: 'rate' },
      { name: 'angle', kind: 'joint', joint: 'Elbow' },
      { name: 'kinetic', kind: 'energy', of: 'kinetic' },
    ]),
  } as never);

describe('an impact in a machine', () => {
  /** Angular momentum about the shoulder, by the positions and speeds of both arms (planar, about z). */
  const momentum = (run: FinishedRun): number[] => {
    const out: number[] = [];
    new Readings(run.mechanism, run.layout).read(
      [
        snapshotChannel(({ K }) => {
          const of = (i: number, mass: number, inertia: number) =>
            mass * (K.r[3 * i]! * K.v[3 * i + 1]! - K.r[3 * i + 1]! * K.v[3 * i]!) + inertia * K.w[3 * i + 2]!;
          out.push(of(0, 3, 0.25) + of(1, 2, 0.12));
        }),
      ],
      run.chunks,
    );
    return out;
  };
  it.each([1, 0.6, 0])('with restitution %d turns the speed of its joint round and keeps the momentum of the whole', (restitution) => {
    const run = runModel(arms(restitution)),
      [hit] = strikes(run);
    expect(strikes(run)).toHaveLength(1);
    const speed = hit!.values!.speed!,
      after = run.time.findIndex((t) => t > hit!.t);
    // the speed just after: restitution times that before (it changes little in the 2 ms to the record)
    expect(Math.abs(run.gauge('elbow')[after]! + restitution * speed)).toBeLessThan(0.02 * speed);
    const L = momentum(run);
    L.forEach((x) => expect(x).toBeCloseTo(L[0]!, 7));
    const T = run.gauge('kinetic');
    if (restitution === 1) expect(T.at(-1)).toBeCloseTo(T[0]!, 6);
    else expect(T.at(-1)).toBeLessThan(0.95 * T[0]!);
    run.gauge('angle').forEach((a) => expect(a).toBeLessThan(Math.PI / 6 + 1e-9));
    if (restitution === 0) expect(run.gauge('angle').at(-1)).toBeCloseTo(Math.PI / 6, 8);
  });
});

describe('what a rigid end cannot do is told', () => {
  const codes = (m: Model) => check(m).diagnoses.map((d) => d.code);
  it('restitution beyond 1, a drive through the end, a rest on it in statics', () => {
    expect(codes(dropped(1.2))).toContain('restitution-large');
    const driven = dropped(0.5, { until: '2 s' });
    const run = runModel({
      ...driven,
      starts: [],
      drives: e([{ name: 'Down', joint: 'Guide', prescribes: 'position', value: '0.5 m * cos(t * 2 rad/s)' }]),
    });
    expect(run.end.status).toBe('failed');
    expect(run.end.t).toBeCloseTo(Math.PI / 4, 5);
    expect(run.end.diagnoses[0]).toMatchObject({ code: 'events-crowded', element: { name: 'End' } });
    const { mechanism } = build(dropped(0.5, { loads: [{ name: 'Spring', kind: 'joint-spring', joint: 'Guide', stiffness: 100 }] }));
    assemble(mechanism!);
    expect(() => equilibrium(mechanism!)).toThrow(/beyond the end of End/);
  });
});

describe('a joint that closes again', () => {
  /** A cart runs into one that stands, and takes it along: a coupling that closes where they meet, 2 mm early. */
  const carts = (closes: string, extra: object = {}) =>
    model('Carts', {
      run: { until: '1 s', every: '1 ms', accuracy: 1e-8 },
      points: e([
        { name: 'O' },
        { name: 'P', at: [0.5, 0, 0] },
        { name: 'Hook', body: 'First', at: [0, 0, 0] },
        { name: 'Eye', body: 'Second', at: [0, 0, 0] },
      ]),
      bodies: e([
        { name: 'First', origin: 'O', mass: 2, inertia: [1, 1, 1], velocity: ['1 m/s', 0, 0] },
        { name: 'Second', origin: 'P', mass: 3, inertia: [1, 1, 1] },
      ]),
      joints: e([
        { name: 'First way', kind: 'prismatic', bodies: ['Ground', 'First'], at: ['O'], axis: [1, 0, 0] },
        { name: 'Second way', kind: 'prismatic', bodies: ['Ground', 'Second'], at: ['P'], axis: [1, 0, 0] },
        { name: 'Coupling', kind: 'spherical', bodies: ['First', 'Second'], at: ['Hook', 'Eye'], while: '(2 mm - {gap}) / (1 mm)', closes },
      ]),
      gauges: e([
        { name: 'gap', kind: 'distance', bodies: ['First', 'Second'], at: ['Hook', 'Eye'] },
        { name: 'v1', kind: 'joint', joint: 'First way', of: 'rate' },
        { name: 'v2', kind: 'joint', joint: 'Second way', of: 'rate' },
        { name: 'load', kind: 'reaction', joint: 'Coupling', component: 'x' },
        { name: 'closing', kind: 'energy', of: 'closing' },
      ]),
      ...extra,
    });
  it('takes the other along from where they meet: momentum stays, what an impact loses is told, and so is the gap', () => {
    const r = runModel(carts('again')),
      after = r.time.findIndex((t) => t > 0.5);
    expect(r.end.status).toBe('done');
    // 0.498 m at 1 m/s, then 2/5 of that
    expect(r.gauge('v2')[after - 10]!).toBeCloseTo(0, 12);
    expect(r.gauge('v1').at(-1)!).toBeCloseTo(0.4, 9);
    expect(r.gauge('v2').at(-1)!).toBeCloseTo(0.4, 9);
    expect(r.gauge('gap').at(-1)!).toBeCloseTo(0.002, 8);
    const [met] = r.end.happenings;
    expect(met).toMatchObject({ kind: 'engages', element: { family: 'joints', name: 'Coupling' } });
    expect(met!.t).toBeCloseTo(0.498, 8);
    expect(met!.message).toMatch(/engages, 2 mm from where it meets\. 0\.6 J lost at once/);
    expect(Math.max(...r.gauge('closing').map(Math.abs))).toBeLessThan(1e-9);
  });
  it('goes past where it never closes again', () => {
    const r = runModel(carts('never'));
    expect(r.gauge('v2').at(-1)!).toBe(0);
    expect(r.end.happenings).toEqual([]);
  });
  it('opens and closes as often as it is told, carries loads while it holds, and is read and resumed from records as it was', () => {
    const pull = {
        loads: e([{ name: 'Pull', kind: 'force', body: 'Second', at: 'Eye', direction: [1, 0, 0], magnitude: '6 N * step(0.6 s, t)' }]),
      },
      m = carts('again', pull),
      opened = {
        ...m,
        joints: m.joints.map((j) =>
          j.name === 'Coupling' ? { ...j, while: 'min((2 mm - {gap}) / (1 mm), 2 * step(0.8 s, t) - 2 * step(0.7 s, t) + 1)' } : j,
        ) as RawElement[],
      },
      r = runModel(opened, { until: 0.7 });
    // held: both are pulled, and the coupling takes 2/5 of the force to the first
    const at = r.time.findIndex((t) => t > 0.65);
    expect(Math.abs(r.gauge('load')[at]!)).toBeCloseTo(6 * (2 / 5), 6);
    // begun anew from there it is coupled; its time counts from 0, when nothing pulls
    const on = runModel(opened, { until: 0.05, start: r.state(at) });
    expect(on.gauge('gap').at(-1)!).toBeCloseTo(0.002, 8);
    expect(on.gauge('v1').at(-1)!).toBeCloseTo(r.gauge('v2')[at]!, 8);
    const kinds = runModel(opened).end.happenings.map((h) => h.kind);
    expect(kinds).toEqual(['engages', 'releases']);
  });
});
