/** Beams with mass of their own: frequencies, weight, momentum and energy, and all ways of evaluating them. */
import { describe, expect, it } from 'vitest';
import { type Mechanism, type Model, type RawElement, assemble, build, runModel } from '../src';
import { equilibrium, modes } from '../src/analyses';
import { bodyLoads, snapshotChannel } from '../src/results/body-loads';
import { Readings } from '../src/results/readings';
import { SLENDER, type Slender, slender } from './slender';

const off = (x: Float64Array, y: Float64Array) => x.reduce((most, v, i) => Math.max(most, Math.abs(v - y[i]!)), 0);
const e = (list: object[]) => list as RawElement[];

function standing(of: Model): Mechanism {
  const { mechanism: m, diagnoses } = build(of);
  if (!m) throw new Error(JSON.stringify(diagnoses));
  m.system.K.load(assemble(m).y);
  return m;
}
/** Of an even beam: Hz of a root (kL)². */
const bending = ({ EI, mass, length }: Slender, root: number) => (root * root * Math.sqrt(EI / mass)) / (2 * Math.PI * length * length);
const ROOTS = {
  cantilever: [1.875104068711961, 4.694091132974174, 7.854757438237613],
  clamped: [4.730040744862704, 7.853204624095838, 10.995607838001671],
};

describe('bending of beams with mass', () => {
  const thin = { ...SLENDER, EA: 4e11 };
  it.each([
    [4, 1e-3],
    [8, 1e-5],
  ])('the first three frequencies of a cantilever of %d pieces, in both planes, to %d', (pieces, to) => {
    const b = { ...thin, pieces },
      f = modes(standing(slender(b)))
        .modes.map((x) => x.frequency)
        .filter((_, k) => k < 6);
    ROOTS.cantilever.forEach((r, k) => {
      for (const x of [f[2 * k]!, f[2 * k + 1]!]) expect(Math.abs(x / bending(b, r) - 1)).toBeLessThan(to);
    });
  });
  it.each([
    ['clamped at both ends', ['clamped', 'clamped'], 0],
    ['free', ['free', 'free'], 6],
  ] as const)('%s: the error falls with the fifth power of the pieces at least', (_, held, still) => {
    const off = (pieces: number) => {
      const b: Slender = { ...thin, pieces, held },
        f = modes(standing(slender(b))).modes.map((x) => x.frequency);
      expect(f.filter((x) => x === 0)).toHaveLength(still);
      return ROOTS.clamped.map((r, k) => Math.abs(f[still + 2 * k]! / bending(b, r) - 1));
    };
    const [coarse, fine] = [off(6), off(12)];
    coarse.forEach((x, k) => expect(x / fine[k]!).toBeGreaterThan(32));
    expect(Math.max(...fine)).toBeLessThan(1e-4);
  });
  it('short and thick, with shear and rotary inertia: frequencies of Timoshenko’s beam, simply supported', () => {
    // of a square bar an eighth of its length thick; across the frequencies are exact roots of his equation
    const [h, E, G, rho, L] = [0.15, 2.1e11, 8e10, 7800, 1.2],
      [A, I] = [h * h, h ** 4 / 12],
      shear = (5 / 6) * G * A,
      exact = (n: number) => {
        const k = (n * Math.PI) / L,
          [a, b, c] = [(rho * rho * A * I) / shear, rho * A + rho * I * k * k + (rho * A * E * I * k * k) / shear, E * I * k ** 4];
        return Math.sqrt((b - Math.sqrt(b * b - 4 * a * c)) / (2 * a)) / (2 * Math.PI);
      };
    const b: Slender = {
        pieces: 16,
        length: L,
        mass: rho * A,
        EA: E * A,
        EI: E * I,
        GJ: 0.141 * G * h ** 4,
        shear,
        held: ['free', 'free'],
      },
      free = slender(b),
      // the ends cannot leave the axis
      at = (i: number, axis: number[], name: string) => [
        {
          name,
          kind: 'bushing',
          bodies: ['Ground', `N${i}`],
          at: [`E${i}`, `P${i}`],
          stiffness: axis.map((x) => x * 1e14),
          torsion: [i ? 0 : 1e12, 0, 0],
        },
      ],
      m = {
        ...free,
        points: e([...free.points!, { name: 'E0', at: [0, 0, 0] }, { name: 'E16', at: [L, 0, 0] }]),
        loads: e([...free.loads!, ...at(0, [1, 1, 1], 'Left'), ...at(16, [0, 1, 1], 'Right')]),
      },
      f = modes(standing(m)).modes.map((x) => x.frequency);
    for (const n of [1, 2, 3]) expect(Math.min(...f.map((x) => Math.abs(x / exact(n) - 1)))).toBeLessThan(3e-4);
  });
});

describe('weight and motion of beams with mass', () => {
  it('under its weight a cantilever sags as it must: its tip exactly, however few pieces it has', () => {
    for (const pieces of [1, 3]) {
      const b = { ...SLENDER, pieces, gravity: 1e-2 },
        m = standing(slender(b));
      expect(equilibrium(m).stable).toBe(true);
      const tip = m.system.K.r[3 * (pieces - 1) + 2]!;
      expect(tip / ((-b.mass * b.gravity * b.length ** 4) / (8 * b.EI))).toBeCloseTo(1, 7);
    }
  });
  it('a wire that is a million times as stiff along as it bends hangs down, whatever stretches it', () => {
    const tip = (EA: number): number[] => {
        const m = standing(slender({ ...SLENDER, EI: 0.6, GJ: 0.5, EA, gravity: 9.81 }));
        expect(equilibrium(m).stable).toBe(true);
        return Array.from(m.system.K.r.subarray(9, 12));
      },
      [soft, stiff] = [tip(4e5), tip(4e7)];
    expect(stiff![2]).toBeLessThan(-0.8);
    stiff!.forEach((x, k) => expect(Math.abs(x - soft![k]!)).toBeLessThan(1e-4));
  });
  it('free, weighed down by a factor of time: it falls as a body does', () => {
    const m = slender({ ...SLENDER, pieces: 2, held: ['free', 'free'] }, { run: { until: 0.5, every: 0.1 } } as never),
      falling = {
        ...m,
        loads: e([...m.loads!, { name: 'Gravity', kind: 'gravity', acceleration: [0, 0, -9], factor: 't / (1 s)' }]),
        gauges: e([
          { name: 'z', kind: 'point', body: 'N1', at: 'P1', component: 'z' },
          { name: 'closing', kind: 'energy', of: 'closing' },
        ]),
      };
    const run = runModel(falling, { accuracy: 1e-9 });
    expect(run.gauge('z').at(-1)!).toBeCloseTo((-9 * 0.5 ** 3) / 6, 9);
    expect(Math.abs(run.gauge('closing').at(-1)!)).toBeLessThan(1e-9);
  });
  /** Thrown, turning and bent: nothing acts on it. */
  const thrown = (more: object = {}): Model => {
    const m = slender({ ...SLENDER, pieces: 3, EI: 9, GJ: 7, EA: 4e5, held: ['free', 'free'] }, {
        run: { until: 0.2, every: 0.01, accuracy: 1e-10, ...more },
      } as never),
      momenta = ['linear', 'angular'].flatMap((of) =>
        ['x', 'y', 'z'].map((component) => ({ name: `${of} ${component}`, kind: 'momentum', of, component })),
      );
    return {
      ...m,
      bodies: e(m.bodies!.map((b, i) => ({ ...b, spin: [3 + i, 2 - 2 * i, 20 + 3 * i], velocity: [0.3, 8 * (i - 1.2), 0.5 * i * i] }))),
      gauges: e([...momenta, { name: 'closing', kind: 'energy', of: 'closing' }, { name: 'energy', kind: 'energy' }]),
    };
  };
  it.each([
    ['explicit', 1e-10],
    ['implicit', 1e-7],
  ])('thrown, keeps its momentum, its angular momentum and its energy, by %s steps', (method, accuracy) => {
    const run = runModel(thrown(), { method, accuracy } as never);
    expect(run.end.status).toBe('done');
    for (const of of ['linear', 'angular']) {
      const parts = ['x', 'y', 'z'].map((c) => run.gauge(`${of} ${c}`)),
        size = Math.hypot(...parts.map((p) => p[0]!));
      expect(size).toBeGreaterThan(0.05);
      for (const p of parts)
        expect(
          off(
            p,
            p.map(() => p[0]!),
          ) / size,
        ).toBeLessThan(1e-7);
    }
    expect(run.gauge('energy')[0]).toBeGreaterThan(1);
    expect(Math.max(...run.gauge('closing').map(Math.abs))).toBeLessThan(10 * accuracy * run.gauge('energy')[0]!);
  });
  it('what acts on a body that a beam with mass is clamped in sums to nothing, inertia included', () => {
    const run = runModel(thrown()),
      most = { N0: 0, N1: 0 };
    new Readings(run.mechanism, run.layout).read(
      [
        snapshotChannel((snapshot) => {
          for (const body of ['N0', 'N1'] as const) {
            const { loads, rest } = bodyLoads(run.mechanism, body, snapshot),
              pushing = loads.filter((l) => l.kind === 'inertia' && Math.hypot(...l.force) > 1e-3);
            most[body] = Math.max(most[body], pushing.length);
            if (pushing.length > 0) expect(Math.max(rest.force, rest.moment)).toBeLessThan(1e-7);
          }
        }),
      ],
      run.chunks,
    );
    // one beam at the end, two between
    expect(most).toEqual({ N0: 1, N1: 2 });
  });
});
