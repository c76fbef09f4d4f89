/** Contact, by what is handed in when a machine has any (`contacts.ts` beside the engine): most have none. */
import { refuse } from '../../diagnosis';
import type { Table } from '../../formula/table';
import type { PlacedForm } from '../../geometry/contact/form';
import type { Mat3, Vec3 } from '../../geometry/vector';
import type { Force } from '../forces';

/** A form as a body carries it: relative to its centre of mass, in its axes. */
export interface Side extends PlacedForm {
  readonly body: number;
  /** The shape it is of. */
  readonly shape: string;
}

/** What may be asked of the machine that bodies in contact belong to. */
export interface Touching {
  /** What the shapes of a body are exactly, as it carries them. */
  forms(body: string): readonly Side[];
  index(body: string): number;
  /** Whether a joint joins two bodies. */
  joined(one: string, other: string): boolean;
  readonly bodies: readonly { readonly mass: number; readonly inertia: Mat3 }[];
  /** Characteristic size, m. */
  readonly size: number;
}
/** Two sets of bodies; and which of their shapes count: left out, all. */
export interface Sets {
  readonly first: readonly string[];
  readonly second: readonly string[];
  readonly by?: readonly string[] | undefined;
  readonly on?: readonly string[] | undefined;
}
/** Which bodies are in contact with which, and by which laws. */
export interface ContactAsked extends Sets {
  readonly name: string;
  /** Other contacts, to which a pair belongs that they name as well. */
  readonly later: readonly Sets[];
  readonly machine: Touching;
  /** k, N/mⁿ; n, at least 1; and the part of the speed that an impact gives back, 0 to 1. */
  readonly stiffness: number;
  readonly exponent: number;
  /** Force over depth, which counts instead. */
  readonly curve?: Table | undefined;
  readonly restitution: number;
  /** Coefficients of friction; lever arms of what resists rolling and spinning, m; how fast surfaces of the second set run, m/s, in axes of their bodies. */
  readonly friction: {
    readonly static: number;
    readonly sliding: number;
    readonly rolling: number;
    readonly spinning: number;
    readonly runs: Vec3;
  };
}
type Maker = (asked: ContactAsked) => Force;

let maker: Maker | undefined;
/** Brings what works contact out. */
export const provideContacts = (m: Maker): void => void (maker = m);

/** @throws Refusal where what works contact out is not at hand */
export const contactOf: Maker = (asked) =>
  (
    maker ??
    refuse({
      code: 'contact-missing',
      message: 'Contact cannot be worked out here.',
      remedy: 'Reload the page.',
    })
  )(asked);
