/** Planar loops: redundant constraints across the plane are no alarm, those in the plane are. */
import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { type Model, check, complete, kitContent } from '../src';
import slotCam from '../../examples/slot-cam.pivot.json';
import wingFold from '../../examples/wing-fold.pivot.json';
import './seed';

const redundant = (m: Model) =>
  check(m)
    .diagnoses.filter((d) => d.code.endsWith('redundant'))
    .map((d) => `${d.severity} ${d.code}`);

/** Cranks of one length on a common coupler, turned about an axis given by roll, pitch and yaw. */
function cranks(feet: readonly number[], rotation: readonly number[]): Model {
  const inertia = ['1 g*m^2', '1 g*m^2', '1 g*m^2'];
  const points = feet.flatMap((x, i) => [
    { name: `Foot ${i}`, at: [0, x, 0] },
    { name: `Head ${i}`, at: [0, x + 0.3, 0.4] },
  ]);
  const content = kitContent('Cranks', {
    points,
    bodies: [
      { name: 'Root', kind: 'mount' },
      { name: 'Coupler', origin: 'Head 0', mass: 1, inertia },
      ...feet.map((_, i) => ({ name: `Crank ${i}`, origin: `Foot ${i}`, mass: 1, inertia })),
    ],
    joints: feet.flatMap((_, i) => [
      { name: `Foot pin ${i}`, kind: 'revolute', bodies: ['Root', `Crank ${i}`], at: [`Foot ${i}`], axis: [1, 0, 0] },
      { name: `Head pin ${i}`, kind: 'revolute', bodies: [`Crank ${i}`, 'Coupler'], at: [`Head ${i}`], axis: [1, 0, 0] },
    ]),
  } as object);
  return complete({
    format: 'vim-pivot-model',
    version: 1,
    name: 'cranks',
    ground: 'Ground',
    run: slotCam.run,
    kits: [{ name: 'Cranks', content }],
    instances: [{ name: 'One', kind: 'single', kit: 'Cranks', rotation: [...rotation] }],
  } as object);
}

describe('planar loops', () => {
  it('with a guide or a slot in the plane are as quiet as with pins alone', () => {
    for (const file of [slotCam, wingFold]) expect(redundant(complete(file as object))).toEqual(['note planar-redundant']);
  });
  it('with a redundant constraint in the plane are warned of, in whatever plane the machine stands', () => {
    const turns = fc.tuple(...[0, 1, 2].map(() => fc.double({ min: -3, max: 3, noNaN: true })));
    fc.assert(
      fc.property(turns, (rotation) => {
        expect(redundant(cranks([0, 0.2], rotation))).toEqual(['note planar-redundant']);
        // a third crank of the same length: the parallelogram still moves, and holds one direction in the plane twice
        expect(check(cranks([0, 0.2, 0.5], rotation)).mobility!.joints).toBe(1);
        expect(redundant(cranks([0, 0.2, 0.5], rotation))).toContain('warning joint-redundant');
      }),
      { numRuns: 12 },
    );
  });
});
