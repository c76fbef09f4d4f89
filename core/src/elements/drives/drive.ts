/** A drive prescribes the motion of a joint's freedom; the effort this takes is found by the solver. */
import { AccelerationCourse, type DrivenCourse, PositionCourse, SpeedCourse } from '../../equations/courses';
import type { Freedom } from '../../equations/freedom';
import type { Program } from '../../formula/program';
import { choice, quantity, ref } from '../../model/fields';
import type { Kind } from '../../model/kinds';
import { D, type Dimension } from '../../quantity/dimension';
import { FREEDOMS, freedomNamed } from '../freedoms';

export type Prescribed = 'position' | 'speed' | 'acceleration';

/** What each prescription means: its dimension per type of freedom, its course, and the lowest derivative that may jump. */
export const PRESCRIPTIONS: Readonly<Record<Prescribed, {
  rotation: Dimension;
  translation: Dimension;
  course: (p: Program, freedom: Freedom) => DrivenCourse;
  /** Number of derivatives of the formula, itself counted, that must be free of jumps. */
  smooth: 0 | 1 | 2;
}>> = {
  position: { rotation: D.angle, translation: D.length, course: (p) => new PositionCourse(p), smooth: 2 },
  speed: { rotation: D.angularSpeed, translation: D.speed, course: (p, freedom) => new SpeedCourse(p, freedom), smooth: 1 },
  acceleration: { rotation: D.angularAcceleration, translation: D.acceleration, course: (p, freedom) => new AccelerationCourse(p, freedom), smooth: 0 },
};

const FIELDS = {
  joint: ref('joints', 'Joint', 'The joint it moves. Positive turns or shifts the joint’s second body against the first, by the right hand about the axis.'),
  freedom: choice(FREEDOMS, 'Freedom', 'Which freedom of the joint.'),
  prescribes: choice({ speed: 'speed', position: 'position', acceleration: 'acceleration' }, 'Prescribes', 'What the formula gives: position counts from the drawn posture; speed and acceleration start there.'),
  value: quantity(
    (e, model) => {
      const type = freedomNamed(model, e.joint, e.freedom);
      return type && PRESCRIPTIONS[(e.prescribes as Prescribed | undefined) ?? 'speed']?.[type];
    },
    'Formula', 'A value or a formula of time t, such as `gate_speed * smoothstep(0 s, 0.4 s, t)`.', { time: true }),
} as const;

export const drive: Kind<typeof FIELDS> = {
  family: 'drives', kind: 'drive', label: 'Drive',
  help: 'Prescribed motion of a joint: position, speed or acceleration as a formula of time.',
  fields: FIELDS,
};
