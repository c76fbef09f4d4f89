import { SameTwist } from '../../equations/constraints';
import { applyT, column, mul, shortestTurn } from '../../geometry/vector';
import { vector } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { AXIS_JOINT, MEET_WORDS, joint, meet } from './joint';
import { SHAFTS } from '../../model/symbol';

export const constantVelocity = joint({
  kind: 'constant-velocity',
  label: 'Constant velocity',
  help: 'Two shafts share a point and turn at the same speed at any bend: the bend adds no twist.',
  fields: {
    ...AXIS_JOINT,
    cross: vector(
      D.none,
      'Second shaft',
      'Direction of the second body’s shaft as drawn, when the shafts are drawn at a bend; the axis is that of the first.',
      { direction: true, optional: true },
    ),
  },
  freedoms: [],
  leaves: 2,
  symbol: SHAFTS,
  holds: [...MEET_WORDS, 'twist about the shafts'],
  equations(s) {
    // the second body's frame, with its z along its own shaft and no twist against the first as drawn
    const bend = s.second ? shortestTurn([0, 0, 1], applyT(s.fb, s.second)) : undefined;
    const fb = bend ? mul(s.fb, bend) : s.fb;
    return [meet(s), new SameTwist(s.a, column(s.fa, 0), column(s.fa, 1), s.b, column(fb, 0), column(fb, 1))];
  },
});
