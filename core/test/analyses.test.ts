/** Analyses as they are declared: settings, postures they are about, numbers as inputs, harmonic runs. */
import { describe, expect, it } from 'vitest';
import { type Model, type RawElement, Refusal, runModel } from '../src';
import { ANALYSES, type Found, type Given, analysed, declared, equilibrium, linearSystem } from '../src/analyses';
import { numbersOf, withChanged } from '../src/model/numbers';
import { readPresent } from '../src/solve/present';
import { standing } from '../src/studies/analyses/about';
import { MACHINES } from './machines';
import { model } from './models';

const e = (list: object[]) => list as RawElement[];
const ask = (name: string, of: Model, settings: Given['settings'] = {}, more: Omit<Given, 'settings'> = {}): Found => {
  const work = analysed(name, of, { ...more, settings });
  let step = work.next();
  while (!step.done) step = work.next();
  return step.value;
};
const refusal = (work: () => unknown): Refusal => {
  try {
    work();
  } catch (error) {
    if (error instanceof Refusal) return error;
    throw error;
  }
  throw new Error('It was not refused.');
};

/** An arm on a pin, held by a spring whose force and place are numbers of the model. */
const arm = (more: object = {}): Model =>
  model('Arm', {
    run: { until: 1, every: 0.01, accuracy: 1e-9 },
    parameters: e([
      { name: 'reach', value: '0.4 m' },
      { name: 'pull', value: '300 N/m' },
    ]),
    points: e([{ name: 'O' }, { name: 'Tip', body: 'Arm', at: ['reach', 0, 0] }, { name: 'Hook', at: [0, '0.5 m', 0] }]),
    bodies: e([{ name: 'Arm', mass: 2, centre: [0.2, 0, 0], inertia: [0.02, 0.03, 0.03] }]),
    joints: e([{ name: 'Pin', kind: 'revolute', bodies: ['Ground', 'Arm'], at: ['O'] }]),
    loads: e([
      { name: 'Gravity', kind: 'gravity', acceleration: [0, -9.81, 0] },
      { name: 'Spring', kind: 'spring', bodies: ['Ground', 'Arm'], at: ['Hook', 'Tip'], stiffness: 'pull', free: '0.45 m', damping: 4 },
      { name: 'Motor', kind: 'torque', body: 'Arm', direction: [0, 0, 1], magnitude: 0 },
    ]),
    gauges: e([
      { name: 'angle', kind: 'joint', joint: 'Pin' },
      { name: 'height', kind: 'point', body: 'Arm', at: 'Tip', component: 'y' },
      { name: 'pin load', kind: 'reaction', joint: 'Pin', component: 'magnitude' },
    ]),
    ...more,
  });

describe('the registry', () => {
  it('tells a page what there is: names that a model has for its settings, and no code', () => {
    const list = declared(arm());
    expect(list.map((a) => a.name)).toEqual(ANALYSES.map((a) => a.name));
    expect(JSON.parse(JSON.stringify(list))).toEqual(structuredClone(list));
    const linear = list.find((a) => a.name === 'linear')!.settings;
    expect(linear.find((s) => s.key === 'in')).toMatchObject({ names: expect.arrayContaining(['Motor', 'pull', 'Arm, mass']) as string[] });
    expect(linear.find((s) => s.key === 'out')).toMatchObject({ names: ['angle', 'height', 'pin load'] });
  });
  it.each(ANALYSES.map((a) => [a.name, a] as const))(
    '%s refuses each setting that does not fit, by its name, and names that are not there',
    (name, a) => {
      const good: Record<string, string | string[]> = { in: ['Motor'], out: ['angle'], joint: 'Pin' };
      for (const [key, s] of Object.entries(a.settings)) {
        if (s.type === 'amount') continue;
        const bad = s.type === 'name' ? 'Nobody' : s.type === 'count' ? '0.5' : '3 kg';
        const told = refusal(() => ask(name, arm(), { ...good, [key]: bad })).diagnoses[0]!;
        expect(told.message).toContain(s.label);
        expect(told.message).toContain(bad);
      }
    },
  );
  it.each(ANALYSES.filter((a) => a.about).map((a) => a.name))('%s is about the posture that is asked for', (name) => {
    const of = arm(),
      settings = { in: ['Motor'], out: ['angle'] },
      data = (about: Given['about'], at?: string) =>
        JSON.stringify(ask(name, of, settings, { ...(about ? { about } : {}), ...(at ? { at } : {}) }).data);
    if (name !== 'motions') expect(data('start')).not.toBe(data('equilibrium'));
    expect(data('time', '0.2 s')).not.toBe(name === 'motions' ? '' : data('start'));
    expect(refusal(() => ask(name, of, settings, { about: 'time' })).diagnoses[0]!.message).toContain('time');
  });
  it('about a time of a run it stands where the run does', () => {
    const of = arm(),
      found = ask('motions', of, {}, { about: 'time', at: '0.37 s' }),
      run = runModel({ ...of, run: { ...of.run, until: 0.37 } }),
      middle = found.items[0]!.shown!.frames.subarray(7 * 24, 7 * 25);
    [...run.state(run.time.length - 1).subarray(0, 7)].forEach((x, i) => expect(middle[i]).toBeCloseTo(x, 7));
  });
  it('says of a machine without an equilibrium what else can be asked', () => {
    const free = model('Free', {
      points: e([{ name: 'O' }]),
      bodies: e([{ name: 'Stone', mass: 1, inertia: [1, 1, 1] }]),
      loads: e([{ name: 'G', kind: 'gravity', acceleration: [0, -9.81, 0] }]),
    });
    expect(refusal(() => ask('modes', free)).diagnoses[0]!.remedy).toContain('assembled posture');
    expect(ask('modes', free, {}, { about: 'start' }).items).toHaveLength(6);
  });
});

describe('equilibria', () => {
  it('tell joints, gauges and stiffness of each: M g l cos of a hanging weight', () => {
    const [mass, l, g] = [1.3, 0.2, 9.81],
      of = model('Weight', {
        points: e([{ name: 'O' }]),
        bodies: e([{ name: 'Weight', mass, centre: [l, 0, 0], inertia: [0.1, 0.1, 0.1] }]),
        joints: e([{ name: 'Pin', kind: 'revolute', bodies: ['Ground', 'Weight'], at: ['O'] }]),
        loads: e([{ name: 'G', kind: 'gravity', acceleration: [0, -g, 0] }]),
        gauges: e([{ name: 'load', kind: 'reaction', joint: 'Pin', component: 'magnitude' }]),
      }),
      { equilibria } = ask('equilibria', of).data as {
        equilibria: Record<'joints' | 'gauges' | 'stiffness', { value: number; unit: string }[]>[];
      };
    expect(equilibria).toHaveLength(2);
    equilibria.forEach((x, i) => {
      expect(x.joints[0]!.value).toBeCloseTo(i === 0 ? -90 : 90, 9);
      expect(x.stiffness[0]).toEqual({
        motion: 'Pin turns',
        value: expect.closeTo(mass * g * l * (i === 0 ? 1 : -1), 9) as number,
        unit: 'N·m/rad',
      });
      expect(x.gauges[0]!.value).toBeCloseTo(mass * g, 9);
    });
  });
  it('a run begun at one stays there', () => {
    const of = arm(),
      [first] = ask('equilibria', of).items,
      run = runModel({ ...of, starts: first!.start!.map((s) => ({ name: `${s.joint} start`, ...s })) as RawElement[] }),
      angle = run.gauge('angle');
    expect(Math.max(...angle.map((x) => Math.abs(x - angle[0]!)))).toBeLessThan(1e-7);
  });
});

describe('numbers of a model as inputs', () => {
  const of = arm(),
    numbers = numbersOf(of).filter((n) => !n.direction && n.element.family !== 'drives');
  it.each(numbers.map((n) => [n.name, n] as const))('%s: its gain at rest is how the equilibrium moves', (name, number) => {
    const outputs = ['angle', 'height', 'pin load'],
      m = standing(of);
    equilibrium(m);
    const s = linearSystem(m, 0, [name], outputs, of),
      // one free motion: 0 = A₁₀ p + B₁ u
      p = -s.B[1]![0]! / s.A[1]![0]!,
      gain = outputs.map((_, i) => s.C[i]![0]! * p + s.D[i]![0]!),
      h = 1e-4,
      here = readPresent(
        m,
        0,
        outputs.map((o) => m.channel(o)),
      ),
      whole = number.against === 'size' ? m.size * number.scale : number.scale,
      at = (part: number) => {
        const n = standing(withChanged(of, number, part, m.size));
        equilibrium(n);
        return readPresent(
          n,
          0,
          outputs.map((o) => n.channel(o)),
        );
      },
      [a, b, c, d] = [h, -h, 2 * h, -2 * h].map(at) as [Float64Array, Float64Array, Float64Array, Float64Array];
    gain.forEach((x, i) => {
      const slope = (8 * (a[i]! - b[i]!) - (c[i]! - d[i]!)) / (12 * h * whole);
      // beside all that the gauge reads, for all that the number is
      expect(Math.abs(x - slope)).toBeLessThan(1e-6 * Math.max(1e-3 * Math.abs(here[i]! / whole), Math.abs(slope)));
    });
  });
  it('what moves joints is told to be slow; what makes another machine is refused', () => {
    const m = standing(of);
    equilibrium(m);
    expect(linearSystem(m, 0, ['Arm, centre of mass x'], ['angle'], of).diagnoses.map((d) => d.code)).toEqual(['linear-slowly']);
    expect(linearSystem(m, 0, ['pull'], ['angle'], of).diagnoses).toEqual([]);
  });
  it.each(MACHINES)('%s: every number of it is answered in finite numbers, or refused in words', (_, machine) => {
    const built = machine(),
      m = standing(built),
      list = numbersOf(built).slice(0, 12);
    for (const n of list) {
      try {
        const s = linearSystem(m, 0, [n.name], m.gauges.slice(0, 1), built);
        for (const x of [...s.B, ...s.D].flat()) expect(Number.isFinite(x)).toBe(true);
      } catch (error) {
        if (!(error instanceof Refusal)) throw error;
        expect(error.diagnoses[0]!.message.length).toBeGreaterThan(10);
      }
    }
  });
});

describe('harmonic runs', () => {
  const [m, c, k] = [2, 3, 50],
    block = (more: object[] = [], damping = c): Model =>
      model('Block', {
        run: { until: 1, every: 0.01, accuracy: 1e-9 },
        points: e([{ name: 'O' }]),
        bodies: e([{ name: 'Block', mass: m, inertia: [1, 1, 1] }]),
        joints: e([{ name: 'S', kind: 'prismatic', bodies: ['Ground', 'Block'], at: ['O'], axis: [1, 0, 0] }]),
        loads: e([
          { name: 'Spring', kind: 'joint-spring', joint: 'S', stiffness: k, damping },
          { name: 'Push', kind: 'force', body: 'Block', at: 'O', direction: [1, 0, 0], magnitude: 0 },
          ...more,
        ]),
        gauges: e([{ name: 'x', kind: 'joint', joint: 'S' }]),
      });
  type Data = {
    response: { frequency: number; values: { re: number; im: number }[][] }[];
    harmonic: { frequency: number; settled: boolean; outputs: { re: number; im: number; distortion: number }[] }[];
  };
  const swung = (of: Model, amplitude: string, settings: Given['settings'] = {}) =>
    ask('linear', of, { in: ['Push'], out: ['x'], from: '0.3 Hz', to: '2 Hz', points: '5', runs: '5', amplitude, ...settings });

  it('of a linear machine are its frequency response', () => {
    const { response, harmonic } = swung(block(), '2 N').data as Data;
    expect(harmonic).toHaveLength(5);
    harmonic.forEach((h, i) => {
      const want = response[i]!.values[0]![0]!,
        [got] = h.outputs,
        size = Math.hypot(want.re, want.im);
      expect(h.settled).toBe(true);
      expect(Math.hypot(got!.re - want.re, got!.im - want.im) / size).toBeLessThan(2e-4);
      expect(got!.distortion).toBeLessThan(1e-4);
    });
  });
  it('of one without damping too, since they begin as it swings', () => {
    const { response, harmonic } = swung(block([], 0), '2 N').data as Data;
    harmonic.forEach((h, i) => {
      expect(h.settled).toBe(true);
      expect(h.outputs[0]!.re / response[i]!.values[0]![0]!.re).toBeCloseTo(1, 3);
    });
  });
  it('of a spring that stiffens as harmonic balance says, with its third harmonic', () => {
    // m ẍ + c ẋ + k x + k₃ x³ = A cos ωt with x = a cos: ((k + ¾ k₃ a² − m ω²)² + c² ω²) a² = A² (Nayfeh & Mook, Nonlinear Oscillations, ch. 4)
    const k3 = 4000,
      of = block([{ name: 'Stiffening', kind: 'force', body: 'Block', at: 'O', direction: [1, 0, 0], magnitude: `-${k3} N/m^3*{x}^3` }], 6),
      A = 3,
      { harmonic } = swung(of, `${A} N`, { from: '0.3 Hz', to: '0.6 Hz' }).data as Data;
    for (const h of harmonic) {
      const w = 2 * Math.PI * h.frequency,
        a = A * Math.hypot(h.outputs[0]!.re, h.outputs[0]!.im),
        force = a * Math.hypot(k + 0.75 * k3 * a * a - m * w * w, 6 * w);
      expect(h.settled).toBe(true);
      expect(Math.abs(force / A - 1)).toBeLessThan(0.03);
      expect(h.outputs[0]!.distortion).toBeGreaterThan(1e-3);
    }
  });
  it('of a drive swing by what it prescribes', () => {
    const cart = (prescribes: string, value: string): Model => ({
      ...block(),
      points: e([{ name: 'O' }]),
      bodies: e([
        { name: 'Block', mass: m, inertia: [1, 1, 1] },
        { name: 'Table', mass: 5, inertia: [1, 1, 1] },
      ]),
      joints: e([
        { name: 'Track', kind: 'prismatic', bodies: ['Ground', 'Table'], at: ['O'], axis: [1, 0, 0] },
        { name: 'S', kind: 'prismatic', bodies: ['Table', 'Block'], at: ['O'], axis: [1, 0, 0] },
      ]),
      loads: e([{ name: 'Spring', kind: 'joint-spring', joint: 'S', stiffness: k, damping: c }]),
      drives: e([{ name: 'Shaker', joint: 'Track', prescribes, value }]),
    });
    for (const [prescribes, value, amplitude, order] of [
      ['position', '0 mm', '5 mm', 2],
      ['speed', '0 m/s', '20 mm/s', 1],
      ['acceleration', '0 m/s^2', '0.3 m/s^2', 0],
    ] as const) {
      const { response, harmonic } = ask('linear', cart(prescribes, value), {
        in: ['Shaker'],
        out: ['x'],
        from: '0.5 Hz',
        to: '2 Hz',
        points: '3',
        runs: '3',
        amplitude,
      }).data as Data;
      harmonic.forEach((h, i) => {
        const w = 2 * Math.PI * h.frequency,
          want = response[i]!.values[0]![0]!,
          size = (m * w ** order) / Math.hypot(k - m * w * w, c * w);
        expect(Math.hypot(want.re, want.im)).toBeCloseTo(size, 9);
        expect(h.settled).toBe(true);
        expect(Math.hypot(h.outputs[0]!.re - want.re, h.outputs[0]!.im - want.im) / size).toBeLessThan(3e-4);
      });
    }
  });
  it('of what changes in time are about its start; a drive that moves there is refused', () => {
    const ramped = (value: string): Model => ({
        ...block([{ name: 'Later', kind: 'force', body: 'Block', at: 'O', direction: [1, 0, 0], magnitude: '40 N*step(1 s, t)' }]),
        joints: e([
          { name: 'Spin', kind: 'revolute', bodies: ['Ground', 'Wheel'], at: ['O'] },
          { name: 'S', kind: 'prismatic', bodies: ['Ground', 'Block'], at: ['O'], axis: [1, 0, 0] },
        ]),
        bodies: e([
          { name: 'Block', mass: m, inertia: [1, 1, 1] },
          { name: 'Wheel', mass: 1, inertia: [1, 1, 1] },
        ]),
        drives: e([{ name: 'Motor', joint: 'Spin', prescribes: 'speed', value }]),
      }),
      { response, harmonic } = swung(ramped('30 rpm*smoothstep(0 s, 1 s, t)'), '2 N').data as Data;
    harmonic.forEach((h, i) => {
      expect(h.settled).toBe(true);
      expect(h.outputs[0]!.re / response[i]!.values[0]![0]!.re).toBeCloseTo(1, 3);
    });
    expect(refusal(() => swung(ramped('30 rpm'), '2 N')).diagnoses[0]).toMatchObject({ code: 'harmonic-moving' });
  });
  it('are refused about a motion, without frequencies, of a number, and with an amplitude of another dimension', () => {
    const code = (settings: Given['settings'], more: Omit<Given, 'settings'> = {}) =>
      refusal(() => ask('linear', block(), { in: ['Push'], out: ['x'], from: '1 Hz', to: '2 Hz', amplitude: '1 N', ...settings }, more))
        .diagnoses[0]!.code;
    expect(code({}, { about: 'time', at: '0.3 s' })).toBe('harmonic-moving');
    expect(code({ from: '', to: '' })).toBe('setting');
    expect(code({ in: ['Block, mass'], amplitude: '1 kg' })).toBe('harmonic-input');
    expect(code({ amplitude: '1 m' })).toBe('setting');
  });
});
