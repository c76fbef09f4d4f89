/** Mechanisms whose motion and loads have closed forms. */
import { type Problem, DOWN, G, cube, curve, e, model, run } from './problem';
import { sliderCrank } from '../models';

const TAU = 2 * Math.PI;

export const MECHANISMS: Problem[] = [
  {
    title: 'Slider-crank at constant speed: motion and loads',
    source: 'Newton-Euler by hand (core/test/slider-crank.test.ts)',
    solve(accuracy) {
      const r = 0.05,
        l = 0.2,
        w = 10 * Math.PI;
      const k = run(sliderCrank(r, l, 300), accuracy);
      const x = (t: number) => r * Math.cos(w * t) + Math.sqrt(l * l - (r * Math.sin(w * t)) ** 2);
      const acceleration = (t: number) => {
        const [s, c] = [Math.sin(w * t), Math.cos(w * t)],
          root = Math.sqrt(l * l - r * r * s * s);
        return -r * w * w * (c + (r * (c * c - s * s)) / root + (r * r * r * s * s * c * c) / root ** 3);
      };
      return [curve(k, 'x', 'slider position', 'm', x), curve(k, 'a', 'slider acceleration', 'm/s²', acceleration)];
    },
  },
  {
    title: 'Slider-crank, kinematic run against dynamic run',
    source: 'Two formulations of the same motion: inverse dynamics and integration',
    solve(accuracy) {
      const m = sliderCrank();
      const a = run(m, accuracy),
        b = run(m, accuracy, { analysis: 'kinematic' });
      return ['Torque', 'Wrist x'].map((g) => {
        const [x, y] = [a.gauge(g), b.gauge(g)];
        return {
          quantity: g,
          unit: g === 'Torque' ? 'N·m' : 'N',
          reference: y.at(-1)!,
          ours: x.at(-1)!,
          deviation: Math.max(...x.map((v, i) => Math.abs(v - y[i]!))),
          scale: Math.max(...y.map(Math.abs)),
        };
      });
    },
  },
  {
    title: 'Four-bar linkage: output angle',
    source: 'Freudenstein’s equation (Freudenstein, Trans. ASME 76, 1954)',
    solve(accuracy) {
      const [a, b, c, d] = [0.1, 0.35, 0.25, 0.4];
      const bar = (name: string, origin: string, l: number, angle: number) => ({
        name,
        origin,
        rotation: [0, 0, angle],
        mass: 1,
        centre: [l / 2, 0, 0],
        inertia: [0.001, 0.01, 0.01],
      });
      const rocker = (q: number) => {
        const px = a * Math.cos(q) - d,
          py = a * Math.sin(q),
          f = Math.hypot(px, py);
        return Math.atan2(py, px) - Math.acos((c * c + f * f - b * b) / (2 * c * f));
      };
      const w = TAU;
      const k = run(
        model('Four-bar', {
          run: { until: 1, every: 0.01 },
          points: e([
            { name: 'A' },
            { name: 'D', at: [d, 0, 0] },
            { name: 'B', body: 'Crank', at: [a, 0, 0] },
            { name: 'C', body: 'Coupler', at: [b, 0, 0] },
            { name: 'C2', body: 'Rocker', at: [c, 0, 0] },
          ]),
          bodies: e([
            bar('Crank', 'A', a, 0),
            bar('Coupler', 'B', b, Math.atan2(c * Math.sin(rocker(0)), d + c * Math.cos(rocker(0)) - a)),
            bar('Rocker', 'D', c, rocker(0)),
          ]),
          joints: e([
            { name: 'JA', kind: 'revolute', bodies: ['Ground', 'Crank'], at: ['A'] },
            { name: 'JB', kind: 'revolute', bodies: ['Crank', 'Coupler'], at: ['B'] },
            { name: 'JC', kind: 'revolute', bodies: ['Coupler', 'Rocker'], at: ['C', 'C2'] },
            { name: 'JD', kind: 'revolute', bodies: ['Ground', 'Rocker'], at: ['D'] },
          ]),
          drives: e([{ name: 'Motor', joint: 'JA', value: w }]),
          gauges: e([{ name: 'angle', kind: 'joint', joint: 'JD' }]),
        }),
        accuracy,
      );
      const unwrap = (t: number) => {
        const x = rocker(w * t) - rocker(0);
        return x - TAU * Math.round(x / TAU);
      };
      return [curve(k, 'angle', 'rocker angle', 'rad', unwrap)];
    },
  },
  {
    title: 'Spatial slider-crank',
    source: 'Closed form: rod of length l from the crank circle to a slide at right angles to its plane',
    solve(accuracy) {
      // crank turns about x at the origin; the slider runs along x at offset y = f
      const [r, l, f, w] = [0.08, 0.3, 0.05, 4];
      const x = (q: number) => Math.sqrt(l * l - (r * Math.cos(q) - f) ** 2 - (r * Math.sin(q)) ** 2);
      const k = run(
        model('Spatial slider-crank', {
          run: { until: 3, every: 0.02 },
          points: e([{ name: 'O' }, { name: 'P', at: [0, r, 0] }, { name: 'S', at: [x(0), f, 0] }, { name: 'S0', at: [0, f, 0] }]),
          bodies: e([
            cube('Crank', 0.5),
            { name: 'Rod', origin: 'P', aim: 'S', mass: 0.4, centre: [l / 2, 0, 0], inertia: [0.001, 0.004, 0.004] },
            cube('Slider', 0.6, { origin: 'S' }),
          ]),
          joints: e([
            { name: 'Pin', kind: 'revolute', bodies: ['Ground', 'Crank'], at: ['O'], axis: [1, 0, 0] },
            { name: 'Ball', kind: 'spherical', bodies: ['Crank', 'Rod'], at: ['P'] },
            { name: 'Cross', kind: 'universal', bodies: ['Slider', 'Rod'], at: ['S'], axis: [1, 0, 0], cross: [0, 0, 1] },
            { name: 'Slide', kind: 'prismatic', bodies: ['Ground', 'Slider'], at: ['S0', 'S'], axis: [1, 0, 0] },
          ]),
          drives: e([{ name: 'Motor', joint: 'Pin', value: w }]),
          gauges: e([{ name: 'x', kind: 'joint', joint: 'Slide' }]),
        }),
        accuracy,
      );
      return [curve(k, 'x', 'slider position', 'm', (t) => x(w * t))];
    },
  },
  {
    title: 'Scotch yoke: motion and driving torque',
    source: 'Closed form: x = r cos ωt, torque = m a · dx/dθ',
    solve(accuracy) {
      const [r, m, w] = [0.1, 2, 12];
      const k = run(
        model('Scotch yoke', {
          run: { until: 1, every: 0.005 },
          points: e([{ name: 'O' }, { name: 'Pin', at: [r, 0, 0] }, { name: 'Y', at: [r, 0, 0] }]),
          bodies: e([cube('Disc', 1), cube('Yoke', m, { origin: 'Y' })]),
          joints: e([
            { name: 'Axle', kind: 'revolute', bodies: ['Ground', 'Disc'], at: ['O'] },
            { name: 'Slide', kind: 'prismatic', bodies: ['Ground', 'Yoke'], at: ['O', 'Y'], axis: [1, 0, 0] },
            { name: 'Slot', kind: 'point-on-plane', bodies: ['Yoke', 'Disc'], at: ['Y', 'Pin'], axis: [1, 0, 0] },
          ]),
          drives: e([{ name: 'Motor', joint: 'Axle', value: w }]),
          gauges: e([
            { name: 'x', kind: 'joint', joint: 'Slide' },
            { name: 'torque', kind: 'drive', drive: 'Motor' },
          ]),
        }),
        accuracy,
      );
      return [
        curve(k, 'x', 'yoke position', 'm', (t) => r * Math.cos(w * t)),
        curve(k, 'torque', 'torque', 'N·m', (t) => m * r * r * w * w * Math.cos(w * t) * Math.sin(w * t)),
      ];
    },
  },
  {
    title: 'Universal joint at a bend of 30°: speed ratio',
    source: 'tan θ₂ = tan θ₁ / cos β (ratio cos β / (1 − sin²β cos²θ))',
    solve(accuracy) {
      const bend = Math.PI / 6,
        w = 5;
      const k = run(shafts('universal', bend, { axis: [1, 0, 0], cross: [0, 0, 1] }, w), accuracy);
      const ratio = (t: number) => Math.cos(bend) / (1 - Math.sin(bend) ** 2 * Math.sin(w * t) ** 2);
      const other = (t: number) => Math.cos(bend) / (1 - Math.sin(bend) ** 2 * Math.cos(w * t) ** 2);
      const v = k.gauge('out');
      const f = Math.abs(v[0]! / w - ratio(0)) < Math.abs(v[0]! / w - other(0)) ? ratio : other;
      return [curve(k, 'out', 'output speed', 'rad/s', (t) => w * f(t))];
    },
  },
  {
    title: 'Constant-velocity joint at a bend of 35°',
    source: 'Output speed equals input speed',
    solve(accuracy) {
      const k = run(shafts('constant-velocity', (35 * Math.PI) / 180, { axis: [1, 0, 0] }, 5), accuracy);
      return [curve(k, 'out', 'output speed', 'rad/s', () => 5)];
    },
  },
  {
    title: 'Eccentric cam with roller follower',
    source: 'Closed form: s = e cos θ + √((R + ρ)² − e² sin² θ); the cam is a curve through 360 points',
    floor: 2e-7,
    solve(accuracy) {
      const [ecc, R, rho, w] = [0.01, 0.04, 0.012, 8];
      const n = 360;
      const k = run(
        camModel(ecc, R, n, w, { follower: [{ name: 'Roller', at: [ecc + R + rho, 0, 0] }], at: ['Roller'], radius: rho }),
        accuracy,
      );
      return [
        curve(k, 's', 'follower position', 'm', (t) => ecc * Math.cos(w * t) + Math.sqrt((R + rho) ** 2 - (ecc * Math.sin(w * t)) ** 2)),
        curve(
          k,
          'v',
          'follower speed',
          'm/s',
          (t) =>
            w *
            (-ecc * Math.sin(w * t) -
              (ecc * ecc * Math.sin(w * t) * Math.cos(w * t)) / Math.sqrt((R + rho) ** 2 - (ecc * Math.sin(w * t)) ** 2)),
        ),
      ];
    },
  },
  {
    title: 'Eccentric cam with flat follower',
    exact: 3e-4, // the cam is a spline through 360 points; its curvature, and with it the torque, is right to h²
    source: 'Closed form: s = R + e cos θ, spring and inertia set the torque',
    solve(accuracy) {
      const [ecc, R, w, m] = [0.01, 0.04, 8, 0.5];
      const k = run(
        camModel(ecc, R, 360, w, {
          follower: [
            { name: 'Left', at: [ecc + R, -0.05, 0] },
            { name: 'Right', at: [ecc + R, 0.05, 0] },
          ],
          at: ['Left', 'Right'],
        }),
        accuracy,
      );
      return [
        curve(k, 's', 'follower position', 'm', (t) => R + ecc * Math.cos(w * t)),
        curve(k, 'torque', 'torque', 'N·m', (t) => m * ecc * ecc * w * w * Math.cos(w * t) * Math.sin(w * t)),
      ];
    },
  },
  {
    title: 'Motion by a table of points (Akima) of a sine',
    source: 'Akima, J. ACM 17, 1970; the table repeats and has a point every 0.6°',
    floor: 5e-10,
    solve(accuracy) {
      const data = Array.from({ length: 601 }, (_, i) => [i / 600, Math.sin((TAU * i) / 600)]);
      data[600]![1] = data[0]![1]!;
      const k = run(
        model('Table', {
          run: { until: 2, every: 0.01 },
          tables: e([{ name: 'wave', from: 's', to: 'rad/s', data, between: 'akima', beyond: 'repeat' }]),
          points: e([{ name: 'O' }]),
          bodies: e([cube('Wheel', 1)]),
          joints: e([{ name: 'Axle', kind: 'revolute', bodies: ['Ground', 'Wheel'], at: ['O'] }]),
          drives: e([{ name: 'Motor', joint: 'Axle', value: 'wave(t)' }]),
          gauges: e([{ name: 'angle', kind: 'joint', joint: 'Axle' }]),
        }),
        accuracy,
      );
      return [curve(k, 'angle', 'angle', 'rad', (t) => (1 - Math.cos(TAU * t)) / TAU)];
    },
  },
  {
    title: 'Six relative freedoms: a plate carried round in space',
    source: 'Prescribed motion returned by the gauges; torque-free translation of its mass centre by Newton’s law',
    solve(accuracy) {
      const k = run(
        model('Carried plate', {
          run: { until: 2, every: 0.01 },
          points: e([{ name: 'O' }]),
          bodies: e([cube('Plate', 3)]),
          drives: e(
            [
              ['x', '20 mm * sin(3 rad/s * t)'],
              ['y', '30 mm * (1 - cos(2 rad/s * t))'],
              ['z', '5 mm/s^2 * t^2'],
              ['about-x', '0.3 rad * sin(2 rad/s*t)'],
              ['about-y', '0.2 rad * sin(1 rad/s * t)'],
              ['about-z', '0.6 rad * sin(1.5 rad/s * t)'],
            ].map(([along, value]) => ({
              name: `Drive ${along!}`,
              on: 'frames',
              bodies: ['Ground', 'Plate'],
              at: ['O'],
              along,
              prescribes: 'position',
              value,
            })),
          ),
          gauges: e([
            { name: 'x', kind: 'point', body: 'Plate', at: 'O', component: 'x' },
            { name: 'push', kind: 'drive', drive: 'Drive y' },
          ]),
        }),
        accuracy,
      );
      return [
        curve(k, 'x', 'position along x', 'm', (t) => 0.02 * Math.sin(3 * t)),
        curve(k, 'push', 'force along y', 'N', (t) => 3 * 0.03 * 4 * Math.cos(2 * t)),
      ];
    },
  },
  {
    title: 'Rotating unbalance: bearing load',
    source: 'F = m e ω²; also the weight',
    solve(accuracy) {
      const [m, ecc, w] = [4, 0.02, 30];
      const k = run(
        model('Unbalance', {
          run: { until: 1, every: 0.005 },
          points: e([{ name: 'O' }]),
          bodies: e([{ ...cube('Rotor', m), centre: [ecc, 0, 0] }]),
          joints: e([{ name: 'Axle', kind: 'revolute', bodies: ['Ground', 'Rotor'], at: ['O'] }]),
          drives: e([{ name: 'Motor', joint: 'Axle', value: w }]),
          loads: e([DOWN]),
          gauges: e([
            { name: 'Fx', kind: 'reaction', joint: 'Axle', component: 'x' },
            { name: 'Fy', kind: 'reaction', joint: 'Axle', component: 'y' },
          ]),
        }),
        accuracy,
      );
      return [
        curve(k, 'Fx', 'bearing load x', 'N', (t) => -m * ecc * w * w * Math.cos(w * t)),
        curve(k, 'Fy', 'bearing load y', 'N', (t) => m * G - m * ecc * w * w * Math.sin(w * t)),
      ];
    },
  },
  {
    title: 'Gyroscopic moment of a spinning wheel on a turning arm',
    source: 'M = I ω Ω about the axis square to both',
    solve(accuracy) {
      const [I, w, W] = [0.05, 100, 2];
      const k = run(
        model('Gyro', {
          run: { until: 1, every: 0.01 },
          points: e([{ name: 'O' }]),
          bodies: e([cube('Arm', 1), { name: 'Wheel', mass: 2, inertia: [I, 0.03, 0.03] }]),
          joints: e([
            { name: 'Turntable', kind: 'revolute', bodies: ['Ground', 'Arm'], at: ['O'], axis: [0, 0, 1] },
            { name: 'Axle', kind: 'revolute', bodies: ['Arm', 'Wheel'], at: ['O'], axis: [1, 0, 0] },
          ]),
          drives: e([
            { name: 'Turn', joint: 'Turntable', value: W },
            { name: 'Spin', joint: 'Axle', value: w },
          ]),
          gauges: e([{ name: 'M', kind: 'reaction', joint: 'Axle', of: 'moment' }]),
        }),
        accuracy,
      );
      return [curve(k, 'M', 'moment on the axle', 'N·m', () => I * w * W)];
    },
  },
];

function shafts(kind: string, bend: number, fields: object, w: number) {
  const out = [Math.cos(bend), Math.sin(bend), 0];
  return model('Bent shafts', {
    run: { until: 2, every: 0.01 },
    points: e([{ name: 'Bend' }]),
    bodies: e([cube('Input', 1), cube('Output', 1)]),
    joints: e([
      { name: 'First', kind: 'revolute', bodies: ['Ground', 'Input'], at: ['Bend'], axis: [1, 0, 0] },
      { name: 'Second', kind: 'cylindrical', bodies: ['Ground', 'Output'], at: ['Bend'], axis: out },
      kind === 'universal'
        ? { name: 'Cross', kind, bodies: ['Input', 'Output'], at: ['Bend'], axis: [0, 0, 1], cross: [-out[1]!, out[0], 0] }
        : { name: 'Cross', kind, bodies: ['Input', 'Output'], at: ['Bend'], ...fields, cross: out },
    ]),
    drives: e([{ name: 'Motor', joint: 'First', value: w }]),
    gauges: e([{ name: 'out', kind: 'joint', joint: 'Second', of: 'rate' }]),
  });
}

function camModel(ecc: number, R: number, n: number, w: number, f: { follower: object[]; at: string[]; radius?: number }) {
  const rim = Array.from({ length: n }, (_, i) => ({
    name: `Rim ${i}`,
    at: [ecc + R * Math.cos((TAU * i) / n), R * Math.sin((TAU * i) / n), 0],
  }));
  return model('Cam', {
    run: { until: 1.5, every: 0.005 },
    points: e([{ name: 'O' }, { name: 'Rest' }, ...rim, ...f.follower]),
    bodies: e([cube('Cam', 1), cube('Follower', 0.5)]),
    joints: e([
      { name: 'Shaft', kind: 'revolute', bodies: ['Ground', 'Cam'], at: ['O'] },
      { name: 'Guide', kind: 'prismatic', bodies: ['Ground', 'Follower'], at: ['Rest'], axis: [1, 0, 0] },
      {
        name: 'Touch',
        kind: 'cam',
        bodies: ['Cam', 'Follower'],
        through: rim.map((p) => p.name),
        closed: 'closed',
        at: f.at,
        ...(f.radius ? { radius: f.radius } : {}),
      },
    ]),
    drives: e([{ name: 'Motor', joint: 'Shaft', value: w }]),
    gauges: e([
      { name: 's0', kind: 'joint', joint: 'Guide' },
      { name: 's', kind: 'point', body: 'Follower', at: f.at[0], component: 'x' },
      { name: 'v', kind: 'joint', joint: 'Guide', of: 'rate' },
      { name: 'torque', kind: 'drive', drive: 'Motor' },
    ]),
  });
}
