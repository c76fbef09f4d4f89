/**
 * A project as one file: a zip with the model as it is exported anywhere else, and its runs as plain numbers beside a description. Reading
 * trusts nothing: sizes are looked at before anything is unpacked, names are only those that are expected, lengths must fit the description.
 */
import { type Zippable, unzipSync, zipSync, strFromU8, strToU8 } from 'fflate';
import { type Diagnosis, Refusal } from '../diagnosis';
import { type Model, writeModel } from '../model/document';
import { LARGEST_MODEL, megabytes, readModel } from '../model/file';
import { type StoredGeometry, bytesOf, geometryFrom } from '../geometry/bytes';
import { withGeometries } from '../model/stored';
import { layoutOfWidth } from '../results/record';
import type { Told } from '../equations/told';
import { RUN_STATUSES, type RunStatus } from '../results/status';
import { build } from '../system/build';

/** Largest project that is read, bytes unpacked; and largest entries by what they hold. */
const LARGEST = 1.5e9;
const LARGEST_GEOMETRY = 400e6;
const RUN = /^runs\/(\d{1,6})\.(json|f64)$/;
const GEOMETRY = /^geometry\/([0-9a-f]{16,64})$/;

export interface PackedRun {
  number: number;
  made: number;
  model: Model;
  until: number;
  reached: number;
  records: number;
  status: RunStatus;
  seconds: number;
  diagnoses: Diagnosis[];
  /** What the user said of it. */
  label?: string;
  note?: string;
  pinned?: boolean;
  /** Others are compared with it. */
  baseline?: boolean;
  /** The kit that was run by itself. */
  kit?: string;
  data: Float64Array;
  /** What its records tell of the bodies; left out: everything. */
  told?: Told;
}

export interface Packed {
  model: Model;
  runs: PackedRun[];
  geometry: StoredGeometry[];
}

/** @returns the bytes of a zip; numbers are little-endian doubles */
export function pack({ model, runs, geometry }: Packed): Uint8Array {
  const files: Zippable = { 'model.pivot.json': strToU8(writeModel(model)) };
  for (const r of runs) {
    const { data, model: own, ...rest } = r;
    files[`runs/${r.number}.json`] = strToU8(JSON.stringify({ ...rest, model: JSON.parse(writeModel(own)) as unknown }));
    files[`runs/${r.number}.f64`] = [new Uint8Array(data.buffer, data.byteOffset, data.byteLength), { level: 1 }];
  }
  for (const g of geometry) files[`geometry/${g.id}`] = bytesOf(g);
  return zipSync(files, { level: 6 });
}

const refuse = (message: string, remedy?: string): never => {
  throw new Refusal([{ code: 'project-file', severity: 'error', message, ...(remedy ? { remedy } : {}) }]);
};

/** What is said of a run, as far as it is what it should be. */
function said(head: Partial<PackedRun>): Pick<PackedRun, 'label' | 'note' | 'pinned' | 'baseline' | 'kit'> {
  const words = (x: unknown, most: number) => (typeof x === 'string' ? x.slice(0, most) : undefined);
  const [label, note, kit] = [words(head.label, 60), words(head.note, 2000), words(head.kit, 80)];
  return {
    ...(label ? { label } : {}),
    ...(note ? { note } : {}),
    ...(head.pinned === true ? { pinned: true } : {}),
    ...(head.baseline === true ? { baseline: true } : {}),
    ...(kit === undefined ? {} : { kit }),
  };
}

/**
 * Geometry goes by the name of its content, whatever it is called in the file: two files may call different parts alike.
 * @throws Refusal when it is not a project file, is damaged, or is too large
 */
export function unpack(bytes: Uint8Array): Packed & { left: string[] } {
  let total = 0;
  const left: string[] = [];
  let files: Record<string, Uint8Array>;
  try {
    files = unzipSync(bytes, {
      filter: ({ name, originalSize }) => {
        if (name !== 'model.pivot.json' && !RUN.test(name) && !GEOMETRY.test(name)) {
          left.push(name.slice(0, 80));
          return false;
        }
        total += originalSize;
        const most = GEOMETRY.test(name) ? LARGEST_GEOMETRY : name.endsWith('.f64') ? LARGEST : LARGEST_MODEL;
        if (!(originalSize <= most))
          refuse(
            `“${name}” would unpack to ${megabytes(originalSize)}; at most ${megabytes(most)} of its kind are read.`,
            'The file is damaged, or was not made here.',
          );
        if (total > LARGEST) refuse('The project file would unpack to more than 1.5 GB.', 'Export it without its runs.');
        return true;
      },
    });
  } catch (e) {
    if (e instanceof Refusal) throw e;
    return refuse(`This is not a whole project file: ${e instanceof Error ? e.message : 'it cannot be unpacked'}.`);
  }
  const text = files['model.pivot.json'];
  if (!text) return refuse('The file holds no model.', 'Open a project file exported here, or a model file.');
  const model = readModel(strFromU8(text));
  const names = new Map<string, string>();
  const geometry = Object.entries(files).flatMap(([name, data]) => {
    const m = GEOMETRY.exec(name),
      g = m && geometryFrom(data);
    if (m && !g) left.push(`geometry ${m[1]!.slice(0, 8)}`);
    if (m && g && g.id !== m[1]) names.set(m[1]!, g.id);
    return g ? [g] : [];
  });
  const runs = Object.keys(files).flatMap((name): PackedRun[] => {
    const m = RUN.exec(name);
    if (m?.[2] !== 'json') return [];
    const raw = files[`runs/${m[1]}.f64`];
    try {
      const head = JSON.parse(strFromU8(files[name]!)) as Omit<PackedRun, 'data'>;
      const own = readModel(JSON.stringify(head.model));
      const mechanism = build(own).mechanism;
      if (!raw || !mechanism) throw new Error();
      const numbers = ['number', 'made', 'until', 'reached', 'records', 'seconds'] as const;
      if (
        !(head.records > 0 ? layoutOfWidth(mechanism, raw.length / 8 / head.records, head.told) : raw.length === 0) ||
        numbers.some((k) => !Number.isFinite(head[k])) ||
        !RUN_STATUSES.includes(head.status)
      )
        throw new Error();
      const { number, made, until, reached, records, status, seconds } = head;
      return [
        {
          number,
          made,
          until,
          reached,
          records,
          status,
          seconds,
          ...said(head),
          ...(head.records > 0 && head.told ? { told: head.told } : {}),
          model: withGeometries(own, names),
          diagnoses: [],
          data: new Float64Array(raw.slice().buffer),
        },
      ];
    } catch {
      left.push(`run ${m[1]}`);
      return [];
    }
  });
  return { model: withGeometries(model, names), runs, geometry, left };
}
