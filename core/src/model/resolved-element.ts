import type { Family } from './families';
import type { Kind } from './kinds';
import type { Pose } from './layout';

/** An element in use whose values have been checked. */
export interface ResolvedElement {
  family: Family;
  index: number;
  name: string;
  kind: Kind;
  /** By field; see ValuesOf. */
  values: Readonly<Record<string, unknown>>;
  /** Of an element of an instance: the motion that puts it in its place. */
  by?: Pose;
  /** Of a point: the motion of where it is as drawn, its body not coming along. */
  moved?: Pose;
}
