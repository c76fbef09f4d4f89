/** Equilibria, modes, linear systems: answers that do not depend on an integration. */
import { assemble, build } from '../../src';
import { equilibria, equilibrium, modes, range } from '../../src/analyses';
import type { Mechanism, Model } from '../../src';
import { type Compared, type Problem, DOWN, G, cube, e, gravity, model, run } from './problem';

const mechanism = (m: Model): Mechanism => {
  const { mechanism: built, diagnoses } = build(m);
  if (!built) throw new Error(JSON.stringify(diagnoses));
  built.system.K.load(assemble(built).y);
  return built;
};
const at = (quantity: string, unit: string, reference: number, ours: number, scale?: number): Compared => ({
  quantity,
  unit,
  reference,
  ours,
  ...(scale === undefined ? {} : { scale }),
});
const EXACT = 1e-7;
const block = (loads: object[], extra: object = {}) =>
  model('Block', {
    points: e([{ name: 'O' }]),
    bodies: e([{ ...cube('Block', 2), ...extra }]),
    loads: e(loads),
  });

export const STATICS: Problem[] = [
  {
    title: 'Hanging chain of ten links between two walls',
    exact: EXACT,
    source: 'Link polygon: slopes change by the weight over the horizontal pull, found by bisection',
    solve() {
      const n = 10,
        l = 0.2,
        span = 1.4,
        w = 0.5 * G;
      const links = Array.from({ length: n }, (_, i) => i);
      const end = (H: number) => links.reduce((s, i) => s + l * Math.cos(Math.atan(((i - (n - 1) / 2) * w) / H)), 0);
      let lo = 1e-3,
        hi = 1e4;
      for (let i = 0; i < 200; i++) [lo, hi] = end((lo + hi) / 2) < span ? [(lo + hi) / 2, hi] : [lo, (lo + hi) / 2];
      const sag = links.slice(0, n / 2).reduce((s, i) => s + l * Math.sin(Math.atan(((i - (n - 1) / 2) * w) / lo)), 0);
      // drawn as a tent; assembly closes it
      const a = Math.acos(span / (n * l));
      const m = model('Chain', {
        run: { until: 1, every: 1 },
        points: e([
          { name: 'Left' },
          { name: 'Right', at: [span, 0, 0] },
          ...links.map((i) => ({ name: `P${i}`, body: `L${i}`, at: [l, 0, 0] })),
        ]),
        bodies: e(
          links.map((i) => ({
            name: `L${i}`,
            origin: i === 0 ? 'Left' : `P${i - 1}`,
            rotation: [0, 0, i < n / 2 ? -a : a],
            mass: 0.5,
            centre: [l / 2, 0, 0],
            inertia: [1e-4, 2e-3, 2e-3],
          })),
        ),
        joints: e([
          ...links.map((i) => ({
            name: `J${i}`,
            kind: 'revolute',
            bodies: [i === 0 ? 'Ground' : `L${i - 1}`, `L${i}`],
            at: [i === 0 ? 'Left' : `P${i - 1}`],
          })),
          { name: 'End', kind: 'revolute', bodies: [`L${n - 1}`, 'Ground'], at: [`P${n - 1}`, 'Right'] },
        ]),
        loads: e([DOWN]),
        gauges: e([
          { name: 'sag', kind: 'point', body: `L${n / 2 - 1}`, at: `P${n / 2 - 1}`, component: 'y' },
          { name: 'H', kind: 'reaction', joint: 'J0', component: 'x' },
        ]),
      });
      const r = run(m, 1e-5, { analysis: 'static' });
      return [at('sag', 'm', sag, r.gauge('sag')[0]!), at('horizontal pull', 'N', lo, Math.abs(r.gauge('H')[0]!))];
    },
  },
  {
    title: 'Weight on a linear and on a hardening spring',
    exact: 1e-6,
    source: 'm g = k x, and m g = a x + b x³ by Newton’s method (table of the cubic, Akima, point every 1 mm)',
    solve() {
      const build1 = (fields: object, tables: object[] = []) =>
        model('Weight', {
          run: { until: 1, every: 1 },
          tables: e(tables),
          points: e([{ name: 'Top' }, { name: 'Eye', at: [0, -1, 0] }]),
          bodies: e([cube('Weight', 3, { origin: 'Eye' })]),
          joints: e([{ name: 'S', kind: 'prismatic', bodies: ['Ground', 'Weight'], at: ['Eye'], axis: [0, 1, 0] }]),
          loads: e([DOWN, { name: 'K', kind: 'spring', bodies: ['Ground', 'Weight'], at: ['Top', 'Eye'], ...fields }]),
          gauges: e([{ name: 'y', kind: 'joint', joint: 'S' }]),
        } as never);
      const [a, b] = [200, 5e4];
      let x = 0.05;
      for (let i = 0; i < 50; i++) x -= (a * x + b * x ** 3 - 3 * G) / (a + 3 * b * x * x);
      const data = Array.from({ length: 401 }, (_, i) => [i - 200, a * ((i - 200) / 1000) + b * ((i - 200) / 1000) ** 3]);
      const hard = run(build1({ curve: 'hard' }, [{ name: 'hard', from: 'mm', to: 'N', data, between: 'akima' }]), 1e-5, {
        analysis: 'static',
      });
      const soft = run(build1({ stiffness: 500 }), 1e-5, { analysis: 'static' });
      return [at('linear', 'm', -(3 * G) / 500, soft.gauge('y')[0]!), at('hardening', 'm', -x, hard.gauge('y')[0]!)];
    },
  },
  {
    title: 'Quasi-static stretching of a spring',
    exact: EXACT,
    source: 'x = F(t)/k at every time',
    solve() {
      const r = run(
        model('Slow', {
          run: { until: 2, every: 0.1 },
          points: e([{ name: 'O' }]),
          bodies: e([cube('Block', 2)]),
          joints: e([{ name: 'S', kind: 'prismatic', bodies: ['Ground', 'Block'], at: ['O'], axis: [1, 0, 0] }]),
          loads: e([
            { name: 'K', kind: 'joint-spring', joint: 'S', stiffness: 400 },
            { name: 'F', kind: 'force', body: 'Block', at: 'O', direction: [1, 0, 0], magnitude: '20 N * sin(2 rad/s * t)' },
          ]),
          gauges: e([{ name: 'x', kind: 'joint', joint: 'S' }]),
        }),
        1e-5,
        { analysis: 'quasi-static' },
      );
      const x = r.gauge('x');
      return [
        {
          quantity: 'stretch',
          unit: 'm',
          reference: (20 / 400) * Math.sin(4),
          ours: x.at(-1)!,
          deviation: Math.max(...x.map((v, i) => Math.abs(v - 0.05 * Math.sin(2 * r.time[i]!)))),
          scale: 0.05,
        },
      ];
    },
  },
  {
    title: 'Body on six-axis bushing: frequencies',
    exact: EXACT,
    source: 'f = √(k/m)/2π and √(κ/I)/2π along and about each axis',
    solve() {
      const [k, q] = [
        [1000, 4000, 9000],
        [2, 5, 12],
      ];
      const m = mechanism(
        block([{ name: 'Mount', kind: 'bushing', bodies: ['Ground', 'Block'], at: ['O'], stiffness: k, torsion: q }], {
          inertia: [0.02, 0.03, 0.04],
        }),
      );
      equilibrium(m);
      const f = modes(m)
        .modes.map((x) => x.frequency)
        .sort((a, b) => a - b);
      const known = [...k.map((x) => Math.sqrt(x / 2)), ...[0.02, 0.03, 0.04].map((I, i) => Math.sqrt(q[i]! / I))]
        .map((w) => w / (2 * Math.PI))
        .sort((a, b) => a - b);
      return known.map((x, i) => at(`mode ${i + 1}`, 'Hz', x, f[i]!));
    },
  },
  {
    title: 'Bushing under load: deflection and large rotation',
    exact: EXACT,
    source: 'd = F/k along each axis; torque κ θ at 100° about one axis',
    solve() {
      const angle = (100 * Math.PI) / 180;
      const r = run(
        {
          ...block([
            { name: 'Mount', kind: 'bushing', bodies: ['Ground', 'Block'], at: ['O'], stiffness: [1000, 4000, 9000], torsion: [1, 2, 3] },
            gravity(1, 2, 3),
            { name: 'Wrench', kind: 'torque', body: 'Block', direction: [0, 1, 0], magnitude: 2 * angle },
          ]),
          gauges: e(['x', 'y', 'z'].map((c) => ({ name: c, kind: 'point', body: 'Block', at: 'O', component: c }))),
        },
        1e-5,
        { analysis: 'static' },
      );
      const q = Array.from(r.chunks[0]!.subarray(4, 8));
      return [
        ...['x', 'y', 'z'].map((c, i) => at(`deflection ${c}`, 'm', (2 * (i + 1)) / [1000, 4000, 9000][i]!, r.gauge(c)[0]!)),
        at('rotation', 'rad', angle, 2 * Math.atan2(Math.abs(q[2]!), Math.abs(q[0]!))),
      ];
    },
  },
  {
    title: 'Stiffness field with coupled directions',
    exact: EXACT,
    source: 'x = K⁻¹ F for a 6 × 6 matrix, solved by hand for a 2 × 2 block',
    solve() {
      const K: number[][] = Array.from({ length: 6 }, (_, i) => Array.from({ length: 6 }, (_x, j) => (i === j ? (i < 3 ? 2000 : 10) : 0)));
      K[0]![1] = K[1]![0] = 800;
      const r = run(
        {
          ...block([{ name: 'Field', kind: 'field', bodies: ['Ground', 'Block'], at: ['O'], stiffness: K }, gravity(3, 0, 0)]),
          gauges: e(['x', 'y'].map((c) => ({ name: c, kind: 'point', body: 'Block', at: 'O', component: c }))),
        },
        1e-5,
        { analysis: 'static' },
      );
      const det = 2000 * 2000 - 800 * 800;
      return [at('x', 'm', (6 * 2000) / det, r.gauge('x')[0]!), at('y', 'm', (-6 * 800) / det, r.gauge('y')[0]!)];
    },
  },
  {
    title: 'Cantilever of one beam segment: tip deflection, slope, frequency',
    exact: 1e-5,
    source: 'F l³/3EI, F l²/2EI; f of a tip mass with small inertia √(3EI/(m l³))/2π (small deflection)',
    solve() {
      const [l, EI, m] = [0.5, 100, 2];
      const make = (g: number) =>
        model('Cantilever', {
          run: { until: 1, every: 1 },
          points: e([{ name: 'Root' }, { name: 'Tip', at: [l, 0, 0] }, { name: 'Probe', body: 'Mass', at: [1, 0, 0] }]),
          bodies: e([{ name: 'Mass', origin: 'Tip', mass: m, inertia: [1e-7, 1e-7, 1e-7] }]),
          loads: e([
            { name: 'Beam', kind: 'beam', bodies: ['Ground', 'Mass'], at: ['Root', 'Tip'], axial: 1e7, bendingY: EI, torsion: 80 },
            gravity(0, 0, -g),
          ]),
          gauges: e([
            { name: 'z', kind: 'point', body: 'Mass', at: 'Tip', component: 'z' },
            { name: 'p', kind: 'point', body: 'Mass', at: 'Probe', component: 'z' },
          ]),
        });
      const g = 1e-3,
        F = m * g; // a small load: the closed form is for small deflection
      const r = run(make(g), 1e-5, { analysis: 'static' });
      const z = r.gauge('z')[0]!;
      const k = mechanism(make(0));
      equilibrium(k);
      const f = modes(k)
        .modes.map((x) => x.frequency)
        .filter((x) => x > 0.1)
        .sort((a, b) => a - b)[0]!;
      return [
        at('deflection', 'm', (-F * l ** 3) / (3 * EI), z),
        at('slope', 'rad', (-F * l * l) / (2 * EI), Math.asin(r.gauge('p')[0]! - z)),
        at('lowest frequency', 'Hz', Math.sqrt((3 * EI) / (m * l ** 3)) / (2 * Math.PI), f),
      ];
    },
  },
  {
    title: 'Double pendulum: small swings',
    exact: 1e-6,
    source: 'ω² = (2 ± √2) g/l for equal point masses',
    solve() {
      const l = 0.4,
        tiny = [1e-9, 1e-9, 1e-9];
      const m = mechanism(
        model('Double', {
          points: e([{ name: 'O' }, { name: 'K', body: 'Upper', at: [0, -l, 0] }]),
          bodies: e([
            { name: 'Upper', mass: 1, centre: [0, -l, 0], inertia: tiny },
            { name: 'Lower', origin: 'K', mass: 1, centre: [0, -l, 0], inertia: tiny },
          ]),
          joints: e([
            { name: 'A', kind: 'revolute', bodies: ['Ground', 'Upper'], at: ['O'] },
            { name: 'B', kind: 'revolute', bodies: ['Upper', 'Lower'], at: ['K'] },
          ]),
          loads: e([DOWN]),
        }),
      );
      equilibrium(m);
      const f = modes(m)
        .modes.map((x) => x.frequency)
        .sort((a, b) => a - b);
      return [-1, 1].map((s, i) => at(`mode ${i + 1}`, 'Hz', Math.sqrt(((2 + s * Math.SQRT2) * G) / l) / (2 * Math.PI), f[i]!));
    },
  },
  {
    title: 'Damped oscillator: complex eigenvalue',
    exact: EXACT,
    source: 's = −ζω ± iω√(1 − ζ²)',
    solve() {
      const m = mechanism(
        model('Osc', {
          points: e([{ name: 'O' }]),
          bodies: e([cube('Block', 2)]),
          joints: e([{ name: 'S', kind: 'prismatic', bodies: ['Ground', 'Block'], at: ['O'], axis: [1, 0, 0] }]),
          loads: e([{ name: 'K', kind: 'joint-spring', joint: 'S', stiffness: 200, damping: 4 }]),
        }),
      );
      const [x] = modes(m).modes;
      return [
        at('real part', '1/s', -1, x!.re),
        at('imaginary part', '1/s', Math.sqrt(99), x!.im),
        at('damping ratio', '', 0.1, x!.damping),
      ];
    },
  },
  {
    title: 'Three equal masses and four springs: frequencies',
    exact: EXACT,
    source: 'ω = 2 √(k/m) sin(jπ/8)',
    solve() {
      const [k, mass] = [50, 0.5];
      const names = ['Wall', 'One', 'Two', 'Three', 'End'];
      const m = mechanism(
        model('Chain', {
          points: e(names.map((n, i) => ({ name: n, at: [i, 0, 0] }))),
          bodies: e([1, 2, 3].map((i) => cube(names[i]!, mass, { origin: names[i] }))),
          joints: e(
            [1, 2, 3].map((i) => ({
              name: `S${i}`,
              kind: 'prismatic',
              bodies: ['Ground', names[i]],
              at: ['Wall', names[i]],
              axis: [1, 0, 0],
            })),
          ),
          loads: e(
            [0, 1, 2, 3].map((i) => ({
              name: `K${i}`,
              kind: 'spring',
              bodies: [i === 0 ? 'Ground' : names[i], i === 3 ? 'Ground' : names[i + 1]],
              at: [names[i], names[i + 1]],
              stiffness: k,
            })),
          ),
        }),
      );
      equilibrium(m);
      const f = modes(m)
        .modes.map((x) => x.frequency)
        .sort((a, b) => a - b);
      return [1, 2, 3].map((j) =>
        at(`mode ${j}`, 'Hz', (2 * Math.sqrt(k / mass) * Math.sin((j * Math.PI) / 8)) / (2 * Math.PI), f[j - 1]!),
      );
    },
  },
  {
    title: 'Spinning rotor on a soft bearing: whirl',
    exact: 1e-5,
    source: 'Gyroscopic splitting: ω = ½(±hΩ + √(h²Ω² + 4κ/I)), h = I_p/I_d',
    solve() {
      const [Id, Ip, kappa, W] = [0.02, 0.03, 8, 60];
      const m = mechanism(
        model('Rotor', {
          points: e([{ name: 'O' }]),
          bodies: e([
            { name: 'Frame', mass: 1, inertia: [1e-7, 1e-7, 1e-7] },
            { name: 'Rotor', mass: 1, inertia: [Id, Id, Ip], spin: [0, 0, W] },
          ]),
          joints: e([
            { name: 'Ball', kind: 'spherical', bodies: ['Ground', 'Frame'], at: ['O'] },
            { name: 'Axle', kind: 'revolute', bodies: ['Frame', 'Rotor'], at: ['O'] },
          ]),
          loads: e([{ name: 'Mount', kind: 'bushing', bodies: ['Ground', 'Frame'], at: ['O'], torsion: [kappa, kappa, 1] }]),
        }),
      );
      const f = modes(m)
        .modes.map((x) => x.im)
        .filter((x) => x > 0.1 && x < 500)
        .sort((a, b) => a - b);
      const h = (Ip * W) / Id,
        root = Math.sqrt(h * h + (4 * kappa) / Id);
      return [at('backward whirl', 'rad/s', (root - h) / 2, f[0]!), at('forward whirl', 'rad/s', (root + h) / 2, f[1]!)];
    },
  },
  {
    title: 'Upright pendulum on a torsion spring: buckling',
    exact: 1e-6,
    source: 'Upright is stable while κ > m g l; beyond, θ / sin θ = m g l / κ',
    solve() {
      const [m, l, kappa] = [1, 0.5, 3];
      const k = mechanism(
        model('Buckling', {
          points: e([{ name: 'O' }]),
          bodies: e([{ name: 'Mast', mass: m, centre: [0, l, 0], inertia: [0.01, 0.01, 0.01] }]),
          joints: e([{ name: 'Pin', kind: 'revolute', bodies: ['Ground', 'Mast'], at: ['O'] }]),
          loads: e([DOWN, { name: 'Spring', kind: 'joint-spring', joint: 'Pin', stiffness: kappa }]),
        }),
      );
      const found = equilibria(k, 0, 16).list;
      let q = 2;
      for (let i = 0; i < 100; i++) q -= (q * kappa - m * G * l * Math.sin(q)) / (kappa - m * G * l * Math.cos(q));
      const angle = (y: Float64Array) => 2 * Math.atan2(y[6]!, y[3]!);
      const stable = found.filter((f) => f.stable).map((f) => Math.abs(angle(f.y)));
      return [
        at('lean of a stable equilibrium', 'rad', q, Math.min(...stable)),
        at('number of stable ones', '', 2, stable.length),
        at('upright among the unstable', '', 1, found.filter((f) => !f.stable && Math.abs(angle(f.y)) < 1e-6).length),
      ];
    },
  },
  {
    title: 'Arm balanced by a spring of no free length',
    exact: EXACT,
    source: 'k h a = m g c: in balance at every angle, a freedom without stiffness',
    solve() {
      const [h, a, c, m] = [0.3, 0.2, 0.4, 2],
        k = (m * G * c) / (h * a);
      const turned = (q: number) =>
        model('Balanced', {
          run: { until: 1, every: 1 },
          points: e([{ name: 'O' }, { name: 'Post', at: [0, h, 0] }, { name: 'Eye', body: 'Arm', at: [a, 0, 0] }]),
          bodies: e([{ name: 'Arm', rotation: [0, 0, q], mass: m, centre: [c, 0, 0], inertia: [0.01, 0.05, 0.05] }]),
          joints: e([{ name: 'Pin', kind: 'revolute', bodies: ['Ground', 'Arm'], at: ['O'] }]),
          loads: e([DOWN, { name: 'Spring', kind: 'spring', bodies: ['Ground', 'Arm'], at: ['Post', 'Eye'], stiffness: k, free: 0 }]),
          gauges: e([{ name: 'q', kind: 'joint', joint: 'Pin' }]),
        });
      return [0.2, 0.9, -0.7].map((q) => {
        const b = mechanism(turned(q));
        const found = equilibrium(b);
        return at(`stays at ${q} rad; neutral freedoms`, '', 1, found.neutral.length);
      });
    },
  },
  {
    title: 'Block and tackle',
    exact: EXACT,
    source: 'Two falls of rope carry the weight: tension m g / 2',
    solve() {
      const [m, k] = [10, 2e4];
      const r = run(
        model('Tackle', {
          run: { until: 1, every: 1 },
          points: e([
            { name: 'Hook', at: [-0.001, 0, 0] },
            { name: 'Pulley', at: [0, -1, 0] },
            { name: 'Cleat', at: [0.001, 0, 0] },
          ]),
          bodies: e([cube('Load', m, { origin: 'Pulley' })]),
          joints: e([{ name: 'S', kind: 'prismatic', bodies: ['Ground', 'Load'], at: ['Pulley'], axis: [0, 1, 0] }]),
          loads: e([
            DOWN,
            { name: 'Rope', kind: 'cable', bodies: ['Ground', 'Load', 'Ground'], at: ['Hook', 'Pulley', 'Cleat'], stiffness: k },
          ]),
          gauges: e([{ name: 'y', kind: 'joint', joint: 'S' }]),
        }),
        1e-5,
        { analysis: 'static' },
      );
      // 2 T cos a = m g with T = k (2 l − 2 l0)
      const l0 = Math.hypot(0.001, 1);
      let y = 0;
      for (let i = 0; i < 60; i++) {
        const l = Math.hypot(0.001, 1 + y);
        y = (m * G * l) / (4 * k * (1 + y)) + l0 - l + y;
      }
      return [at('sinking of the load', 'm', -y, r.gauge('y')[0]!)];
    },
  },
  {
    title: 'Float: draught and heave',
    exact: 1e-6,
    source: 'Half a ball of the liquid’s weight floats to its middle; k = ρ g π R²',
    solve() {
      const R = 0.1,
        m = (1000 * 2 * Math.PI * R ** 3) / 3;
      const k = mechanism(
        model('Buoy', {
          points: e([{ name: 'O', at: [0, 0, 0.03] }]),
          bodies: e([{ name: 'Buoy', origin: 'O', mass: m, inertia: [0.01, 0.01, 0.01] }]),
          joints: e([{ name: 'S', kind: 'prismatic', bodies: ['Ground', 'Buoy'], at: ['O'] }]),
          loads: e([gravity(0, 0, -9.80665), { name: 'Water', kind: 'float', body: 'Buoy', at: 'O', radius: R }]),
        }),
      );
      equilibrium(k);
      const z = k.system.K.r[2]!;
      const [x] = modes(k).modes;
      return [
        at('height of the centre', 'm', 0, z, R),
        at('heave frequency', 'Hz', Math.sqrt((1000 * 9.80665 * Math.PI * R * R) / m) / (2 * Math.PI), x!.frequency),
      ];
    },
  },
  {
    title: 'Crank-rocker: range of the rocker',
    exact: 1e-6,
    source: 'Dead centres where crank and coupler lie in line (law of cosines)',
    solve() {
      const [a, b, c, d] = [1, 3.5, 2.5, 4];
      const bar = (name: string, origin: string, l: number, q: number) => ({
        name,
        origin,
        rotation: [0, 0, q],
        mass: 1,
        centre: [l / 2, 0, 0],
        inertia: [0.01, 0.1, 0.1],
      });
      const k = mechanism(
        model('Crank-rocker', {
          points: e([
            { name: 'A' },
            { name: 'D', at: [d, 0, 0] },
            { name: 'B', body: 'Crank', at: [a, 0, 0] },
            { name: 'C', body: 'Coupler', at: [b, 0, 0] },
            { name: 'C2', body: 'Rocker', at: [c, 0, 0] },
          ]),
          bodies: e([bar('Crank', 'A', a, 1), bar('Coupler', 'B', b, 0.5), bar('Rocker', 'D', c, 1.8)]),
          joints: e(
            [
              ['JA', 'Ground', 'Crank', 'A'],
              ['JB', 'Crank', 'Coupler', 'B'],
              ['JD', 'Ground', 'Rocker', 'D'],
            ]
              .map(([name, p, q, x]) => ({ name, kind: 'revolute', bodies: [p, q], at: [x] }))
              .concat([{ name: 'JC', kind: 'revolute', bodies: ['Coupler', 'Rocker'], at: ['C', 'C2'] }] as never),
          ),
        }),
      );
      const j = k.joints.find((x) => x.name === 'JD')!;
      const found = range(k, 'JD', j.freedoms.get('rotation')!);
      const lim = (f: number) => Math.acos((d * d + c * c - f * f) / (2 * d * c));
      return [
        at('swing', 'rad', lim(a + b) - lim(b - a), found.upper.at - found.lower.at),
        at('both ends are dead centres', '', 2, [found.upper, found.lower].filter((x) => x.end === 'dead centre').length),
      ];
    },
  },
];
