/** Scores and limits of the model, measured in the current run: anew when a run has grown or ended, and when what is asked changes. */
import { type Bound, type LimitRow, type ViolationRow, type ScoreRow, type WorkingRow, useReadings } from './readings';
import { type Dimension, Refusal, type Model, type RawElement, compatible, shownUnit } from '@vim-pivot/core/page';
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

async function measure(): Promise<void> {
  const { model } = useDocument.getState(),
    { current, running } = useRuns.getState();
  const scores = model?.scores.filter(on) ?? [],
    limits = model?.limits.filter(on) ?? [],
    workings = model?.workings.filter(on) ?? [];
  if (!model || !current || scores.length + limits.length + workings.length === 0) {
    if (useReadings.getState().run !== undefined || useReadings.getState().scores.length > 0)
      useReadings.setState({ scores: [], violations: [], bounds: [], limits: [], workings: [], run: undefined });
    return;
  }
  const gauges = [...new Set([...scores.flatMap((s) => [s.gauge, s.other]), ...limits.map((l) => l.gauge)])].filter(
    (g): g is string => typeof g === 'string' && g !== '',
  );
  if (current !== running) await fetchRun(current);
  const r = await runWorker()
    .ask({ type: 'read', run: current, now: model, gauges, from: 0 }, 'read')
    .catch(() => undefined);
  if (!r || useRuns.getState().current !== current) return;
  const series = new Map(r.curves.map((c) => [c.gauge, { time: r.time, values: c.values, dim: c.dim } satisfies Series]));
  const unitOf = new Map(r.curves.map((c) => [c.gauge, c.unit]));
  const missing = (gauge: unknown) =>
    r.failures.find((d) => d.element?.name === gauge)?.message ?? `“${String(gauge)}” cannot be read in this run.`;
  const rows = scores.map((e): ScoreRow => {
    const gauge = String(e.gauge ?? ''),
      own = series.get(gauge),
      of = String(e.of ?? 'peak');
    if (!own) return { name: e.name, gauge, fault: missing(e.gauge) };
    try {
      const s = scoreOf(
        { of, ...numbers(model, 'scores', e, ['time', 'level', 'from', 'to']) },
        own,
        typeof e.other === 'string' ? series.get(e.other) : undefined,
      );
      return { name: e.name, gauge, ...s, unit: s.dim === own.dim ? (unitOf.get(gauge) ?? '') : shownUnit(s.dim) };
    } catch (fault) {
      if (!(fault instanceof Refusal)) throw fault;
      return { name: e.name, gauge, fault: fault.message };
    }
  });
  const bounds: Bound[] = [],
    passed: ViolationRow[] = [];
  const known: Known = new Map(rows.flatMap((r) => (r.value === undefined || !r.dim ? [] : [[r.name, { value: r.value, dim: r.dim }]])));
  const { live } = useDocument.getState();
  const worked: WorkingRow[] = [];
  for (const e of workings) {
    const index = model.workings.indexOf(e),
      row = rows.find((s) => s.name === e.score);
    let own: { value: number; dim: Dimension } | undefined,
      why = 'Its formula is in error.';
    if (isAfterRun(e.value))
      own = await workOut(model, e.value, known).catch((fault: unknown) => void (why = fault instanceof Refusal ? fault.message : why));
    else own = live.get(`$.workings[${index}].value`);
    if (own) known.set(e.name, { value: own.value, dim: own.dim });
    worked.push(compared(model, e, own, row, why));
  }
  /** Bounds that are formulas of what was measured. */
  const levels = new Map<RawElement, Record<string, number>>(),
    levelFaults = new Map<RawElement, string>();
  for (const e of limits)
    for (const key of ['low', 'high'] as const)
      if (isAfterRun(e[key])) {
        try {
          const { value, dim } = await workOut(model, e[key], known),
            own = series.get(String(e.gauge ?? ''));
          if (own && value !== 0 && !compatible(dim, own.dim))
            throw new Refusal([
              { code: 'limit-level', severity: 'error', message: 'What was measured is another quantity than the gauge.' },
            ]);
          levels.set(e, { ...levels.get(e), [key]: value });
        } catch (fault) {
          if (!(fault instanceof Refusal)) throw fault;
          levelFaults.set(e, fault.message);
        }
      }
  if (useRuns.getState().current !== current) return;
  const fared = limits.map((e): LimitRow => {
    const gauge = String(e.gauge ?? ''),
      own = series.get(gauge);
    if (!own) return { name: e.name, fault: missing(e.gauge) };
    if (levelFaults.has(e)) return { name: e.name, fault: levelFaults.get(e)! };
    try {
      const asked = {
        ...numbers(
          model,
          'limits',
          e,
          ['low', 'high', 'from', 'to', 'at'].filter((k) => !isAfterRun(e[k])),
        ),
        ...levels.get(e),
        of: String(e.of ?? 'value'),
      } as { low?: number; high?: number; of: string };
      for (const level of [asked.low, asked.high, ...(asked.of === 'size' && asked.high !== undefined ? [-asked.high] : [])])
        if (level !== undefined) bounds.push({ limit: e.name, gauge, level });
      const found = violations(asked, own).map((v): ViolationRow => ({
        ...v,
        limit: e.name,
        gauge,
        dim: own.dim,
        unit: unitOf.get(gauge) ?? '',
      }));
      passed.push(...found);
      const worst = worstOf(found, asked);
      return { name: e.name, ...(worst ? { worst } : {}) };
    } catch (fault) {
      if (!(fault instanceof Refusal)) throw fault;
      return { name: e.name, fault: fault.message };
    }
  });
  useReadings.setState({
    limits: fared,
    workings: worked,
    scores: rows,
    bounds,
    violations: passed.sort((a, b) => a.from - b.from),
    run: current,
  });
}
