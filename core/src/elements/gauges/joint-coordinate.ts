import { choice, ref } from '../../model/fields';
import { measured } from '../../equations/measured';
import { D } from '../../quantity/dimension';
import { FREEDOMS, byFreedom, freedomOf } from '../freedoms';
import { gauge, jointAxis } from './gauge';

export const jointCoordinate = gauge({
  kind: 'joint',
  label: 'Joint coordinate',
  noun: { rotation: 'angle', translation: 'travel' },
  help: 'Angle or travel of a joint, its rate or its acceleration. Angles count whole turns.',
  fields: {
    joint: ref('joints', 'Joint', 'The joint read.'),
    freedom: choice(FREEDOMS, 'Coordinate', 'Which coordinate of the joint.'),
    of: choice({ value: 'angle or travel', rate: 'speed', acceleration: 'acceleration' }, 'Reads', 'Which of the three.'),
  },
  reads: { choose: 'of', cases: { value: byFreedom(D.angle, D.length), rate: byFreedom(D.angularSpeed, D.speed) } },
  channel(v, m) {
    const j = m.joint(v.joint);
    const freedom = freedomOf(j, v.freedom, 'to read');
    const { type } = freedom;
    const of = v.of as 'value' | 'rate' | 'acceleration';
    return {
      ...(of === 'acceleration' ? { dim: type === 'rotation' ? D.angularAcceleration : D.acceleration } : {}),
      sign: { ...jointAxis(j), ...(type === 'rotation' ? { turning: true as const } : {}) },
      angles: type === 'rotation' ? [freedom] : [],
      positive:
        type === 'rotation'
          ? `Positive when ${j.bodies[1]} turns against ${j.bodies[0]} by the right hand about the joint axis; zero as drawn.`
          : `Positive when ${j.bodies[1]} moves along the joint axis, seen from ${j.bodies[0]}; zero where the two places meet.`,
      ...(of === 'acceleration'
        ? {}
        : { stated: (counter) => measured(freedom, of, type === 'rotation' && of === 'value' ? counter(freedom) : undefined) }),
      read: (s) => {
        if (of === 'rate') return freedom.rate(s.K);
        if (of === 'acceleration') return freedom.acceleration(s.K, s.acceleration);
        return type === 'rotation' ? s.angle(freedom) : freedom.value(s.K);
      },
    };
  },
});
