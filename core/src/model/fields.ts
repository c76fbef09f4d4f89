/**
 * The fields from which every kind of element is declared. The same declaration gives the file format,
 * the Ledger's columns, the Card's form, the command line's messages and the reference pages.
 */
import type { Dimension } from '../quantity/dimension';
import type { Program } from '../formula/program';
import type { Vec3 } from '../geometry/vector';
import type { Family } from './families';

interface Common {
  label: string;
  help: string;
  /** May be left out. */
  optional?: true;
  /** Set by other means than typing: dragging, choosing a file. The Card leaves it out. */
  byHand?: true;
  /** Only asked for when this holds (otherwise hidden and not checked). */
  when?: When;
}

/** Another field of the element is given, or is one of the choices listed. */
export interface When {
  field: string;
  is?: readonly string[];
}

/** The dimension a field asks for; a rule where it depends on the rest of the element. Undefined accepts any. */
export type Asked = Dimension | DimensionRule | undefined;

/** Rules are data, so that a declaration can be written out. */
export type DimensionRule =
  /** By the choice that stands in another field. */
  | { choose: string; cases: Readonly<Record<string, Asked>> }
  /** By the freedom that two other fields name: the joint, and which of its freedoms. */
  | { joint: string; freedom: string; rotation: Dimension; translation: Dimension }
  | { quotient: readonly [Asked, Asked] };

export interface QuantityField extends Common {
  type: 'quantity';
  dim: Asked;
  default?: number | string;
  /** May be a formula of time. */
  time?: true;
  /** May also refer to gauges, as `{Name}`. */
  gauges?: true;
  /** May also refer to what was measured in a run, scores and workings above, as `{Name}`: its value is known only after a run. */
  scores?: true;
  range?: 'positive' | 'not negative';
}
export interface VectorField extends Common {
  type: 'vector';
  dim: Dimension;
  default?: readonly (number | string)[];
  /** What its three numbers are called. Left out: its label with x, y and z. */
  parts?: readonly [string, string, string];
  /** Must not be zero. */
  direction?: true;
  /** A sense of turning about it is meant: mirrored, it points the other way. */
  axial?: true;
  /** Of the surroundings: a copy of the machine elsewhere keeps it. */
  world?: true;
  /** What becomes of one that is no direction where its element is put elsewhere. Left out: it stays as it is. */
  carried?: Carried;
}
/** In ground axes: a vector, or an axial one. In the axes of its body: a place, or the products xy, yz, zx of an inertia. */
export type Carried = 'vector' | 'axial vector' | 'own place' | 'own products';
export interface RefField extends Common {
  type: 'ref';
  family: Family;
  /** Only elements whose kind declares this are meant. */
  that?: 'tells' | 'touches';
  default?: string;
}
export interface RefsField extends Common {
  type: 'refs';
  family: Family;
  min: number;
  max: number;
  /** A name with an asterisk stands for all that are called so. */
  patterns?: true;
}
export interface ChoiceField extends Common {
  type: 'choice';
  options: Readonly<Record<string, string>>;
  default: string;
}

export interface TextField extends Common {
  type: 'text';
  default?: string;
  /** Names geometry that is kept beside the model. */
  stored?: true;
  /** It is a picture, as a data address. */
  picture?: true;
  /** It is a formula, compiled by the kind itself. */
  formula?: true;
}
/** `#rrggbb`. */
export interface ColourField extends Common {
  type: 'colour';
}
/** Rows of plain numbers. */
export interface GridField extends Common {
  type: 'grid';
  columns: number;
  min: number;
  max: number;
  default?: readonly (readonly number[])[];
  /** Corners of a closed outline: it can be drawn. */
  outline?: true;
}

/** Names and what each stands for, as a text: `arm = 80 mm; gap = 2 mm`. */
export interface AssignedField extends Common {
  type: 'assigned';
  /** What is assigned: formulas to the parameters of a kit, or bodies to its mounts. */
  to: 'parameters' | 'mounts';
}

export type Field = AssignedField | QuantityField | VectorField | RefField | RefsField | ChoiceField | TextField | ColourField | GridField;
export type Fields = Readonly<Record<string, Field>>;

/** What a field's raw content becomes once it is checked and evaluated (SI units). */
export type Resolved<F> = F extends { optional: true } ? Content<F> | undefined : Content<F>;
type Content<F> = F extends { type: 'quantity' }
  ? F extends { time: true }
    ? Program
    : number
  : F extends { type: 'vector' }
    ? Vec3
    : F extends { type: 'ref' | 'choice' | 'text' | 'colour' | 'assigned' }
      ? string
      : F extends { type: 'grid' }
        ? readonly (readonly number[])[]
        : string[];
export type ValuesOf<F extends Fields> = { readonly [K in keyof F]: Resolved<F[K]> };

type Extra<T extends Field> = Partial<Omit<T, 'type' | 'dim' | 'label' | 'help' | 'family' | 'options'>>;

/** A field for a value of a dimension, or a formula. */
export const quantity = <const O extends Extra<QuantityField>>(dim: Asked, label: string, help: string, extra?: O) =>
  ({ type: 'quantity', dim, label, help, ...extra }) as { type: 'quantity'; dim: Asked; label: string; help: string } & O;
/** A field for three values of a dimension. */
export const vector = <const O extends Extra<VectorField>>(dim: Dimension, label: string, help: string, extra?: O) =>
  ({ type: 'vector', dim, label, help, ...extra }) as { type: 'vector'; dim: Dimension; label: string; help: string } & O;
/** A field that names an element of a family. */
export const ref = <const O extends Extra<RefField>>(family: Family, label: string, help: string, extra?: O) =>
  ({ type: 'ref', family, label, help, ...extra }) as { type: 'ref'; family: Family; label: string; help: string } & O;
/** A field that names several elements of a family. */
export const refs = <const O extends Extra<RefsField>>(family: Family, min: number, max: number, label: string, help: string, extra?: O) =>
  ({ type: 'refs', family, min, max, label, help, ...extra }) as {
    type: 'refs';
    family: Family;
    min: number;
    max: number;
    label: string;
    help: string;
  } & O;
/** A field for text. */
export const text = <const O extends Extra<TextField>>(label: string, help: string, extra?: O) =>
  ({ type: 'text', label, help, ...extra }) as { type: 'text'; label: string; help: string } & O;
/** A field for assignments, `a = 1; b = 2`, to parameters or mounts of a kit. */
export const assigned = (to: AssignedField['to'], label: string, help: string) =>
  ({ type: 'assigned', to, label, help, optional: true }) as const satisfies AssignedField;
/** A field for a colour. */
export const colour = (label: string, help: string) => ({ type: 'colour', label, help, optional: true }) as const satisfies ColourField;
/** A field for rows of plain numbers. @param min and max number of rows */
export const grid = (
  columns: number,
  min: number,
  max: number,
  label: string,
  help: string,
  extra: Pick<GridField, 'default' | 'outline' | 'byHand' | 'optional' | 'when'> = {},
) => ({ type: 'grid', columns, min, max, label, help, ...extra }) as const satisfies GridField;
/** A field for one of several words. */
export const choice = (options: Readonly<Record<string, string>>, label: string, help: string, extra?: Extra<ChoiceField>) => ({
  type: 'choice' as const,
  options,
  label,
  help,
  default: Object.keys(options)[0]!,
  ...extra,
});

/** Whether what stands in a field is worked out only after a run. */
export const afterRun = (f: Field, value: unknown): boolean =>
  f.type === 'quantity' && !!f.scores && typeof value === 'string' && value.includes('{');

/** Whether formulas may stand in a field. */
export const takesFormula = (f: Field): boolean => f.type === 'quantity' || f.type === 'vector' || (f.type === 'text' && !!f.formula);
