/** Scripts: run in a sandbox, their outcome checked as a file would be and taken over as one undo step; and what was done by hand, as script lines. */
import { applyPatches } from 'immer';
import { FAMILIES, type Model, geometriesOf, type RawElement, Refusal, fixed } from '@vim-pivot/core/page';
import { parseModel } from '../workers/client';
import type { ScriptReply, ScriptRequest } from '../workers/script.worker';
import { db } from './kept/db';
import { replaceWhole, useDocument } from './document/document';

/** The page stops a script that has not come back by then, ms. */
const LONGEST = 90_000;

export interface Outcome {
  ok: boolean;
  message: string;
  line?: number;
  log: string[];
}

let worker: Worker | undefined;
let giveUp: ((message: string) => void) | undefined;

/** Stops the script that is running. */
export const stopScript = (): void => giveUp?.('It was stopped.');

export async function runScript(name: string, text: string): Promise<Outcome> {
  const { whole: model, id } = useDocument.getState();
  if (!model || worker) return { ok: false, message: 'A script is running already.', log: [] };
  const geometry = (await db.geometries.bulkGet(geometriesOf(model))).flatMap((g) =>
    g ? [{ name: g.id, positions: g.positions, indices: g.indices }] : [],
  );
  const reply = await new Promise<ScriptReply>((resolve) => {
    const fail = (message: string) => resolve({ type: 'failed', message, line: undefined, log: [] });
    giveUp = fail;
    worker = new Worker(`/engine/script.js?v=${process.env.ENGINE_VERSION}`, { type: 'module' });
    const timer = setTimeout(() => fail(`It was stopped after ${LONGEST / 1000} s.`), LONGEST);
    worker.onerror = (e) => fail(e.message || 'The sandbox failed.');
    worker.onmessage = ({ data }: MessageEvent<ScriptReply>) => {
      clearTimeout(timer);
      resolve(data);
    };
    worker.postMessage({ text, model, geometry } satisfies ScriptRequest);
  });
  (worker as Worker | undefined)?.terminate();
  worker = giveUp = undefined;
  if (reply.type === 'failed') return { ok: false, message: reply.message, ...(reply.line ? { line: reply.line } : {}), log: reply.log };
  try {
    const { model: next } = await parseModel(JSON.stringify(reply.model));
    const now = useDocument.getState();
    if (now.whole !== model || now.id !== id)
      return { ok: false, message: 'The model was changed meanwhile; nothing was taken over.', log: reply.log };
    const said = difference(model, next).length;
    if (said > 0) replaceWhole(`Script ${name}`, () => ({ ...next, ...(model.scripts ? { scripts: model.scripts } : {}) }));
    return {
      ok: true,
      message:
        said === 0
          ? `Done in ${fixed(reply.seconds, 2)} s; it changed nothing.`
          : `Done in ${fixed(reply.seconds, 2)} s: ${said} change${said === 1 ? '' : 's'}, one undo step.`,
      log: reply.log,
    };
  } catch (e) {
    if (!(e instanceof Refusal)) throw e;
    return {
      ok: false,
      message: `What it made is no model: ${e.diagnoses
        .slice(0, 3)
        .map((d) => `${d.element ? `${d.element.name}: ` : ''}${d.message}`)
        .join(' ')}`,
      log: reply.log,
    };
  }
}

/** Keeps a script with the project. */
export function keepScript(name: string, text: string): void {
  replaceWhole(`Script ${name}`, (m) => {
    const list = (m.scripts ??= []);
    const known = list.find((s) => s.name === name);
    if (known) known.text = text;
    else list.push({ name, text });
  });
}
export function dropScript(name: string): void {
  replaceWhole(`Delete script ${name}`, (m) => {
    m.scripts = m.scripts?.filter((s) => s.name !== name);
    if (m.scripts?.length === 0) delete m.scripts;
  });
}

const written = (v: unknown) => JSON.stringify(v);
/** What leads from one model to another, as script lines. */
export function difference(before: Model, after: Model): string[] {
  return FAMILIES.flatMap(({ key }): string[] => {
    if (before[key] === after[key]) return [];
    const old = new Map(before[key].map((e) => [e.name, e])),
      now = new Map(after[key].map((e) => [e.name, e]));
    const fields = (a: RawElement, b: RawElement) =>
      Object.fromEntries(
        [...new Set([...Object.keys(a), ...Object.keys(b)])].filter((k) => written(a[k]) !== written(b[k])).map((k) => [k, b[k] ?? null]),
      );
    return [
      ...[...old.keys()].filter((n) => !now.has(n)).map((n) => `pivot.remove(${written(key)}, ${written(n)});`),
      ...[...now.values()].flatMap((e) => {
        const was = old.get(e.name);
        if (!was) return [`pivot.add(${written(key)}, ${written(e)});`];
        const changed = fields(was, e);
        return Object.keys(changed).length > 0 ? [`pivot.set(${written(key)}, ${written(e.name)}, ${written(changed)});`] : [];
      }),
    ];
  });
}

/** The last edits of this session as script lines, the latest last. */
export function recentLines(most = 30): string {
  const { whole: model, past } = useDocument.getState();
  if (!model) return '';
  const steps: string[] = [];
  let now = model;
  for (const change of past.slice(-most).reverse()) {
    const before = applyPatches(now, change.back);
    steps.unshift([`// ${change.label}`, ...difference(before, now)].join('\n'));
    now = before;
  }
  return steps.join('\n');
}
