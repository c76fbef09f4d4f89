/** Published problems as models: the seven-body squeezer, coupled four-bar loops, the Bricard loop. */
import type { Model, RawElement } from '../src';
import { model } from './models';

const e = (list: object[]) => list as RawElement[];

/**
 * Andrews' squeezing mechanism: data, start and reference solution at 0.03 s from Hairer & Wanner, Solving Ordinary Differential
 * Equations II, sec. VII.7, and the Test Set for IVP Solvers (CWI), problem "andrews".
 */
export function squeezer(): Model {
  const [beta, theta, gamma, phi, delta, omega, epsilon] = SQUEEZER_START;
  const [d, rr, ss, zt, zf, u, ee] = [28e-3, 7e-3, 35e-3, 4e-2, 2e-2, 4e-2, 2e-2];
  const A = [-0.06934, -0.00227, 0],
    B = [-0.03635, 0.03273, 0],
    C = [0.014, 0.072, 0];
  const flat = (name: string, mass: number, I: number, centre: number[], angle: number, origin: string) => ({
    name,
    mass,
    inertia: [I, I, I],
    centre: [...centre, 0],
    rotation: [0, 0, angle],
    origin,
  });
  const pin = (name: string, one: string, other: string, ...at: string[]) => ({ name, kind: 'revolute', bodies: [one, other], at });
  const end = (name: string, body: string, x: number, y: number) => ({ name, body, at: [x, y, 0] });
  return model('Squeezer', {
    run: { until: '0.03 s', every: '0.1 ms' },
    points: e([
      { name: 'Centre' },
      { name: 'Left anchor', at: A },
      { name: 'Top anchor', at: B },
      { name: 'Spring anchor', at: C },
      end('Crank end', 'Crank', rr, 0),
      end('Knot', 'Rod', -d, 0),
      end('Plate knot', 'Plate', 0, -ss),
      end('Plate spring end', 'Plate', 20e-3, -18e-3),
      end('Upper lever end', 'Upper lever', zt, 0),
      end('Upper link knot', 'Upper link', 0, -ee),
      end('Lower lever end', 'Lower lever', 0, -u),
      end('Lower link knot', 'Lower link', zf, 0),
    ]),
    bodies: e([
      flat('Crank', 0.04325, 2.194e-6, [92e-5, 0], beta, 'Centre'),
      flat('Rod', 0.00365, 4.41e-7, [-115e-4, 0], beta + theta, 'Crank end'),
      flat('Plate', 0.02373, 5.255e-6, [1043e-5, -1874e-5], gamma, 'Top anchor'),
      flat('Upper link', 0.00706, 5.667e-7, [0, -(ee - 1421e-5)], phi + delta, 'Upper lever end'),
      flat('Upper lever', 0.0705, 1.169e-5, [2308e-5, 916e-5], delta, 'Left anchor'),
      flat('Lower link', 0.00706, 5.667e-7, [zf - 1421e-5, 0], omega + epsilon, 'Lower lever end'),
      flat('Lower lever', 0.05498, 1.912e-5, [-449e-5, -1228e-5], epsilon, 'Left anchor'),
    ]),
    joints: e([
      pin('Crank bearing', 'Ground', 'Crank', 'Centre'),
      pin('Crank to rod', 'Crank', 'Rod', 'Crank end'),
      pin('Plate bearing', 'Ground', 'Plate', 'Top anchor'),
      pin('Plate to rod', 'Plate', 'Rod', 'Plate knot', 'Knot'),
      pin('Upper bearing', 'Ground', 'Upper lever', 'Left anchor'),
      pin('Upper lever to link', 'Upper lever', 'Upper link', 'Upper lever end'),
      pin('Upper link to rod', 'Upper link', 'Rod', 'Upper link knot', 'Knot'),
      pin('Lower bearing', 'Ground', 'Lower lever', 'Left anchor'),
      pin('Lower lever to link', 'Lower lever', 'Lower link', 'Lower lever end'),
      pin('Lower link to rod', 'Lower link', 'Rod', 'Lower link knot', 'Knot'),
    ]),
    loads: e([
      { name: 'Motor', kind: 'torque', body: 'Crank', magnitude: 0.033 },
      {
        name: 'Spring',
        kind: 'spring',
        bodies: ['Ground', 'Plate'],
        at: ['Spring anchor', 'Plate spring end'],
        stiffness: 4530,
        free: 0.07785,
      },
    ]),
    gauges: e(
      [
        'Crank bearing',
        'Crank to rod',
        'Plate bearing',
        'Upper lever to link',
        'Upper bearing',
        'Lower lever to link',
        'Lower bearing',
      ].map((joint) => ({ name: joint, kind: 'joint', joint })),
    ),
  });
}
export const SQUEEZER_START = [
  -0.0617138900142764496, 0, 0.45527981916307038, 0.22266839016588588, 0.48736497954384255, -0.22266839016588588, 1.2305474445498212,
] as const;
export const SQUEEZER_END = [
  15.81077119629904, -15.75637105984298, 0.04082224013073101, -0.5347301163226948, 0.5244099658805304, 0.5347301163226948,
  1.048080741042263,
];

/** N coupled four-bar loops of 1 m, 1 kg bars, started at 1 m/s (González, Dopico, Lugrís, Cuadrado, Multibody Syst. Dyn. 16, 2006). */
export function fourBars(n: number): Model {
  const bar = (name: string, origin: string, rotation: number) => ({
    name,
    origin,
    rotation: [0, 0, rotation],
    mass: 1,
    centre: [0.5, 0, 0],
    inertia: [1e-3, 1 / 12, 1 / 12],
    velocity: rotation ? [0.5, 0, 0] : [1, 0, 0],
    spin: rotation ? [0, 0, -1] : [0, 0, 0],
  });
  const posts = Array.from({ length: n + 1 }, (_, i) => i);
  return model(`${n} loops`, {
    run: { until: '10 s', every: '20 ms' },
    points: e([
      ...posts.map((i) => ({ name: `Foot ${i}`, at: [i, 0, 0] })),
      ...posts.map((i) => ({ name: `Head ${i}`, body: `Post ${i}`, at: [1, 0, 0] })),
      ...posts.slice(1).map((i) => ({ name: `Beam end ${i}`, body: `Beam ${i}`, at: [1, 0, 0] })),
    ]),
    bodies: e([
      ...posts.map((i) => bar(`Post ${i}`, `Foot ${i}`, Math.PI / 2)),
      ...posts.slice(1).map((i) => bar(`Beam ${i}`, `Head ${i - 1}`, 0)),
    ]),
    joints: e([
      ...posts.map((i) => ({ name: `Foot pin ${i}`, kind: 'revolute', bodies: ['Ground', `Post ${i}`], at: [`Foot ${i}`] })),
      ...posts.slice(1).flatMap((i) => [
        { name: `Near pin ${i}`, kind: 'revolute', bodies: [`Post ${i - 1}`, `Beam ${i}`], at: [`Head ${i - 1}`] },
        { name: `Far pin ${i}`, kind: 'revolute', bodies: [`Beam ${i}`, `Post ${i}`], at: [`Beam end ${i}`, `Head ${i}`] },
      ]),
    ]),
    loads: e([{ name: 'Gravity', kind: 'gravity', acceleration: [0, -9.81, 0] }]),
    gauges: e([{ name: 'energy', kind: 'energy' }, ...posts.map((i) => ({ name: `angle ${i}`, kind: 'joint', joint: `Foot pin ${i}` }))]),
  });
}

/** Five 1 m bars, 1 kg each, on six revolute joints along the edges of a cube: over-constrained, yet it moves (González et al., 2006). */
export const bricard = (): Model => {
  const corners = [
    [0, 0, 0],
    [1, 0, 0],
    [1, -1, 0],
    [1, -1, 1],
    [0, -1, 1],
    [0, 0, 1],
  ];
  const axes = [
    [0, 1, 0],
    [0, 0, 1],
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
    [1, 0, 0],
  ];
  const bars = [0, 1, 2, 3, 4];
  return model('Bricard', {
    run: { until: '10 s', every: '20 ms' },
    points: e(corners.map((at, i) => ({ name: `Corner ${i}`, at }))),
    bodies: e(
      bars.map((i) => {
        const [a, b] = [corners[i]!, corners[i + 1]!];
        const along = [0, 1, 2].map((k) => b[k]! - a[k]!);
        return {
          name: `Bar ${i}`,
          mass: 1,
          centre: [0, 1, 2].map((k) => (a[k]! + b[k]!) / 2),
          inertia: along.map((x) => (x !== 0 ? 1e-3 : 1 / 12)),
        };
      }),
    ),
    joints: e(
      corners.map((_, i) => ({
        name: `Hinge ${i}`,
        kind: 'revolute',
        bodies: [i === 0 ? 'Ground' : `Bar ${i - 1}`, i === 5 ? 'Ground' : `Bar ${i}`],
        at: [`Corner ${i}`],
        axis: axes[i]!,
      })),
    ),
    loads: e([{ name: 'Gravity', kind: 'gravity', acceleration: [0, -9.81, 0] }]),
    gauges: e([
      { name: 'energy', kind: 'energy' },
      { name: 'x', kind: 'point', body: 'Bar 2', at: 'Corner 3', component: 'x' },
    ]),
  });
};

/** The machine with dry friction in its first pins. @param more of each friction */
export const rubbing = (m: Model, more: object = {}, pins = 3): Model => ({
  ...m,
  loads: [
    ...m.loads,
    ...e(
      m.joints
        .filter((j) => j.kind === 'revolute')
        .slice(0, pins)
        .map((j) => ({
          name: `Rub at ${j.name}`,
          kind: 'joint-friction',
          joint: j.name,
          static: 0.15,
          sliding: 0.1,
          radius: '2 mm',
          preload: '0.01 N*m',
          ...more,
        })),
    ),
  ],
});

/** A train of gears: a helical pair, a planet in a ring on a swinging arm, a bevel pair and a rack, each pressing on its bearings. */
export function gears(): Model {
  const wheel = (name: string, at: string, axis: readonly number[] = [0, 0, 1]) => ({
      body: { name, origin: at, mass: 1, inertia: [0.02, 0.02, 0.03] },
      pin: (on: string) => ({ name: `${name} pin`, kind: 'revolute', bodies: [on, name], at: [at], axis }),
    }),
    [sun, arm, planet, side, crown, pinion] = [
      wheel('Sun', 'O'),
      wheel('Arm', 'O'),
      wheel('Planet', 'P'),
      wheel('Side', 'S'),
      wheel('Crown', 'C', [1, 0, 0]),
      wheel('Pinion', 'S'),
    ];
  const mesh = (name: string, joints: readonly string[], teeth: number, otherTeeth: number, more: object = {}) => ({
    ...{ name, kind: 'gear-pair', joints, teeth, otherTeeth },
    ...more,
  });
  return model('Gears', {
    run: { until: '1 s', every: '10 ms' },
    points: e([
      { name: 'O' },
      { name: 'P', at: [0.07, 0, 0.01] },
      { name: 'S', at: [-0.05, 0, 0] },
      { name: 'C', at: [-0.1, 0, 0.04] },
      { name: 'Pitch', at: [-0.1, 0, 0] },
      { name: 'R', at: [-0.03, 0.02, 0] },
    ]),
    bodies: e([
      ...[sun!, arm!, planet!, side!, crown!].map((w) => w.body),
      { name: 'Rack', origin: 'R', mass: 2, inertia: [0.01, 0.01, 0.01] },
      pinion!.body,
    ]),
    joints: e([
      ...[sun!.pin('Ground'), arm!.pin('Ground'), planet!.pin('Arm'), side!.pin('Ground'), crown!.pin('Ground'), pinion!.pin('Ground')],
      { name: 'Slide', kind: 'prismatic', bodies: ['Ground', 'Rack'], at: ['R'], axis: [0, 1, 0] },
    ]),
    couplings: e([
      mesh('Inner', ['Sun pin', 'Planet pin'], 24, 18, { carrier: 'Arm' }),
      mesh('Helical', ['Sun pin', 'Side pin'], 20, 30, { helix: '15 deg' }),
      mesh('Bevel', ['Side pin', 'Crown pin'], 25, 20, { mesh: 'bevel', at: 'Pitch' }),
      { name: 'Teeth', kind: 'rack', pinion: 'Pinion pin', rack: 'Slide', radius: 0.02 },
      { name: 'Belt', first: 'Pinion pin', second: 'Side pin', ratio: 2, third: 'Arm pin', thirdRatio: -0.5 },
    ]),
    loads: e([
      { name: 'Gravity', kind: 'gravity', acceleration: [0, -9.81, 0] },
      { name: 'Torque', kind: 'torque', body: 'Sun', magnitude: '2 N*m' },
      { name: 'Brake', kind: 'torque', body: 'Crown', direction: [1, 0, 0], magnitude: '-0.5 N*m' },
    ]),
    gauges: e([
      { name: 'energy', kind: 'energy' },
      { name: 'arm', kind: 'joint', joint: 'Arm pin' },
      { name: 'load', kind: 'reaction', joint: 'Side pin' },
      { name: 'thrust', kind: 'reaction', joint: 'Crown pin', component: 'z' },
    ]),
  });
}
