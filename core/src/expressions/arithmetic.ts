/** An expression: the number of its node in its graph. */
export type Ex = number;

/** What can be done with expressions. */
export interface Arithmetic<Functions extends string = string> {
  readonly zero: Ex;
  readonly one: Ex;
  constant(value: number): Ex;
  negate(x: Ex): Ex;
  add(x: Ex, y: Ex): Ex;
  subtract(x: Ex, y: Ex): Ex;
  multiply(x: Ex, y: Ex): Ex;
  divide(x: Ex, y: Ex): Ex;
  square(x: Ex): Ex;
  root(x: Ex): Ex;
  apply(name: Functions, x: Ex, y?: Ex): Ex;
}
