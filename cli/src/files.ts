/** Files and options of the command line, each checked before it is used. */
import { readFileSync, statSync } from 'node:fs';
import { D, type Dimension, FormulaError, type Model, amountOf, needs, provideGeometry, showIn } from '@vim-pivot/core';
import { readCsv } from '@vim-pivot/core/csv';
import { LARGEST_MODEL, megabytes, readModel } from '@vim-pivot/core/file';
import { unpack } from '@vim-pivot/core/project';
import { loadSolids } from '@vim-pivot/core/solids';
import { inSystemWords, refused } from './terminal';

/** @param most bytes @throws Refusal when it is not there, or too large */
function readBytes(file: string, most: number): Buffer {
  try {
    const { size } = statSync(file);
    if (size > most) throw refused('file-large', `The file ${file} is larger than ${megabytes(most)}.`);
    return readFileSync(file);
  } catch (e) {
    if (!(e instanceof Error) || !('code' in e)) throw e;
    throw refused('file-unreadable', `The file ${file} cannot be read: ${inSystemWords(e)}.`);
  }
}
const read = (file: string): string => readBytes(file, LARGEST_MODEL).toString('utf8');

/** A model file, or a project file with its geometry; with what the model needs at hand. */
export async function opened(file: string): Promise<Model> {
  let model: Model;
  if (/\.zip$/i.test(file)) {
    const packed = unpack(readBytes(file, 1e9));
    for (const g of packed.geometry) provideGeometry(g.id, g.positions, g.indices);
    model = packed.model;
  } else model = readModel(read(file));
  if (needs(model).has('solids')) await loadSolids();
  showIn(model.units);
  return model;
}

/** The model with the rows of tables replaced by measured ones. */
export function withTables(model: Model, given: readonly string[]): Model {
  return given.reduce((m, text) => {
    const [name, file] = text.split('=') as [string, string | undefined];
    if (!file || !m.tables.some((t) => t.name === name))
      throw refused('option', `--table ${text}: there is no table “${name}”, or no file is given.`, 'Write --table name=file.csv.');
    const data = readCsv(read(file));
    return { ...m, tables: m.tables.map((t) => (t.name === name ? { ...t, data } : t)) };
  }, model);
}

/** A state written by --save-state. @throws Refusal when the file is none */
export function startState(file: string): Float64Array {
  let content: unknown;
  try {
    content = JSON.parse(read(file));
  } catch (e) {
    if (e instanceof SyntaxError)
      throw refused('option', `--start ${file}: this is no file of a state.`, 'Take one that --save-state has written.');
    throw e;
  }
  const state = (content as { state?: unknown } | null)?.state;
  if (!Array.isArray(state) || state.length === 0 || !state.every((x) => typeof x === 'number' && Number.isFinite(x)))
    throw refused('option', `--start ${file}: it holds no state.`, 'Take a file that --save-state has written.');
  return Float64Array.from(state as number[]);
}

export function positive(option: string, text: string, dim: Dimension = D.none): number {
  try {
    return amountOf(text, dim);
  } catch (e) {
    if (!(e instanceof FormulaError)) throw e;
    throw refused('option', `${option} ${text}: ${e.message}`);
  }
}
