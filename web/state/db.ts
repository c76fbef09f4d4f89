/** What is kept in the browser: projects, and runs with their recorded states in chunks. */
import Dexie, { type EntityTable } from 'dexie';
import type { Diagnosis, Happening, Model, RecordLayout, RunStatistics } from '@vim-pivot/core';

export interface ProjectRow {
  id: string;
  name: string;
  model: Model;
  changed: number;
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
  status: 'running' | 'done' | 'cancelled' | 'failed';
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
  /** Events of the run: what stuck, slipped, let go. */
  happenings?: Happening[];
}

export interface ChunkRow {
  key?: number;
  run: string;
  index: number;
  data: Float64Array;
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
  revisions!: EntityTable<RevisionRow, 'key'>;
  geometries!: EntityTable<GeometryRow, 'id'>;
  kits!: EntityTable<KitRow, 'name'>;
  constructor() {
    super('vim-pivot');
    this.version(1).stores({ projects: 'id, changed', runs: 'id, project', chunks: '++key, [run+index]' });
    this.version(2).stores({ revisions: '++key, project' });
    this.version(3).stores({ geometries: 'id' });
    this.version(4).stores({ kits: 'name' });
  }
}

export const db = new Store();

export async function chunksOf(run: string): Promise<Float64Array[]> {
  const rows = await db.chunks.where('[run+index]').between([run, Dexie.minKey], [run, Dexie.maxKey]).sortBy('index');
  return rows.map((r) => r.data);
}

export async function dropRun(run: string): Promise<void> {
  await db.transaction('rw', db.runs, db.chunks, async () => {
    await db.runs.delete(run);
    await db.chunks.where('[run+index]').between([run, Dexie.minKey], [run, Dexie.maxKey]).delete();
  });
}
