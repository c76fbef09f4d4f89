/** The rows of the system in groups, each told which joints it must come after. */
import type { Assembly, JointInfo } from '../../elements/declarations';
import type { Constraint } from '../../equations/constraint';
import type { Force } from '../../equations/forces';
import type { Group } from '../system';
import type { CouplingInfo } from './couplings';
import type { BuiltDrive } from './drives';
import type { StartInfo } from './starts';

export interface Parts {
  joints: readonly JointInfo[];
  couplings: readonly CouplingInfo[];
  drives: readonly BuiltDrive[];
  starts: readonly StartInfo[];
  forces: readonly { name: string; force: Force }[];
  carried: Assembly['carried'];
}

/** The rows of start values. */
export const startRows = (s: StartInfo): Constraint[] => [s.position, s.speed].filter((c) => c !== undefined);

/** Groups of rows in the order joints, couplings, drives, start values, what loads hold, and rows that have mass. */
export function groupsOf({ joints, couplings, drives, starts, forces, carried }: Parts): Group[] {
  const indexOf = (joint: string): number => joints.findIndex((j) => j.name === joint);
  const row = (name: string, family: Group['family'], c: Constraint, after: number[]): Group => ({
    name,
    family,
    a: c.a,
    b: c.b,
    rows: 1,
    constraints: [c],
    after,
  });
  return [
    ...joints.map(({ name, sides: { a, b }, constraints }): Group => ({
      name,
      family: 'joints',
      a,
      b,
      rows: constraints.reduce((s, c) => s + c.rows, 0),
      constraints,
    })),
    ...couplings.map(({ name, constraint, terms }): Group => ({
      ...row(
        name,
        'couplings',
        constraint,
        terms.map((t) => indexOf(t.joint)),
      ),
      others: constraint.more.flat(),
    })),
    // a drive between two frames belongs to no joint: it waits for all of them
    ...drives.map((d): Group =>
      d.joint
        ? row(d.name, 'drives', d.constraint, [indexOf(d.joint.name)])
        : {
            ...row(
              d.name,
              'drives',
              d.constraint,
              joints.map((_, k) => k),
            ),
            last: true,
          },
    ),
    ...starts.flatMap((s) => startRows(s).map((c) => row(s.name, 'starts', c, [indexOf(s.joint)]))),
    ...forces.flatMap(({ name, force: { holding: own } }) => (own ? [row(name, 'loads', own.constraint, [indexOf(own.joint)])] : [])),
    // they hold nothing, but bodies meet in them
    ...carried.flatMap(({ name, masses }) => masses.map((c): Group => ({ ...row(name, 'loads', c, []), rows: 0 }))),
  ];
}
