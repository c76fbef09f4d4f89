import { TravelAlongAxis, Coincide, Perpendicular } from '../../equations/constraints';
import type { Constraint } from '../../equations/constraint';
import { column } from '../../geometry/vector';
import { choice, quantity, ref, refs, vector } from '../../model/fields';
import type { Fields } from '../../model/fields';
import { D } from '../../quantity/dimension';
import type { JointKind, JointSides } from '../declarations';

/** Every joint may let go in the middle of a run. */
export const RELEASE = {
  while: quantity(
    D.none,
    'Holds as long as',
    'It releases once this is zero or less: a formula of time and gauges, such as `1 - step(2 s, t)`. Left out: it always holds.',
    { time: true, gauges: true, optional: true },
  ),
  closes: choice(
    { never: 'never', again: 'where the bodies then are' },
    'Closes again',
    'Once that is positive again: it stays open for good, or it holds the bodies to each other as they then are. What still moves between them is stopped at once.',
    { when: { field: 'while' } },
  ),
} as const;

const PLACE = {
  bodies: refs('bodies', 2, 2, 'Bodies', 'The two bodies it connects; the first is the one the motion is measured from.'),
  at: refs('points', 1, 2, 'At', 'The point where both meet as drawn; or two points, one in each body, that assembly brings together.'),
  ...RELEASE,
} as const;

/** Fields of a joint without an axis. */
export const JOINT = PLACE;

/** Fields of a joint with an axis. */
export const AXIS_JOINT = {
  ...PLACE,
  axis: vector(D.none, 'Axis', 'Direction of the joint axis as drawn. Turning is counted by the right hand.', {
    direction: true,
    default: [0, 0, 1],
  }),
  axisIn: ref('bodies', 'Axis in', 'Body in whose axes the direction is given. Left out: the ground.', { optional: true }),
} as const;

/** Declares a kind of joint. */
export const joint = <const F extends Fields>(k: Omit<JointKind<F>, 'family'>): JointKind<F> => ({ family: 'joints', ...k });

// The building blocks of the joint files, each as a textbook names it.

/** The two places are one. */
export const meet = (s: JointSides): Constraint => new Coincide(s.a, s.sa, s.b, s.sb);

/** Both z axes stay parallel. */
export const parallel = (s: JointSides): Constraint[] => [
  new Perpendicular(s.a, column(s.fa, 0), s.b, column(s.fb, 2)),
  new Perpendicular(s.a, column(s.fa, 1), s.b, column(s.fb, 2)),
];

/** No turning about the common z. */
export const noTurn = (s: JointSides): Constraint => new Perpendicular(s.a, column(s.fa, 0), s.b, column(s.fb, 1));

/** The second body's place stays on the first body's z axis. */
export const onAxis = (s: JointSides): Constraint[] => [
  new TravelAlongAxis(s.a, column(s.fa, 0), s.sa, s.b, s.sb),
  new TravelAlongAxis(s.a, column(s.fa, 1), s.sa, s.b, s.sb),
];

/** The second body's place stays in the plane through the first body's, square to z. */
export const inPlane = (s: JointSides): Constraint => new TravelAlongAxis(s.a, column(s.fa, 2), s.sa, s.b, s.sb);

export const MEET_WORDS = ['translation along x', 'translation along y', 'translation along z'] as const;
export const PARALLEL_WORDS = ['tilting about its y', 'tilting about its x'] as const;
export const ON_AXIS_WORDS = ['translation along its x', 'translation along its y'] as const;
