/** `pivot`: the engine without a browser. Exit code 0 when all is well, 1 when a model or a run has errors. */
import { readFileSync, writeFileSync } from 'node:fs';
import { Command } from 'commander';
import {
  D, type Diagnosis, type Dimension, FormulaError, Refusal, check, compile, describe, formatNumber, jsonPath, runModel, shownUnit, readUnit,
} from '@vim-pivot/core';
import { writeCsv } from '@vim-pivot/core/csv';
import { readModel } from '@vim-pivot/core/file';

const program = new Command('pivot').description('Check and run Vim Pivot models from the command line.');

program
  .command('check')
  .argument('<file>', 'model file (*.pivot.json)')
  .option('--json', 'print the findings as JSON')
  .description('Say what is wrong with a model. Exit code 1 when there are errors.')
  .action((file: string, options: { json?: boolean }) => guarded(options, () => {
    const report = check(readModel(read(file)));
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
  .argument('<file>', 'model file (*.pivot.json)')
  .option('--until <time>', 'end time, for example "4 s"')
  .option('--every <time>', 'recording interval, for example "1 ms"')
  .option('--accuracy <number>', 'accuracy of the motion, relative')
  .option('--csv <file>', 'write all gauges as CSV')
  .option('--json', 'print the outcome as JSON')
  .description('Run a model and read its gauges.')
  .action((file: string, options: { until?: string; every?: string; accuracy?: string; csv?: string; json?: boolean }) => guarded(options, () => {
    const model = readModel(read(file));
    const asked = {
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
    if (options.json) printJson(end.diagnoses, { status: end.status, t: end.t, seconds, statistics: end.statistics, gauges: ranges });
    else {
      end.diagnoses.forEach(explain);
      print(`${model.name}: ${end.status} at t = ${formatNumber(end.t)} s, ${end.statistics.steps} steps, ${end.statistics.records} records, ${seconds.toFixed(2)} s`);
      for (const r of ranges) print(`  ${r.gauge.padEnd(24)} ${formatNumber(r.min).padStart(11)} to ${formatNumber(r.max).padStart(11)} ${r.unit}`);
      if (options.csv) print(`curves written to ${options.csv}`);
    }
    return end.status === 'done' ? 0 : 1;
  }));

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

function read(file: string): string {
  try {
    return readFileSync(file, 'utf8');
  } catch (e) {
    throw new Refusal([{ code: 'file-unreadable', severity: 'error', message: `The file ${file} cannot be read: ${(e as Error).message}.` }]);
  }
}

/** Runs a command; a refusal becomes words (or JSON) and exit code 1. */
function guarded(options: { json?: boolean }, command: () => number): void {
  try {
    process.exitCode = command();
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

program.parse();
