/** What a load tells of itself: along its own line or joint freedom (part 0), or along (0 to 2) and about (3 to 5) its own axes x, y, z. */
import type { Mat3, Vec3 } from '../geometry/vector';
import type { Freedom } from './freedom';
import type { Kinematics } from './kinematics';
import type { Carried } from './watch';

export interface LoadReadings {
  /** One number, or six. */
  parts: 1 | 6;
  /** Whether a part is an angle and a torque, not a length and a force. */
  turns(part: number): boolean;
  /** N or N·m. What follows from the constraint forces (friction) needs what they carry. */
  effort(K: Kinematics, t: number, part: number, carried?: Carried): number;
  /** From where it is slack or at rest: m or rad. */
  deflection?(K: Kinematics, t: number, part: number): number;
  /** m/s or rad/s. */
  rate?(K: Kinematics, t: number, part: number): number;
  /** Its axes, where it has six parts: fixed in a body (index) at a place there. */
  axes?: { body: number; at: Vec3; frame: Mat3 };
  /** What a positive effort means, and a positive deflection, in words. */
  positive: { effort: string; deflection?: string };
}

const never = (): boolean => false;

/** What readings of a load mean. */
type Meaning = Pick<LoadReadings, 'turns' | 'positive'>;

/** Of a load along a line between two places. */
export const LINE_READINGS: Meaning = {
  turns: never,
  positive: { effort: 'Positive when it pulls its ends together.', deflection: 'Positive when it is stretched.' },
};

/** Of a load on a joint coordinate. */
export const freedomReadings = ({ type }: Freedom): Meaning => ({
  turns: () => type === 'rotation',
  positive: {
    effort: 'Positive when it pushes the joint’s second body in the positive sense of the joint.',
    deflection: 'Positive in the positive sense of the joint.',
  },
});

/** The same with what it tells. */
export const onFreedom = (freedom: Freedom, of: Omit<LoadReadings, 'parts' | 'turns' | 'positive'>): LoadReadings => ({
  parts: 1,
  ...of,
  ...freedomReadings(freedom),
});
