/** Base of every declaration of a kind of element. Families add what their kinds compute. */
import type { Family } from './families';
import type { Asked, Fields } from './fields';
import type { Symbol3952 } from './symbol';

/** What a load can tell of itself. */
export type Told = 'effort' | 'deflection' | 'rate';

export interface Kind<F extends Fields = Fields> {
  readonly family: Family;
  /** Value of `kind` in the file; the only kind of its family is written without. */
  readonly kind: string;
  readonly label: string;
  readonly help: string;
  readonly fields: F;
  /** Of a joint: its freedoms, the one meant when none is named first. */
  readonly freedoms?: readonly ('rotation' | 'translation')[];
  /** Mirrored it would have to change hand, or turn its axes, in a way that its fields do not say: it is not mirrored. */
  readonly handed?: true;
  /** A body that is none of its own: it stands for one of the machine into which its kit is put, and for the ground elsewhere. */
  readonly standsIn?: true;
  /** What one is called after what it hangs on: “Crank bar”, “Ram travel”; by the freedom of its joint where that matters. Left out: its label. */
  readonly noun?: string | Readonly<Record<'rotation' | 'translation', string>>;
  /** What a new one is written with, where that is not what leaving it out means in a file. */
  readonly fresh?: Readonly<Record<string, string>>;
  /** It holds a model of its own, as `content`. */
  readonly holdsModel?: true;
  /** Of an instance: its members are of a kit, so many; or it mirrors what is there. */
  readonly makes?: 'one' | 'many' | 'mirrored';
  /** What must be loaded before it can be built. */
  readonly needs?: 'solids' | 'surfaces' | 'contacts' | 'curves';
  /** Of a joint: its kinematic symbol. */
  readonly symbol?: Symbol3952;
  /** Of a joint: how many freedoms it leaves, and what each of its rows holds. */
  readonly leaves?: number;
  readonly holds?: readonly string[];
  /** Of a load: what it can tell of itself, along its own line, freedom or axes. */
  readonly tells?: readonly Told[];
  /** Of a load: it has places that touch. */
  readonly touches?: true;
  /** Of a load: it gives every body weight, by the acceleration in this field. */
  readonly weighs?: string;
  /** Of a gauge: the dimension of what it reads, where that follows from position and velocity alone, so that formulas may use it. */
  readonly reads?: Asked;
  /** Of a gauge: it works out the formula in a field, of other gauges; at an instant, where another field has this choice (left out: it has). */
  readonly worksOut?: { formula: string; where: { field: string; is: string } };
}

const registry = new Map<Family, Map<string, Kind>>();

/** Called once per declaration by the registry. */
export function register(kinds: readonly Kind[]): void {
  for (const k of kinds) {
    const family = registry.get(k.family) ?? new Map<string, Kind>();
    family.set(k.kind, k);
    registry.set(k.family, family);
  }
}

/** All kinds of a family, in the order in which they are declared. */
export const kindsOf = (family: Family): readonly Kind[] => [...(registry.get(family)?.values() ?? [])];

/** The declaration of an element; the first of the family when the element names none. */
export const kindOf = (family: Family, e: { kind?: string }): Kind | undefined =>
  e.kind === undefined ? kindsOf(family)[0] : registry.get(family)?.get(e.kind);
