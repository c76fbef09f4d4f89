/** Edits that only the Card offers; apart, because the first screen does without them. */
import { type Family, type Model, kindOf } from '@vim-pivot/core/page';
import { edit, select, useDocument } from './document';
import { freeName } from './free-name';

/** A second element with the same fields, and selects it. What hangs on the first stays there. */
export function duplicateElement(family: Family, name: string): void {
  const { model } = useDocument.getState(),
    e = model?.[family].find((x) => x.name === name);
  if (!model || !e) return;
  const copy = freeName(family, name, model);
  edit(
    `Duplicate ${name}`,
    (m) => void m[family].splice(m[family].findIndex((x) => x.name === name) + 1, 0, { ...structuredClone(e), name: copy }),
  );
  select({ family, name: copy });
}

/** Mirrors that bring an image of an element. */
export function imagesOf(model: Model, brought: Partial<Record<Family, string[]>>, family: Family, name: string): string[] {
  const names = new Set(brought[family] ?? []);
  return model.instances.filter((i) => kindOf('instances', i)?.makes === 'mirrored' && names.has(`${i.name}/${name}`)).map((i) => i.name);
}

/** Whether mirrors take an element along. */
export function setMirrored(family: Family, name: string, mirrored: boolean): void {
  edit(mirrored ? `Mirror ${name} too` : `${name} here only`, (m) => {
    const e = m[family].find((x) => x.name === name);
    if (e && mirrored) delete e.mirrored;
    else if (e) e.mirrored = false;
  });
}
