/** Free and forced motion with closed or independently integrated answers. */
import { type Problem, DOWN, G, constant, cube, curve, e, ellipticK, gravity, integrate, jacobi, model, run } from './problem';

export const DYNAMICS: Problem[] = [
  {
    title: 'Pendulum from 120°: period',
    source: 'θ = 2 asin(sin 60° · sn), T = 4 K(sin 60°)/ω, by the arithmetic-geometric mean',
    solve(accuracy) {
      const l = 0.8,
        q0 = (2 * Math.PI) / 3,
        k = Math.sin(q0 / 2),
        I = 1e-4,
        w = Math.sqrt((2 * G * l) / (2 * l * l + I)),
        T = (4 * ellipticK(k)) / w;
      const r = run(
        model('Pendulum', {
          run: { until: 3 * T, every: T / 60 },
          points: e([{ name: 'O' }]),
          bodies: e([{ name: 'Bob', rotation: [0, 0, q0 - Math.PI / 2], mass: 2, centre: [l, 0, 0], inertia: [I, I, I] }]),
          joints: e([{ name: 'Pin', kind: 'revolute', bodies: ['Ground', 'Bob'], at: ['O'] }]),
          loads: e([DOWN]),
          gauges: e([{ name: 'q', kind: 'joint', joint: 'Pin' }]),
        }),
        accuracy,
      );
      const angle = (t: number) => 2 * Math.asin(k * jacobi(ellipticK(k) - w * t, k).sn) - q0;
      return [curve(r, 'q', 'angle over three periods', 'rad', angle)];
    },
  },
  {
    title: 'Free body spun about its intermediate axis',
    source: 'Euler’s equations in Jacobi’s elliptic functions (Landau & Lifshitz, Mechanics, sec. 37)',
    solve(accuracy) {
      const [I1, I2, I3] = [0.01, 0.02, 0.03];
      const w0 = [0.1, 5, 0.1];
      const E2 = I1 * w0[0]! ** 2 + I2 * w0[1]! ** 2 + I3 * w0[2]! ** 2;
      // the tip behind the centre on its x axis moves with (0, −ωz, ωy)
      const r = run(
        model('Tumbling', {
          run: { until: 8, every: 0.02 },
          points: e([{ name: 'Tip', body: 'Box', at: [-1, 0, 0] }]),
          bodies: e([{ name: 'Box', mass: 1, inertia: [I1, I2, I3], spin: w0 }]),
          gauges: e([
            { name: 'T', kind: 'energy', of: 'kinetic' },
            { name: 'wy', kind: 'point', body: 'Box', at: 'Tip', of: 'velocity', component: 'z', axes: 'Box' },
          ]),
        }),
        accuracy,
      );
      // reference by the classical method of order 4 in 400,000 steps
      const f = integrate(
        (_t, [x, y, z]) => [((I2 - I3) * y! * z!) / I1, ((I3 - I1) * z! * x!) / I2, ((I1 - I2) * x! * y!) / I3],
        w0,
        8,
        400_000,
      );
      return [
        curve(r, 'wy', 'spin component about the intermediate axis', 'rad/s', (t) => f(t)[1]!),
        constant(r, 'T', 'kinetic energy', 'J', 0.5 * E2),
      ];
    },
  },
  {
    title: 'Heavy top in steady precession',
    source: 'I₃ ω Ω − I₁ Ω² cos θ … = m g l: fast and slow roots (Goldstein, Classical Mechanics, sec. 5.7)',
    solve(accuracy) {
      const [m, l, I1, I3, tilt, spin] = [0.5, 0.1, 0.004, 0.001, 0.5, 250];
      // steady precession: I1 Ω² cosθ − I3 ω3 Ω + m g l = 0, with I1 about the fixed point
      const A = I1 + m * l * l;
      const W = (I3 * spin - Math.sqrt((I3 * spin) ** 2 - 4 * A * Math.cos(tilt) * m * G * l)) / (2 * A * Math.cos(tilt));
      const axis = [Math.sin(tilt), 0, Math.cos(tilt)];
      const rest = spin - W * Math.cos(tilt);
      const r = run(
        model('Top', {
          run: { until: 2, every: 0.01 },
          points: e([{ name: 'O' }, { name: 'Nose', body: 'Top', at: [0, 0, l] }]),
          bodies: e([
            {
              name: 'Top',
              rotation: [0, tilt, 0],
              mass: m,
              centre: [0, 0, l],
              inertia: [I1, I1, I3],
              velocity: [0, W * l * Math.sin(tilt), 0],
              spin: [rest * axis[0]!, 0, rest * axis[2]! + W],
            },
          ]),
          joints: e([{ name: 'Tip', kind: 'spherical', bodies: ['Ground', 'Top'], at: ['O'] }]),
          loads: e([gravity(0, 0, -G)]),
          gauges: e([
            { name: 'z', kind: 'point', body: 'Top', at: 'Nose', component: 'z' },
            { name: 'x', kind: 'point', body: 'Top', at: 'Nose', component: 'x' },
          ]),
        }),
        accuracy,
      );
      return [
        curve(r, 'z', 'height of the nose', 'm', () => l * Math.cos(tilt)),
        curve(r, 'x', 'precession', 'm', (t) => l * Math.sin(tilt) * Math.cos(W * t)),
      ];
    },
  },
  {
    title: 'Flyball governor at constant speed',
    source:
      '(l² + I/m) φ̈ = l² ω² sin φ cos φ − g l sin φ for balls of inertia I, integrated by the classical method of order 4 in 200,000 steps',
    solve(accuracy) {
      const [l, w, q0, I] = [0.3, 9, 0.6, 1e-4],
        k = (l * l) / (l * l + I); // balls of 1 kg
      const arm = (name: string, side: number) => ({
        name,
        rotation: [0, 0, -Math.PI / 2 + side * q0],
        mass: 1,
        centre: [l, 0, 0],
        inertia: [I, I, I],
      });
      const r = run(
        model('Governor', {
          run: { until: 4, every: 0.02 },
          points: e([{ name: 'O' }]),
          bodies: e([cube('Spindle', 1), arm('Right', 1), arm('Left', -1)]),
          joints: e([
            { name: 'Shaft', kind: 'revolute', bodies: ['Ground', 'Spindle'], at: ['O'], axis: [0, 1, 0] },
            { name: 'R', kind: 'revolute', bodies: ['Spindle', 'Right'], at: ['O'] },
            { name: 'L', kind: 'revolute', bodies: ['Spindle', 'Left'], at: ['O'] },
          ]),
          drives: e([{ name: 'Motor', joint: 'Shaft', value: w }]),
          loads: e([DOWN]),
          gauges: e([
            { name: 'q', kind: 'joint', joint: 'R' },
            { name: 'p', kind: 'joint', joint: 'L' },
          ]),
        }),
        accuracy,
      );
      const f = integrate((_t, [q, v]) => [v!, k * (w * w * Math.sin(q!) * Math.cos(q!) - (G / l) * Math.sin(q!))], [q0, 0], 4, 200_000);
      return [
        curve(r, 'q', 'angle of the right arm', 'rad', (t) => f(t)[0]! - q0),
        curve(r, 'p', 'angle of the left arm', 'rad', (t) => q0 - f(t)[0]!),
      ];
    },
  },
  {
    title: 'Bead on a turning rod',
    source: 'r = r₀ cosh ωt; the rod pushes with 2 m ṙ ω',
    solve(accuracy) {
      const [r0, w, m] = [0.1, 3, 0.5];
      const k = run(
        model('Bead', {
          run: { until: 1, every: 0.01 },
          points: e([{ name: 'O' }, { name: 'Start', at: [r0, 0, 0] }]),
          bodies: e([cube('Rod', 1), { name: 'Bead', origin: 'Start', mass: m, inertia: [1e-6, 1e-6, 1e-6] }]),
          joints: e([
            { name: 'Axle', kind: 'revolute', bodies: ['Ground', 'Rod'], at: ['O'] },
            { name: 'Slide', kind: 'prismatic', bodies: ['Rod', 'Bead'], at: ['O', 'Start'], axis: [1, 0, 0] },
          ]),
          drives: e([{ name: 'Motor', joint: 'Axle', value: w }]),
          gauges: e([
            { name: 'r', kind: 'joint', joint: 'Slide' },
            { name: 'N', kind: 'reaction', joint: 'Slide', component: 'magnitude' },
          ]),
        }),
        accuracy,
      );
      return [
        curve(k, 'r', 'distance', 'm', (t) => r0 * Math.cosh(w * t)),
        curve(k, 'N', 'side load', 'N', (t) => 2 * m * w * w * r0 * Math.sinh(w * t)),
      ];
    },
  },
  {
    title: 'Bead on a straight wire and on a hoop',
    source: 'a = g sin α; on the hoop energy and the pendulum’s period (curve through 240 points)',
    floor: 2e-8,
    solve(accuracy) {
      const wire = run(
        model('Wire', {
          run: { until: 1, every: 0.02 },
          points: e([{ name: 'Top' }, { name: 'Foot', at: [0.6, -0.8, 0] }]),
          bodies: e([cube('Bead', 1)]),
          joints: e([{ name: 'Way', kind: 'point-on-curve', bodies: ['Ground', 'Bead'], at: ['Top'], through: ['Top', 'Foot'] }]),
          loads: e([DOWN]),
          gauges: e([{ name: 's', kind: 'joint', joint: 'Way' }]),
        }),
        accuracy,
      );
      const R = 0.5,
        q0 = 1.2,
        n = 240;
      const rim = Array.from({ length: n }, (_, i) => ({
        name: `Rim ${i}`,
        at: [R * Math.sin((2 * Math.PI * i) / n), -R * Math.cos((2 * Math.PI * i) / n), 0],
      }));
      const hoop = run(
        model('Hoop', {
          run: { until: 2, every: 0.02 },
          points: e([...rim, { name: 'Start', at: [R * Math.sin(q0), -R * Math.cos(q0), 0] }]),
          bodies: e([cube('Bead', 1, { origin: 'Start' })]),
          joints: e([
            {
              name: 'Way',
              kind: 'point-on-curve',
              bodies: ['Ground', 'Bead'],
              at: ['Start'],
              through: rim.map((p) => p.name),
              closed: 'closed',
            },
          ]),
          loads: e([DOWN]),
          gauges: e([{ name: 's', kind: 'joint', joint: 'Way' }]),
        }),
        accuracy,
      );
      const k = Math.sin(q0 / 2),
        w = Math.sqrt(G / R);
      return [
        curve(wire, 's', 'path on the wire', 'm', (t) => 0.5 * G * 0.8 * t * t),
        curve(hoop, 's', 'path on the hoop', 'm', (t) => R * 2 * Math.asin(k * jacobi(ellipticK(k) - w * t, k).sn)),
      ];
    },
  },
  {
    title: 'Fall with air resistance',
    source: 'v = v∞ tanh(g t / v∞), v∞ = √(m g / c)',
    solve(accuracy) {
      const [m, c] = [2, 0.3],
        vt = Math.sqrt((m * G) / c);
      const r = run(
        model('Fall', {
          run: { until: 3, every: 0.02 },
          points: e([{ name: 'O' }]),
          bodies: e([cube('Ball', m)]),
          loads: e([DOWN, { name: 'Air', kind: 'drag', body: 'Ball', at: 'O', quadratic: c }]),
          gauges: e([{ name: 'v', kind: 'point', body: 'Ball', at: 'O', of: 'velocity', component: 'y' }]),
        }),
        accuracy,
      );
      return [curve(r, 'v', 'speed', 'm/s', (t) => -vt * Math.tanh((G * t) / vt))];
    },
  },
  {
    title: 'Carried off by the wind',
    source: 'Linear resistance: v = w (1 − exp(−c t/m))',
    solve(accuracy) {
      const [m, c, w] = [2, 1.5, 8];
      const r = run(
        model('Wind', {
          run: { until: 3, every: 0.02 },
          points: e([{ name: 'O' }]),
          bodies: e([cube('Ball', m)]),
          loads: e([{ name: 'Wind', kind: 'drag', body: 'Ball', at: 'O', linear: c, wind: `${w} m/s`, towards: [1, 0, 0] }]),
          gauges: e([{ name: 'v', kind: 'point', body: 'Ball', at: 'O', of: 'velocity', component: 'x' }]),
        }),
        accuracy,
      );
      return [curve(r, 'v', 'speed', 'm/s', (t) => w * (1 - Math.exp((-c * t) / m)))];
    },
  },
  {
    title: 'Damped oscillator under a step of force',
    source: 'Textbook solution for ζ = 0.2',
    solve(accuracy) {
      const [m, k, z, F] = [2, 200, 0.2, 10],
        w = Math.sqrt(k / m),
        c = 2 * z * w * m,
        wd = w * Math.sqrt(1 - z * z);
      const r = run(
        model('Oscillator', {
          run: { until: 3, every: 0.01 },
          points: e([{ name: 'O' }]),
          bodies: e([cube('Block', m)]),
          joints: e([{ name: 'S', kind: 'prismatic', bodies: ['Ground', 'Block'], at: ['O'], axis: [1, 0, 0] }]),
          loads: e([
            { name: 'Spring', kind: 'joint-spring', joint: 'S', stiffness: k, damping: c },
            { name: 'Push', kind: 'force', body: 'Block', at: 'O', direction: [1, 0, 0], magnitude: F },
          ]),
          gauges: e([{ name: 'x', kind: 'joint', joint: 'S' }]),
        }),
        accuracy,
      );
      return [
        curve(
          r,
          'x',
          'deflection',
          'm',
          (t) => (F / k) * (1 - Math.exp(-z * w * t) * (Math.cos(wd * t) + ((z * w) / wd) * Math.sin(wd * t))),
        ),
      ];
    },
  },
  {
    title: 'Very stiff damped mount (implicit method)',
    source: 'Overdamped oscillator with rates 1 : 1e6 under a sine force: closed form of the slow part',
    solve(accuracy) {
      const [m, k, c, F, w] = [1, 1e6, 1e6, 1000, 5];
      const r = run(
        model('Stiff', {
          run: { until: 2, every: 0.02 },
          points: e([{ name: 'O' }]),
          bodies: e([cube('Block', m)]),
          joints: e([{ name: 'S', kind: 'prismatic', bodies: ['Ground', 'Block'], at: ['O'], axis: [1, 0, 0] }]),
          loads: e([
            { name: 'Mount', kind: 'joint-spring', joint: 'S', stiffness: k, damping: c },
            { name: 'Push', kind: 'force', body: 'Block', at: 'O', direction: [1, 0, 0], magnitude: `${F} N * sin(${w} rad/s * t)` },
          ]),
          gauges: e([{ name: 'x', kind: 'joint', joint: 'S' }]),
        }),
        accuracy,
      );
      // particular solution and the two exponentials from rest
      const A = k - m * w * w,
        B = c * w,
        D = A * A + B * B,
        a = (F * A) / D,
        b = (-F * B) / D; // a sin + b cos
      const d = Math.sqrt(c * c - 4 * k * m),
        s1 = (-2 * k) / (c + d),
        s2 = (-c - d) / (2 * m);
      const c2 = (-(a * w) - s1 * -b) / (s2 - s1),
        c1 = -b - c2;
      return [
        curve(r, 'x', 'deflection', 'm', (t) => a * Math.sin(w * t) + b * Math.cos(w * t) + c1 * Math.exp(s1 * t) + c2 * Math.exp(s2 * t)),
      ];
    },
  },
  {
    title: 'Two masses on springs: beat',
    source: 'Superposition of two modes, ω = √(k/m) and √(3k/m)',
    solve(accuracy) {
      const [m, k] = [1.5, 60],
        w1 = Math.sqrt(k / m),
        w2 = Math.sqrt((3 * k) / m);
      const r = run(
        model('Two masses', {
          run: { until: 4, every: 0.02 },
          points: e([{ name: 'Left' }, { name: 'A', at: [1, 0, 0] }, { name: 'B', at: [2, 0, 0] }, { name: 'Right', at: [3, 0, 0] }]),
          bodies: e([cube('One', m, { origin: 'A', velocity: [0.5, 0, 0] }), cube('Two', m, { origin: 'B' })]),
          joints: e([
            { name: 'S1', kind: 'prismatic', bodies: ['Ground', 'One'], at: ['Left', 'A'], axis: [1, 0, 0] },
            { name: 'S2', kind: 'prismatic', bodies: ['Ground', 'Two'], at: ['Left', 'B'], axis: [1, 0, 0] },
          ]),
          loads: e(
            [
              ['Ground', 'One', 'Left', 'A'],
              ['One', 'Two', 'A', 'B'],
              ['Two', 'Ground', 'B', 'Right'],
            ].map(([p, q, a, b], i) => ({ name: `K${i}`, kind: 'spring', bodies: [p, q], at: [a, b], stiffness: k })),
          ),
          gauges: e([{ name: 'x', kind: 'joint', joint: 'S1' }]),
        }),
        accuracy,
      );
      return [curve(r, 'x', 'position of the first', 'm', (t) => 1 + 0.25 * (Math.sin(w1 * t) / w1 + Math.sin(w2 * t) / w2))];
    },
  },
  {
    title: 'Central force by a formula of a gauge: elliptic orbit',
    source: 'Kepler: period 2π √(a³/μ), return to the start',
    solve(accuracy) {
      const mu = 4,
        a = 1.3,
        ecc = 0.4,
        rp = a * (1 - ecc),
        v = Math.sqrt((mu * (1 + ecc)) / rp),
        T = 2 * Math.PI * Math.sqrt(a ** 3 / mu);
      const r = run(
        model('Orbit', {
          run: { until: 2 * T, every: T / 50 },
          points: e([{ name: 'Sun' }, { name: 'P', at: [rp, 0, 0] }]),
          bodies: e([cube('Planet', 1, { origin: 'P', velocity: [0, v, 0] })]),
          loads: e([
            { name: 'Pull', kind: 'line-force', bodies: ['Ground', 'Planet'], at: ['Sun', 'P'], magnitude: `${mu} N*m^2 / {distance}^2` },
          ]),
          gauges: e([
            { name: 'distance', kind: 'point', body: 'Planet', at: 'P' },
            { name: 'x', kind: 'point', body: 'Planet', at: 'P', component: 'x' },
          ]),
        }),
        accuracy,
      );
      const kepler = (t: number) => {
        const M = ((2 * Math.PI * t) / T) % (2 * Math.PI);
        let E = M;
        for (let i = 0; i < 60; i++) E -= (E - ecc * Math.sin(E) - M) / (1 - ecc * Math.cos(E));
        return a * (Math.cos(E) - ecc);
      };
      return [curve(r, 'x', 'position over two periods', 'm', kepler)];
    },
  },
  {
    title: 'Motor with a straight torque-speed line',
    source: 'ω = ω₀ (1 − exp(−T₀ t / (I ω₀)))',
    solve(accuracy) {
      const [I, T0, w0] = [0.05, 2, 150];
      const r = run(
        model('Motor', {
          run: { until: 8, every: 0.05 },
          points: e([{ name: 'O' }]),
          bodies: e([{ name: 'Rotor', mass: 1, inertia: [I, I, I] }]),
          joints: e([{ name: 'Axle', kind: 'revolute', bodies: ['Ground', 'Rotor'], at: ['O'] }]),
          loads: e([{ name: 'Motor', kind: 'actuator', joint: 'Axle', effort: 100, limit: T0, topSpeed: w0 }]),
          gauges: e([{ name: 'w', kind: 'joint', joint: 'Axle', of: 'rate' }]),
        }),
        accuracy,
      );
      return [curve(r, 'w', 'speed', 'rad/s', (t) => w0 * (1 - Math.exp((-T0 * t) / (I * w0))))];
    },
  },
  {
    title: 'Projectile with start values on a planar joint',
    source: 'Parabola; the start speed is given on a joint and kept strictly',
    solve(accuracy) {
      const r = run(
        model('Throw', {
          run: { until: 1, every: 0.02 },
          points: e([{ name: 'O' }]),
          bodies: e([cube('Sledge', 1), cube('Ball', 2)]),
          joints: e([
            { name: 'X', kind: 'prismatic', bodies: ['Ground', 'Sledge'], at: ['O'], axis: [1, 0, 0] },
            { name: 'Y', kind: 'prismatic', bodies: ['Sledge', 'Ball'], at: ['O'], axis: [0, 1, 0] },
          ]),
          starts: e([
            { name: 'vx', joint: 'X', speed: 3 },
            { name: 'vy', joint: 'Y', position: 0.5, speed: 4 },
          ]),
          loads: e([DOWN]),
          gauges: e([
            { name: 'x', kind: 'joint', joint: 'X' },
            { name: 'y', kind: 'joint', joint: 'Y' },
          ]),
        }),
        accuracy,
      );
      return [curve(r, 'x', 'distance', 'm', (t) => 3 * t), curve(r, 'y', 'height', 'm', (t) => 0.5 + 4 * t - 0.5 * G * t * t)];
    },
  },
];
