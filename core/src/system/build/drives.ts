/** Drives: the equation that holds a freedom, of a joint or of two frames, to its course. */
import { refuse } from '../../diagnosis';
import { FRAME_FREEDOMS, type FrameFreedom, PRESCRIPTIONS, type Prescribed, frameEquation } from '../../elements/drives/drive';
import type { DriveInfo, JointInfo } from '../../elements/declarations';
import { freedomOf } from '../../elements/freedoms';
import { usable } from '../../elements/usable';
import type { Prescription } from '../../equations/constraint';
import type { DrivenCourse } from '../../equations/courses';
import { Freedom } from '../../equations/freedom';
import { eased } from '../../formula/eased';
import type { Program } from '../../formula/program';
import { IDENTITY, type Vec3, triad } from '../../geometry/vector';
import type { ResolvedElement } from '../../model/resolve';
import { still } from './joints';
import type { BodyPlaces } from './places';

export interface BuiltDrive extends DriveInfo {
  course: DrivenCourse;
  prescribes: Prescribed;
  condition: Program | undefined;
}

interface DriveValues {
  on: string;
  joint: string;
  freedom: string;
  bodies: [string, string];
  at: [string, string?];
  along: FrameFreedom;
  axis: Vec3;
  prescribes: Prescribed;
  value: Program;
  ease?: number;
  while?: Program;
}

/** @throws Refusal when the drive cannot be made */
export function driveInfo(d: ResolvedElement, joints: readonly JointInfo[], places: BodyPlaces): BuiltDrive {
  const values = d.values as unknown as DriveValues;
  const { equation, ...target } = values.on === 'frames' ? frameTarget(values, places) : jointTarget(values, joints);
  const { prescribes, ease } = values;
  const course = PRESCRIPTIONS[prescribes].course(ease === undefined ? values.value : eased(values.value, ease), target.freedom);
  return {
    name: d.name,
    ...target,
    type: target.freedom.type,
    course,
    prescribes,
    condition: values.while,
    constraint: equation(course),
  };
}

function jointTarget(values: DriveValues, joints: readonly JointInfo[]) {
  const joint = usable(joints, values.joint, 'joints');
  const freedom = freedomOf(joint, values.freedom, 'to drive');
  return { joint, bodies: joint.bodies, freedom, equation: (c: Prescription) => joint.measure(freedom.type, c) };
}

function frameTarget({ bodies, at, axis, along }: DriveValues, places: BodyPlaces) {
  const [first, second] = bodies;
  if (first === second)
    refuse({
      code: 'drive-one-body',
      message: `It drives “${first}” against itself.`,
      remedy: 'Choose two different bodies.',
    });
  const upright = axis[0] === 0 && axis[1] === 0 && axis[2] > 0;
  const frame = upright ? IDENTITY : triad(axis);
  const sides = places.sides(bodies, at, frame);
  const equation = (c: Prescription) => frameEquation(along, sides, c);
  return { joint: undefined, bodies, freedom: new Freedom(FRAME_FREEDOMS[along].type, equation(still)), equation };
}
