/** Scores and limits of the model, measured in the current run: anew when a run has grown or ended, and when what is asked changes. */
import { type Bound, type LimitRow, type ViolationRow, type ScoreRow, type WorkingRow, useReadings } from './readings';
import { type Dimension, Refusal, type Model, type RawElement, compatible, refuse, shownUnit } from '@vim-pivot/core/page';
import { type Series, scoreOf, violations, worstOf } from '@vim-pivot/core/scores';
import { modelWorker, runWorker } from '../../workers/client';
import { useDocument } from '../document/document';
import { siAt } from '../document/elements';
import { fetchRun, useRuns } from '../runs/runs';

let timer: ReturnType<typeof setTimeout> | undefined;
let watching = false;
/** Begins to measure, and goes on with it. */
export function watch(): void {
  if (watching) return;
  watching = true;
  const soon = () => {
    clearTimeout(timer);
    timer = setTimeout(() => void measure(), 120);
  };
  useRuns.subscribe((now, before) => {
    if (now.current !== before.current || now.readable !== before.readable || now.running !== before.running) soon();
  });
  useDocument.subscribe((now, before) => {
    if (now.model !== before.model || now.live !== before.live) soon();
  });
  soon();
}

const on = (e: RawElement) => !e.off;
type Known = Map<string, { value: number; dim: Dimension }>;
/** A formula of what was measured. @throws Refusal when it has no value */
async function workOut(model: Model, text: string, known: Known): Promise<{ value: number; dim: Dimension }> {
  const { live, fault } = await modelWorker().ask({ type: 'work-out', model, text, known: [...known] }, 'evaluated');
  if (!live) throw new Refusal([{ code: 'work-out', severity: 'error', message: fault ?? 'It has no value.' }]);
  return live;
}
const isAfterRun = (v: unknown): v is string => typeof v === 'string' && v.includes('{');

/** Values of a score or limit in SI; what is left out is absent. @throws Refusal when a formula among them has no value */
function numbers(model: Model, family: 'scores' | 'limits', e: RawElement, fields: readonly string[]): Record<string, number> {
  const { live, diagnoses } = useDocument.getState(),
    index = model[family].indexOf(e);
  // what only reads is left out, not refused: its faults are warnings with a place
  if (diagnoses.some((d) => d.severity !== 'note' && d.path && d.element?.family === family && d.element.name === e.name))
    throw new Refusal([{ code: 'in-error', severity: 'error', message: 'It is in error: see the checks.' }]);
  return Object.fromEntries(
    fields.flatMap((f) => (e[f] === undefined || e[f] === '' ? [] : [[f, siAt(family, index, e, { field: f }, live)]])),
  );
}

/** A value by hand beside the score it is compared with. */
function compared(
  model: Model,
  e: RawElement,
  own: { value: number; dim: Dimension } | undefined,
  row: ScoreRow | undefined,
  why: string,
): WorkingRow {
  if (!own) return { name: e.name, fault: why };
  const hand = { name: e.name, hand: own.value, dim: own.dim, unit: row?.unit ?? shownUnit(own.dim) };
  if (e.score === undefined || e.score === '') return hand;
  if (row?.value === undefined || !row.dim) return { ...hand, fault: row?.fault ?? `There is no score “${String(e.score)}”.` };
  if (!compatible(row.dim, own.dim)) return { ...hand, unit: shownUnit(own.dim), fault: 'What was measured is another quantity.' };
  const difference = own.value === 0 ? (row.value === 0 ? 0 : Infinity) : row.value / own.value - 1;
  const { live } = useDocument.getState();
  return {
    ...hand,
    measured: row.value,
    difference,
    bad:
      Math.abs(difference) >
      (e.tolerance === undefined ? 0.01 : siAt('workings', model.workings.indexOf(e), e, { field: 'tolerance' }, live)),
  };
}

/** What the model asks of a run. */
interface Asked {
  model: Model;
  scores: RawElement[];
  limits: RawElement[];
  workings: RawElement[];
}

async function measure(): Promise<void> {
  const { model } = useDocument.getState(),
    { current } = useRuns.getState();
  const asked = model && { model, scores: model.scores.filter(on), limits: model.limits.filter(on), workings: model.workings.filter(on) };
  if (!asked || !current || asked.scores.length + asked.limits.length + asked.workings.length === 0) {
    const { run, scores } = useReadings.getState();
    if (run !== undefined || scores.length > 0)
      useReadings.setState({ scores: [], violations: [], bounds: [], limits: [], workings: [], run: undefined });
    return;
  }
  const still = () => useRuns.getState().current === current;
  const read = await readGauges(asked, current);
  if (!read || !still()) return;
  const scores = asked.scores.map((e) => scored(asked.model, e, read));
  const known: Known = new Map(scores.flatMap((r) => (r.value === undefined || !r.dim ? [] : [[r.name, { value: r.value, dim: r.dim }]])));
  const workings = await workedOut(asked, scores, known);
  const levels = await levelsOf(asked, read, known);
  if (!still()) return;
  const fared = asked.limits.map((e) => held(asked.model, e, read, levels.get(e)));
  useReadings.setState({
    scores,
    workings,
    limits: fared.map((x) => x.row),
    bounds: fared.flatMap((x) => x.bounds),
    violations: fared.flatMap((x) => x.passed).sort((a, b) => a.from - b.from),
    run: current,
  });
}

/** What was read of the gauges that are asked about. */
interface Read {
  series: ReadonlyMap<string, Series>;
  unitOf: ReadonlyMap<string, string>;
  /** Why a gauge could not be read. */
  missing: (gauge: unknown) => string;
}

async function readGauges({ model, scores, limits }: Asked, run: string): Promise<Read | undefined> {
  const gauges = [...new Set([...scores.flatMap((s) => [s.gauge, s.other]), ...limits.map((l) => l.gauge)])].filter(
    (g): g is string => typeof g === 'string' && g !== '',
  );
  if (run !== useRuns.getState().running) await fetchRun(run);
  const r = await runWorker()
    .ask({ type: 'read', run, now: model, gauges, from: 0 }, 'read')
    .catch(() => undefined);
  return (
    r && {
      series: new Map(r.curves.map((c) => [c.gauge, { time: r.time, values: c.values, dim: c.dim }])),
      unitOf: new Map(r.curves.map((c) => [c.gauge, c.unit])),
      missing: (gauge) => r.failures.find((d) => d.element?.name === gauge)?.message ?? `“${String(gauge)}” cannot be read in this run.`,
    }
  );
}

/** What is found, or why it is not, in words. */
function attempt<T>(find: () => T, refused: (fault: string) => T): T {
  try {
    return find();
  } catch (fault) {
    if (!(fault instanceof Refusal)) throw fault;
    return refused(fault.message);
  }
}

function scored(model: Model, e: RawElement, { series, unitOf, missing }: Read): ScoreRow {
  const { name } = e,
    gauge = String(e.gauge ?? ''),
    own = series.get(gauge);
  if (!own) return { name, gauge, fault: missing(e.gauge) };
  return attempt<ScoreRow>(
    () => {
      const what = { of: String(e.of ?? 'peak'), ...numbers(model, 'scores', e, ['time', 'level', 'from', 'to']) };
      const s = scoreOf(what, own, typeof e.other === 'string' ? series.get(e.other) : undefined);
      return { name, gauge, ...s, unit: s.dim === own.dim ? (unitOf.get(gauge) ?? '') : shownUnit(s.dim) };
    },
    (fault) => ({ name, gauge, fault }),
  );
}

/** Workings in their order: each may use those before it. @param known grows by them */
async function workedOut({ model, workings }: Asked, scores: readonly ScoreRow[], known: Known): Promise<WorkingRow[]> {
  const { live } = useDocument.getState();
  const rows: WorkingRow[] = [];
  for (const e of workings) {
    let own: { value: number; dim: Dimension } | undefined,
      why = 'Its formula is in error.';
    if (isAfterRun(e.value))
      own = await workOut(model, e.value, known).catch((fault: unknown) => void (why = fault instanceof Refusal ? fault.message : why));
    else own = live.get(`$.workings[${model.workings.indexOf(e)}].value`);
    if (own) known.set(e.name, { value: own.value, dim: own.dim });
    rows.push(
      compared(
        model,
        e,
        own,
        scores.find((s) => s.name === e.score),
        why,
      ),
    );
  }
  return rows;
}

/** Bounds of a limit that are formulas of what was measured, SI; or why one has no value. */
type Levels = { low?: number; high?: number; fault?: string };

async function levelsOf({ model, limits }: Asked, { series }: Read, known: Known): Promise<Map<RawElement, Levels>> {
  const found = new Map<RawElement, Levels>();
  for (const e of limits)
    for (const key of ['low', 'high'] as const) {
      if (!isAfterRun(e[key])) continue;
      try {
        const { value, dim } = await workOut(model, e[key], known),
          own = series.get(String(e.gauge ?? ''));
        if (own && value !== 0 && !compatible(dim, own.dim))
          refuse({ code: 'limit-level', message: 'What was measured is another quantity than the gauge.' });
        found.set(e, { ...found.get(e), [key]: value });
      } catch (fault) {
        if (!(fault instanceof Refusal)) throw fault;
        found.set(e, { ...found.get(e), fault: fault.message });
      }
    }
  return found;
}

interface Fared {
  row: LimitRow;
  bounds: Bound[];
  passed: ViolationRow[];
}

/** How a limit fared: its bounds, and where it was passed. */
function held(model: Model, e: RawElement, { series, unitOf, missing }: Read, levels: Levels = {}): Fared {
  const { name } = e,
    gauge = String(e.gauge ?? ''),
    own = series.get(gauge);
  const left = (fault: string): Fared => ({ row: { name, fault }, bounds: [], passed: [] });
  if (!own) return left(missing(e.gauge));
  const { fault, ...formulas } = levels;
  if (fault !== undefined) return left(fault);
  return attempt(() => {
    const plain = ['low', 'high', 'from', 'to', 'at'].filter((k) => !isAfterRun(e[k]));
    const asked: { low?: number; high?: number; of: string } = {
      ...numbers(model, 'limits', e, plain),
      ...formulas,
      of: String(e.of ?? 'value'),
    };
    const { low, high, of } = asked;
    const bounds = [low, high, of === 'size' && high !== undefined ? -high : undefined].filter((x) => x !== undefined);
    const found = violations(asked, own);
    const passed = found.map((v): ViolationRow => ({ ...v, limit: name, gauge, dim: own.dim, unit: unitOf.get(gauge) ?? '' }));
    const worst = worstOf(passed, asked);
    return { row: { name, ...(worst ? { worst } : {}) }, bounds: bounds.map((level) => ({ limit: name, gauge, level })), passed };
  }, left);
}
