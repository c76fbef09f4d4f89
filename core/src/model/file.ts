/** Reading a model file: schema from the declarations, every fault with its place and reason. */
import * as z from 'zod';
import { type Diagnosis, Refusal, jsonPath } from '../diagnosis';
import { UNIT_SYSTEMS, type UnitSystem } from '../quantity/units';
import { ANALYSIS_NAMES, METHOD_NAMES, PLANAR_NAMES } from './run-settings';
import { AXES_UP, FORMAT, KITS_FORMAT, type Model, type RawElement, VERSION, complete, contentOf, nameClashes } from './document';
import { FAMILIES, type Family } from './families';
import type { Field } from './fields';
import { kindsOf } from './kinds';
import { MIGRATIONS } from './migrations';

const LONGEST_NAME = 80;
const MOST_ELEMENTS = 200_000;
const COLOUR = /^#[0-9a-fA-F]{6}$/;
const number = z.number();
/** Characters of a picture on a sheet: some 750 kB. */
const LARGEST_PICTURE = 1_000_000;
const quantityValue = z.union([number, z.string().max(2000)]);
// Names appear in pictures, files and messages: no control characters, no markup brackets, no quotes.
const nameValue = z
  .string()
  .trim()
  .min(1)
  .max(LONGEST_NAME)
  .regex(/^[^\p{C}<>"“”]*$/u, 'A name has no control characters, quotes or angle brackets.');

function valueSchema(f: Field): z.ZodType {
  switch (f.type) {
    case 'quantity':
      return quantityValue;
    case 'vector':
      return z.tuple([quantityValue, quantityValue, quantityValue]);
    case 'ref':
      return nameValue;
    case 'refs':
      return z.array(nameValue).min(f.min).max(f.max);
    case 'choice':
      return z.enum(Object.keys(f.options) as [string, ...string[]]);
    case 'text':
      return f.picture
        ? z
            .string()
            .max(LARGEST_PICTURE)
            .regex(/^(data:image\/(png|jpeg|webp);base64,[A-Za-z0-9+/=]*)?$/, 'A picture is a data address of a PNG, JPEG or WebP.')
        : z.string().max(200);
    case 'assigned':
      return z.string().max(4000);
    case 'colour':
      return z.string().regex(COLOUR, 'A colour is written #rrggbb.');
    case 'grid':
      return z.array(z.array(number).length(f.columns)).min(f.min).max(f.max);
  }
}

const mayBeLeftOut = (f: Field): boolean => !!f.optional || !!f.when || ('default' in f && f.default !== undefined);

function elementSchema(family: Family): z.ZodType {
  const kinds = kindsOf(family);
  const variants = kinds.map((k) =>
    z
      .strictObject({
        name: nameValue,
        ...(kinds.length > 1 ? { kind: z.literal(k.kind) } : {}),
        ...Object.fromEntries(
          Object.entries(k.fields).map(([key, f]) => {
            const s = valueSchema(f).describe(f.help);
            return [key, mayBeLeftOut(f) ? s.optional() : s];
          }),
        ),
        ...(k.holdsModel
          ? { content: z.strictObject({ ground: nameValue.optional(), ...familySchemas(FAMILIES.filter((f) => f.key !== family)) }) }
          : {}),
        off: z.boolean().optional(),
        mirrored: z.boolean().optional(),
        note: z.string().max(20_000).optional(),
      })
      .describe(k.help),
  );
  return variants.length === 1 ? variants[0]! : z.discriminatedUnion('kind', variants as never);
}

let cached: z.ZodType | undefined;

/** The schema of a model file of the present version. */
export function modelSchema(): z.ZodType {
  cached ??= z.strictObject({
    format: z.literal(FORMAT),
    version: z.literal(VERSION),
    name: nameValue,
    note: z.string().max(20_000).optional(),
    ground: nameValue.default('Ground'),
    up: z.enum(AXES_UP).optional(),
    units: z.enum(Object.keys(UNIT_SYSTEMS) as [UnitSystem, ...UnitSystem[]]).optional(),
    run: z
      .strictObject({
        until: quantityValue.default('1 s'),
        every: quantityValue.default('1 ms'),
        accuracy: quantityValue.default(1e-6),
        longest: quantityValue.optional(),
        analysis: z.enum(ANALYSIS_NAMES).optional(),
        method: z.enum(METHOD_NAMES).optional(),
        planar: z.enum(PLANAR_NAMES).optional(),
      })
      .prefault({}),
    scripts: z
      .array(z.strictObject({ name: nameValue, text: z.string().max(200_000) }))
      .max(200)
      .optional(),
    ...familySchemas(FAMILIES),
  });
  return cached;
}

const families = new Map<Family, z.ZodType>();
function familySchemas(list: readonly { key: Family }[]): Record<string, z.ZodType> {
  return Object.fromEntries(
    list.map(({ key }) => {
      const known = families.get(key) ?? z.array(elementSchema(key)).max(MOST_ELEMENTS).default([]);
      families.set(key, known);
      return [key, known];
    }),
  );
}

/** JSON Schema of the model file (2020-12). */
export function modelJsonSchema(): object {
  const schema = z.toJSONSchema(modelSchema(), { io: 'input' }) as {
    properties: Record<string, { items: { oneOf?: { required: string[] }[]; anyOf?: { required: string[] }[] } }>;
  };
  for (const f of FAMILIES) {
    if (!('plain' in f)) continue;
    const first = (schema.properties[f.key]!.items.oneOf ?? schema.properties[f.key]!.items.anyOf)?.[0];
    if (first) first.required = first.required.filter((r) => r !== 'kind');
  }
  // the families of a kit are those of the model
  const kit = schema.properties.kits as unknown as { items: { properties: { content: { properties: Record<string, object> } } } };
  for (const f of FAMILIES) if (f.key !== 'kits') kit.items.properties.content.properties[f.key] = { $ref: `#/properties/${f.key}` };
  return schema;
}

/** Largest model file that is read, bytes. */
export const LARGEST_MODEL = 64e6;
/** A number of bytes in words. */
export const megabytes = (bytes: number): string => `${Math.round(bytes / 1e6)} MB`;

/**
 * Reads a model file.
 * @throws Refusal that says where in the file and why; nothing is guessed
 */
export function readModel(text: string): Model {
  const refuseFile = (code: string, message: string, remedy?: string): never => {
    throw new Refusal([{ code, severity: 'error', message, path: [], ...(remedy ? { remedy } : {}) }]);
  };
  if (text.length > LARGEST_MODEL)
    return refuseFile(
      'file-large',
      `The model file is larger than ${megabytes(LARGEST_MODEL)}.`,
      'Geometry from files belongs into a project file, not into the model.',
    );
  let raw: unknown;
  try {
    raw = JSON.parse(text);
  } catch (e) {
    return refuseFile('file-not-json', `This is not a model file: ${jsonFault(text, e)}.`);
  }
  if (typeof raw !== 'object' || raw === null || Array.isArray(raw))
    return refuseFile('file-not-model', 'This is not a model file: it holds no object.');
  const head = raw as Record<string, unknown>;
  if (head.format !== FORMAT) return refuseFile('file-not-model', `This is not a model file: “format” is not “${FORMAT}”.`);
  if (typeof head.version !== 'number' || !Number.isInteger(head.version) || head.version < 1 || head.version > VERSION) {
    return refuseFile(
      'file-version',
      `The file has version ${JSON.stringify(head.version)}; this program reads versions 1 to ${VERSION}.`,
      'Open it with a newer program, or save it in an older version there.',
    );
  }
  return checkModel(MIGRATIONS.slice(head.version - 1).reduce((m, step) => step(m), head));
}

/** Kits within kits that are read. */
const MOST_NESTED = 20;
const nested = (raw: unknown, depth = 0): boolean => {
  const kits = (raw as { kits?: unknown } | null)?.kits;
  return depth > MOST_NESTED || (Array.isArray(kits) && kits.some((k) => nested((k as { content?: unknown } | null)?.content, depth + 1)));
};
const tooDeep = (): never => {
  throw new Refusal([
    {
      code: 'file-nested',
      severity: 'error',
      message: `The file nests its content too deep: kits within kits are read ${MOST_NESTED} deep.`,
      path: [],
    },
  ]);
};

/** Checks a parsed document against the schema and for unique names. @throws Refusal */
export function checkModel(raw: unknown): Model {
  if (nested(raw)) tooDeep();
  try {
    return checked(raw);
  } catch (e) {
    // the stack ends in lists within lists
    if (e instanceof RangeError) return tooDeep();
    throw e;
  }
}

function checked(raw: unknown): Model {
  const result = modelSchema().safeParse(withPlainKinds(raw));
  if (!result.success) throw new Refusal(result.error.issues.flatMap((i) => fromIssue(i, raw)).slice(0, 50));
  const model = complete(withoutPlainKinds(result.data as Record<string, unknown>));
  const clashes = [...nameClashes(model), ...model.kits.flatMap((k) => nameClashes(contentOf(k)))];
  if (clashes.length) throw new Refusal(clashes);
  return model;
}

/** The first kind of a plain family is written and kept without its name. */
function withoutPlainKinds(file: Record<string, unknown>): Record<string, unknown> {
  const out = { ...file };
  for (const f of FAMILIES) {
    const list = out[f.key] as RawElement[] | undefined;
    if (!('plain' in f) || !list) continue;
    out[f.key] = list.map((e) => {
      if (e.kind !== kindsOf(f.key)[0]!.kind) return e;
      return Object.fromEntries(Object.entries(e).filter(([key]) => key !== 'kind'));
    });
  }
  if (Array.isArray(out.kits))
    out.kits = out.kits.map((k: Record<string, unknown>) => ({ ...k, content: withoutPlainKinds(k.content as Record<string, unknown>) }));
  return out;
}

/** In memory the content of a kit is a model; its head is that of every kit, and is not written. */
function headless(content: unknown): unknown {
  if (typeof content !== 'object' || content === null || (content as Record<string, unknown>).format !== FORMAT) return content;
  const head = ['format', 'version', 'run', 'name'];
  return Object.fromEntries(
    Object.entries(content).filter(([key, v]) => !head.includes(key) && !(key === 'kits' && Array.isArray(v) && v.length === 0)),
  );
}

/** Elements of plain families that name no kind are of the first kind. */
function withPlainKinds(raw: unknown): unknown {
  if (typeof raw !== 'object' || raw === null) return raw;
  const out: Record<string, unknown> = { ...raw };
  for (const f of FAMILIES) {
    const list = out[f.key];
    if (!('plain' in f) || !Array.isArray(list)) continue;
    out[f.key] = list.map((e: unknown) =>
      typeof e === 'object' && e !== null && !('kind' in e) ? { ...e, kind: kindsOf(f.key)[0]!.kind } : e,
    );
  }
  if (Array.isArray(out.kits))
    out.kits = out.kits.map((k: unknown) =>
      typeof k === 'object' && k !== null && 'content' in k ? { ...k, content: headless(withPlainKinds(k.content)) } : k,
    );
  return out;
}

function fromIssue(issue: z.core.$ZodIssue, raw: unknown): Diagnosis[] {
  const path = issue.path as (string | number)[];
  const at = path.reduce<unknown>((v, k) => (v as Record<string | number, unknown> | undefined)?.[k], raw);
  const family = FAMILIES.find((f) => f.key === path[0]);
  const element = family && typeof path[1] === 'number' ? (raw as Record<string, RawElement[]>)[family.key]?.[path[1]] : undefined;
  const name = typeof element?.name === 'string' ? element.name : undefined;
  return [
    {
      code: 'file-content',
      severity: 'error',
      message: sentence(issue, at, family?.one, path),
      path,
      ...(family && name ? { element: { family: family.key, name } } : {}),
    },
  ];
}

function sentence(issue: z.core.$ZodIssue, at: unknown, one: string | undefined, path: (string | number)[]): string {
  const last = path.at(-1);
  const field = typeof last === 'string' ? `“${last}”` : `value ${jsonPath(path)}`;
  if (issue.code === 'unrecognized_keys') return `A ${one ?? 'model'} has no field ${issue.keys.map((k) => `“${k}”`).join(', ')}.`;
  if (issue.code === 'invalid_union' && last === 'kind') return `There is no kind of ${one} called ${JSON.stringify(at)}.`;
  if (at === undefined) return `The field ${field} is missing.`;
  const given = shortened(at),
    count = Array.isArray(at) ? 'entries' : 'characters';
  switch (issue.code) {
    case 'invalid_union':
      return `${field} must be a number (SI units) or a formula in quotes, not ${given}.`;
    case 'invalid_type':
      return `${field} must be ${TYPES[issue.expected] ?? 'of another type'}, not ${given}.`;
    case 'invalid_value':
      return `${field} can be ${issue.values.map((v) => String(v)).join(', ')}, not ${given}.`;
    case 'too_small':
      return Array.isArray(at) || typeof at === 'string'
        ? `${field} needs at least ${issue.minimum} ${count}${Array.isArray(at) ? `, and has ${at.length}` : ''}.`
        : `${field} must be at least ${issue.minimum}.`;
    case 'too_big':
      return Array.isArray(at) || typeof at === 'string'
        ? `${field} may have ${issue.maximum} ${count} at most, and has ${at.length}.`
        : `${field} may be ${issue.maximum} at most.`;
    // patterns come with a sentence of our own
    case 'invalid_format':
      return `${field}: ${issue.message}`;
    default:
      return `${field} cannot be ${given}.`;
  }
}

const TYPES: Readonly<Record<string, string>> = {
  string: 'a text',
  number: 'a number',
  boolean: 'true or false',
  array: 'a list',
  tuple: 'a list of three values',
  object: 'an object',
  record: 'an object',
};
const shortened = (x: unknown): string => {
  const text = JSON.stringify(x) ?? String(x);
  return text.length <= 60 ? text : `${text.slice(0, 50)}… (${text.length} characters)`;
};

/** Where a text stops being JSON, in words. */
function jsonFault(text: string, error: unknown): string {
  const at = Number(/position (\d+)/.exec(error instanceof Error ? error.message : '')?.[1] ?? NaN);
  if (text.trim() === '') return 'it is empty';
  if (!(at < text.length)) return 'it is no JSON, or ends in the middle';
  const before = text.slice(0, at).split('\n');
  return `it stops being JSON at line ${before.length}, character ${before.at(-1)!.length + 1}`;
}

/** A model with nothing in it. */
export const emptyModel = (name: string): Model => checkModel({ format: FORMAT, version: VERSION, name });

/**
 * Reads a file of kits: the kits it is about, and those they need.
 * @throws Refusal as for a model file
 */
export function readKits(text: string): RawElement[] {
  let raw: unknown;
  try {
    raw = JSON.parse(text);
  } catch (e) {
    throw new Refusal([
      { code: 'file-not-json', severity: 'error', message: `This is not a file of kits: ${jsonFault(text, e)}.`, path: [] },
    ]);
  }
  const { format, version, kits, ...more } = (typeof raw === 'object' && raw !== null ? raw : {}) as Record<string, unknown>;
  if (format !== KITS_FORMAT || version !== VERSION || Object.keys(more).length > 0)
    throw new Refusal([
      {
        code: 'file-not-kits',
        severity: 'error',
        message: `This is not a file of kits: it needs “format”: “${KITS_FORMAT}”, “version”: ${VERSION} and “kits”, and nothing else.`,
        path: [],
      },
    ]);
  return checkModel({ format: FORMAT, version: VERSION, name: 'Kits', kits }).kits;
}
