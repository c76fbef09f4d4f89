/** Where the numbers of constraints, of what they follow and of formulas lie, each kind one behind the other. */
import type { Constraint, Prescription } from '../../equations/constraint';
import { isStated } from '../../equations/courses';
import type { Followed, Statement } from './equations';

/** Numbers of a course: what is followed, with two rates; then the shift. */
const COURSE = 4;
export const SHIFT = 3;

export class Shelf {
  numbers = 0;
  courses = 0;
  /** Those of formulas and of what they take in, themselves. */
  readonly values: number[] = [];

  /** What a constraint is as an expression, if it is one; its numbers get a place. */
  statement(constraint: Constraint): Statement | undefined {
    if (!constraint.statement) return undefined;
    const { equation, values, course } = constraint.statement,
      { numbers } = this;
    this.numbers += values.length;
    return { constraint, equation, values, numbers, course: course && this.followed(course) };
  }
  private followed(course: Prescription): Followed {
    const at = this.courses,
      law = isStated(course) && course.law.inputs.length === 0 ? course.law.stated : undefined;
    this.courses += COURSE;
    return { at, stated: law && isStated(course) ? { course, law, numbers: this.value(law.numbers) } : undefined };
  }
  /** @returns where its numbers begin */
  value(numbers: readonly number[]): number {
    return this.values.push(...numbers) - numbers.length;
  }
}
