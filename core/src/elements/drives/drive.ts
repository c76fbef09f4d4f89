/** A drive prescribes the motion of a freedom; the effort this takes is found by the solver. */
import { AccelerationCourse, type DrivenCourse, PositionCourse, SpeedCourse } from '../../equations/courses';
import { TravelAlongAxis, TurnAboutAxis } from '../../equations/constraints';
import type { Prescription } from '../../equations/constraint';
import { type Coordinate, Freedom } from '../../equations/freedom';
import { Heading } from '../../equations/heading';
import type { Program } from '../../formula/program';
import { type Mat3, type Vec3, column } from '../../geometry/vector';
import { choice, quantity, ref, refs, vector } from '../../model/fields';
import type { Kind } from '../../model/kinds';
import { D, type Dimension } from '../../quantity/dimension';
import { FREEDOMS, byFreedom } from '../freedoms';

export type Prescribed = 'position' | 'speed' | 'acceleration';

/** What each prescription means: its dimension per type of freedom, its course, and the lowest derivative that may jump. */
export const PRESCRIPTIONS: Readonly<
  Record<
    Prescribed,
    {
      rotation: Dimension;
      translation: Dimension;
      course: (p: Program, freedom: Freedom) => DrivenCourse;
      /** Number of derivatives of the formula, itself counted, that must be free of jumps. */
      smooth: 0 | 1 | 2;
    }
  >
> = {
  position: { rotation: D.angle, translation: D.length, course: (p, freedom) => new PositionCourse(p, freedom), smooth: 2 },
  speed: { rotation: D.angularSpeed, translation: D.speed, course: (p, freedom) => new SpeedCourse(p, freedom), smooth: 1 },
  acceleration: {
    rotation: D.angularAcceleration,
    translation: D.acceleration,
    course: (p, freedom) => new AccelerationCourse(p, freedom),
    smooth: 0,
  },
};

/** The six relative freedoms of two frames: type, and which axis of the frames is meant. */
export const FRAME_FREEDOMS = {
  x: { label: 'along x', type: 'translation', axis: 0 },
  y: { label: 'along y', type: 'translation', axis: 1 },
  z: { label: 'along z', type: 'translation', axis: 2 },
  'about-x': { label: 'about x', type: 'rotation', axis: 0 },
  'about-y': { label: 'about y', type: 'rotation', axis: 1 },
  'about-z': { label: 'about z', type: 'rotation', axis: 2 },
} as const;
export type FrameFreedom = keyof typeof FRAME_FREEDOMS;

/** The equation of a relative freedom of two frames; rotation is the direction of the second's next axis, seen along the first's. */
export function frameEquation(
  which: FrameFreedom,
  s: { a: number; b: number; sa: Vec3; sb: Vec3; fa: Mat3; fb: Mat3 },
  course: Prescription,
): Coordinate {
  const { type, axis } = FRAME_FREEDOMS[which];
  const [i, j, k] = [axis, (axis + 1) % 3, (axis + 2) % 3] as [0, 1, 2];
  return type === 'translation'
    ? new TravelAlongAxis(s.a, column(s.fa, i), s.sa, s.b, s.sb, course)
    : new Heading(s.a, column(s.fa, j), column(s.fa, k), column(s.fa, i), s.b, column(s.fb, j), course);
}

/** The equation of a freedom of a joint with one axis. */
export const axisEquation = (
  type: Freedom['type'],
  s: { a: number; b: number; sa: Vec3; sb: Vec3; fa: Mat3; fb: Mat3 },
  course: Prescription,
): Coordinate =>
  type === 'rotation'
    ? new TurnAboutAxis(s.a, column(s.fa, 0), column(s.fa, 1), s.b, column(s.fb, 0), course)
    : new TravelAlongAxis(s.a, column(s.fa, 2), s.sa, s.b, s.sb, course);

const ON_JOINT = { field: 'on', is: ['joint'] } as const,
  ON_FRAMES = { field: 'on', is: ['frames'] } as const;
const bySort = (p: (typeof PRESCRIPTIONS)[Prescribed]) => ({
  choose: 'on',
  cases: {
    joint: byFreedom(p.rotation, p.translation),
    frames: { choose: 'along', cases: Object.fromEntries(Object.entries(FRAME_FREEDOMS).map(([k, f]) => [k, p[f.type]])) },
  },
});

const FIELDS = {
  on: choice(
    { joint: 'a joint', frames: 'two frames' },
    'Acts on',
    'The coordinate of a joint, or any of the six relative coordinates of two bodies.',
  ),
  joint: ref(
    'joints',
    'Joint',
    'The joint it moves. Positive turns or shifts the joint’s second body against the first, by the right hand about the axis.',
    { when: ON_JOINT },
  ),
  freedom: choice(FREEDOMS, 'Coordinate', 'Which coordinate of the joint.', { when: ON_JOINT }),
  bodies: refs('bodies', 2, 2, 'Bodies', 'The second is moved as seen from the first.', { when: ON_FRAMES }),
  at: refs('points', 1, 2, 'At', 'The place of both frames as drawn; or two points, one in each body.', { when: ON_FRAMES }),
  along: choice(
    Object.fromEntries(Object.entries(FRAME_FREEDOMS).map(([k, f]) => [k, f.label])),
    'Along',
    'Which relative coordinate, in the axes of the first frame.',
    { when: ON_FRAMES },
  ),
  axis: vector(
    D.none,
    'z of the frames',
    'Direction of the z axis of both frames as drawn. With z upwards their x and y are those of the ground.',
    { direction: true, default: [0, 0, 1], when: ON_FRAMES },
  ),
  prescribes: choice(
    { speed: 'speed', position: 'position', acceleration: 'acceleration' },
    'Prescribes',
    'What the formula gives: position counts from the drawn posture; speed and acceleration start there.',
  ),
  value: quantity(
    { choose: 'prescribes', cases: Object.fromEntries(Object.entries(PRESCRIPTIONS).map(([k, p]) => [k, bySort(p)])) },
    'Formula',
    'A value or a formula of time t, such as `gate_speed * smoothstep(0 s, 0.4 s, t)`; data points as a table: `lift(t)`.',
    { time: true },
  ),
  ease: quantity(D.time, 'Ramp-in time', 'Brought in smoothly from zero over this time.', { optional: true, range: 'positive' }),
  while: quantity(
    D.none,
    'Active while',
    'It is released while this is zero or less: a formula of time and gauges, such as `1 - step(2 s, t)`. Left out: it is always active.',
    { time: true, gauges: true, optional: true },
  ),
} as const;

export const drive: Kind<typeof FIELDS> = {
  family: 'drives',
  kind: 'drive',
  label: 'Drive',
  help: 'Prescribed motion: position, speed or acceleration as a formula of time.',
  fields: FIELDS,
};
