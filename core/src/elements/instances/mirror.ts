import { type Mat3, dot, scale, unit } from '../../geometry/vector';
import { refs, vector } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { instance } from './instance';

export const mirror = instance({
  kind: 'mirror',
  label: 'Mirror',
  makes: 'mirrored',
  help: 'The mirror image of instances and bodies with all that ties them together, kept up with every change. Axes of turning keep their sense, so that the image moves like the original.',
  fields: {
    of: refs('instances', 0, 200, 'Instances', 'Instances that are mirrored.', { optional: true }),
    bodies: refs(
      'bodies',
      0,
      500,
      'Bodies',
      'Bodies that are mirrored, with their shapes, points, and the joints, loads, drives and gauges between them.',
      { optional: true },
    ),
    shared: refs('bodies', 0, 50, 'Shared bodies', 'Bodies besides the ground that are not mirrored and on which both sides hang.', {
      optional: true,
    }),
    at: vector(D.length, 'Plane through', 'A place in the plane of the mirror.', { default: [0, 0, 0] }),
    normal: vector(D.none, 'Normal', 'Direction square to that plane.', { direction: true, default: [0, 1, 0] }),
  },
  members(v) {
    const [x, y, z] = unit(v.normal);
    const turn: Mat3 = [
      1 - 2 * x * x,
      -2 * x * y,
      -2 * x * z,
      -2 * y * x,
      1 - 2 * y * y,
      -2 * y * z,
      -2 * z * x,
      -2 * z * y,
      1 - 2 * z * z,
    ];
    return [{ turn, origin: scale([x, y, z], 2 * dot([x, y, z], v.at)) }];
  },
});
