/** Which freedom of a joint an element means: the one it names, or the first. */
import { refuse } from '../diagnosis';
import type { Freedom } from '../equations/freedom';
import type { Model } from '../model/document';
import { kindOf } from '../model/kinds';
import type { JointInfo, JointKind } from './families';

export type FreedomType = Freedom['type'];

/** Choices of a field that names a freedom. */
export const FREEDOMS = { first: 'its first freedom', rotation: 'rotation', translation: 'translation' } as const;

/** In the document, for the dimension a field asks for; undefined while the joint is not chosen. */
export function freedomNamed(model: Model, joint: unknown, named: unknown): FreedomType | undefined {
  const raw = model.joints.find((j) => j.name === joint);
  const kind = raw && (kindOf('joints', raw) as JointKind | undefined);
  return kind && (kind.freedoms.find((f) => f === named) ?? kind.freedoms[0]);
}

/** Of a joint that is built. @param purpose ends the sentence, e.g. `to drive`. @throws Refusal when the joint has no such freedom */
export function freedomOf(j: JointInfo, named: string, purpose: string): Freedom {
  const type = named === 'first' ? j.kind.freedoms[0] : j.kind.freedoms.find((f) => f === named);
  const freedom = type && j.freedoms.get(type);
  return freedom ?? refuse({ code: 'freedom-missing', message: `A ${j.kind.label.toLowerCase()} joint has no ${named === 'first' ? 'coordinate of its own' : named} ${purpose}.`, remedy: 'Choose another joint.' });
}
