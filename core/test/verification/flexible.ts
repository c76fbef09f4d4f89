/** Stiff and flexible machines: rows of masses, strings, shafts, rotors, and what is stiff in a run. None of them was used in building the implicit steps. */
import { equilibrium, modes } from '../../src/analyses';
import type { Model } from '../../src';
import { type Problem, DOWN, G, at, cube, curve, e, frequencies, model, run, standing } from './problem';

const TURN = 2 * Math.PI;
/** Eigenvalues of the verification suite. */
const EXACT = 1e-10;

/** Masses on a line with springs between them, sliding along it. */
function row(n: number, k: number, mass: number, ends: readonly ('held' | 'free')[]): Model {
  const all = Array.from({ length: n }, (_, i) => i),
    spring = (name: string, joint: string) => ({ name, kind: 'joint-spring', joint, stiffness: k });
  return model('Row of masses', {
    points: e([{ name: 'O' }]),
    bodies: e(all.map((i) => cube(`M${i}`, mass))),
    joints: e([
      // the first hangs on the ground, each other on the one before
      ...all.map((i) => ({ name: `S${i}`, kind: 'prismatic', bodies: [i ? `M${i - 1}` : 'Ground', `M${i}`], at: ['O'], axis: [1, 0, 0] })),
      ...(ends[1] === 'held' ? [{ name: 'Last', kind: 'prismatic', bodies: [`M${n - 1}`, 'Ground'], at: ['O'], axis: [1, 0, 0] }] : []),
    ]),
    loads: e([
      ...all.filter((i) => i > 0 || ends[0] === 'held').map((i) => spring(`K${i}`, `S${i}`)),
      ...(ends[1] === 'held' ? [spring('K last', 'Last')] : []),
    ]),
  });
}

export const FLEXIBLE: Problem[] = [
  {
    title: 'Row of 120 masses held at both ends: slowest frequencies',
    exact: EXACT,
    source: 'ω = 2 √(k/m) sin(jπ/2(n + 1))',
    solve() {
      const [n, k, mass] = [120, 3e6, 0.02],
        found = frequencies(standing(row(n, k, mass, ['held', 'held'])));
      return [1, 2, 5, 20].map((j) =>
        at(`mode ${j}`, 'Hz', (2 * Math.sqrt(k / mass) * Math.sin((j * Math.PI) / (2 * (n + 1)))) / TURN, found[j - 1]!),
      );
    },
  },
  {
    title: 'Free row of 80 masses: one mode at zero, then the others',
    exact: EXACT,
    source: 'ω = 2 √(k/m) sin(jπ/2n), j = 0, 1, …',
    solve() {
      const [n, k, mass] = [80, 5e5, 0.1],
        found = frequencies(standing(row(n, k, mass, ['free', 'free'])));
      return [
        at('number at zero', '', 1, found.filter((f) => f === 0).length),
        ...[1, 3, 10].map((j) => at(`mode ${j}`, 'Hz', (2 * Math.sqrt(k / mass) * Math.sin((j * Math.PI) / (2 * n))) / TURN, found[j]!)),
      ];
    },
  },
  {
    title: 'String of 30 beads under tension: what pulls them back across is the tension alone',
    exact: 1e-9,
    source: 'ω = 2 √(T/(m h)) sin(jπ/2(n + 1)) across, twice each',
    solve() {
      const [n, h, mass, k, stretch] = [30, 0.05, 0.01, 2e6, 2e-5],
        T = k * stretch,
        all = Array.from({ length: n }, (_, i) => i),
        name = (i: number) => (i < 0 || i >= n ? 'Ground' : `B${i}`),
        end = (i: number, of: number) => (of < 0 ? 'Left' : of >= n ? 'Right' : `P${i}`);
      const found = frequencies(
        standing(
          model('String', {
            points: e([
              { name: 'Left' },
              { name: 'Right', at: [(n + 1) * h, 0, 0] },
              ...all.flatMap((i) => [
                { name: `Q${i}`, at: [(i + 1) * h, 0, 0] },
                { name: `P${i}`, body: `B${i}` },
              ]),
            ]),
            bodies: e(all.map((i) => ({ name: `B${i}`, origin: `Q${i}`, mass, inertia: [1e-6, 1e-6, 1e-6] }))),
            joints: e(all.map((i) => ({ name: `J${i}`, kind: 'same-orientation', bodies: ['Ground', `B${i}`], at: [`Q${i}`] }))),
            loads: e(
              Array.from({ length: n + 1 }, (_, i) => ({
                ...{ name: `K${i}`, kind: 'spring', bodies: [name(i - 1), name(i)], at: [end(i - 1, i - 1), end(i, i)] },
                ...{ stiffness: k, free: h - stretch },
              })),
            ),
          }),
        ),
      );
      return [1, 2, 7].flatMap((j) =>
        [0, 1].map((side) =>
          at(
            `mode ${j}, ${side ? 'up and down' : 'to and fro'}`,
            'Hz',
            (2 * Math.sqrt(T / (mass * h)) * Math.sin((j * Math.PI) / (2 * (n + 1)))) / TURN,
            found[2 * (j - 1) + side]!,
          ),
        ),
      );
    },
  },
  {
    title: 'Shaft of 60 discs, held at one end: torsion',
    exact: EXACT,
    source: 'ω = 2 √(κ/J) sin((2j − 1)π/2(2n + 1))',
    solve() {
      const [n, kappa, J] = [60, 4e4, 0.003],
        all = Array.from({ length: n }, (_, i) => i);
      const found = frequencies(
        standing(
          model('Shaft', {
            points: e([{ name: 'O' }]),
            bodies: e(all.map((i) => ({ name: `D${i}`, mass: 1, inertia: [1, 1, J] }))),
            joints: e(all.map((i) => ({ name: `A${i}`, kind: 'revolute', bodies: [i ? `D${i - 1}` : 'Ground', `D${i}`], at: ['O'] }))),
            loads: e(all.map((i) => ({ name: `K${i}`, kind: 'joint-spring', joint: `A${i}`, stiffness: kappa }))),
          }),
        ),
      );
      return [1, 2, 9].map((j) =>
        at(`mode ${j}`, 'Hz', (2 * Math.sqrt(kappa / J) * Math.sin(((2 * j - 1) * Math.PI) / (2 * (2 * n + 1)))) / TURN, found[j - 1]!),
      );
    },
  },
  {
    title: 'Rotor on a soft mount, spinning: forward and backward whirl of its axis',
    exact: 1e-9,
    source: 'Jₜ ω² ∓ Jₚ Ω ω − κ = 0, the cage turning with its axis',
    solve() {
      const [Jt, Jp, Jc, spin, kappa] = [0.02, 0.03, 1e-7, 400, 900],
        m = standing(
          model('Rotor', {
            points: e([{ name: 'O' }]),
            bodies: e([
              { name: 'Rotor', mass: 2, inertia: [Jt, Jt, Jp], spin: [0, 0, spin] },
              cube('Cage', 1e-3, { inertia: [Jc, Jc, Jc] }),
            ]),
            joints: e([
              { name: 'Axle', kind: 'revolute', bodies: ['Cage', 'Rotor'], at: ['O'] },
              { name: 'Gimbal', kind: 'spherical', bodies: ['Ground', 'Cage'], at: ['O'] },
            ]),
            loads: e([
              { name: 'Mount', kind: 'bushing', bodies: ['Ground', 'Cage'], at: ['O'], stiffness: [0, 0, 0], torsion: [kappa, kappa, 1e9] },
            ]),
          }),
        ),
        found = modes(m)
          .modes.filter((x) => x.im > 0 && x.frequency < 1e4)
          .map((x) => x.im)
          .sort((a, b) => a - b);
      const J = Jt + Jc,
        [b, c] = [(Jp * spin) / (2 * J), kappa / J],
        root = Math.sqrt(b * b + c);
      return [at('backward', 'rad/s', root - b, found[0]!), at('forward', 'rad/s', root + b, found[1]!)];
    },
  },
  {
    title: 'Bead on a spring in a rod that turns: softened by its turning',
    exact: EXACT,
    source: 'ω² = k/m − Ω²',
    solve() {
      const [k, mass, turning] = [90, 0.4, 11],
        m = standing(
          model('Bead', {
            points: e([{ name: 'O' }]),
            bodies: e([cube('Rod', 1), cube('Bead', mass)]),
            joints: e([
              { name: 'Axle', kind: 'revolute', bodies: ['Ground', 'Rod'], at: ['O'] },
              { name: 'Slide', kind: 'prismatic', bodies: ['Rod', 'Bead'], at: ['O'], axis: [1, 0, 0] },
            ]),
            drives: e([{ name: 'Motor', joint: 'Axle', value: turning }]),
            loads: e([{ name: 'Spring', kind: 'joint-spring', joint: 'Slide', stiffness: k }]),
          }),
        );
      return [at('frequency', 'Hz', Math.sqrt(k / mass - turning * turning) / TURN, modes(m).modes[0]!.frequency)];
    },
  },
  {
    title: 'Short thick cantilever: bending and shear at its tip',
    exact: 1e-9,
    source: 'F l³/3EI + F l/κGA, slope F l²/2EI; of one piece and of four (Timoshenko)',
    solve() {
      const [l, EI, shear, F] = [0.4, 2e4, 6e5, 1e-2];
      return [1, 4].flatMap((n) => {
        const all = Array.from({ length: n }, (_, i) => i),
          m = standing(
            model('Short beam', {
              points: e([
                { name: 'Root' },
                ...all.flatMap((i) => [
                  { name: `Q${i}`, at: [((i + 1) * l) / n, 0, 0] },
                  { name: `P${i}`, body: `N${i}` },
                ]),
              ]),
              bodies: e(all.map((i) => ({ name: `N${i}`, origin: `Q${i}`, mass: 1, inertia: [1e-2, 1e-2, 1e-2] }))),
              loads: e([
                ...all.map((i) => ({
                  ...{
                    name: `B${i}`,
                    kind: 'beam',
                    bodies: [i ? `N${i - 1}` : 'Ground', `N${i}`],
                    at: [i ? `P${i - 1}` : 'Root', `P${i}`],
                  },
                  ...{ axial: 1e8, bendingY: EI, torsion: 1e4, shear },
                })),
                { name: 'F', kind: 'force', body: `N${n - 1}`, at: `P${n - 1}`, direction: [0, 0, -1], magnitude: F },
              ]),
            }),
          );
        equilibrium(m);
        const { K } = m.system,
          tip = n - 1;
        return [
          at(`deflection, ${n === 1 ? 'one piece' : `${n} pieces`}`, 'm', (-F * l ** 3) / (3 * EI) - (F * l) / shear, K.r[3 * tip + 2]!),
          at(
            `slope, ${n === 1 ? 'one piece' : `${n} pieces`}`,
            'rad',
            (F * l * l) / (2 * EI),
            2 * Math.atan2(K.q[4 * tip + 2]!, K.q[4 * tip]!),
          ),
        ];
      });
    },
  },
  {
    title: 'Long chain of bushings under its own weight: stretch',
    exact: 1e-8,
    source: 'Σ of the weights below each over its stiffness',
    solve() {
      const [n, k, mass] = [100, 4e5, 0.3],
        all = Array.from({ length: n }, (_, i) => i),
        stiff = (x: number) => [x, x, x];
      const m = standing(
        model('Chain', {
          points: e([{ name: 'Hook' }, ...all.map((i) => ({ name: `A${i}`, at: [0, 0, -0.1 * i] }))]),
          bodies: e(all.map((i) => ({ name: `L${i}`, origin: `A${i}`, mass, inertia: [1e-3, 1e-3, 1e-3] }))),
          loads: e([
            ...all.map((i) => ({
              ...{ name: `K${i}`, kind: 'bushing', bodies: [i ? `L${i - 1}` : 'Ground', `L${i}`], at: [`A${i}`, `A${i}`] },
              ...{ stiffness: stiff(k), torsion: stiff(50) },
            })),
            { name: 'Gravity', kind: 'gravity', acceleration: [0, 0, -G] },
          ]),
        }),
      );
      equilibrium(m);
      const sag = -m.system.K.r[3 * (n - 1) + 2]! - 0.1 * (n - 1);
      return [at('stretch', 'm', (mass * G * (n * (n + 1))) / 2 / k, sag)];
    },
  },
  {
    title: 'Two masses, one on a spring a million times as stiff: both motions',
    source: 'Superposition of the two modes of a 2 × 2 matrix',
    solve(accuracy) {
      const [m1, m2, k1, k2, x0] = [1, 0.5, 100, 1e6, 0.05];
      const r = run(
        model('Stiff pair', {
          run: { until: 1, every: 0.01 },
          points: e([{ name: 'O' }]),
          bodies: e([cube('One', m1), cube('Two', m2)]),
          joints: e([
            { name: 'S1', kind: 'prismatic', bodies: ['Ground', 'One'], at: ['O'], axis: [1, 0, 0] },
            { name: 'S2', kind: 'prismatic', bodies: ['One', 'Two'], at: ['O'], axis: [1, 0, 0] },
          ]),
          loads: e([
            { name: 'Soft', kind: 'joint-spring', joint: 'S1', stiffness: k1 },
            { name: 'Stiff', kind: 'joint-spring', joint: 'S2', stiffness: k2 },
          ]),
          starts: e([
            { name: 'Pulled', joint: 'S1', position: x0 },
            { name: 'Together', joint: 'S2', position: 0 },
          ]),
          gauges: e([{ name: 'x', kind: 'joint', joint: 'S1' }]),
        }),
        accuracy,
      );
      // m1 ẍ1 = −k1 x1 + k2 d, m2 (ẍ1 + d̈) = −k2 d, with d = x2 − x1 = 0 at the start
      const a = k1 / m1,
        b = k2 / m1,
        c = k2 / m2,
        // ẍ = −a x + b d, d̈ = a x − (b + c) d
        trace = a + b + c,
        det = a * c,
        root = Math.sqrt(trace * trace - 4 * det),
        fast = 0.5 * (trace + root),
        slow = det / fast,
        // shape of each: d/x = (a − λ)/b
        [s, f] = [(a - slow) / b, (a - fast) / b],
        A = (x0 * f) / (f - s),
        B = (-x0 * s) / (f - s);
      return [curve(r, 'x', 'place of the first', 'm', (t) => A * Math.cos(Math.sqrt(slow) * t) + B * Math.cos(Math.sqrt(fast) * t))];
    },
  },
  {
    title: 'Falling through syrup: rates 1 : 10⁵',
    source: 'v = v∞ (1 − exp(−c t/m)), x its integral',
    solve(accuracy) {
      const [m, c] = [0.2, 2e4];
      const r = run(
        model('Syrup', {
          run: { until: 2, every: 0.02 },
          points: e([{ name: 'O' }]),
          bodies: e([cube('Ball', m)]),
          joints: e([{ name: 'S', kind: 'prismatic', bodies: ['Ground', 'Ball'], at: ['O'], axis: [0, 1, 0] }]),
          loads: e([DOWN, { name: 'Drag', kind: 'joint-spring', joint: 'S', damping: c }]),
          gauges: e([{ name: 'x', kind: 'joint', joint: 'S' }]),
        }),
        accuracy,
      );
      const v = (m * G) / c,
        tau = m / c;
      return [curve(r, 'x', 'place', 'm', (t) => -v * (t - tau * (1 - Math.exp(-t / tau))))];
    },
  },
  {
    title: 'Stiff torsion shaft that carries a fan: run up through it',
    source: 'Rigid shaft but for terms of the order of its period: J ω̇ = M − b ω, both discs together',
    floor: 2e-7,
    solve(accuracy) {
      const [J1, J2, kappa, damping, M, b] = [0.02, 0.3, 1e8, 2e3, 12, 0.4];
      const r = run(
        model('Fan', {
          run: { until: 3, every: 0.03 },
          points: e([{ name: 'O' }]),
          bodies: e([
            { name: 'Motor', mass: 1, inertia: [1, 1, J1] },
            { name: 'Fan', mass: 1, inertia: [1, 1, J2] },
          ]),
          joints: e([
            { name: 'Bearing', kind: 'revolute', bodies: ['Ground', 'Motor'], at: ['O'] },
            { name: 'Shaft', kind: 'revolute', bodies: ['Motor', 'Fan'], at: ['O'] },
            { name: 'Far bearing', kind: 'revolute', bodies: ['Ground', 'Fan'], at: ['O'] },
          ]),
          loads: e([
            { name: 'Torque', kind: 'torque', body: 'Motor', direction: [0, 0, 1], magnitude: M },
            { name: 'Twist', kind: 'joint-spring', joint: 'Shaft', stiffness: kappa, damping },
            { name: 'Air', kind: 'joint-spring', joint: 'Far bearing', damping: b },
          ]),
          gauges: e([{ name: 'w', kind: 'joint', joint: 'Far bearing', of: 'rate' }]),
        }),
        accuracy,
      );
      return [curve(r, 'w', 'speed', 'rad/s', (t) => (M / b) * (1 - Math.exp((-b * t) / (J1 + J2))))];
    },
  },
];
