/**
 * Instances written out: each brings the elements of its kit under names of its own (`Left/Arm`, in formulas `Left.length`), with mounts replaced by the bodies
 * they stand for; mirrors bring images of what is there. Where all this comes to stand is worked out with the values, not here.
 */
import type { Diagnosis } from '../diagnosis';
import type { Model } from './document';
import { Expansion } from './expansion';
import { mountsAlone } from './kit-alone';
import { bringMembers } from './kit-members';
import { kindOf } from './kinds';
import { bringImages } from './mirror-images';

export interface Expanded {
  model: Model;
  diagnoses: readonly Diagnosis[];
  /** Members of each instance, by name. */
  counts: ReadonlyMap<string, number>;
}

const done = new WeakMap<Model, Expanded>();

/** Once for each state of a model. */
export function expand(model: Model): Expanded {
  let found = done.get(model);
  if (!found) done.set(model, (found = expandAnew(model)));
  return found;
}

function expandAnew(given: Model): Expanded {
  const isKit = given.bodies.some((b) => kindOf('bodies', b)?.standsIn);
  if ((given.instances?.length ?? 0) === 0 && !isKit) return { model: given, diagnoses: [], counts: new Map() };
  const to = new Expansion(given);
  const { model, diagnoses, counts } = to;
  if (isKit) diagnoses.push(...mountsAlone(model));
  bringMembers(to);
  if (to.tooLarge) return { model: given, diagnoses, counts };
  bringImages(to);
  return { model, diagnoses, counts };
}
