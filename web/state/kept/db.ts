/** What is kept in the browser: projects, and runs with their recorded states in chunks. */
import Dexie, { type EntityTable, type Table } from 'dexie';
import type { Diagnosis, Happening, Model, RecordLayout, RunStatistics, RunStatus } from '@vim-pivot/core';
import type { Postures } from '../runs/track';

export interface ProjectRow {
  id: string;
  name: string;
  model: Model;
  changed: number;
  /** Grows with every save, so that windows notice each other’s. */
  revision?: number;
  /** What it looked like when last kept, as a data address. */
  picture?: string;
}

export interface RunRow {
  id: string;
  project: string;
  number: number;
  made: number;
  model: Model;
  layout: RecordLayout;
  until: number;
  reached: number;
  records: number;
  status: 'running' | RunStatus;
  seconds: number;
  statistics?: RunStatistics;
  diagnoses: Diagnosis[];
  /** Given by the user. */
  label?: string;
  note?: string;
  pinned?: boolean;
  /** Others are compared with it; one of a project. */
  baseline?: boolean;
  /** The kit that was run by itself; its model is that kit, not the machine. */
  kit?: string;
  /** It repeats while something is moved, and is not kept. */
  live?: true;
  /** Events of the run: what stuck, slipped, let go. */
  happenings?: Happening[];
}

export interface ChunkRow {
  key?: number;
  run: string;
  index: number;
  data: Float64Array;
}

/** Postures of the records of a chunk: all that playing a run takes. */
export interface PostureRow extends Postures {
  run: string;
  index: number;
}

/** An earlier state of a project. */
export interface RevisionRow {
  key?: number;
  project: string;
  made: number;
  label: string;
  model: Model;
}

/** Geometry from files, by the name of its content: welded corners (m) and triangles. */
export interface GeometryRow {
  id: string;
  positions: Float32Array;
  indices: Uint32Array;
}

/** A kit for all projects. */
export interface KitRow {
  name: string;
  changed: number;
  /** It, and the kits it needs. */
  kits: Model['kits'];
}

class Store extends Dexie {
  projects!: EntityTable<ProjectRow, 'id'>;
  runs!: EntityTable<RunRow, 'id'>;
  chunks!: EntityTable<ChunkRow, 'key'>;
  postures!: Table<PostureRow, [string, number]>;
  revisions!: EntityTable<RevisionRow, 'key'>;
  geometries!: EntityTable<GeometryRow, 'id'>;
  kits!: EntityTable<KitRow, 'name'>;
  constructor() {
    super('vim-pivot');
    this.version(1).stores({ projects: 'id, changed', runs: 'id, project', chunks: '++key, [run+index]' });
    this.version(2).stores({ revisions: '++key, project' });
    this.version(3).stores({ geometries: 'id' });
    this.version(4).stores({ kits: 'name' });
    this.version(5).stores({ postures: '[run+index]' });
  }
}

export const db = new Store();

const all = (run: string) =>
  [
    [run, Dexie.minKey],
    [run, Dexie.maxKey],
  ] as const;

/** The recorded states of a run, whole. */
export async function chunksOf(run: string): Promise<Float64Array[]> {
  return (
    await db.chunks
      .where('[run+index]')
      .between(...all(run))
      .sortBy('index')
  ).map((r) => r.data);
}

/**
 * The postures of a run, part by part as it was recorded.
 * @param made gives those of a part, for runs kept without: they are added to the store
 */
export async function posturesOfRun(run: string, made: (data: Float64Array) => Postures): Promise<Postures[]> {
  const rows = await db.postures
    .where('[run+index]')
    .between(...all(run))
    .toArray();
  if (rows.length > 0) return rows;
  const whole = (await chunksOf(run)).map((data, index): PostureRow => ({ run, index, ...made(data) }));
  await db.postures.bulkPut(whole).catch(() => undefined); // for next time; without room it is made anew then
  return whole;
}

/** Keeps parts of a run: states and postures of each, all or nothing. */
export async function keepParts(parts: readonly { run: string; index: number; data: Float64Array; postures: Postures }[]): Promise<void> {
  await db.transaction('rw', db.chunks, db.postures, async () => {
    await db.chunks.bulkAdd(parts.map(({ postures: _, ...row }) => row));
    await db.postures.bulkAdd(parts.map(({ run, index, postures }) => ({ run, index, ...postures })));
  });
}

/** Inside a transaction on the tables of runs. */
export async function dropRecords(run: string): Promise<void> {
  await db.chunks
    .where('[run+index]')
    .between(...all(run))
    .delete();
  await db.postures
    .where('[run+index]')
    .between(...all(run))
    .delete();
}

export async function dropRun(run: string): Promise<void> {
  await db.transaction('rw', db.runs, db.chunks, db.postures, async () => {
    await db.runs.delete(run);
    await dropRecords(run);
  });
}
