/** Drives that hold while a condition does, and joints that let go: one switch each. */
import type { Assembly, JointInfo } from '../../elements/declarations';
import { Switch } from '../../equations/switch';
import type { Program } from '../../formula/program';
import type { ResolvedElement } from '../../model/resolve';
import type { BuiltDrive } from './drives';

export interface SwitchInfo {
  family: 'drives' | 'joints';
  name: string;
  switch: Switch;
}

/** Switches of drives, then of joints. */
export function switchesOf(
  drives: readonly BuiltDrive[],
  joints: readonly JointInfo[],
  elements: readonly ResolvedElement[],
  { magnitude, hold }: Pick<Assembly, 'magnitude' | 'hold'>,
): SwitchInfo[] {
  const ofDrives = drives.flatMap(({ name, condition, course, constraint }): SwitchInfo[] =>
    condition ? [{ family: 'drives', name, switch: new Switch(name, magnitude(condition), course, (on) => hold(constraint, on)) }] : [],
  );
  const ofJoints = elements.flatMap((e): SwitchInfo[] => {
    const condition = (e.values as { while?: Program }).while,
      joint = condition && joints.find((j) => j.name === e.name);
    if (!condition || !joint) return [];
    const { name, constraints } = joint;
    const toggle = (on: boolean) => constraints.forEach((c) => hold(c, on));
    return [{ family: 'joints', name, switch: new Switch(name, magnitude(condition), undefined, toggle) }];
  });
  return [...ofDrives, ...ofJoints];
}
