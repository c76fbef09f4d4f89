/**
 * Runs a user's script in a JavaScript engine of its own (QuickJS, compiled), which knows nothing of the page, the network or the store: it sees a
 * copy of the model and gives a changed copy back. Time and memory are limited; the page stops the worker when even that does not help.
 */
import variant from '@jitl/quickjs-singlefile-browser-release-sync';
import { type QuickJSHandle, newQuickJSWASMModuleFromVariant, shouldInterruptAfterDeadline } from 'quickjs-emscripten-core';
import { FAMILIES, type Model, Refusal, kindsOf, provideGeometry, runModel } from '@vim-pivot/core';

export interface ScriptRequest {
  text: string;
  model: Model;
  geometry: { name: string; positions: Float32Array; indices: Uint32Array }[];
}
export type ScriptReply =
  | { type: 'done'; model: Model; log: string[]; seconds: number }
  | { type: 'failed'; message: string; line: number | undefined; log: string[] };

/** Limits of a script: seconds of its own work, bytes, lines of its log. */
const SECONDS = 10;
const MEMORY = 128e6;
const LINES = 500;

/** The interface a script is given; documented in docs/scripts.md. */
const PRELUDE = `
const __model = JSON.parse(__given());
const __kinds = JSON.parse(__families());
const __family = (f) => { if (!(f in __kinds)) throw new Error('There is no family ' + f + '. Families: ' + Object.keys(__kinds).join(', ') + '.'); return __model[f]; };
const __found = (f, name) => { const e = __family(f).find((x) => x.name === name); if (!e) throw new Error('There is no ' + name + ' among the ' + f + '.'); return e; };
const __copy = (x) => JSON.parse(JSON.stringify(x));
const pivot = Object.freeze({
  families: () => Object.keys(__kinds),
  kinds: (f) => { __family(f); return __copy(__kinds[f]); },
  all: (f) => __copy(__family(f)),
  has: (f, name) => __family(f).some((x) => x.name === name),
  get: (f, name) => __copy(__found(f, name)),
  add: (f, e) => { if (!e || typeof e.name !== 'string' || e.name === '') throw new Error('An element needs a name.'); if (__family(f).some((x) => x.name === e.name)) throw new Error('There is already ' + e.name + ' among the ' + f + '.'); __family(f).push(__copy(e)); return e.name; },
  set: (f, name, fields) => { const e = __found(f, name); for (const [k, v] of Object.entries(fields)) { if (v === undefined || v === null) delete e[k]; else e[k] = __copy(v); } return name; },
  remove: (f, name) => { const i = __family(f).indexOf(__found(f, name)); __model[f].splice(i, 1); },
  ground: () => __model.ground,
  run: (options = {}) => JSON.parse(__run(JSON.stringify(__model), JSON.stringify(options))),
});
const log = (...x) => __log(x.map((v) => (typeof v === 'string' ? v : JSON.stringify(v))).join(' '));
`;

self.onmessage = ({ data }: MessageEvent<ScriptRequest>): void =>
  void work(data)
    .catch((e: unknown): ScriptReply => ({
      type: 'failed',
      message: e instanceof Error ? e.message : 'The sandbox failed.',
      line: undefined,
      log: [],
    }))
    .then((r) => self.postMessage(r));

async function work({ text, model, geometry }: ScriptRequest): Promise<ScriptReply> {
  const log: string[] = [];
  const began = performance.now();
  for (const g of geometry) provideGeometry(g.name, g.positions, g.indices);
  const runtime = (await newQuickJSWASMModuleFromVariant(variant)).newRuntime();
  runtime.setMemoryLimit(MEMORY);
  runtime.setMaxStackSize(512 * 1024);
  let deadline = Date.now() + 1000 * SECONDS;
  runtime.setInterruptHandler(() => shouldInterruptAfterDeadline(deadline)(runtime));
  const vm = runtime.newContext();
  const give = (name: string, act: (...a: string[]) => string | undefined) => {
    const fn = vm.newFunction(name, (...args: QuickJSHandle[]) => {
      try {
        const out = act(...args.map((a) => vm.getString(a)));
        return out === undefined ? vm.undefined : vm.newString(out);
      } catch (e) {
        return { error: vm.newError(e instanceof Error ? e.message : String(e)) };
      }
    });
    vm.setProp(vm.global, name, fn);
    fn.dispose();
  };
  give('__given', () => JSON.stringify(model));
  give('__families', () => JSON.stringify(Object.fromEntries(FAMILIES.map((f) => [f.key, kindsOf(f.key).map((k) => k.kind)]))));
  give('__log', (line) => {
    if (log.length < LINES) log.push(line!.slice(0, 2000));
    return undefined;
  });
  give('__run', (now, options) => {
    const from = Date.now();
    try {
      const { until, every } = JSON.parse(options!) as { until?: number; every?: number };
      const m = JSON.parse(now!) as Model;
      const run = runModel(m, { ...(until ? { until } : {}), ...(every ? { every } : {}) });
      return JSON.stringify({
        status: run.end.status,
        time: Array.from(run.time),
        gauges: Object.fromEntries(m.gauges.filter((g) => !g.off).map((g) => [g.name, Array.from(run.gauge(g.name))])),
      });
    } catch (e) {
      if (e instanceof Refusal)
        throw new Error(
          e.diagnoses
            .map((d) => `${d.element ? `${d.element.name}: ` : ''}${d.message}`)
            .slice(0, 3)
            .join(' '),
        );
      throw e;
    } finally {
      // the solver's time is not the script's
      deadline += Date.now() - from;
    }
  });
  const offset = PRELUDE.split('\n').length - 1;
  try {
    const result = vm.evalCode(`${PRELUDE}${text}\n;JSON.stringify(__model)`, 'script.js');
    if (result.error) {
      const e = vm.dump(result.error) as { message?: string; stack?: string } | string;
      result.error.dispose();
      const message = typeof e === 'string' ? e : (e.message ?? 'It failed.');
      // the innermost place that is the user's own
      const line =
        typeof e === 'object'
          ? [...(e.stack ?? '').matchAll(/script\.js:(\d+)/g)].map((m) => Number(m[1]) - offset).find((n) => n > 0)
          : undefined;
      const words = /interrupted/.test(message)
        ? `It was stopped after ${SECONDS} s of work.`
        : /out of memory/.test(message)
          ? `It wanted more than ${MEMORY / 1e6} MB of memory.`
          : message;
      return { type: 'failed', message: words, line, log };
    }
    const changed = JSON.parse(vm.getString(result.value)) as Model;
    result.value.dispose();
    return { type: 'done', model: changed, log, seconds: (performance.now() - began) / 1000 };
  } catch (e) {
    return { type: 'failed', message: e instanceof Error ? e.message : String(e), line: undefined, log };
  }
}
