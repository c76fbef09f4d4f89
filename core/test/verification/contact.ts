/** Solids that touch: impacts, sliding, rolling, what is held from inside. Balls of 1 kg and 50 mm, told by their mass and moment. */
import { type Problem, G, curve, e, model, run } from './problem';

const R = 0.05;
const I = 0.4 * R * R;
interface Ball {
  name: string;
  at: readonly [number, number, number];
  velocity?: readonly [number, number, number];
}
/** Balls, and a slab of which the upper face is at z = 0. */
function balls(list: readonly Ball[], laws: object, gravity: readonly number[], until: number, every: number) {
  return model('Balls', {
    run: { until, every },
    points: e([
      { name: 'Slab', at: [0, 0, -0.5] },
      ...list.flatMap((b) => [
        { name: `${b.name} at`, at: b.at },
        { name: `${b.name} middle`, body: b.name },
      ]),
    ]),
    bodies: e(
      list.map(({ name, velocity }) => ({ name, origin: `${name} at`, mass: 1, inertia: [I, I, I], ...(velocity ? { velocity } : {}) })),
    ),
    shapes: e([
      { name: 'Floor', kind: 'box', body: 'Ground', centre: 'Slab', length: 100, depth: 100, height: 1 },
      ...list.map(({ name }) => ({ name: `${name} ball`, kind: 'sphere', body: name, centre: `${name} middle`, radius: R })),
    ]),
    loads: e([
      { name: 'Gravity', kind: 'gravity', acceleration: gravity },
      { name: 'Contact', kind: 'contact', first: list.map((b) => b.name), second: ['Ground', ...list.map((b) => b.name)], ...laws },
    ]),
    gauges: e([
      ...list.flatMap(({ name }) =>
        ['x', 'z'].flatMap((component) => [
          { name: `${name} ${component}`, kind: 'point', body: name, at: `${name} middle`, component },
          { name: `${name} v${component}`, kind: 'point', body: name, at: `${name} middle`, of: 'velocity', component },
        ]),
      ),
      { name: 'Depth', kind: 'contact', load: 'Contact', of: 'depth' },
      { name: 'Force', kind: 'contact', load: 'Contact' },
    ]),
  });
}
const NONE = [0, 0, 0] as const;

export const CONTACT: Problem[] = [
  {
    title: 'Two balls that meet on a linear spring, without loss',
    source: 'Half a sine: depth v/ω sin ω t, ω² = k (1/m₁ + 1/m₂)',
    solve(accuracy) {
      const w = Math.sqrt(2e6),
        half = Math.PI / w,
        r = run(
          balls(
            [
              { name: 'One', at: [0, 0, 1], velocity: [1, 0, 0] },
              { name: 'Two', at: [2 * R + 0.001, 0, 1] },
            ],
            { stiffness: 1e6, restitution: 1 },
            NONE,
            0.001 + 2 * half,
            1e-5,
          ),
          accuracy,
        );
      return [curve(r, 'Depth', 'depth', 'm', (t) => (t < 0.001 || t > 0.001 + half ? 0 : Math.sin(w * (t - 0.001)) / w))];
    },
  },
  {
    title: 'Two balls that meet by the law of Hertz',
    source: 'H. Hertz 1881: δ = (5 m v²/4 k)^(2/5), m = m₁ m₂/(m₁ + m₂); both change their speeds',
    floor: 1e-6,
    solve(accuracy) {
      const k = 1e9,
        deepest = (5 / (8 * k)) ** 0.4,
        r = run(
          balls(
            [
              { name: 'One', at: [0, 0, 1], velocity: [1, 0, 0] },
              { name: 'Two', at: [2 * R, 0, 1] },
            ],
            { stiffness: k * Math.sqrt(1e-4), depth: 1e-4, exponent: 1.5, restitution: 1 },
            NONE,
            4 * deepest,
            deepest / 1000,
          ),
          accuracy,
        );
      return [
        { quantity: 'deepest', unit: 'm', reference: deepest, ours: Math.max(...r.gauge('Depth')) },
        { quantity: 'largest force', unit: 'N', reference: k * deepest ** 1.5, ours: Math.max(...r.gauge('Force')) },
        { quantity: 'speed after it', unit: 'm/s', reference: 1, ours: r.gauge('Two vx').at(-1)! },
      ];
    },
  },
  ...[0.8, 0.3, 0.05].map((restitution): Problem => ({
    title: `Free impact with a restitution of ${restitution}`,
    source: 'Newton: they part with so much of the speed at which they met; momentum stays',
    solve(accuracy) {
      const r = run(
        balls(
          [
            { name: 'One', at: [0, 0, 1], velocity: [1, 0, 0] },
            { name: 'Two', at: [2 * R + 0.001, 0, 1], velocity: [-1, 0, 0] },
          ],
          { stiffness: 1e7, exponent: 1.5, restitution },
          NONE,
          0.1,
          0.01,
        ),
        accuracy,
      );
      const [a, b] = [r.gauge('One vx').at(-1)!, r.gauge('Two vx').at(-1)!];
      return [
        { quantity: 'speed apart', unit: 'm/s', reference: 2 * restitution, ours: b - a, scale: 2 },
        { quantity: 'momentum', unit: 'kg·m/s', reference: 0, ours: a + b, scale: 2 },
      ];
    },
  })),
  {
    title: 'Three balls in a row, struck by the first',
    source: 'Equal masses without loss hand their speed on, one by one',
    solve(accuracy) {
      const r = run(
        balls(
          [
            { name: 'One', at: [0, 0, 1], velocity: [1, 0, 0] },
            { name: 'Two', at: [2 * R + 0.02, 0, 1] },
            { name: 'Three', at: [4 * R + 0.04, 0, 1] },
          ],
          { stiffness: 1e8, restitution: 1 },
          NONE,
          0.1,
          0.01,
        ),
        accuracy,
      );
      return ['One', 'Two', 'Three'].map((name, i) => ({
        ...{ quantity: `speed of ball ${i + 1}`, unit: 'm/s', scale: 1 },
        reference: i === 2 ? 1 : 0,
        ours: r.gauge(`${name} vx`).at(-1)!,
      }));
    },
  },
  {
    title: 'Ball that slides first, and then rolls',
    source: 'v₀ − μ g t, until 2 v₀/(7 μ g); five sevenths of v₀ from then on',
    floor: 1e-5,
    solve(accuracy) {
      const [mu, k] = [0.2, 1e7],
        until = 2 / (7 * mu * G),
        r = run(
          balls([{ name: 'Ball', at: [0, 0, R - G / k], velocity: [1, 0, 0] }], { stiffness: k, sliding: mu }, [0, 0, -G], 0.3, 0.005),
          accuracy,
        );
      return [curve(r, 'Ball vx', 'speed', 'm/s', (t) => (t < until ? 1 - mu * G * t : 5 / 7))];
    },
  },
  {
    title: 'Ball that bounces on a hard floor',
    source: 'Heights by the square of the restitution; falls and rises of 2 v/g between',
    floor: 1.5e-4,
    solve(accuracy) {
      const [rest, height] = [0.7, 0.5],
        r = run(balls([{ name: 'Ball', at: [0, 0, R + height] }], { stiffness: 1e9, restitution: rest }, [0, 0, -G], 1.5, 0.01), accuracy),
        hits = r.end.happenings.filter((h) => h.kind === 'struck'),
        first = Math.sqrt((2 * height) / G);
      return [1, 2, 3].map((n) => ({
        ...{ quantity: `time of impact ${n + 1}`, unit: 's' },
        reference: first + Array.from({ length: n }, (_, i) => 2 * first * rest ** (i + 1)).reduce((s, x) => s + x, 0),
        ours: hits[n]!.t,
      }));
    },
  },
  {
    title: 'Ball that spins on the spot until it stands still',
    source: 'Evenly slowed by b m g, b being the lever arm of what resists spinning',
    floor: 1e-4,
    solve(accuracy) {
      const [arm, spin, k] = [0.002, 10, 1e7],
        slows = (arm * G) / I,
        m = balls([{ name: 'Ball', at: [0, 0, R - G / k] }], { stiffness: k, sliding: 0.3, spinning: arm }, [0, 0, -G], 0.4, 0.002),
        r = run(
          {
            ...m,
            bodies: m.bodies.map((b) => ({ ...b, spin: [0, 0, spin] })),
            gauges: [...m.gauges, ...e([{ name: 'Spin', kind: 'body', body: 'Ball', of: 'velocity', component: 'z' }])],
          },
          accuracy,
        );
      // what holds it is wound up first: in the angle in which the lever arm is rolled over
      return [curve(r, 'Spin', 'angular speed', 'rad/s', (t) => Math.max(0, spin - slows * t), 0.01)];
    },
  },
];
