/** What the page and its workers say to each other. Every message is plain data. */
import type { Declared, Found, Given, Identified } from '@vim-pivot/core/analyses';
import type { measured } from '@vim-pivot/core/measures';
import type { Acting, BodyLoads, MassFound } from '@vim-pivot/core/on-demand';
import type {
  Sign,
  Characteristic,
  Family,
  Features,
  Happening,
  Kind,
  Diagnosis,
  Dimension,
  LiveValue,
  Model,
  Outline,
  RecordLayout,
  RunStatistics,
  RunStatus,
} from '@vim-pivot/core';

import type { Spectrum, WindowName } from '@vim-pivot/core/plots';
import type { Packed } from '@vim-pivot/core/project';
import type { Sensitivities } from '@vim-pivot/core/sensitivity';

/** A shape to draw, with its part of the picture's mesh. Body −1 is the ground. */
export interface DrawnShape {
  name: string;
  body: number;
  /** Left out: that of its body. */
  colour?: string;
  /** First and number of its vertices, of its corners of triangles, of its ends of edges. */
  vertex: [number, number];
  triangle: [number, number];
  edge: [number, number];
  /** Lowest and highest coordinates of its vertices. */
  box: [low: [number, number, number], high: [number, number, number]];
}

/** All shapes in one mesh, each relative to its body's centre of mass in its axes. */
export interface DrawnMesh {
  position: Float32Array;
  normal: Float32Array;
  triangles: Uint32Array;
  edge: Uint32Array;
}

/** One side of a joint: the place in its body, and its frame there (rows of a rotation whose columns are the axes). */
export interface Side {
  body: number;
  at: [number, number, number];
  frame: number[];
}

/** A joint to draw: its bodies (−1: ground), where its symbol sits, and its axis in the first body. */
export interface DrawnJoint {
  name: string;
  kind: string;
  a: number;
  b: number;
  place: { body: number; at: [number, number, number] };
  axis: [number, number, number];
  sides: [Side, Side];
  driven: boolean;
}

/** A point to draw, fixed in a body (−1: ground). */
export interface DrawnPoint {
  name: string;
  body: number;
  at: [number, number, number];
}

export interface Picture {
  bodies: string[];
  /** Colours given to bodies; undefined: one from the palette. */
  colours: (string | undefined)[];
  /** Centre of mass of each body in its axes, m. */
  centres: [number, number, number][];
  points: DrawnPoint[];
  shapes: DrawnShape[];
  mesh: DrawnMesh;
  joints: DrawnJoint[];
  outlines: { load: string; outline: Outline }[];
  /** Seven numbers a body: position of the centre of mass, quaternion w x y z. */
  posture: Float64Array;
  size: number;
}

export interface Within {
  homes: Record<string, string>;
  joints: { name: string; kind: string; bodies: [string, string] }[];
}

export interface Checked {
  diagnoses: Diagnosis[];
  live: [path: string, value: LiveValue][];
  /** Absent when the model cannot be drawn; the last good picture then stays. */
  picture?: Picture;
  mobility?: {
    joints: number;
    free: number;
    redundant: number;
    notUnique: string[];
    counted: number;
    loops: { joints: readonly string[]; rank: number; counted: number }[];
    motions: string[];
    details: string[];
  };
  gauges: { name: string; dim: Dimension; unit: string; positive: string; sign?: Sign }[];
  /** Names of what instances bring, by family. */
  brought?: Partial<Record<Family, string[]>>;
  /** What hangs together in what instances bring: bodies in which points are fixed, and bodies that joints join. */
  within?: Within;
}

export interface Curve {
  gauge: string;
  dim: Dimension;
  unit: string;
  positive: string;
  values: Float64Array;
}

/** A word of the formula language. */
export interface Word {
  type: 'function' | 'constant' | 'unit';
  name: string;
  args: string[];
  help: string;
}

export type Request =
  | { type: 'read-urdf'; id: number; text: string }
  | { type: 'write-urdf'; id: number; model: Model }
  /** What is picked as a kit, with an instance in its place; an instance made independent; a file of kits. */
  | { type: 'kit-of'; id: number; model: Model; picked: { family: Family; name: string }[]; name: string }
  | { type: 'independent'; id: number; model: Model; name: string }
  | { type: 'read-kits'; id: number; text: string }
  | { type: 'pack'; id: number; packed: Packed }
  | { type: 'unpack'; id: number; bytes: Uint8Array }
  /** How records of a run are laid out. @param width numbers a record; left out: as they are recorded now @param told of its bodies */
  | { type: 'layout'; id: number; model: Model; width?: number; told?: RecordLayout['told'] }
  | { type: 'words'; id: number }
  | { type: 'spectrum'; id: number; time: Float64Array; values: Float64Array; window: WindowName }
  /** Modes fitted to curves. */
  | { type: 'identify'; id: number; channels: { time: Float64Array; values: Float64Array }[]; order: number }
  /** Columns of a file of curves. */
  | { type: 'columns'; id: number; text: string }
  /** The value at a place of a model that is not the model yet. */
  | { type: 'evaluate'; id: number; model: Model; path: string }
  | { type: 'parse'; id: number; text: string }
  /** The kinds of element there are, as data. */
  | { type: 'declarations'; id: number }
  | { type: 'check'; id: number; model: Model }
  /** Makes the code of a machine, and runs it a little, before it is to be run. */
  | { type: 'ready'; id: number; model: Model }
  /** `from`: starts at a recorded state of another run; `most`: records at most. */
  | { type: 'run'; id: number; run: string; model: Model; from?: { run: string; record: number }; most?: number }
  /**
   * Takes hold of a machine with its drives let go; `pull` then draws a place of a body (index, relative to its centre of mass) to a target; `keep`
   * gives start values of the posture.
   */
  | { type: 'grab'; id: number; model: Model }
  | { type: 'pull'; id: number; body: number; at: [number, number, number]; to: [number, number, number] }
  | { type: 'keep'; id: number }
  /** The analyses there are, with the names that a model has for their settings. */
  | { type: 'analyses'; id: number; model: Model }
  /** An analysis of a machine. The one asked before is given up. */
  | { type: 'explore'; id: number; model: Model; what: string; given: Given }
  | { type: 'leave-explore'; id: number }
  /** What moves the scores of a run: of so many numbers of the model at most. The one asked before is given up. */
  | { type: 'moves'; id: number; model: Model; most: number }
  | { type: 'leave-moves'; id: number }
  /** The curve an element stands for: a table, or a load over what it feels. */
  | { type: 'characteristic'; id: number; model: Model; family: Family; name: string }
  | { type: 'mass'; id: number; model: Model; family: 'bodies' | 'shapes'; name: string }
  /** Faces and edges of a mesh. */
  | { type: 'features'; id: number; positions: Float32Array; indices: Uint32Array }
  | { type: 'cancel'; id: number; run: string }
  /** A run whose states are in the store. `records`: of each of its parts. */
  | { type: 'restore'; id: number; run: string; model: Model; layout: RecordLayout; records: number[] }
  /** The store is about to lose a run: the worker holds all of it. */
  | { type: 'hold'; id: number; run: string }
  /** The store has these parts of a run from now on. */
  | { type: 'stored'; id: number; run: string; parts: number[] }
  | { type: 'forget'; id: number; run: string }
  /** All that acts on a body at a record; left out: at all of them. */
  | { type: 'body-loads'; id: number; run: string; body: string; record?: number }
  /** The forces that act at records of a run; on one body, when it is named. */
  | { type: 'acting'; id: number; run: string; records: number[]; body?: string }
  /** What passed through what in a run, though nothing holds it apart. */
  | { type: 'passings'; id: number; run: string }
  /** Reads gauges of `now` (the model as it is) from the recorded states of a run, from record `from` on. */
  | { type: 'read'; id: number; run: string; now: Model; gauges: string[]; from: number }
  /** Scores, workings and limits of `now`, measured in a run. */
  | { type: 'measure'; id: number; run: string; now: Model };

export type Reply =
  | { type: 'read-urdf'; id: number; model: Model; left: Diagnosis[] }
  | { type: 'write-urdf'; id: number; text: string; left: Diagnosis[] }
  | { type: 'made'; id: number; model: Model }
  | { type: 'kits'; id: number; kits: Model['kits'] }
  | { type: 'packed'; id: number; bytes: Uint8Array }
  | { type: 'unpacked'; id: number; packed: Packed; left: string[] }
  | { type: 'layout'; id: number; layout: RecordLayout }
  | { type: 'words'; id: number; words: Word[] }
  | { type: 'spectrum'; id: number; spectrum: Spectrum }
  | { type: 'identify'; id: number; found: Identified }
  | { type: 'columns'; id: number; names: string[]; columns: Float64Array[] }
  | { type: 'evaluated'; id: number; live?: LiveValue; fault?: string }
  /** `faults`: what is wrong inside a well-formed model (references, formulas, values). */
  | { type: 'parsed'; id: number; model: Model; faults: Diagnosis[] }
  | { type: 'declarations'; id: number; kinds: Kind[] }
  /** Comes before `checked`, when there is something to draw. */
  | { type: 'drawn'; id: number; picture: Picture }
  | { type: 'checked'; id: number; checked: Omit<Checked, 'picture'> }
  | { type: 'refused'; id: number; diagnoses: Diagnosis[] }
  | { type: 'started'; id: number; layout: RecordLayout; until: number }
  /** `part`: which of the run's parts they are. */
  | { type: 'records'; id: number; part: number; data: Float64Array }
  | { type: 'progress'; id: number; t: number }
  /** It advances too slowly to be waited for: what holds it up. */
  | { type: 'slow'; id: number; diagnoses: Diagnosis[] }
  | {
      type: 'ended';
      id: number;
      status: RunStatus;
      t: number;
      seconds: number;
      statistics: RunStatistics;
      diagnoses: Diagnosis[];
      happenings: Happening[];
    }
  | { type: 'pulled'; id: number; posture: Float64Array }
  | { type: 'kept'; id: number; starts: { joint: string; freedom: 'rotation' | 'translation'; position: number }[] }
  | { type: 'analyses'; id: number; list: Declared[] }
  | { type: 'explored'; id: number; found: Found }
  /** How far it has come, from 0 to 1. */
  | { type: 'moving'; id: number; part: number }
  /** `count`: how many numbers the model has. */
  | ({ type: 'moves'; id: number; count: number } & Pick<Sensitivities, 'scores' | 'numbers'>)
  /** Of each record asked for. */
  | { type: 'acting'; id: number; frames: Acting[][] }
  | { type: 'passings'; id: number; diagnoses: Diagnosis[] }
  /** Of the record asked for. */
  | { type: 'body-loads'; id: number; loads: BodyLoads[] }
  /** From record `from` on: 0 where something is made of the whole course. */
  | { type: 'read'; id: number; from: number; time: Float64Array; curves: Curve[]; failures: Diagnosis[] }
  | ({ type: 'measured'; id: number } & ReturnType<typeof measured>)
  | { type: 'characteristic'; id: number; curve?: Characteristic }
  | { type: 'mass'; id: number; mass?: MassFound }
  | { type: 'features'; id: number; features: Features }
  | { type: 'done'; id: number };
