/** The model document and its text form. */
import type { Diagnosis } from '../diagnosis';
import { FAMILIES, type Family } from './families';
import { kindsOf } from './kinds';

export const FORMAT = 'vim-pivot-model';
export const VERSION = 1;

export const AXES_UP = ['x', 'y', 'z'] as const;
export type AxisUp = (typeof AXES_UP)[number];

export type RawValue = number | string | readonly (number | string)[] | readonly (readonly number[])[] | undefined;

/** An element as it stands in the file. */
export interface RawElement {
  name: string;
  kind?: string;
  off?: boolean;
  note?: string;
  [field: string]: RawValue | boolean;
}

export interface RunSettings {
  /** End time. */
  until: number | string;
  /** Recording interval. */
  every: number | string;
  /** Asked accuracy relative to the motion. */
  accuracy: number | string;
  /** What is computed; left out: the dynamic run. */
  analysis?: string;
  /** Integration method of a dynamic run; left out: chosen by the solver. */
  method?: string;
}

export type Model = {
  format: typeof FORMAT;
  version: typeof VERSION;
  name: string;
  note?: string;
  /** Ground axis that points up as the machine is drawn; left out: z. */
  up?: AxisUp;
  /** Name of the fixed body. */
  ground: string;
  run: RunSettings;
  /** Scripts kept with the model. */
  scripts?: { name: string; text: string }[];
} & Record<Family, RawElement[]>;

/** A model with every family, those that were left out (or came with a later version) empty. */
export const complete = (model: object): Model => ({ ...Object.fromEntries(FAMILIES.map((f) => [f.key, []])), ...model }) as unknown as Model;

/** Names that stand twice within a family. */
export function nameClashes(model: Model): Diagnosis[] {
  return FAMILIES.flatMap(({ key, one }) => {
    const seen = new Set<string>(key === 'bodies' ? [model.ground] : []);
    return model[key].flatMap((e, i): Diagnosis[] => {
      if (!seen.has(e.name)) {
        seen.add(e.name);
        return [];
      }
      return [{ code: 'name-clash', severity: 'error', message: `There are two of the name “${e.name}” (${one}).`, path: [key, i, 'name'], element: { family: key, name: e.name }, remedy: 'Give one of them another name.' }];
    });
  });
}

/** The file text: families and fields in a fixed order, one element a line, so that differences stay small. */
export function writeModel(model: Model): string {
  const line = (e: RawElement, family: Family) => {
    const kind = kindsOf(family).find((k) => k.kind === e.kind) ?? kindsOf(family)[0];
    const order = ['name', 'kind', ...Object.keys(kind?.fields ?? {}), 'off', 'note'];
    const kept = order.filter((k) => e[k] !== undefined && !(k === 'off' && e.off === false));
    return `    { ${kept.map((k) => `${JSON.stringify(k)}: ${spaced(e[k])}`).join(', ')} }`;
  };
  const extra = (key: 'analysis' | 'method') => (model.run[key] === undefined ? '' : `, "${key}": ${JSON.stringify(model.run[key])}`);
  const parts = [
    `  "format": ${JSON.stringify(FORMAT)}`,
    `  "version": ${VERSION}`,
    `  "name": ${JSON.stringify(model.name)}`,
    ...(model.note === undefined ? [] : [`  "note": ${JSON.stringify(model.note)}`]),
    `  "ground": ${JSON.stringify(model.ground)}`,
    ...(model.up === undefined ? [] : [`  "up": ${JSON.stringify(model.up)}`]),
    `  "run": { "until": ${spaced(model.run.until)}, "every": ${spaced(model.run.every)}, "accuracy": ${spaced(model.run.accuracy)}${extra('analysis')}${extra('method')} }`,
    ...(model.scripts === undefined || model.scripts.length === 0 ? [] : [`  "scripts": [\n${model.scripts.map((s) => `    { "name": ${JSON.stringify(s.name)}, "text": ${JSON.stringify(s.text)} }`).join(',\n')}\n  ]`]),
    ...FAMILIES.filter((f) => model[f.key].length > 0).map((f) => `  "${f.key}": [\n${model[f.key].map((e) => line(e, f.key)).join(',\n')}\n  ]`),
  ];
  return `{\n${parts.join(',\n')}\n}\n`;
}

const spaced = (v: unknown): string => (Array.isArray(v) ? `[${v.map(spaced).join(', ')}]` : JSON.stringify(v));
