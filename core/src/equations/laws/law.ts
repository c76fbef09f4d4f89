/**
 * What a load does, as expressions: what it gives along what moves, or what it stores and what it loses. What pushes each body, the power, and derivatives
 * of both by posture and motion follow from that (`derive.ts`).
 */
import type { Ex } from '../../expressions/arithmetic';
import type { Graph } from '../../expressions/graph';
import type { BodyEx } from '../stated/body';
import type { Given, NumberKind } from '../stated/elementary';

/** Efforts, N or N·m, each with the rate at which it works, m/s or rad/s. Power is their product; bodies are pushed along ∂rate/∂u (Jourdain's principle). */
export type Work = readonly [effort: Ex, rate: Ex];

/** What it tells of itself, one number or six (`LoadReadings`). */
export interface Tells {
  readonly effort?: readonly Ex[];
  readonly deflection?: readonly Ex[];
  readonly rate?: readonly Ex[];
}

export interface Does {
  readonly works?: readonly Work[];
  /** Energy V that it stores, J: bodies are pushed by −∂V. */
  readonly potential?: Ex;
  /** Rayleigh's function R, half the power that it loses, W: bodies are pushed by −∂R/∂u. */
  readonly dissipation?: Ex;
  /** Energy that it stores where its works are told, J. */
  readonly stored?: Ex;
  /** Quantities at whose changes of sign what it gives has a corner. */
  readonly corners?: readonly Ex[];
  /** @param pushes six numbers of each body: force in ground axes, moment about the centre of mass in body axes */
  tells?(pushes: readonly (readonly Ex[])[]): Tells;
}

export interface ForceLaw<N extends Readonly<Record<string, NumberKind>> = Readonly<Record<string, NumberKind>>> {
  readonly name: string;
  /** How many bodies it knows. */
  readonly bodies: number;
  /** What it is told of the model, in this order. */
  readonly numbers: N;
  /** How many values it takes in beside: of formulas, of what is counted along the run. */
  readonly inputs: number;
  does(g: Graph, bodies: readonly BodyEx[], n: Given<N>, inputs: readonly Ex[]): Does;
}

/** A law whose function knows the names of its numbers. */
export const forceLaw = <const N extends Readonly<Record<string, NumberKind>>>(law: ForceLaw<N>): ForceLaw => law as unknown as ForceLaw;
