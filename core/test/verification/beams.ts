/** Beams with mass of their own: how they bend, swing, sag, buckle and turn. None of these was used in building them but the first two. */
import { equilibrium, modes } from '../../src/analyses';
import type { Model } from '../../src';
import { SLENDER, type Slender, slender } from '../slender';
import { onHub } from '../stiff';
import { type Problem, at, e, frequencies, model, run, standing } from './problem';

const nearest = (list: readonly number[], f: number) => list.reduce((best, x) => (Math.abs(x - f) < Math.abs(best - f) ? x : best));
const TURN = 2 * Math.PI;

/** Stretches and rotary inertia of next to nothing. */
const THIN: Slender = { ...SLENDER, EA: 4e9 };
/** Of an even beam: Hz of a root kL. */
const bending = ({ EI, mass, length }: Slender, root: number) => (root * root * Math.sqrt(EI / mass)) / (TURN * length * length);
const bars = (title: string, held: Slender['held'], pieces: number, roots: readonly number[], source: string): Problem => ({
  title,
  exact: 1e-3,
  source,
  solve() {
    const b = { ...THIN, pieces, held },
      found = frequencies(standing(slender(b)));
    return roots.map((r, k) => at(`bending mode ${k + 1}`, 'Hz', bending(b, r), nearest(found, bending(b, r))));
  },
});

/** A root of a function between two places where it has different signs. */
function rootOf(f: (x: number) => number, a: number, b: number): number {
  for (let i = 0; i < 200; i++) {
    const c = 0.5 * (a + b);
    if (f(a) * f(c) <= 0) b = c;
    else a = c;
  }
  return 0.5 * (a + b);
}

/** The slowest ω of a cantilever that is pressed at its free end along its own axis as drawn: EI w'''' + P w'' = μ ω² w. */
function pressed({ EI, mass, length: L }: Slender, P: number): number {
  const p = P / EI,
    f = (w: number) => {
      const root = Math.sqrt(p * p + (4 * mass * w * w) / EI),
        [a, b] = [Math.sqrt((root - p) / 2), Math.sqrt((root + p) / 2)],
        [ch, sh, cs, sn] = [Math.cosh(a * L), Math.sinh(a * L), Math.cos(b * L), Math.sin(b * L)],
        // w = ch ax − cos bx + C (sh ax/a − sin bx/b): no moment, and no force across, at the end
        C = -(a * a * ch + b * b * cs) / (a * sh + b * sn);
      return a ** 3 * sh - b ** 3 * sn + C * (a * a * ch + b * b * cs) + p * (a * sh + b * sn + C * (ch - cs));
    };
  const step = 0.02 * Math.sqrt(EI / (mass * L ** 4));
  let w = step;
  while (f(w) * f(w + step) > 0) w += step;
  return rootOf(f, w, w + step);
}

/** A blade of length 1 on a hub that turns. */
function rotor(pieces: number, speed: number): Model {
  const spin = [0, 0, speed];
  return onHub(
    {
      ...{ pieces, length: 1, hub: { spin }, node: (x) => ({ spin, velocity: [0, speed * x, 0] }) },
      ...{ drive: { prescribes: 'speed', value: `${speed} rad/s` }, beam: { axial: 1e5, bendingY: 1, torsion: 1, mass: 1 } },
    },
    { run: { until: 1, every: 0.1 } as never },
  );
}

export const BEAMS: Problem[] = [
  bars(
    'Cantilever of four beams: first three bending frequencies',
    ['clamped', 'free'],
    4,
    [1.875104068711961, 4.694091132974174, 7.854757438237613],
    'cos kL cosh kL = −1 (Euler-Bernoulli)',
  ),
  bars(
    'Free bar of eight beams: first three bending frequencies',
    ['free', 'free'],
    8,
    [4.730040744862704, 7.853204624095838, 10.995607838001671],
    'cos kL cosh kL = 1 (Euler-Bernoulli)',
  ),
  bars(
    'Bar of eight beams clamped at both ends: first three bending frequencies',
    ['clamped', 'clamped'],
    8,
    [4.730040744862704, 7.853204624095838, 10.995607838001671],
    'cos kL cosh kL = 1 (Euler-Bernoulli)',
  ),
  {
    title: 'Cantilever of three beams under its own weight',
    exact: 1e-6,
    source: 'w L⁴/8EI at its end, w L³/6EI its slope: exact at the ends of beams, however few',
    solve() {
      const b = { ...SLENDER, pieces: 3, gravity: 0.01 },
        m = standing(slender(b));
      equilibrium(m);
      const w = b.mass * b.gravity,
        { r, q } = m.system.K;
      return [
        at('sag', 'm', (w * b.length ** 4) / (8 * b.EI), -r[8]!),
        at('slope', 'rad', (w * b.length ** 3) / (6 * b.EI), 2 * Math.atan2(q[10]!, q[8]!)),
      ];
    },
  },
  {
    title: 'Stiff rod hung at its end: how it swings',
    exact: 1e-8,
    source: 'ω² = 3g/2L',
    solve() {
      const L = 1.2,
        m = model('Rod', {
          points: e([{ name: 'O' }, { name: 'End', at: [L, 0, 0] }, { name: 'A', body: 'Eye' }, { name: 'B', body: 'Tip' }]),
          bodies: e([
            { name: 'Eye', origin: 'O' },
            { name: 'Tip', origin: 'End' },
          ]),
          joints: e([
            { name: 'Pin', kind: 'revolute', bodies: ['Ground', 'Eye'], at: ['O'], axis: [0, 1, 0] },
            { name: 'Stiff', kind: 'fixed', bodies: ['Eye', 'Tip'], at: ['B'] },
          ]),
          loads: e([
            { name: 'Rod', kind: 'beam', bodies: ['Eye', 'Tip'], at: ['A', 'B'], axial: 1e9, bendingY: 1, torsion: 1, mass: 0.7 },
            { name: 'Gravity', kind: 'gravity', acceleration: [9.81, 0, 0] },
          ]),
        });
      return [at('frequency', 'Hz', Math.sqrt((3 * 9.81) / (2 * L)) / TURN, frequencies(standing(m))[0]!)];
    },
  },
  {
    title: 'Cantilever bent to a quarter of a circle by a moment at its end',
    exact: 1e-5,
    source: 'An arc of radius EI/M',
    solve() {
      const b = { ...SLENDER, pieces: 8, EA: 4e6 },
        m = slender(b),
        M = (0.25 * TURN * b.EI) / b.length,
        bent = { ...m, loads: e([...m.loads!, { name: 'M', kind: 'torque', body: 'N8', direction: [0, -1, 0], magnitude: M }]) },
        s = standing(bent);
      equilibrium(s);
      const R = b.EI / M,
        { r } = s.system.K;
      return [at('end, along', 'm', R, r[21]!), at('end, across', 'm', R, r[23]!)];
    },
  },
  {
    title: 'Column under a load at its end that keeps its direction: slowest frequency at 0.3 and 0.8 of the buckling load',
    exact: 1e-4,
    source: "EI w'''' + P w'' = μ ω² w with its ends, solved by bisection; P = π² EI/4L² buckles it",
    solve() {
      const b = { ...SLENDER, pieces: 6, EA: 4e9 },
        m = slender(b),
        buckles = (Math.PI * Math.PI * b.EI) / (4 * b.length * b.length);
      return [0.3, 0.8].map((part) => {
        const P = part * buckles,
          load = { name: 'P', kind: 'force', body: 'N6', at: 'P6', direction: [-1, 0, 0], magnitude: P },
          s = standing({ ...m, loads: e([...m.loads!, load]) });
        equilibrium(s);
        return at(`frequency at ${part}`, 'Hz', pressed(b, P) / TURN, frequencies(s)[0]!);
      });
    },
  },
  {
    title: 'Blade that turns: slowest flapping frequency, stiffened by what pulls it outwards',
    exact: 1e-3,
    source: 'Wright, Smith, Thresher & Wang, J. Appl. Mech. 49 (1982) 197: μω²L⁴/EI at speeds of 1, 2 and 3',
    solve() {
      return [
        [1, 3.6816],
        [2, 4.1373],
        [3, 4.7973],
      ].map(([speed, known]) => {
        const r = run(rotor(8, speed!), 1e-6),
          m = r.mechanism;
        m.system.K.load(r.state(r.time.length - 1).subarray(0, m.system.size));
        return at(`frequency at ${speed} rad/s`, 'rad/s', known!, modes(m, 1).modes[0]!.im);
      });
    },
  },
];
