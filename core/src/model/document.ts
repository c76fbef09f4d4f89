/** The model document and its text form. */
import type { UnitSystem } from '../quantity/units';
import type { Diagnosis } from '../diagnosis';
import { FAMILIES, type Family, familyOf } from './families';
import { kindOf, kindsOf } from './kinds';

export const FORMAT = 'vim-pivot-model';
export const VERSION = 1;
/** Of a file that hands kits on. */
export const KITS_FORMAT = 'vim-pivot-kits';

export const AXES_UP = ['x', 'y', 'z'] as const;
export type AxisUp = (typeof AXES_UP)[number];

export type RawValue = number | string | readonly (number | string)[] | readonly (readonly number[])[] | undefined;

/** An element as it stands in the file. */
export interface RawElement {
  name: string;
  kind?: string;
  off?: boolean;
  /** False: mirrors leave it out, though they take what it hangs on. */
  mirrored?: boolean;
  note?: string;
  [field: string]: RawValue | boolean;
}

/** The model that a kit holds. */
export const contentOf = (kit: RawElement): Model => (kit as unknown as { content: Model }).content;

export interface RunSettings {
  /** End time. */
  until: number | string;
  /** Recording interval. */
  every: number | string;
  /** Asked accuracy relative to the motion. */
  accuracy: number | string;
  /** Longest step of the solver in a dynamic run; left out: chosen by the solver. */
  longest?: number | string;
  /** What is computed; left out: the dynamic run. */
  analysis?: string;
  /** Integration method of a dynamic run; left out: chosen by the solver. */
  method?: string;
  /** Whether bodies that their joints hold in a plane are computed in that plane; left out: they are. */
  planar?: string;
}

export type Model = {
  format: typeof FORMAT;
  version: typeof VERSION;
  name: string;
  note?: string;
  /** Ground axis that points up as the machine is drawn; left out: z. */
  up?: AxisUp;
  /** Units in which quantities are shown; left out: millimetre and degree. */
  units?: UnitSystem;
  /** Name of the fixed body. */
  ground: string;
  run: RunSettings;
  /** Scripts kept with the model. */
  scripts?: { name: string; text: string }[];
} & Record<Family, RawElement[]>;

/** A model with every family, those that were left out (or came with a later version) empty. */
export const complete = (model: object): Model => {
  const whole = { ...Object.fromEntries(FAMILIES.map((f) => [f.key, []])), ...model } as unknown as Model;
  return whole.kits.length === 0
    ? whole
    : { ...whole, kits: whole.kits.map((k) => ({ ...k, content: kitContent(k.name, contentOf(k)) }) as unknown as RawElement) };
};

/** The content of a kit as a model of its own. */
export const kitContent = (name: string, content: object): Model =>
  complete({ format: FORMAT, version: VERSION, ground: 'Ground', run: { until: '1 s', every: '1 ms', accuracy: 1e-6 }, ...content, name });

/** Names that stand twice within a family. */
export function nameClashes(model: Model): Diagnosis[] {
  return FAMILIES.flatMap(({ key, one }) => {
    const seen = new Set<string>(key === 'bodies' ? [model.ground] : []);
    return model[key].flatMap((e, i): Diagnosis[] => {
      if (!seen.has(e.name)) {
        seen.add(e.name);
        return [];
      }
      return [
        {
          code: 'name-clash',
          severity: 'error',
          message: `There are two of the name “${e.name}” (${one}).`,
          path: [key, i, 'name'],
          element: { family: key, name: e.name },
          remedy: 'Give one of them another name.',
        },
      ];
    });
  });
}

/** The file text: families and fields in a fixed order, one element a line, so that differences stay small. */
export function writeModel(model: Model): string {
  const line = (e: RawElement, family: Family): string => {
    if (kindOf(family, e)?.holdsModel) return kitLines(e);
    const kind = kindsOf(family).find((k) => k.kind === e.kind) ?? kindsOf(family)[0];
    const order = ['name', 'kind', ...Object.keys(kind?.fields ?? {}), 'off', 'mirrored', 'note'];
    const usual = 'plain' in familyOf(family) && e.kind === kindsOf(family)[0]?.kind;
    const kept = order.filter(
      (k) =>
        e[k] !== undefined && !(k === 'off' && e.off === false) && !(k === 'mirrored' && e.mirrored === true) && !(k === 'kind' && usual),
    );
    return `    { ${kept.map((k) => `${JSON.stringify(k)}: ${spaced(e[k])}`).join(', ')} }`;
  };
  const extra = (key: 'longest' | 'analysis' | 'method' | 'planar') =>
    model.run[key] === undefined ? '' : `, "${key}": ${JSON.stringify(model.run[key])}`;
  const parts = [
    `  "format": ${JSON.stringify(FORMAT)}`,
    `  "version": ${VERSION}`,
    `  "name": ${JSON.stringify(model.name)}`,
    ...(model.note === undefined ? [] : [`  "note": ${JSON.stringify(model.note)}`]),
    `  "ground": ${JSON.stringify(model.ground)}`,
    ...(model.up === undefined ? [] : [`  "up": ${JSON.stringify(model.up)}`]),
    ...(model.units === undefined ? [] : [`  "units": ${JSON.stringify(model.units)}`]),
    `  "run": { "until": ${spaced(model.run.until)}, "every": ${spaced(model.run.every)}, "accuracy": ${spaced(model.run.accuracy)}${extra('longest')}${extra('analysis')}${extra('method')}${extra('planar')} }`,
    ...(model.scripts === undefined || model.scripts.length === 0
      ? []
      : [
          `  "scripts": [\n${model.scripts.map((s) => `    { "name": ${JSON.stringify(s.name)}, "text": ${JSON.stringify(s.text)} }`).join(',\n')}\n  ]`,
        ]),
    ...FAMILIES.filter((f) => model[f.key].length > 0).map(
      (f) => `  "${f.key}": [\n${model[f.key].map((e) => line(e, f.key)).join(',\n')}\n  ]`,
    ),
  ];
  return `{\n${parts.join(',\n')}\n}\n`;
}

/** The text of a file of kits. */
export const writeKits = (kits: readonly RawElement[]): string =>
  `{\n  "format": ${JSON.stringify(KITS_FORMAT)},\n  "version": ${VERSION},\n  "kits": [\n${kits.map(kitLines).join(',\n')}\n  ]\n}\n`;

/** A kit with those that its instances need, itself first. */
export function withNeeded(kits: readonly RawElement[], name: string): RawElement[] {
  const out: RawElement[] = [];
  const take = (n: string) => {
    const kit = kits.find((k) => k.name === n);
    if (!kit || out.includes(kit)) return;
    out.push(kit);
    for (const i of contentOf(kit).instances) if (typeof i.kit === 'string') take(i.kit);
  };
  take(name);
  return out;
}

/** A kit: its name and note, and its families as those of a model, further in. */
function kitLines(e: RawElement): string {
  const inner = writeModel({ ...contentOf(e), kits: [] }).split('\n');
  // without the head, which is that of every kit
  const from = inner.findIndex((l) => FAMILIES.some((f) => l === `  "${f.key}": [`)),
    ground = contentOf(e).ground;
  const body = from < 0 ? [] : inner.slice(from, -2).map((l) => `    ${l}`);
  const head = `    { "name": ${JSON.stringify(e.name)}${e.note === undefined ? '' : `, "note": ${JSON.stringify(e.note)}`}, "content": {`;
  return [
    head,
    ...(ground === 'Ground' ? [] : [`      "ground": ${JSON.stringify(ground)}${body.length > 0 ? ',' : ''}`]),
    ...body,
    '    } }',
  ].join('\n');
}

const spaced = (v: unknown): string => (Array.isArray(v) ? `[${v.map(spaced).join(', ')}]` : JSON.stringify(v));
