import { AXIS_JOINT, inPlane, joint } from './joint';
import { BALL_ON_PLATE } from '../../model/symbol';

export const pointOnPlane = joint({
  kind: 'point-on-plane',
  label: 'Point on plane',
  help: 'The second body’s point stays in the plane square to the axis, fixed in the first body.',
  fields: AXIS_JOINT,
  freedoms: [],
  leaves: 5,
  symbol: BALL_ON_PLATE,
  holds: ['translation along its axis'],
  equations: (s) => [inPlane(s)],
});
