/** Small machines for the tests, built as a user's file would be. */
import { type Family, type Mechanism, type Model, type RawElement, assemble, build } from '../src';
import { checkModel } from '../src/model/file';

type Parts = Partial<Record<Family, RawElement[]>> & { run?: object };

export const model = (name: string, parts: Parts): Model => checkModel({ format: 'vim-pivot-model', version: 1, name, ...parts });

/** Slider-crank in the x-y plane; the crank turns about +z at constant speed, gravity acts along −y. */
export const sliderCrank = (r = 0.05, l = 0.2, rpm = 300): Model =>
  model('Slider-crank', {
    run: { until: '0.4 s', every: '1 ms' },
    parameters: [
      { name: 'arm', value: r },
      { name: 'rod', value: l },
    ] as never,
    points: [
      { name: 'Axle' },
      { name: 'Crank pin', body: 'Crank', at: [r, 0, 0] },
      { name: 'Crank middle', body: 'Crank', at: [r / 2, 0, 0] },
      { name: 'Rod end', body: 'Rod', at: [l, 0, 0] },
      { name: 'Slide pin', body: 'Slider', at: [0, 0, 0] },
    ] as RawElement[],
    bodies: [
      { name: 'Crank', mass: 1.2, centre: [r / 2, 0, 0], inertia: [1e-4, 8e-4, 9e-4] },
      { name: 'Rod', origin: 'Crank pin', mass: 0.8, centre: [0.4 * l, 0, 0], inertia: [1e-4, 3e-3, 3e-3] },
      { name: 'Slider', mass: 1.5, inertia: [1e-3, 1e-3, 1e-3], origin: 'Rod end' },
    ] as RawElement[],
    joints: [
      { name: 'Bearing', kind: 'revolute', bodies: ['Ground', 'Crank'], at: ['Axle'] },
      { name: 'Crank joint', kind: 'revolute', bodies: ['Crank', 'Rod'], at: ['Crank pin'] },
      { name: 'Wrist', kind: 'revolute', bodies: ['Rod', 'Slider'], at: ['Rod end'] },
      { name: 'Slide', kind: 'prismatic', bodies: ['Ground', 'Slider'], at: ['Axle', 'Slide pin'], axis: [1, 0, 0] },
    ] as RawElement[],
    drives: [{ name: 'Motor', joint: 'Bearing', prescribes: 'speed', value: `${rpm} rpm` }] as RawElement[],
    loads: [{ name: 'Gravity', kind: 'gravity', acceleration: [0, '-9.81 m/s^2', 0] }] as RawElement[],
    gauges: [
      { name: 'x', kind: 'joint', joint: 'Slide' },
      { name: 'v', kind: 'joint', joint: 'Slide', of: 'rate' },
      { name: 'a', kind: 'joint', joint: 'Slide', of: 'acceleration' },
      ...['Bearing', 'Crank joint', 'Wrist', 'Slide'].flatMap((joint) =>
        ['x', 'y'].map((component) => ({ name: `${joint} ${component}`, kind: 'reaction', joint, component })),
      ),
      { name: 'Torque', kind: 'drive', drive: 'Motor' },
      { name: 'Power', kind: 'drive', drive: 'Motor', of: 'power' },
      { name: 'Angle', kind: 'joint', joint: 'Bearing' },
    ] as RawElement[],
  });

/** Two bars hung on ball joints, thrown sideways: a free spatial double pendulum. */
export const doublePendulum = (until = '10 s'): Model =>
  model('Double pendulum', {
    run: { until, every: '10 ms' },
    points: [
      { name: 'Hook' },
      { name: 'Knee', body: 'Upper', at: ['400 mm', 0, 0] },
      { name: 'Toe', body: 'Lower', at: ['300 mm', 0, 0] },
    ] as RawElement[],
    materials: [{ name: 'Steel', density: '7850 kg/m^3' }] as RawElement[],
    bodies: [
      { name: 'Upper', material: 'Steel', spin: [0, '1 rad/s', '2 rad/s'] },
      { name: 'Lower', origin: 'Knee', rotation: [0, 0, '60 deg'], material: 'Steel', spin: ['1 rad/s', 0, '-3 rad/s'] },
    ] as RawElement[],
    shapes: [
      { name: 'Upper bar', kind: 'link', body: 'Upper', from: 'Hook', to: 'Knee', width: '30 mm', thickness: '12 mm' },
      { name: 'Lower bar', kind: 'link', body: 'Lower', from: 'Knee', to: 'Toe', width: '24 mm', thickness: '10 mm' },
    ] as RawElement[],
    joints: [
      { name: 'Hip', kind: 'spherical', bodies: ['Ground', 'Upper'], at: ['Hook'] },
      { name: 'Knee joint', kind: 'spherical', bodies: ['Upper', 'Lower'], at: ['Knee'] },
    ] as RawElement[],
    loads: [{ name: 'Gravity', kind: 'gravity' }] as RawElement[],
    gauges: [
      { name: 'Energy', kind: 'energy' },
      { name: 'Kinetic', kind: 'energy', of: 'kinetic' },
      { name: 'Toe x', kind: 'point', body: 'Lower', at: 'Toe', component: 'x' },
    ] as RawElement[],
  });

/** A machine assembled, at rest, its drives as they stand. */
export function standing(of: Model): Mechanism {
  const m = build(of).mechanism!;
  m.system.K.load(assemble(m).y);
  m.system.standing(true);
  m.system.K.rest();
  return m;
}
