/** Parameter, point, material, body: the ground on which everything else stands. */
import { type Kind } from '../model/kinds';
import { colour, quantity, ref, vector } from '../model/fields';
import { D } from '../quantity/dimension';

const kind = <K extends Kind>(k: K): K => k;

export const parameter = kind({
  family: 'parameters',
  kind: 'parameter',
  label: 'Parameter',
  help: 'A named quantity for use in formulas.',
  fields: {
    value: quantity(undefined, 'Value', 'A number with its unit, or a formula of other parameters: `2*arm + 10 mm`.'),
  },
});

export const point = kind({
  family: 'points',
  kind: 'point',
  label: 'Point',
  help: 'A named place, fixed in a body or in the ground. Shapes, joints, loads and gauges hang on points.',
  fields: {
    body: ref('bodies', 'In', 'Body whose axes the coordinates are in. Left out: the ground.', { optional: true }),
    at: vector(D.length, 'Coordinates', 'x, y, z in the axes of that body.', { default: [0, 0, 0] }),
  },
});

export const material = kind({
  family: 'materials',
  kind: 'material',
  label: 'Material',
  help: 'Density for shapes.',
  fields: {
    density: quantity(D.density, 'Density', 'Mass per volume.', { range: 'positive' }),
  },
});

export const body = kind({
  family: 'bodies',
  kind: 'body',
  label: 'Body',
  help: 'A rigid body. Its mass, centre and inertia come from its shapes, or are typed in and then count instead.',
  fields: {
    origin: ref('points', 'Origin', 'Point at which the body’s axes are drawn. Left out: the ground origin.', { optional: true }),
    aim: ref('points', 'Aimed at', 'Point to which the body’s x axis is turned, by the shortest way.', { optional: true }),
    rotation: vector(D.angle, 'Rotation', 'Turned about ground x, then y, then z, as drawn.', { default: [0, 0, 0] }),
    material: ref('materials', 'Material', 'Material of its shapes that name none.', { optional: true }),
    mass: quantity(D.mass, 'Mass', 'Counts instead of the mass of the shapes.', { optional: true, range: 'positive' }),
    centre: vector(D.length, 'Centre of mass', 'In the body’s axes; counts instead of that of the shapes.', {
      optional: true,
      carried: 'own place',
    }),
    inertia: vector(
      D.inertia,
      'Inertia xx yy zz',
      'Moments of inertia about the centre of mass along the body’s axes; count instead of those of the shapes, which scale with a mass that is typed in.',
      { optional: true, parts: ['Ixx', 'Iyy', 'Izz'] },
    ),
    products: vector(
      D.inertia,
      'Inertia xy yz zx',
      'Off-diagonal entries of the inertia tensor (xy entry = −∫xy dm). Left out: zero where the moments are typed in, else those of the shapes.',
      { optional: true, carried: 'own products', parts: ['Ixy', 'Iyz', 'Izx'] },
    ),
    velocity: vector(
      D.speed,
      'Start velocity',
      'Velocity of the centre of mass at the start, ground axes. Left out: it follows the joints.',
      { optional: true, carried: 'vector' },
    ),
    spin: vector(D.angularSpeed, 'Start spin', 'Angular velocity at the start, ground axes. Left out: it follows the joints.', {
      optional: true,
      carried: 'axial vector',
    }),
    colour: colour('Colour', 'How it is drawn. Left out: a colour of its own from the palette.'),
  },
});

export const mount = kind({
  family: 'bodies',
  kind: 'mount',
  label: 'Mount',
  standsIn: true,
  help: 'In a kit: stands for the body of the machine on which an instance is fastened; where nothing is named for it, for the ground. While the kit is open it stands still if the kit hangs on nothing else, and floats otherwise.',
  fields: {},
});

export const kit = kind({
  family: 'kits',
  kind: 'kit',
  label: 'Kit',
  holdsModel: true,
  help: 'A mechanism of its own, with parameters and mounts, that is put into the machine as often as wanted. A change of the kit changes all its instances.',
  fields: {},
});
