/** Friction, stops, slack, switches: motion in pieces, each with its closed form. */
import { type Problem, DOWN, G, cube, curve, e, model, run } from './problem';

const DEG = Math.PI / 180;

export const EVENTS: Problem[] = [
  {
    title: 'Block sliding down and up an incline with friction',
    source: 'Coulomb: up with g(sin α + μ cos α), stays where tan α < μ₀',
    solve(accuracy) {
      const [al, mu, v0] = [15 * DEG, 0.3, 3];
      const r = run(
        model('Incline', {
          run: { until: 2, every: 0.01 },
          points: e([{ name: 'O' }]),
          bodies: e([cube('Block', 2)]),
          joints: e([{ name: 'S', kind: 'prismatic', bodies: ['Ground', 'Block'], at: ['O'], axis: [Math.cos(al), Math.sin(al), 0] }]),
          starts: e([{ name: 'Push', joint: 'S', speed: v0 }]),
          loads: e([DOWN, { name: 'Rub', kind: 'joint-friction', joint: 'S', static: 0.35, sliding: mu }]),
          gauges: e([{ name: 's', kind: 'joint', joint: 'S' }]),
        }),
        accuracy,
      );
      const a = G * (Math.sin(al) + mu * Math.cos(al)),
        ts = v0 / a;
      return [curve(r, 's', 'path', 'm', (t) => (t < ts ? v0 * t - 0.5 * a * t * t : (v0 * v0) / (2 * a)))];
    },
  },
  {
    title: 'Block pushed harder and harder until it slips',
    source: 'Slips at F = μ₀ m g, then m a = F − μ m g',
    solve(accuracy) {
      const [m, mu0, mu, rate] = [2, 0.4, 0.3, 5];
      const r = run(
        model('Push', {
          run: { until: 3, every: 0.01 },
          points: e([{ name: 'O' }]),
          bodies: e([cube('Block', m)]),
          joints: e([{ name: 'S', kind: 'prismatic', bodies: ['Ground', 'Block'], at: ['O'], axis: [1, 0, 0] }]),
          loads: e([
            DOWN,
            { name: 'Rub', kind: 'joint-friction', joint: 'S', static: mu0, sliding: mu },
            { name: 'F', kind: 'force', body: 'Block', at: 'O', direction: [1, 0, 0], magnitude: `${rate} N/s * t` },
          ]),
          gauges: e([{ name: 's', kind: 'joint', joint: 'S' }]),
        }),
        accuracy,
      );
      const ts = (mu0 * m * G) / rate;
      return [
        curve(r, 's', 'path', 'm', (t) =>
          t < ts ? 0 : (rate * (t ** 3 - ts ** 3)) / (6 * m) - (rate * ts * ts * (t - ts)) / (2 * m) - 0.5 * mu * G * (t - ts) ** 2,
        ),
      ];
    },
  },
  {
    title: 'Flywheel run down by pin friction',
    source: 'Constant torque μ r m g: ω falls in a straight line and stays zero',
    solve(accuracy) {
      const [m, I, mu, rad, w0] = [5, 0.2, 0.15, 0.02, 2];
      const r = run(
        model('Run-down', {
          run: { until: 4, every: 0.02 },
          points: e([{ name: 'O' }]),
          bodies: e([{ name: 'Wheel', mass: m, inertia: [I, I, I] }]),
          joints: e([{ name: 'Axle', kind: 'revolute', bodies: ['Ground', 'Wheel'], at: ['O'] }]),
          starts: e([{ name: 'Spin', joint: 'Axle', speed: w0 }]),
          loads: e([DOWN, { name: 'Rub', kind: 'joint-friction', joint: 'Axle', static: 0.2, sliding: mu, radius: rad }]),
          gauges: e([
            { name: 'w', kind: 'joint', joint: 'Axle', of: 'rate' },
            { name: 'q', kind: 'joint', joint: 'Axle' },
          ]),
        }),
        accuracy,
      );
      const a = (mu * rad * m * G) / I,
        ts = w0 / a;
      return [
        curve(r, 'w', 'speed', 'rad/s', (t) => Math.max(0, w0 - a * t)),
        curve(r, 'q', 'angle', 'rad', (t) => (t < ts ? w0 * t - 0.5 * a * t * t : (w0 * w0) / (2 * a))),
      ];
    },
  },
  {
    title: 'Oscillator with dry friction: comes to rest off centre',
    source: 'Each half swing is shorter by 2F/k; sticks once the spring cannot overcome the limit (Den Hartog)',
    solve(accuracy) {
      const [m, k, F, x0] = [1, 100, 8, 0.5];
      const r = run(
        model('Dry', {
          run: { until: 3, every: 0.01 },
          points: e([{ name: 'O' }]),
          bodies: e([cube('Block', m)]),
          joints: e([{ name: 'S', kind: 'prismatic', bodies: ['Ground', 'Block'], at: ['O'], axis: [1, 0, 0] }]),
          starts: e([{ name: 'Pull', joint: 'S', position: x0, speed: 0 }]),
          loads: e([
            { name: 'Spring', kind: 'joint-spring', joint: 'S', stiffness: k },
            { name: 'Rub', kind: 'joint-friction', joint: 'S', static: 0, sliding: 0, preload: F },
          ]),
          gauges: e([{ name: 'x', kind: 'joint', joint: 'S' }]),
        }),
        accuracy,
      );
      const w = Math.sqrt(k / m),
        half = Math.PI / w;
      const x = (t: number) => {
        let a = x0,
          n = 0;
        for (; ; n++) {
          if (Math.abs(a) <= F / k) return a;
          const c = (Math.sign(a) * F) / k;
          if (t < (n + 1) * half) return c + (a - c) * Math.cos(w * (t - n * half));
          a = 2 * c - a;
        }
      };
      return [curve(r, 'x', 'position', 'm', x)];
    },
  },
  {
    title: 'Ball joint arm falling on an elastic stop',
    source: 'Free fall, then half a swing on the stop’s spring; energy returns',
    solve(accuracy) {
      const [m, k, h] = [1, 4e4, 0.3];
      const r = run(
        model('Stop', {
          run: { until: 1, every: 0.005 },
          points: e([{ name: 'O' }]),
          bodies: e([cube('Weight', m)]),
          joints: e([{ name: 'S', kind: 'prismatic', bodies: ['Ground', 'Weight'], at: ['O'], axis: [0, 1, 0] }]),
          starts: e([{ name: 'Up', joint: 'S', position: h }]),
          loads: e([DOWN, { name: 'End', kind: 'joint-stop', joint: 'S', lower: 0, stiffness: k }]),
          gauges: e([{ name: 'y', kind: 'joint', joint: 'S' }]),
        }),
        accuracy,
      );
      const w = Math.sqrt(k / m),
        v = Math.sqrt(2 * G * h),
        fall = v / G,
        c = G / (w * w);
      // on the stop: y = −c + c cos w τ − (v/w) sin w τ, until y = 0 again
      const contact = (2 * Math.PI - 2 * Math.atan2(v / w, c)) / w - 0;
      const period = 2 * fall + contact;
      const y = (t: number) => {
        const s = (t + fall) % period; // as if thrown up from the stop at −fall
        if (s < 2 * fall) return v * s - 0.5 * G * s * s;
        const q = s - 2 * fall;
        return -c + c * Math.cos(w * q) - (v / w) * Math.sin(w * q);
      };
      return [curve(r, 'y', 'height', 'm', y)];
    },
  },
  {
    title: 'Weight caught by a strap that only pulls',
    source: 'Free fall until it is taut, then a swing about the static stretch',
    solve(accuracy) {
      const [m, k, slack] = [2, 5000, 0.2];
      const r = run(
        model('Strap', {
          run: { until: 0.6, every: 0.004 },
          points: e([{ name: 'Hook' }, { name: 'Eye', at: [0, -1, 0] }]),
          bodies: e([cube('Weight', m, { origin: 'Eye' })]),
          joints: e([{ name: 'S', kind: 'prismatic', bodies: ['Ground', 'Weight'], at: ['Eye'], axis: [0, 1, 0] }]),
          loads: e([
            DOWN,
            {
              name: 'Strap',
              kind: 'spring',
              bodies: ['Ground', 'Weight'],
              at: ['Hook', 'Eye'],
              stiffness: k,
              free: 1 + slack,
              only: 'tension',
            },
          ]),
          gauges: e([{ name: 'y', kind: 'joint', joint: 'S' }]),
        }),
        accuracy,
      );
      const w = Math.sqrt(k / m),
        ts = Math.sqrt((2 * slack) / G),
        v = G * ts,
        c = (m * G) / k;
      const contact = (2 * Math.PI - 2 * Math.atan2(v / w, c)) / w;
      const y = (t: number) => {
        const s = (t + ts) % (2 * ts + contact);
        if (s < 2 * ts) return -slack + v * s - 0.5 * G * s * s;
        const q = s - 2 * ts;
        return -slack - c + c * Math.cos(w * q) - (v / w) * Math.sin(w * q);
      };
      return [curve(r, 'y', 'fall', 'm', y)];
    },
  },
  {
    title: 'Drive lets go at a given time, then takes hold again',
    source: 'Flywheel driven, free, then held: speed in pieces; the catch loses ½ I (Δω)²',
    solve(accuracy) {
      const r = run(
        model('Clutch', {
          run: { until: 3, every: 0.01 },
          points: e([{ name: 'O' }]),
          bodies: e([{ name: 'Wheel', mass: 1, inertia: [0.1, 0.1, 0.1] }]),
          joints: e([{ name: 'Axle', kind: 'revolute', bodies: ['Ground', 'Wheel'], at: ['O'] }]),
          drives: e([{ name: 'Motor', joint: 'Axle', value: '4 rad/s', while: 'step(2 s, t) - step(1 s, t) + 0.5' }]),
          loads: e([{ name: 'Brake', kind: 'joint-spring', joint: 'Axle', damping: 0.1 }]),
          gauges: e([
            { name: 'w', kind: 'joint', joint: 'Axle', of: 'rate' },
            { name: 'E', kind: 'energy', of: 'closing' },
          ]),
        }),
        accuracy,
      );
      return [
        curve(r, 'w', 'speed', 'rad/s', (t) => (t <= 1 || t > 2.001 ? 4 : 4 * Math.exp(-(t - 1)))),
        { ...curve(r, 'E', 'closing error of the energy ledger', 'J', () => 0), scale: 0.8 },
      ];
    },
  },
  {
    title: 'A pin lets go: the swinging weight flies off',
    source: 'Pendulum driven round at constant speed, then a parabola from where and how fast it was',
    solve(accuracy) {
      const [l, w] = [0.5, 6],
        T = 0.4;
      const r = run(
        model('Sling', {
          run: { until: 1, every: 0.01 },
          points: e([{ name: 'O' }, { name: 'Tip', at: [l, 0, 0] }]),
          bodies: e([cube('Arm', 2), { name: 'Stone', origin: 'Tip', mass: 0.3, inertia: [1e-4, 1e-4, 1e-4] }]),
          joints: e([
            { name: 'Axle', kind: 'revolute', bodies: ['Ground', 'Arm'], at: ['O'] },
            { name: 'Grip', kind: 'fixed', bodies: ['Arm', 'Stone'], at: ['Tip'], while: `1 - step(${T} s, t)` },
          ]),
          drives: e([{ name: 'Motor', joint: 'Axle', value: w }]),
          loads: e([DOWN]),
          gauges: e(['x', 'y'].map((c) => ({ name: c, kind: 'point', body: 'Stone', at: 'Tip', component: c }))),
        }),
        accuracy,
      );
      const [s, c] = [Math.sin(w * T), Math.cos(w * T)];
      return [
        curve(r, 'x', 'flight, level', 'm', (t) => (t < T ? l * Math.cos(w * t) : l * c - l * w * s * (t - T))),
        curve(r, 'y', 'flight, height', 'm', (t) => (t < T ? l * Math.sin(w * t) : l * s + l * w * c * (t - T) - 0.5 * G * (t - T) ** 2)),
      ];
    },
  },
  {
    title: 'Latch opens when a gauge passes a value',
    source: 'Held by a drive until a spring-loaded trigger has moved 20 mm; then free fall',
    solve(accuracy) {
      const r = run(
        model('Latch', {
          run: { until: 2, every: 0.01 },
          points: e([{ name: 'O' }, { name: 'T', at: [1, 0, 0] }]),
          bodies: e([cube('Weight', 1), cube('Trigger', 1, { origin: 'T' })]),
          joints: e([
            { name: 'S', kind: 'prismatic', bodies: ['Ground', 'Weight'], at: ['O'], axis: [0, 1, 0] },
            { name: 'Slide', kind: 'prismatic', bodies: ['Ground', 'Trigger'], at: ['T'], axis: [1, 0, 0] },
          ]),
          drives: e([
            { name: 'Pull', joint: 'Slide', value: '20 mm/s' },
            { name: 'Latch', joint: 'S', value: 0, while: '1 - step(20 mm, {way})' },
          ]),
          loads: e([DOWN]),
          gauges: e([
            { name: 'way', kind: 'joint', joint: 'Slide' },
            { name: 'y', kind: 'joint', joint: 'S' },
          ]),
        }),
        accuracy,
      );
      return [curve(r, 'y', 'fall', 'm', (t) => (t < 1 ? 0 : -0.5 * G * (t - 1) ** 2))];
    },
  },
];
