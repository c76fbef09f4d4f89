/** Start values: rows that hold a joint's coordinate or its rate while the machine is assembled. */
import type { JointInfo } from '../../elements/declarations';
import { freedomOf } from '../../elements/freedoms';
import { usable } from '../../elements/usable';
import type { Constraint } from '../../equations/constraint';
import type { Freedom } from '../../equations/freedom';
import { Hold } from '../../equations/friction';
import type { ResolvedElement } from '../../model/resolve';

/** Given start values of a freedom, each with the row that enforces it while the machine is assembled. */
export interface StartInfo {
  name: string;
  /** The joint, and which of its coordinates. */
  joint: string;
  freedom: Freedom['type'];
  strict: boolean;
  position: Constraint | undefined;
  speed: Constraint | undefined;
}

/** @throws Refusal when the joint has no such freedom, or is in error */
export function startInfo(e: ResolvedElement, joints: readonly JointInfo[]): StartInfo {
  const { position, speed, ...values } = e.values as { joint: string; freedom: string; position?: number; speed?: number; kept: string };
  const joint = usable(joints, values.joint, 'joints');
  const { type } = freedomOf(joint, values.freedom, 'to start');
  const row = (f: number, f1: number) => joint.measure(type, Object.assign(new Hold(), { f, f1 }));
  return {
    name: e.name,
    joint: joint.name,
    freedom: type,
    strict: values.kept === 'strict',
    position: position === undefined ? undefined : row(position, 0),
    speed: speed === undefined ? undefined : row(0, speed),
  };
}
