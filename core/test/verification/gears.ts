/** Gears, racks, screws, couplings: motion by energy, bearing loads by the tooth forces. */
import { type Problem, cube, curve, e, gravity, model, run } from './problem';

const DEG = Math.PI / 180;
const wheel = (name: string, inertia: number, origin: string) => ({ name, origin, mass: 1, inertia: [inertia, inertia, inertia] });
const pin = (name: string, one: string, other: string, at: string, axis = [0, 0, 1]) => ({
  name,
  kind: 'revolute',
  bodies: [one, other],
  at: [at],
  axis,
});

export const GEARS: Problem[] = [
  {
    title: 'Gear pair: acceleration, tooth and bearing forces',
    source: 'α = T / (I₁ + I₂ (z₁/z₂)²); tangential force through I₂ α₂, separating force tan 20° of it (ISO 21771)',
    solve(accuracy) {
      const [I1, I2, z1, z2, T, d] = [0.02, 0.09, 20, 50, 3, 0.21];
      const k = run(
        model('Gears', {
          run: { until: 0.5, every: 0.01 },
          points: e([{ name: 'A' }, { name: 'B', at: [d, 0, 0] }]),
          bodies: e([wheel('Pinion', I1, 'A'), wheel('Gear', I2, 'B')]),
          joints: e([pin('P', 'Ground', 'Pinion', 'A'), pin('Q', 'Ground', 'Gear', 'B')]),
          couplings: e([{ name: 'Mesh', kind: 'gear-pair', joints: ['P', 'Q'], teeth: z1, otherTeeth: z2 }]),
          loads: e([{ name: 'Torque', kind: 'torque', body: 'Pinion', magnitude: T }]),
          gauges: e([
            { name: 'w', kind: 'joint', joint: 'Q', of: 'rate' },
            { name: 'Qx', kind: 'reaction', joint: 'Q', component: 'x' },
            { name: 'Qy', kind: 'reaction', joint: 'Q', component: 'y' },
          ]),
        }),
        accuracy,
      );
      const a = T / (I1 + I2 * (z1 / z2) ** 2),
        a2 = -(a * z1) / z2;
      const r2 = (d * z2) / (z1 + z2),
        Ft = Math.abs(I2 * a2) / r2; // on the gear at the pitch point, left of its centre
      // the pinion turns forward (+z) and at the pitch point moves the gear's tooth along +y
      return [
        curve(k, 'w', 'speed of the gear', 'rad/s', (t) => a2 * t),
        curve(k, 'Qy', 'bearing load, tangential', 'N', () => -Ft),
        curve(k, 'Qx', 'bearing load, separating', 'N', () => -Ft * Math.tan(20 * DEG)),
      ];
    },
  },
  {
    title: 'Internal gear pair',
    source: 'ω₂ = ω₁ z₁/z₂, same sense',
    solve(accuracy) {
      const [I1, I2, z1, z2, T] = [0.02, 0.3, 18, 72, 1.5];
      const k = run(
        model('Ring', {
          run: { until: 0.5, every: 0.01 },
          points: e([{ name: 'A', at: [0.06, 0, 0] }, { name: 'B' }]),
          bodies: e([wheel('Pinion', I1, 'A'), wheel('Ring', I2, 'B')]),
          joints: e([pin('P', 'Ground', 'Pinion', 'A'), pin('Q', 'Ground', 'Ring', 'B')]),
          couplings: e([{ name: 'Mesh', kind: 'gear-pair', joints: ['P', 'Q'], teeth: z1, otherTeeth: z2, mesh: 'internal' }]),
          loads: e([{ name: 'Torque', kind: 'torque', body: 'Pinion', magnitude: T }]),
          gauges: e([
            { name: 'w', kind: 'joint', joint: 'Q', of: 'rate' },
            { name: 'F', kind: 'reaction', joint: 'Q' },
          ]),
        }),
        accuracy,
      );
      const a = T / (I1 + I2 * (z1 / z2) ** 2),
        r2 = (0.06 * z2) / (z2 - z1);
      return [
        curve(k, 'w', 'speed of the ring', 'rad/s', (t) => (a * t * z1) / z2),
        curve(k, 'F', 'bearing load of the ring', 'N', () => (I2 * a * z1) / z2 / r2 / Math.cos(20 * DEG)),
      ];
    },
  },
  {
    title: 'Bevel gears at right angles: bearing thrust',
    source: 'Tangential force T/r; thrust on the gear F tan α sin δ (Dudley’s Handbook, ch. 1)',
    solve(accuracy) {
      const [I1, I2, T] = [0.02, 0.05, 2];
      const [r1, r2] = [0.03, 0.06];
      const k = run(
        model('Bevel', {
          run: { until: 0.3, every: 0.01 },
          points: e([
            { name: 'A', at: [0.1, 0, 0] },
            { name: 'B', at: [0, 0.1, 0] },
            { name: 'Pitch', at: [r2, r1, 0] },
          ]),
          bodies: e([wheel('Pinion', I1, 'A'), wheel('Gear', I2, 'B')]),
          joints: e([pin('P', 'Ground', 'Pinion', 'A', [1, 0, 0]), pin('Q', 'Ground', 'Gear', 'B', [0, 1, 0])]),
          couplings: e([{ name: 'Mesh', kind: 'gear-pair', joints: ['P', 'Q'], teeth: 15, otherTeeth: 30, mesh: 'bevel', at: 'Pitch' }]),
          loads: e([{ name: 'Torque', kind: 'torque', body: 'Pinion', magnitude: T, direction: [1, 0, 0] }]),
          gauges: e([
            { name: 'w', kind: 'joint', joint: 'Q', of: 'rate' },
            { name: 'thrust', kind: 'reaction', joint: 'Q', component: 'y' },
            { name: 'tangential', kind: 'reaction', joint: 'Q', component: 'z' },
          ]),
        }),
        accuracy,
      );
      const a = T / (I1 + I2 / 4),
        Ft = (I2 * a) / 2 / r2,
        delta = Math.atan(r2 / r1);
      const w = k.gauge('w').at(-1)!;
      return [
        curve(k, 'w', 'speed of the gear', 'rad/s', (t) => (Math.sign(w) * a * t) / 2),
        {
          quantity: 'bearing thrust of the gear',
          unit: 'N',
          reference: Ft * Math.tan(20 * DEG) * Math.sin(delta),
          ours: Math.abs(k.gauge('thrust').at(-1)!),
        },
        { quantity: 'tangential bearing load', unit: 'N', reference: Ft, ours: Math.abs(k.gauge('tangential').at(-1)!) },
      ];
    },
  },
  {
    title: 'Planetary gear of tooth pairs: ratio and arm speed',
    source: 'Willis: ω_sun = ω_arm (1 + z_ring/z_sun)',
    solve(accuracy) {
      const [zs, zp, zr] = [24, 18, 60];
      const k = run(
        model('Planetary', {
          run: { until: 1, every: 0.01 },
          points: e([{ name: 'O' }, { name: 'Planet centre', at: [0.07, 0, 0] }]),
          bodies: e([wheel('Sun', 0.01, 'O'), wheel('Arm', 0.03, 'O'), wheel('Planet', 0.005, 'Planet centre'), wheel('Ring', 0.2, 'O')]),
          joints: e([
            pin('Sun pin', 'Ground', 'Sun', 'O'),
            pin('Arm pin', 'Ground', 'Arm', 'O'),
            pin('Planet pin', 'Arm', 'Planet', 'Planet centre'),
            pin('Ring pin', 'Ground', 'Ring', 'O'),
            { name: 'Ring held', kind: 'same-orientation', bodies: ['Ground', 'Ring'], at: ['O'] },
          ]),
          couplings: e([
            { name: 'Inner', kind: 'gear-pair', joints: ['Sun pin', 'Planet pin'], teeth: zs, otherTeeth: zp, carrier: 'Arm' },
            {
              name: 'Outer',
              kind: 'gear-pair',
              joints: ['Planet pin', 'Ring pin'],
              teeth: zp,
              otherTeeth: zr,
              mesh: 'internal',
              carrier: 'Arm',
            },
          ]),
          drives: e([{ name: 'Motor', joint: 'Sun pin', value: '12 rad/s' }]),
          gauges: e([
            { name: 'arm', kind: 'joint', joint: 'Arm pin', of: 'rate' },
            { name: 'planet', kind: 'joint', joint: 'Planet pin', of: 'rate' },
          ]),
        }),
        accuracy,
      );
      const arm = 12 / (1 + zr / zs);
      return [
        curve(k, 'arm', 'speed of the arm', 'rad/s', () => arm),
        curve(k, 'planet', 'speed of the planet on the arm', 'rad/s', () => -((12 - arm) * zs) / zp),
      ];
    },
  },
  {
    title: 'Differential: equal torques on unlike wheels',
    source: 'Each side gets half the torque of the cage',
    solve(accuracy) {
      const [Il, Ir, T] = [0.4, 0.1, 6];
      const k = run(
        model('Differential', {
          run: { until: 0.5, every: 0.01 },
          points: e([{ name: 'O' }]),
          bodies: e([wheel('Cage', 1e-6, 'O'), wheel('Left', Il, 'O'), wheel('Right', Ir, 'O')]),
          joints: e([pin('C', 'Ground', 'Cage', 'O'), pin('L', 'Ground', 'Left', 'O'), pin('R', 'Ground', 'Right', 'O')]),
          couplings: e([{ name: 'Gears', first: 'C', second: 'L', ratio: 0.5, third: 'R', thirdRatio: 0.5 }]),
          loads: e([{ name: 'Torque', kind: 'torque', body: 'Cage', magnitude: T }]),
          gauges: e([
            { name: 'l', kind: 'joint', joint: 'L', of: 'rate' },
            { name: 'r', kind: 'joint', joint: 'R', of: 'rate' },
          ]),
        }),
        accuracy,
      );
      // with the small inertia of the cage: T = Ic αc + 2 F, αc = F/2 (1/Il + 1/Ir) for side torque F
      const F = T / (2 + 0.5e-6 * (1 / Il + 1 / Ir));
      return [curve(k, 'l', 'speed left', 'rad/s', (t) => (F / Il) * t), curve(k, 'r', 'speed right', 'rad/s', (t) => (F / Ir) * t)];
    },
  },
  {
    title: 'Rack falling on a pinion: acceleration and bearing loads',
    source: 'a = m g / (m + I/r²); tooth force I α / r on the pinion’s bearing, tan 20° of it besides',
    solve(accuracy) {
      const [m, I, r] = [3, 0.01, 0.05];
      const k = run(
        model('Rack', {
          run: { until: 0.5, every: 0.01 },
          points: e([{ name: 'O' }, { name: 'Side', at: [r, 0, 0] }]),
          bodies: e([{ ...wheel('Pinion', I, 'O'), mass: 1e-3 }, cube('Rack', m, { origin: 'Side' })]),
          joints: e([
            pin('P', 'Ground', 'Pinion', 'O'),
            { name: 'S', kind: 'prismatic', bodies: ['Ground', 'Rack'], at: ['Side'], axis: [0, 1, 0] },
          ]),
          couplings: e([{ name: 'Teeth', kind: 'rack', pinion: 'P', rack: 'S', radius: r }]),
          loads: e([gravity(0, -9.81, 0)]),
          gauges: e([
            { name: 'v', kind: 'joint', joint: 'S', of: 'rate' },
            { name: 'Px', kind: 'reaction', joint: 'P', component: 'x' },
            { name: 'Py', kind: 'reaction', joint: 'P', component: 'y' },
          ]),
        }),
        accuracy,
      );
      const a = (m * 9.81) / (m + I / r ** 2),
        F = (I * a) / r ** 2;
      return [
        curve(k, 'v', 'speed of the rack', 'm/s', (t) => -a * t),
        curve(k, 'Py', 'bearing load, tangential', 'N', () => F + 1e-3 * 9.81),
        curve(k, 'Px', 'bearing load, separating', 'N', () => F * Math.tan(20 * DEG)),
      ];
    },
  },
  {
    title: 'Nut falling on a screw',
    source: 'a = g / (1 + I (2π/lead)² / m)',
    solve(accuracy) {
      const [m, I, lead] = [2, 0.002, 0.02];
      const k = run(
        model('Screw', {
          run: { until: 1, every: 0.01 },
          points: e([{ name: 'O' }]),
          bodies: e([{ name: 'Nut', mass: m, inertia: [I, I, I] }]),
          joints: e([{ name: 'Thread', kind: 'screw', bodies: ['Ground', 'Nut'], at: ['O'], lead }]),
          loads: e([gravity(0, 0, -9.81)]),
          gauges: e([{ name: 'z', kind: 'joint', joint: 'Thread', freedom: 'translation' }]),
        }),
        accuracy,
      );
      const a = 9.81 / (1 + (I * ((2 * Math.PI) / lead) ** 2) / m);
      return [curve(k, 'z', 'travel', 'm', (t) => -0.5 * a * t * t)];
    },
  },
  {
    title: 'Belt over many turns with a torsion spring',
    source: 'Oscillator of the reduced inertia: θ = (T/k)(1 − cos ωt)',
    solve(accuracy) {
      const [I1, I2, i, k1, T] = [0.02, 0.05, 3, 0.01, 0.5];
      const k = run(
        model('Belt', {
          run: { until: 5, every: 0.02 },
          points: e([{ name: 'A' }, { name: 'B', at: [0.3, 0, 0] }]),
          bodies: e([wheel('Small', I1, 'A'), wheel('Large', I2, 'B')]),
          joints: e([pin('P', 'Ground', 'Small', 'A'), pin('Q', 'Ground', 'Large', 'B')]),
          couplings: e([{ name: 'Belt', first: 'P', second: 'Q', ratio: i }]),
          loads: e([
            { name: 'Torque', kind: 'torque', body: 'Small', magnitude: T },
            { name: 'Spring', kind: 'joint-spring', joint: 'P', stiffness: k1 },
          ]),
          gauges: e([{ name: 'angle', kind: 'joint', joint: 'P' }]),
        }),
        accuracy,
      );
      const w = Math.sqrt(k1 / (I1 + I2 / i ** 2));
      return [curve(k, 'angle', 'angle over 15 turns', 'rad', (t) => (T / k1) * (1 - Math.cos(w * t)))];
    },
  },
];
