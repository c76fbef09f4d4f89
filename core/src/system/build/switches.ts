/** Drives that hold while a condition does, and joints that let go: one switch each. */
import type { Assembly, JointInfo } from '../../elements/declarations';
import type { Constraint } from '../../equations/constraint';
import { type Resumed, Switch } from '../../equations/switch';
import type { Program } from '../../formula/program';
import type { ResolvedElement } from '../../model/resolve';
import { D } from '../../quantity/dimension';
import { formatQuantity } from '../../quantity/units';
import type { BuiltDrive } from './drives';

/** Of a joint that closes again: how far below zero its condition may be while it holds. */
const SLACK = 1e-6;
/** Gaps below this are none, m or 1. */
const NEAR = 1e-7;

export interface SwitchInfo {
  family: 'drives' | 'joints';
  name: string;
  switch: Switch;
  /** Whether, once it has let go, it can hold again elsewhere than where it did. */
  again: boolean;
}

/** In words, how far from where it meets a joint closes. @param gaps of its rows */
function apart(constraints: readonly Constraint[], gaps: readonly number[]): string | undefined {
  const lengths = constraints.flatMap((c) => [...c.lengths]),
    size = (of: boolean) => Math.sqrt(gaps.reduce((s, x, i) => (lengths[i] === of ? s + x * x : s), 0)),
    parts = [
      ...(size(true) > NEAR ? [formatQuantity(size(true), D.length, 'mm', 3)] : []),
      ...(size(false) > NEAR ? [formatQuantity(size(false), D.angle, 'deg', 3)] : []),
    ];
  return parts.length > 0 ? `, ${parts.join(' and ')} from where it meets` : undefined;
}

/** Switches of drives, then of joints. */
export function switchesOf(
  drives: readonly BuiltDrive[],
  joints: readonly JointInfo[],
  elements: readonly ResolvedElement[],
  { magnitude, hold }: Pick<Assembly, 'magnitude' | 'hold'>,
  /** Lets constraints hold from now on as the bodies are. @returns how far from where they would else hold them, by rows */
  stand: (constraints: readonly Constraint[], t: number) => number[],
): SwitchInfo[] {
  const ofDrives = drives.flatMap(({ name, condition, course, constraint }): SwitchInfo[] =>
    condition
      ? [{ family: 'drives', name, switch: new Switch(name, magnitude(condition), course, (on) => hold(constraint, on)), again: false }]
      : [],
  );
  const ofJoints = elements.flatMap((e): SwitchInfo[] => {
    const condition = (e.values as { while?: Program }).while,
      joint = condition && joints.find((j) => j.name === e.name);
    if (!condition || !joint) return [];
    const { name, constraints } = joint,
      again = (e.values as { closes?: string }).closes === 'again';
    const toggle = (on: boolean) => constraints.forEach((c) => hold(c, on)),
      closing: Resumed & { apart?: string | undefined } = {
        resume: (_K, t) => (closing.apart = apart(constraints, stand(constraints, t))),
      };
    return [
      {
        family: 'joints',
        name,
        switch: new Switch(name, magnitude(condition), again ? closing : undefined, toggle, again ? SLACK : 0),
        again,
      },
    ];
  });
  return [...ofDrives, ...ofJoints];
}
