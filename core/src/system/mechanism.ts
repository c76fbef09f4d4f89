/** A model as numbers: what its parts have become, its numeric system, and what can be read from it. */
import type { Diagnosis } from '../diagnosis';
import type { Assembly, Channel, Characteristic, JointInfo, Outline } from '../elements/declarations';
import type { Freedom } from '../equations/freedom';
import type { Memories } from '../equations/memory';
import type { Tracked } from '../equations/tracked';
import type { Watch } from '../equations/watch';
import type { Model } from '../model/document';
import type { Family } from '../model/families';
import type { Layout } from '../model/layout';
import type { Resolution } from '../model/resolve';
import type { BodyInfo } from './build/bodies';
import type { CouplingInfo } from './build/couplings';
import type { BuiltDrive } from './build/drives';
import type { ShapeInfo } from './build/shapes';
import type { StartInfo } from './build/starts';
import type { SwitchInfo } from './build/switches';
import type { Ledgers } from './ledger';
import type { System } from './system';

export type { BodyInfo, ShapeInfo, StartInfo };

export interface Mechanism {
  model: Model;
  resolution: Resolution;
  layout: Layout;
  bodies: readonly BodyInfo[];
  shapes: readonly ShapeInfo[];
  joints: readonly JointInfo[];
  drives: readonly BuiltDrive[];
  couplings: readonly CouplingInfo[];
  starts: readonly StartInfo[];
  switches: readonly SwitchInfo[];
  watches: readonly { element: { family: Family; name: string }; watch: Watch }[];
  /** Coordinates that count whole turns along the run. */
  counters: readonly Tracked[];
  system: System;
  /** What elements remember of a run; recorded with each state. */
  memories: Memories;
  ledgers: Ledgers;
  assembly: Assembly;
  /** Angles that count whole turns. */
  angles: readonly Freedom[];
  /** Characteristic size, m. */
  size: number;
  /** Whether a run is at work in it. */
  taken: boolean;
  /** The same machine once more, in a workspace of its own: both may be evaluated at once. Code that was compiled serves both. */
  apart(): Mechanism;
  /** Evaluates a gauge's declaration. @throws Refusal */
  channel(gauge: string): Channel;
  gauges: readonly string[];
  /** Loads in outline, by name. */
  outlines: readonly { load: string; outline: Outline }[];
  /** What a load gives over what it feels; undefined where it declares nothing of the kind. */
  characteristic(load: string): Characteristic | undefined;
}

/** What could be built of a model, and what stands in the way of the rest. */
export interface Built {
  resolution: Resolution;
  /** Present unless an error stands in the way. */
  mechanism: Mechanism | undefined;
  diagnoses: Diagnosis[];
  /** What can be drawn even when the mechanism is not complete. */
  shapes: readonly ShapeInfo[];
  bodies: readonly BodyInfo[];
  layout: Layout;
  ground: string;
}
