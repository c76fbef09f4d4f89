/** `pivot run`: a model is run and its gauges, scores and limits read. */
import { createInterface } from 'node:readline/promises';
import {
  type Analysis,
  D,
  type Diagnosis,
  type FinishedRun,
  type Method,
  type Model,
  type Planar,
  Readings,
  type RunOptions,
  type RunStatistics,
  check,
  formatNumber,
  measured,
  readUnit,
  recordCount,
  recordLayout,
  runModel,
  shownUnit,
  siUnit,
} from '@vim-pivot/core';
import { writeCsv } from '@vim-pivot/core/csv';
import { Passings, passedThrough } from '@vim-pivot/core/passings';
import type { Sensitivities } from '@vim-pivot/core/sensitivity';
import { opened, positive, startState, withTables } from './files';
import { movesAsJson, printMoves, whatMoves } from './sensitivity';
import { explain, print, printJson, refused, write } from './terminal';

export interface RunCall {
  until?: string;
  every?: string;
  accuracy?: string;
  longestStep?: string;
  analysis?: Analysis;
  method?: Method;
  planar?: Planar;
  table?: string[];
  /** Names, or all numbers. */
  sensitivity?: string[] | true;
  sensitivityCsv?: string;
  start?: string;
  saveState?: string;
  csv?: string;
  si?: boolean;
  yes?: boolean;
  json?: boolean;
}

/** Bytes of records, and of their CSV, from which on it is asked first. */
const MUCH = 5e8;

export async function run(file: string, call: RunCall): Promise<number> {
  const model = withTables(await opened(file), call.table ?? []);
  const asked: Partial<RunOptions & { analysis: Analysis }> = {
    ...(call.analysis ? { analysis: call.analysis } : {}),
    ...(call.method ? { method: call.method } : {}),
    ...(call.planar ? { planar: call.planar } : {}),
    ...(call.start === undefined ? {} : { start: startState(call.start) }),
    ...(call.until === undefined ? {} : { until: positive('--until', call.until, D.time) }),
    ...(call.every === undefined ? {} : { every: positive('--every', call.every, D.time) }),
    ...(call.longestStep === undefined ? {} : { longest: positive('--longest-step', call.longestStep, D.time) }),
    ...(call.accuracy === undefined ? {} : { accuracy: positive('--accuracy', call.accuracy) }),
  };
  await agreed(model, asked, call);
  const from = performance.now();
  const ran = runModel(model, asked, {
    clock: () => performance.now() / 1000,
    slow: (d) => process.stderr.write(`${d.message} ${d.remedy ?? ''}\n`),
  });
  const seconds = (performance.now() - from) / 1000,
    names = call.sensitivity ?? (call.sensitivityCsv === undefined ? undefined : true);
  return told(ran, call, seconds, names && (await whatMoves(model, asked, names, call.sensitivityCsv)));
}

/** Whether so much may be recorded. @throws Refusal when not */
async function agreed(model: Model, asked: Partial<RunOptions>, { yes, csv }: RunCall): Promise<void> {
  const { mechanism } = check(model).built;
  if (yes || !mechanism) return;
  const { until, every } = { ...mechanism.resolution.run, ...asked },
    records = recordCount(until, every);
  const bytes = records * (8 * recordLayout(mechanism).width + (csv ? 14 * (1 + mechanism.gauges.length) : 0));
  if (bytes < MUCH) return;
  const much = `${formatNumber(records, 3)} records, about ${formatNumber(bytes / 1e9, 2)} GB`;
  if (!process.stdin.isTTY)
    throw refused('run-large', `The run would record ${much}.`, 'Choose a longer --every or a shorter --until, or add --yes.');
  const line = createInterface({ input: process.stdin, output: process.stderr });
  const answer = await line.question(`The run would record ${much}. Go on? [y/N] `);
  line.close();
  if (!/^y/i.test(answer.trim())) throw refused('run-large', 'It was not begun.');
}

/** What went through what, though nothing holds it apart. */
function passedIn({ mechanism, layout, chunks }: FinishedRun): Diagnosis[] {
  const passings = new Passings(mechanism);
  new Readings(mechanism, layout).read([passings.channel], chunks);
  const looking = passings.look();
  for (let next = looking.next(); ; next = looking.next()) if (next.done) return passedThrough(mechanism, next.value, passings.complete);
}

function told(ran: FinishedRun, call: RunCall, seconds: number, moves?: Sensitivities): number {
  const { end, mechanism, time } = ran,
    unreadable: Diagnosis[] = [];
  const gauges = mechanism.gauges.map((name) => {
    const { dim, unit: own = shownUnit(dim) } = mechanism.channel(name),
      values = ran.gauge(name),
      unit = call.si ? siUnit(dim) : own;
    const bad = values.findIndex((x) => !Number.isFinite(x));
    if (bad >= 0)
      unreadable.push({
        code: 'gauge-not-finite',
        severity: 'error',
        message: `It is not a number at t = ${formatNumber(time[bad]!)} s.`,
        why: 'Its formula divides by zero there, or there is nothing to be read.',
        remedy: 'Its cells stay empty there.',
        time: time[bad]!,
        element: { family: 'gauges', name },
      });
    return { name, dim, unit, values };
  });
  const diagnoses = [...end.diagnoses, ...unreadable, ...passedIn(ran)];
  const series = (gauge: string) => {
    const known = gauges.find((g) => g.name === gauge) ?? { dim: mechanism.channel(gauge).dim, values: ran.gauge(gauge) };
    return { time, values: known.values, dim: known.dim };
  };
  const { scores, workings, limits } = inUnits(
    measured({ resolution: mechanism.resolution, series, unitOf: (gauge) => mechanism.channel(gauge).unit }),
  );
  if (call.csv) {
    if (time.length === 0) throw refused('run-empty', 'Nothing was recorded: no curves are written.');
    write(call.csv, writeCsv(time, gauges));
  }
  if (call.saveState && time.length > 0)
    write(call.saveState, JSON.stringify({ model: mechanism.model.name, t: time.at(-1), state: [...ran.state(time.length - 1)] }));
  const ranges = gauges.map((g) => {
    const factor = readUnit(g.unit)!.factor;
    let lo = Infinity,
      hi = -Infinity;
    for (const x of g.values)
      if (Number.isFinite(x)) {
        lo = Math.min(lo, x);
        hi = Math.max(hi, x);
      }
    const final = g.values.at(-1) ?? NaN,
      shown = (x: number) => (Number.isFinite(x) ? x / factor : null);
    return { gauge: g.name, unit: g.unit, min: shown(lo), max: shown(hi), final: shown(final) };
  });
  const good = end.status === 'done' && unreadable.length === 0;
  if (call.json) {
    printJson(diagnoses, {
      status: end.status,
      t: end.t,
      seconds,
      statistics: end.statistics,
      happenings: end.happenings,
      gauges: ranges,
      scores,
      workings,
      limits,
      ...(moves ? { sensitivities: movesAsJson(moves) } : {}),
    });
    return good ? 0 : 1;
  }
  diagnoses.forEach(explain);
  for (const h of end.happenings) print(`t = ${formatNumber(h.t)} s: ${h.message}`);
  print(
    `${mechanism.model.name}: ${end.status} at t = ${formatNumber(end.t)} s, ${end.statistics.steps} steps, ${end.statistics.records} records, ${seconds.toFixed(2)} s`,
  );
  for (const r of ranges)
    print(
      `  ${r.gauge.padEnd(24)} ${r.min === null || r.max === null ? 'has no value' : `${formatNumber(r.min).padStart(11)} to ${formatNumber(r.max).padStart(11)} ${r.unit}`}`,
    );
  for (const s of scores)
    print(
      `  score   ${s.name.padEnd(24)} ${s.value === undefined ? s.fault : `${formatNumber(s.value)} ${s.unit}${s.at === undefined ? '' : ` at ${formatNumber(s.at)} s`}`}`,
    );
  for (const w of workings) {
    const own = w.value === undefined ? [] : [`${formatNumber(w.value)} ${w.unit}`],
      beside =
        w.measured === undefined
          ? []
          : [`measured ${formatNumber(w.measured)} ${w.unit}, ${percent(w.difference!)}${w.differs ? ', more than its tolerance' : ''}`];
    print(`  working ${w.name.padEnd(24)} ${[...own, ...beside, ...(w.fault === undefined ? [] : [w.fault])].join('; ')}`);
  }
  for (const l of limits)
    print(
      `  limit   ${l.name.padEnd(24)} ${l.fault !== undefined ? l.fault : l.kept ? 'kept' : `not kept: ${l.gauge} reaches ${formatNumber(l.worst!)} ${l.unit} at ${formatNumber(l.at!)} s`}`,
    );
  if (moves) printMoves(moves);
  print(
    `  steps set by: ${Object.entries(end.statistics.limits)
      .filter(([, n]) => n > 0)
      .map(([k, n]) => `${k} ${n}`)
      .join(', ')}${end.statistics.implicit > 0 ? `; ${end.statistics.implicit} implicit steps` : ''}${howWords(end.statistics)}`,
  );
  if (call.csv) print(`curves written to ${call.csv}`);
  if (call.sensitivityCsv) print(`how gauges change with numbers written to ${call.sensitivityCsv}`);
  return good ? 0 : 1;
}

const howWords = ({ folded = 0, oneByOne }: RunStatistics): string =>
  [
    folded > 0 ? `; ${folded} ${folded === 1 ? 'body' : 'bodies'} computed in the plane in which their joints hold them` : '',
    oneByOne ? '; too large to be compiled as a whole, its equations evaluated one by one' : '',
  ].join('');
const percent = (x: number): string => `${x >= 0 ? '+' : ''}${(100 * x).toPrecision(3)} %`;

/** What was measured, each in the unit it is shown in. */
function inUnits({ scores, workings, limits }: ReturnType<typeof measured>) {
  const as = (value: number, unit: string | undefined) => value / (readUnit(unit ?? '')?.factor ?? 1);
  return {
    scores: scores.map(({ dim: _, value, ...s }) => ({ ...s, ...(value === undefined ? {} : { value: as(value, s.unit) }) })),
    workings: workings.map(({ dim: _, hand, measured: found, difference, bad, ...w }) => ({
      ...w,
      ...(hand === undefined ? {} : { value: as(hand, w.unit) }),
      ...(found === undefined ? {} : { measured: as(found, w.unit), difference, differs: bad }),
    })),
    limits: limits.map(({ name, gauge, unit, fault, worst }) => ({
      name,
      gauge,
      fault,
      kept: fault === undefined ? !worst : undefined,
      ...(worst ? { worst: as(worst.worst, unit), unit, at: worst.at } : {}),
    })),
  };
}
