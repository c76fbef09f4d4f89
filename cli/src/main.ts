/** `pivot`: the engine without a browser. Exit code 0 when all is well, 1 when a model or a run has errors. */
import { readFileSync, writeFileSync } from 'node:fs';
import { Command, Option } from 'commander';
import {
  ANALYSIS_NAMES, type Analysis, D, type Diagnosis, type Dimension, FormulaError, METHOD_NAMES, type Mechanism, type Method, type Model, Refusal, assemble, check, compile, describe, formatNumber, jsonPath, needs, provideGeometry, runModel, shownUnit, readUnit,
} from '@vim-pivot/core';
import { equilibria, equilibrium, modes, range } from '@vim-pivot/core/analyses';
import { readCsv, writeCsv } from '@vim-pivot/core/csv';
import { readModel } from '@vim-pivot/core/file';
import { unpack } from '@vim-pivot/core/project';
import { loadSolids } from '@vim-pivot/core/solids';

const program = new Command('pivot').description('Check and run Vim Pivot models from the command line.');

program
  .command('check')
  .argument('<file>', 'model file (*.pivot.json) or project file (*.pivot.zip)')
  .option('--json', 'print the findings as JSON')
  .description('Say what is wrong with a model. Exit code 1 when there are errors.')
  .action((file: string, options: { json?: boolean }) => guarded(options, async () => {
    const report = check(await opened(file));
    const errors = report.diagnoses.filter((d) => d.severity === 'error').length;
    if (options.json) printJson(report.diagnoses, { mobility: report.mobility && { joints: report.mobility.joints, free: report.mobility.free, redundant: report.mobility.redundant } });
    else {
      report.diagnoses.forEach(explain);
      if (report.mobility) print(`mobility ${report.mobility.joints}, ${report.mobility.free} left free by the drives, ${report.mobility.redundant} redundant directions`);
      print(errors === 0 ? 'no errors' : `${errors} error${errors === 1 ? '' : 's'}`);
    }
    return errors === 0 ? 0 : 1;
  }));

program
  .command('run')
  .argument('<file>', 'model file (*.pivot.json) or project file (*.pivot.zip)')
  .option('--until <time>', 'end time, for example "4 s"')
  .option('--every <time>', 'recording interval, for example "1 ms"')
  .option('--accuracy <number>', 'accuracy of the motion, relative')
  .addOption(new Option('--analysis <kind>', 'what is computed').choices(ANALYSIS_NAMES))
  .addOption(new Option('--method <kind>', 'integration method').choices(METHOD_NAMES))
  .option('--table <name=file.csv...>', 'replace the rows of a table by those of a CSV file, in the units of the table')
  .option('--start <file>', 'start from a state written by --save-state')
  .option('--save-state <file>', 'write the state at the end')
  .option('--csv <file>', 'write all gauges as CSV')
  .option('--json', 'print the outcome as JSON')
  .description('Run a model and read its gauges.')
  .action((file: string, options: { until?: string; every?: string; accuracy?: string; analysis?: Analysis; method?: Method; table?: string[]; start?: string; saveState?: string; csv?: string; json?: boolean }) => guarded(options, async () => {
    const model = withTables(await opened(file), options.table ?? []);
    const asked = {
      ...(options.analysis ? { analysis: options.analysis } : {}),
      ...(options.method ? { method: options.method } : {}),
      ...(options.start === undefined ? {} : { start: Float64Array.from((JSON.parse(read(options.start)) as { state: number[] }).state) }),
      ...(options.until === undefined ? {} : { until: positive('--until', options.until, D.time) }),
      ...(options.every === undefined ? {} : { every: positive('--every', options.every, D.time) }),
      ...(options.accuracy === undefined ? {} : { accuracy: positive('--accuracy', options.accuracy, D.none) }),
    };
    const from = performance.now();
    const run = runModel(model, asked);
    const seconds = (performance.now() - from) / 1000;
    const gauges = run.mechanism.gauges.map((name) => {
      const { dim, unit = shownUnit(dim) } = run.mechanism.channel(name);
      return { name, dim, unit, values: run.gauge(name) };
    });
    if (options.csv) writeFileSync(options.csv, writeCsv(run.time, gauges));
    if (options.saveState) writeFileSync(options.saveState, JSON.stringify({ model: model.name, t: run.time.at(-1), state: [...run.state(run.time.length - 1)] }));
    const ranges = gauges.map((g) => {
      const factor = readUnit(g.unit)!.factor;
      let lo = Infinity, hi = -Infinity;
      for (const x of g.values) {
        lo = Math.min(lo, x);
        hi = Math.max(hi, x);
      }
      return { gauge: g.name, unit: g.unit, min: lo / factor, max: hi / factor, final: g.values.at(-1)! / factor };
    });
    const { end } = run;
    if (options.json) printJson(end.diagnoses, { status: end.status, t: end.t, seconds, statistics: end.statistics, happenings: end.happenings, gauges: ranges });
    else {
      end.diagnoses.forEach(explain);
      for (const h of end.happenings) print(`t = ${formatNumber(h.t)} s: ${h.message}`);
      print(`${model.name}: ${end.status} at t = ${formatNumber(end.t)} s, ${end.statistics.steps} steps, ${end.statistics.records} records, ${seconds.toFixed(2)} s`);
      for (const r of ranges) print(`  ${r.gauge.padEnd(24)} ${formatNumber(r.min).padStart(11)} to ${formatNumber(r.max).padStart(11)} ${r.unit}`);
      print(`  steps set by: ${Object.entries(end.statistics.limits).filter(([, n]) => n > 0).map(([k, n]) => `${k} ${n}`).join(', ')}${end.statistics.implicit > 0 ? `; ${end.statistics.implicit} implicit steps` : ''}`);
      if (options.csv) print(`curves written to ${options.csv}`);
    }
    return end.status === 'done' ? 0 : 1;
  }));

program
  .command('modes')
  .argument('<file>', 'model file (*.pivot.json) or project file (*.pivot.zip)')
  .option('--as-drawn', 'about the assembled posture and its start motion instead of the static equilibrium')
  .option('--json', 'print them as JSON')
  .description('Natural frequencies, damping and shapes about the static equilibrium.')
  .action((file: string, options: { asDrawn?: boolean; json?: boolean }) => guarded(options, async () => {
    const m = mechanismOf(await opened(file));
    if (!options.asDrawn) equilibrium(m);
    const found = modes(m);
    if (options.json) printJson(found.diagnoses, { modes: found.modes.map((x) => ({ ...x, shape: { re: [...x.shape.re], im: [...x.shape.im] } })) });
    else {
      found.diagnoses.forEach(explain);
      found.modes.forEach((x, i) => print(`  mode ${i + 1}: ${formatNumber(x.frequency)} Hz, damping ${formatNumber(x.damping)}, ${x.kinetic.slice(0, 3).map((k) => `${k.body} ${Math.round(100 * k.share)} %`).join(', ')}`));
    }
    return 0;
  }));

program
  .command('equilibria')
  .argument('<file>', 'model file (*.pivot.json) or project file (*.pivot.zip)')
  .option('--starts <number>', 'further postures to start from', '12')
  .option('--json', 'print them as JSON')
  .description('Static equilibria found from several starts, and whether each is stable.')
  .action((file: string, options: { starts: string; json?: boolean }) => guarded(options, async () => {
    const m = mechanismOf(await opened(file));
    const found = equilibria(m, 0, Number(options.starts));
    if (options.json) printJson([], { equilibria: found.map((f) => ({ stable: f.stable, neutral: f.neutral, energy: f.energy, iterations: f.iterations, state: [...f.y] })) });
    else found.forEach((f, i) => print(`  ${i + 1}: ${f.stable ? 'stable' : 'unstable'}, energy ${formatNumber(f.energy)} J${f.neutral.length > 0 ? `, nothing pulls back along ${f.neutral.join(', ')}` : ''}`));
    return 0;
  }));

program
  .command('range')
  .argument('<file>', 'model file (*.pivot.json) or project file (*.pivot.zip)')
  .argument('<joint>', 'name of the joint')
  .option('--freedom <freedom>', 'rotation or translation; left out: its first')
  .option('--json', 'print it as JSON')
  .description('How far a joint goes both ways, and what ends it there. Drives let go.')
  .action((file: string, joint: string, options: { freedom?: string; json?: boolean }) => guarded(options, async () => {
    const model = await opened(file);
    const m = mechanismOf({ ...model, drives: [] , gauges: [], starts: model.starts });
    const freedoms = m.assembly.joint(joint).freedoms;
    const freedom = [...freedoms].find(([type]) => options.freedom === undefined || type === options.freedom)?.[1];
    if (!freedom) throw new Refusal([{ code: 'freedom-missing', severity: 'error', message: `“${joint}” has no such coordinate.`, element: { family: 'joints', name: joint } }]);
    const r = range(m, joint, freedom);
    const unit = freedom.type === 'rotation' ? 'deg' : 'mm', factor = readUnit(unit)!.factor;
    if (options.json) printJson([], { unit, start: r.start / factor, lower: { ...r.lower, at: r.lower.at / factor, posture: [...r.lower.posture] }, upper: { ...r.upper, at: r.upper.at / factor, posture: [...r.upper.posture] } });
    else for (const [name, x] of [['lower', r.lower], ['upper', r.upper]] as const) print(`  ${name} end ${formatNumber(x.at / factor)} ${unit}: ${x.end}${x.binds ? ` (${x.binds.name})` : ''}`);
    return 0;
  }));

/** A model's mechanism at its assembled posture. @throws Refusal */
function mechanismOf(model: Model): Mechanism {
  const report = check(model);
  const errors = report.diagnoses.filter((d) => d.severity === 'error');
  const { mechanism } = report.built;
  if (errors.length > 0 || !mechanism) throw new Refusal(errors);
  mechanism.system.K.load(assemble(mechanism).y);
  return mechanism;
}

/** The model with the rows of tables replaced by measured ones. */
function withTables(model: Model, given: readonly string[]): Model {
  return given.reduce((m, text) => {
    const [name, file] = text.split('=') as [string, string | undefined];
    if (!file || !m.tables.some((t) => t.name === name)) throw new Refusal([{ code: 'option', severity: 'error', message: `--table ${text}: there is no table “${name}”, or no file is given.`, remedy: 'Write --table name=file.csv.' }]);
    const data = readCsv(read(file));
    return { ...m, tables: m.tables.map((t) => (t.name === name ? { ...t, data } : t)) };
  }, model);
}

function positive(option: string, text: string, dim: Dimension): number {
  try {
    const value = compile(text, { lookup: () => undefined, time: false }, dim).at(0).v;
    if (value > 0) return value;
    throw new FormulaError('value-range', 'It must be greater than zero.', 0, text.length);
  } catch (e) {
    if (!(e instanceof FormulaError)) throw e;
    throw new Refusal([{ code: 'option', severity: 'error', message: `${option} ${text}: ${e.message}` }]);
  }
}

const read = (file: string): string => readBytes(file).toString('utf8');
function readBytes(file: string): Buffer {
  try {
    return readFileSync(file);
  } catch (e) {
    throw new Refusal([{ code: 'file-unreadable', severity: 'error', message: `The file ${file} cannot be read: ${(e as Error).message}.` }]);
  }
}

/** Runs a command; a refusal becomes words (or JSON) and exit code 1. */
/** A model file, or a project file with its geometry; with what the model needs at hand. */
async function opened(file: string): Promise<Model> {
  let model: Model;
  if (/\.zip$/i.test(file)) {
    const packed = unpack(readBytes(file));
    for (const g of packed.geometry) provideGeometry(g.id, g.positions, g.indices);
    model = packed.model;
  } else model = readModel(read(file));
  if (needs(model).has('solids')) await loadSolids();
  return model;
}

async function guarded(options: { json?: boolean }, command: () => Promise<number>): Promise<void> {
  try {
    process.exitCode = await command();
  } catch (e) {
    if (!(e instanceof Refusal)) throw e;
    if (options.json) printJson(e.diagnoses, { status: 'refused' });
    else {
      e.diagnoses.forEach(explain);
      const n = e.diagnoses.length;
      print(`${n} error${n === 1 ? '' : 's'}`);
    }
    process.exitCode = 1;
  }
}

const print = (line: string): void => void process.stdout.write(`${line}\n`);
function explain(d: Diagnosis): void {
  print(describe(d));
  if (d.why) print(`    ${d.why}`);
}
function printJson(diagnoses: readonly Diagnosis[], rest: object): void {
  print(JSON.stringify({ ...rest, diagnoses: diagnoses.map((d) => ({ ...d, ...(d.path ? { path: jsonPath(d.path) } : {}) })) }, null, 2));
}

await program.parseAsync();
