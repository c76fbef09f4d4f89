/** Couplings: a linear relation of joint coordinates, and the forces of teeth where there are any. */
import type { Assembly, CouplingKind, Relation } from '../../elements/declarations';
import { Coupled } from '../../equations/coupled';
import { TeethForce } from '../../equations/teeth';
import type { Tracked } from '../../equations/tracked';
import type { ResolvedElement } from '../../model/resolve';
import { valuesOf } from './attempts';

export interface CouplingInfo {
  name: string;
  coordinates: readonly Tracked[];
  constraint: Coupled;
  terms: Relation['terms'];
  /** Forces at the teeth that spread the bare effort of the relation over the bearings. */
  spread: TeethForce | undefined;
}

/** @throws Refusal when the coupling cannot be made */
export function couplingInfo(c: ResolvedElement, assembly: Assembly): CouplingInfo {
  const { terms, teeth } = (c.kind as CouplingKind).relation(valuesOf(c), assembly);
  const coordinates = terms.map((t) => assembly.tracked(t.freedom));
  const constraint = new Coupled(
    coordinates,
    terms.map((t) => t.factor),
  );
  const [one, two] = terms;
  const spread =
    teeth && one && two
      ? new TeethForce(constraint, [one.freedom, two.freedom], [one.factor, two.factor], teeth.meshing, teeth.pressure, teeth.helix)
      : undefined;
  return { name: c.name, coordinates, constraint, terms, spread };
}
