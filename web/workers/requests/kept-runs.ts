/** Runs whose states are at hand: in memory as far as they fit, the rest in the store. */
import {
  type Channel,
  type Diagnosis,
  type Mechanism,
  type Model,
  type RecordLayout,
  build,
  layoutOfWidth,
  recordLayout,
  refuse,
  startFrom,
} from '@vim-pivot/core/engine';
import type { Readings } from '@vim-pivot/core/simulate';
import { Memory, States } from '../states';
import { partsFromStore } from '../store';
import { mechanismOf } from './machine';

export interface Kept {
  model: Model;
  layout: RecordLayout;
  states: States;
}
const runs = new Map<string, Kept>();
const memory = new Memory();

/** A run that begins, or one that is in the store. */
export function keep(run: string, model: Model, layout: RecordLayout): Kept {
  const kept = { model, layout, states: new States(run, layout.width, memory, partsFromStore) };
  runs.set(run, kept);
  return kept;
}

export const statesOf = (run: string): States | undefined => runs.get(run)?.states;

/** @throws Refusal when its states are not at hand */
export const keptRun = (run: string): Kept =>
  runs.get(run) ?? refuse({ code: 'run-missing', message: 'The states of this run are not at hand.' });

/** The machine of the run that was looked at last, for reading its states one by one. */
let stood: { run: string; mechanism: Mechanism; readings: Readings } | undefined;
/** @throws Refusal when its states are not at hand */
export async function standing(run: string): Promise<{ states: States; mechanism: Mechanism; readings: Readings }> {
  const { model, layout, states } = keptRun(run);
  if (stood?.run === run) return { states, ...stood };
  const { Readings } = await reading(),
    mechanism = mechanismOf(model);
  stood = { run, mechanism, readings: new Readings(mechanism, layoutOf(mechanism, layout)) };
  return { states, ...stood };
}
const reading = () => import('@vim-pivot/core/simulate');

/** How the records of a run are laid out. @throws Refusal when they are of an earlier version that cannot be read */
export const layoutOf = (mechanism: Mechanism, { width, told }: Pick<RecordLayout, 'width' | 'told'>): RecordLayout =>
  layoutOfWidth(mechanism, width, told) ??
  refuse({
    code: 'run-older',
    message: 'This run was recorded by an earlier version of the program: it plays, but its gauges cannot be read.',
    remedy: 'Run it again.',
  });

/** A recorded state of a kept run as a start. @throws Refusal when it is not at hand or of another machine */
export async function startOf({ run, record }: { run: string; record: number }, mechanism: Mechanism): Promise<Float64Array> {
  const remedy = 'Start from a run of this model, or as assembled.';
  const kept = runs.get(run) ?? refuse({ code: 'start-other', message: 'The run to start from is not at hand.', remedy });
  const layout = layoutOf(mechanismOf(kept.model), kept.layout);
  if (layout.bodies !== recordLayout(mechanism).bodies)
    refuse({ code: 'start-other', message: 'The run to start from is of another machine.', remedy });
  return startFrom(layout, await kept.states.record(record));
}

/** Gauges made ready for a run. */
interface Ready {
  key: string;
  readings: Readings;
  usable: string[];
  channels: Channel[];
  failures: Diagnosis[];
}
const ready = new Map<string, Ready>();

/** Gauges of a model, made ready for a run; made anew when a definition changes, not for every reading. */
export async function prepare(run: string, { model, layout }: Kept, now: Model, gauges: string[]): Promise<Ready> {
  const wanted = withInputs(now, gauges);
  const key = JSON.stringify([wanted, now.points.length]);
  const slot = `${run}/${gauges.join('/')}`;
  const known = ready.get(slot);
  if (known?.key === key) return known;
  const { Readings, withGauges } = await reading();
  const built = build(withGauges(model, { ...now, gauges: wanted }));
  const mechanism = built.mechanism ?? mechanismOf(model);
  const usable = built.mechanism ? gauges.filter((g) => mechanism.gauges.includes(g)) : [];
  const made = {
    key,
    readings: new Readings(mechanism, layoutOf(mechanism, layout)),
    usable,
    channels: usable.map((g) => mechanism.channel(g)),
    failures: built.diagnoses.filter((d) => d.severity === 'error'),
  };
  ready.set(slot, made);
  return made;
}

/** The gauges asked for, and those their formulas name. */
function withInputs(now: Model, gauges: readonly string[]): Model['gauges'] {
  const names = new Set(gauges);
  for (let grown = 0; grown !== names.size;) {
    grown = names.size;
    for (const g of now.gauges)
      if (names.has(g.name))
        for (const v of Object.values(g)) if (typeof v === 'string') for (const [, n] of v.matchAll(/\{([^{}]+)\}/g)) names.add(n!.trim());
  }
  return now.gauges.filter((g) => names.has(g.name));
}

export function forget(run: string): void {
  statesOf(run)?.forget();
  runs.delete(run);
  if (stood?.run === run) stood = undefined;
  for (const slot of ready.keys()) if (slot.startsWith(`${run}/`)) ready.delete(slot);
}
