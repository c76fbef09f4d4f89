/**
 * A body that is told by coordinates of its own, as expressions: one that they place (a wheel on an axle, a carriage on a track), or one that moves in
 * every way and carries something that moves in it (a mass on a spring, the shapes in which it bends). Its mass matrix, and what its motion needs beside,
 * are derived (`derive.ts`).
 */
import type { Ex } from '../../expressions/arithmetic';
import type { Graph } from '../../expressions/graph';
import type { QuaternionEx, VectorEx } from '../../expressions/vectors';
import type { CompiledKernel } from '../../kernel/compile';
import type { BodyEx } from '../stated/body';
import type { Given, NumberKind } from '../stated/elementary';

export interface BodyLaw<N extends Readonly<Record<string, NumberKind>> = Readonly<Record<string, NumberKind>>> {
  readonly name: string;
  /** Its coordinates: what each does, in words after the name of the body (“Crank turning”), and whether it is a length, m; else an angle or a plain number. */
  readonly coordinates: readonly { readonly does: string; readonly length: boolean }[];
  /** What it is told of the model, in this order. */
  readonly numbers: N;
  /** Place of the centre of mass (ground axes) and turn, a quaternion of length 1. Left out: the body moves in every way, coordinates or not. */
  posture?(g: Graph, q: readonly Ex[], n: Given<N>): { r: VectorEx; turn: QuaternionEx };
  /**
   * Kinetic energy beyond that of the rigid body, J. Weight, momentum and mass properties count the rigid body alone: what a law adds to its motion it
   * also has to weigh, in `potential`. @param s speeds of the coordinates
   */
  kinetic?(g: Graph, body: BodyEx, q: readonly Ex[], s: readonly Ex[], n: Given<N>): Ex;
  /** Energy that it stores, J. */
  potential?(g: Graph, body: BodyEx, q: readonly Ex[], n: Given<N>): Ex;
  /** The code that is derived from it, for so many numbers of the model; it comes with the law (`body-law.ts`). */
  code(values: number): CompiledKernel;
}

/** A body told by coordinates of its own: by which law, and the numbers that this asks for. Where it is drawn all of them are zero. */
export interface OwnCoordinates {
  readonly law: BodyLaw;
  readonly values: readonly number[];
  /** Their speeds at the start, as far as nothing else decides on them. Left out: at rest. */
  readonly speeds?: readonly number[];
}
