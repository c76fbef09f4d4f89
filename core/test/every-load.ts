/** A load of every kind there is, and the machine on which it acts. */
import type { Model, RawElement } from '../src';
import { model } from './models';

const e = (list: object[]) => list as RawElement[];
const BETWEEN = { bodies: ['One', 'Two'], at: ['P', 'Q'] };
const CURVE = [
  [-2, -300],
  [0, 10],
  [2, 150],
];

/** An example of every kind, or several where it has more than one law; `loses` where it takes energy. */
export const LOADS: Readonly<Record<string, readonly Readonly<Record<string, unknown>>[]>> = {
  gravity: [{}, { factor: 't / (1 s) + 1' }],
  force: [
    { body: 'One', at: 'P', direction: [1, 2, 3], magnitude: '20 N' },
    { body: 'One', at: 'P', direction: [1, 2, 3], follows: 'body', magnitude: '20 N' },
  ],
  torque: [
    { body: 'One', reaction: 'Two', direction: [1, 2, 3], magnitude: '20 N*m' },
    { body: 'One', direction: [1, 2, 3], follows: 'body', magnitude: '20 N*m' },
  ],
  'line-force': [{ ...BETWEEN, magnitude: '20 N' }],
  drag: [{ body: 'One', at: 'P', linear: '2 N*s/m', quadratic: '3 N*s^2/m^2', loses: true }],
  float: [{ body: 'One', at: 'P', radius: '0.9 m', level: '0.1 m' }],
  spring: [
    { ...BETWEEN, stiffness: '200 N/m', preload: '3 N' },
    { ...BETWEEN, stiffness: '200 N/m', damping: '8 N*s/m', loses: true },
    { ...BETWEEN, stiffness: '200 N/m', damping: '8 N*s/m', only: 'tension', loses: true },
    { ...BETWEEN, stiffness: '200 N/m', free: '3 m', only: 'compression' },
    { ...BETWEEN, curve: 'Curve', preload: '3 N' },
  ],
  cable: [
    { bodies: ['Ground', 'One', 'One', 'Two'], at: ['O', 'P', 'One middle', 'Q'], stiffness: '200 N/m', free: '0.1 m' },
    { ...BETWEEN, stiffness: '200 N/m', free: '0.1 m', damping: '3 N*s/m', loses: true },
  ],
  bushing: [
    { bodies: ['One', 'Two'], at: ['P', 'Q'], stiffness: ['10 N/m', '20 N/m', '30 N/m'], torsion: ['3 N*m/rad', '4 N*m/rad', '5 N*m/rad'] },
    {
      bodies: ['One', 'Two'],
      at: ['P', 'Q'],
      stiffness: ['10 N/m', '20 N/m', '30 N/m'],
      torsion: ['3 N*m/rad', '4 N*m/rad', '5 N*m/rad'],
      damping: ['1 N*s/m', '2 N*s/m', '3 N*s/m'],
      torsionDamping: ['1 N*m*s/rad', '2 N*m*s/rad', '3 N*m*s/rad'],
      curveX: 'Curve',
      loses: true,
    },
  ],
  field: [
    {
      bodies: ['One', 'Two'],
      at: ['P', 'Q'],
      stiffness: Array.from({ length: 6 }, (_, i) => Array.from({ length: 6 }, (_x, j) => (i === j ? 20 + i : 1))),
    },
  ],
  beam: [
    { ...BETWEEN, axial: '200 N', bendingY: '20 N*m^2', torsion: '10 N*m^2', damping: '10 ms', loses: true },
    { ...BETWEEN, axial: '200 N', bendingY: '20 N*m^2', bendingZ: '30 N*m^2', torsion: '10 N*m^2', shear: '900 N', mass: '2 kg/m' },
  ],
  'joint-spring': [
    { joint: 'Pin', stiffness: '20 N*m/rad', rest: '0.3 rad', preload: '2 N*m' },
    { joint: 'Slide', stiffness: '20 N/m', damping: '3 N*s/m', loses: true },
    { joint: 'Track', stiffness: '20 N/m', damping: '3 N*s/m', loses: true, coded: true },
  ],
  actuator: [
    { joint: 'Pin', effort: '3 N*m' },
    { joint: 'Pin', effort: '30 N*m', limit: '20 N*m' },
    { joint: 'Slide', effort: '-30 N', limit: '20 N', topSpeed: '9 m/s' },
  ],
  'joint-stop': [
    { joint: 'Slide', lower: '-0.01 m', upper: '0.01 m', stiffness: '500 N/m' },
    { joint: 'Pin', upper: '-3 rad', stiffness: '500 N*m/rad', damping: '2 N*m*s/rad', loses: true },
    { joint: 'Slide', lower: '-1 m', law: 'impulse', coded: true },
  ],
  contact: [
    { first: ['Two'], second: ['Ground'], stiffness: '500 N/m', coded: true },
    { first: ['Two'], second: ['Ground'], stiffness: '500 N/m', exponent: 1.5, depth: '0.1 m', sliding: 0.2, coded: true },
  ],
  'joint-friction': [
    { joint: 'Pin', static: 0.1, sliding: 0.1, radius: '3 mm', collar: '5 mm', length: '0.4 m', preload: '0.2 N*m' },
    { joint: 'Slide', static: 0.1, sliding: 0.1 },
    { joint: 'Track', static: 0.1, sliding: 0.1 },
  ],
};

export const loaded = (load: object): Model => {
  const fields = Object.fromEntries(Object.entries(load).filter(([key]) => key !== 'loses' && key !== 'coded'));
  return model('Loads', {
    tables: e([{ name: 'Curve', from: 'm', to: 'N', data: CURVE, between: 'akima', beyond: 'extend' }]),
    points: e([
      { name: 'O', at: [0, 0, 0] },
      { name: 'P', body: 'One', at: [0.4, 0.1, -0.2] },
      { name: 'One middle', body: 'One', at: [0.1, -0.1, 0.1] },
      { name: 'Q', body: 'Two', at: [-0.3, 0.2, 0.1] },
      { name: 'T1', at: [-2, 0, 0] },
      { name: 'T2', at: [0, 1, 0] },
      { name: 'T3', at: [2, 0, 1] },
      { name: 'Rider', body: 'Two', at: [0, 0, 0] },
    ]),
    bodies: e([
      { name: 'One', mass: 2, inertia: [1, 2, 2.5] },
      { name: 'Two', mass: 3, inertia: [2, 1, 2.5] },
    ]),
    joints: e([
      { name: 'Pin', kind: 'revolute', bodies: ['Ground', 'One'], at: ['O'], axis: [1, 2, 2] },
      { name: 'Slide', kind: 'prismatic', bodies: ['One', 'Two'], at: ['P', 'Q'], axis: [2, -1, 2] },
      ...(JSON.stringify(fields).includes('Track')
        ? [{ name: 'Track', kind: 'point-on-curve', bodies: ['Ground', 'Two'], at: ['Rider'], through: ['T1', 'T2', 'T3'] }]
        : []),
    ]),
    // the masses are typed: shapes change nothing but what touches
    shapes: e([
      { name: 'Ball', kind: 'sphere', body: 'Two', centre: 'Rider', radius: '0.8 m' },
      { name: 'Block', kind: 'box', body: 'Ground', centre: 'T2', length: '4 m', depth: '1 m', height: '4 m' },
    ]),
    loads: e([{ name: 'Load', ...fields }]),
  });
};
