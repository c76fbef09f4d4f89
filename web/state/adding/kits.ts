/** Kits of the project and of the library that all projects share. */
import {
  type Family,
  type Model,
  type RawElement,
  Refusal,
  contentOf,
  kindOf,
  kitContent,
  readAssigned,
  withNeeded,
  writeAssigned,
  writeKits,
} from '@vim-pivot/core/page';
import { modelWorker } from '../../workers/client';
import { type KitRow, db } from '../kept/db';
import { type Selected, edit, openKit, replace, select, useDocument } from '../document/document';
import { freeName } from '../document/elements';
import { keeping } from '../kept/storage';

/** Runs what may be refused. @returns why not */
async function tried(action: () => Promise<void>): Promise<string | undefined> {
  try {
    await action();
    return undefined;
  } catch (e) {
    if (!(e instanceof Refusal)) throw e;
    return `${e.message} ${e.diagnoses[0]?.remedy ?? ''}`.trim();
  }
}

/** The model must still be the one the worker was given. */
function takeOver(label: string, before: Model, after: Model, then: Selected): void {
  if (useDocument.getState().model !== before)
    throw new Refusal([{ code: 'changed', severity: 'error', message: 'The model was changed meanwhile; nothing was done.' }]);
  replace(label, () => after);
  select(then);
}

/** Makes a kit of what is picked, with an instance in its place; as a row or ring when told how. */
export const makeKit = (
  picked: readonly Selected[],
  name: string,
  how?: (instance: RawElement) => RawElement,
): Promise<string | undefined> =>
  tried(async () => {
    const { model } = useDocument.getState();
    if (!model) return;
    const { model: made } = await modelWorker().ask({ type: 'kit-of', model, picked: [...picked], name }, 'made');
    const next = how ? { ...made, instances: made.instances.map((i) => (i.name === name ? how(i) : i)) } : made;
    takeOver(`Kit ${name}`, model, next, { family: 'instances', name });
  });

export const makeIndependent = (name: string): Promise<string | undefined> =>
  tried(async () => {
    const { model } = useDocument.getState();
    if (!model) return;
    const { model: made } = await modelWorker().ask({ type: 'independent', model, name }, 'made');
    if (useDocument.getState().model !== model) return;
    replace(`Make ${name} independent`, () => made);
    select(undefined);
  });

/** A live mirror of what is picked. */
export function mirrorLive(picked: readonly Selected[], axis: 0 | 1 | 2, at: number): void {
  const { model } = useDocument.getState();
  if (!model) return;
  const names = (family: Family) => picked.filter((p) => p.family === family).map((p) => p.name);
  const name = freeName('instances', `${picked[0]?.name ?? 'Mirror'} mirrored`, model);
  const unit = (k: number, v: number | string) => [0, 1, 2].map((i) => (i === k ? v : 0));
  edit(`Mirror ${picked.map((p) => p.name).join(', ')}`, (m) => {
    m.instances.push({
      name,
      kind: 'mirror',
      ...(names('instances').length > 0 ? { of: names('instances') } : {}),
      ...(names('bodies').length > 0 ? { bodies: names('bodies') } : {}),
      ...(at === 0 ? {} : { at: unit(axis, at) }),
      normal: unit(axis, 1),
    });
  });
  select({ family: 'instances', name });
}

/** Puts a further instance of a kit into what is worked on. */
export function putIn(kit: string): void {
  const { model } = useDocument.getState();
  if (!model) return;
  const name = freeName('instances', `${kit} 1`.replace(/[/;=]/g, ' '), model);
  edit(`Put in ${kit}`, (m) => void m.instances.push({ name, kind: 'single', kit }));
  select({ family: 'instances', name });
}

export function newKit(): void {
  const { model } = useDocument.getState();
  if (!model) return;
  const name = freeName('kits', 'Kit', model);
  edit(
    `Add ${name}`,
    (m) => void m.kits.push({ name, content: kitContent(name, { bodies: [{ name: 'Mount', kind: 'mount' }] }) } as unknown as RawElement),
  );
  openKit(name);
}

/** What an instance can be given: its kit's parameters with what they are there, and its mounts. */
export function askedOf(model: Model, instance: RawElement): { parameters: { name: string; usual: string }[]; mounts: string[] } {
  const kit = model.kits.find((k) => k.name === instance.kit),
    content = kit && contentOf(kit);
  return {
    parameters: content?.parameters.map((p) => ({ name: p.name, usual: String(p.value ?? '') })) ?? [],
    mounts: content?.bodies.filter((b) => kindOf('bodies', b)?.standsIn).map((b) => b.name) ?? [],
  };
}

/** One of the values or mounts of an instance, empty when it is as in the kit. */
export function givenTo(instance: RawElement, field: 'values' | 'on', name: string): string {
  try {
    return readAssigned(instance[field] as string | undefined).get(name) ?? '';
  } catch {
    return '';
  }
}
export function give(instance: string, field: 'values' | 'on', name: string, value: string): void {
  edit(`${name} of ${instance}`, (m) => {
    const e = m.instances.find((i) => i.name === instance);
    if (!e) return;
    let known: Map<string, string>;
    try {
      known = readAssigned(e[field] as string | undefined);
    } catch {
      known = new Map();
    }
    if (value.trim() === '') known.delete(name);
    else known.set(name, value.trim().replaceAll(';', ','));
    if (known.size > 0) e[field] = writeAssigned(known);
    else e[field] = undefined;
  });
}

/** How many instances follow a kit, those within other kits included once. */
export const instancesOf = (model: Model, kit: string): number =>
  [model, ...model.kits.map(contentOf)].reduce((n, m) => n + m.instances.filter((i) => i.kit === kit).length, 0);

// The library.

export const library = (): Promise<KitRow[]> => db.kits.orderBy('name').toArray();
export async function keepInLibrary(name: string): Promise<void> {
  const { whole } = useDocument.getState();
  if (whole) await keeping('The kit', () => db.kits.put({ name, changed: Date.now(), kits: withNeeded(whole.kits, name) }));
}
export const dropFromLibrary = (name: string): Promise<void> => db.kits.delete(name);
export const kitFile = (kits: readonly RawElement[]): string => writeKits(kits);

/** Adds kits to the project, as one undo step; one that is there already under its name and differs gets another name, within the kits that need it too. */
export async function takeKits(kits: readonly RawElement[]): Promise<void> {
  const { model } = useDocument.getState();
  if (!model || kits.length === 0) return;
  const same = (k: RawElement) =>
    model.kits.some((x) => x.name === k.name && JSON.stringify(contentOf(x)) === JSON.stringify(contentOf(k)));
  const fresh = kits.filter((k) => !same(k));
  const names = new Map<string, string>();
  for (const k of fresh) {
    let name = k.name;
    for (let n = 2; model.kits.some((x) => x.name === name) || [...names.values()].includes(name); n++) name = `${k.name} ${n}`;
    names.set(k.name, name);
  }
  edit(`Take in ${kits[0]!.name}`, (m) => {
    for (const k of fresh) {
      const content = contentOf(k);
      const instances = content.instances.map((i) =>
        typeof i.kit === 'string' && names.has(i.kit) ? { ...i, kit: names.get(i.kit)! } : i,
      );
      m.kits.push({
        ...k,
        name: names.get(k.name)!,
        content: { ...content, name: names.get(k.name)!, instances },
      } as unknown as RawElement);
    }
  });
  select({ family: 'kits', name: names.get(kits[0]!.name) ?? kits[0]!.name });
}
