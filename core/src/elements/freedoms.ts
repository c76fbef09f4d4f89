/** Which freedom of a joint an element means: the one it names, or the first. */
import { refuse } from '../diagnosis';
import type { Freedom } from '../equations/freedom';
import type { DimensionRule } from '../model/fields';
import { D, type Dimension } from '../quantity/dimension';
import type { JointInfo } from './declarations';

/** Choices of a field that names a freedom. */
export const FREEDOMS = { first: 'its first coordinate', rotation: 'rotation', translation: 'translation' } as const;

/** The dimension of a field that depends on whether the freedom named by the fields `joint` and `freedom` turns or shifts. */
export const byFreedom = (rotation: Dimension, translation: Dimension, joint = 'joint', freedom = 'freedom'): DimensionRule => ({
  joint,
  freedom,
  rotation,
  translation,
});

/** Dimension of the ratio of one joint's coordinate to another's. */
export const ratioOf = (
  one: readonly [joint: string, freedom: string],
  other: readonly [joint: string, freedom: string],
): DimensionRule => ({ quotient: [byFreedom(D.angle, D.length, ...one), byFreedom(D.angle, D.length, ...other)] });

/** Of a joint that is built. @param purpose ends the sentence, e.g. `to drive`. @throws Refusal when the joint has no such freedom */
export function freedomOf(j: JointInfo, named: string, purpose: string): Freedom {
  const type = named === 'first' ? j.kind.freedoms[0] : j.kind.freedoms.find((f) => f === named);
  const freedom = type && j.freedoms.get(type);
  return (
    freedom ??
    refuse({
      code: 'freedom-missing',
      message: `A ${j.kind.label.toLowerCase()} joint has no ${named === 'first' ? 'coordinate of its own' : named} ${purpose}.`,
      remedy: 'Choose another joint.',
    })
  );
}
