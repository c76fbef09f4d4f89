'use client';
import 'katex/dist/katex.min.css';
import katex from 'katex';
import { ArrowDown, ArrowUp, Plus, Printer } from 'lucide-react';
import { useMemo } from 'react';
import { type Model, type RawElement, formatQuantity, readUnit } from '@vim-pivot/core/page';
import { FormulaError, typeset } from '@vim-pivot/core/scores';
import { edit, select, useDocument } from '@/state/document/document';
import { freeName } from '@/state/document/elements';
import type { WorkingMeasured } from '@vim-pivot/core/measures';
import { useReadings } from '@/state/readings/readings';
import { useRuns } from '@/state/runs/runs';
import { Divider, Pane, Panes, useFold } from '@/ui/panes';
import { Card } from '../card/card';

const TOOL = 'grid h-6 w-6 place-items-center rounded text-ink-2 hover:text-accent disabled:opacity-35';

/** Names of a formula that stand for parameters. */
const used = (model: Model, text: string): string[] =>
  model.parameters.map((p) => p.name).filter((n) => new RegExp(`(^|[^\\w.])${n.replace(/[.]/g, '\\.')}(?![\\w.(])`).test(text));

/** Pages of values worked out by hand: known values, formulas as one writes them, and beside them what was measured. */
export function Workings() {
  const model = useDocument((s) => s.model);
  const rows = useReadings((s) => s.workings);
  const measuredIn = useReadings((s) => s.run);
  const run = useRuns((s) => s.runs.find((r) => r.id === measuredIn));
  const card = useDocument((s) => s.selected !== undefined && ['workings', 'scores'].includes(s.selected.family));
  const names = useMemo(() => new Set([...(model?.parameters ?? []), ...(model?.tables ?? [])].map((e) => e.name)), [model]);
  const side = useFold();
  if (!model) return null;
  const known = [...new Set(model.workings.flatMap((w) => used(model, String(w.value ?? ''))))];
  const add = () => {
    const name = freeName('workings', 'By hand', model);
    edit(`Add ${name}`, (m) => void m.workings.push({ name, value: 0 }));
    select({ family: 'workings', name });
  };
  return (
    <Panes id="workings" ids={['page', ...(card ? ['card'] : [])]}>
      <Pane id="page" min="320px" className="h-full overflow-auto p-6">
        <article aria-label="Workings" className="mx-auto max-w-3xl rounded-lg border border-line bg-sheet px-10 py-8 print:border-0">
          <header className="flex items-start gap-3 border-b border-line pb-2">
            <div className="flex-1">
              <h1 className="text-xl font-bold">{model.name}: workings</h1>
              <p className="text-ink-2">
                {run
                  ? `Measured in ${run.label || `run ${run.number}`}.`
                  : 'Nothing measured yet: run the model, and scores stand beside what was worked out.'}
              </p>
            </div>
            <button
              className="flex items-center gap-1 rounded-md border border-line px-2 py-1 font-medium hover:border-ink-2 print:hidden"
              onClick={add}
            >
              <Plus size={14} aria-hidden="true" /> Add a working
            </button>
            <button aria-label="Print" title="Print this page" className={`${TOOL} print:hidden`} onClick={() => window.print()}>
              <Printer size={15} aria-hidden="true" />
            </button>
          </header>
          {model.workings.length === 0 && (
            <p className="py-6 text-ink-2">
              A working is a value found by hand: a formula with units, of the model’s parameters, of earlier workings and of measured
              scores in braces, with a note that says how it comes about. Name a score beside it, and the difference stands there in per
              cent; beyond its tolerance it is among the checks.
            </p>
          )}
          <KnownValues names={known} />
          <ol>
            {model.workings.map((w, i) => (
              <Working key={w.name} w={w} i={i} row={rows.find((r) => r.name === w.name)} names={names} />
            ))}
          </ol>
        </article>
      </Pane>
      {card && <Divider of={side} label="the Card" />}
      {card && (
        <Pane id="card" size="316px" min="240px" fold={side} className="h-full bg-sheet print:hidden">
          <Card />
        </Pane>
      )}
    </Panes>
  );
}

function Formula({ w, row, names }: { w: RawElement; row: WorkingMeasured | undefined; names: ReadonlySet<string> }) {
  const model = useDocument((s) => s.model);
  const own = useDocument((s) => s.live.get(`$.workings[${model?.workings.indexOf(w) ?? -1}].value`));
  const hand = row?.hand !== undefined && row.dim ? { value: row.hand, dim: row.dim } : own && { value: own.value, dim: own.dim };
  const unit = row?.unit !== undefined && readUnit(row.unit) ? row.unit : undefined;
  const { html, fault } = useMemo(() => {
    try {
      return {
        html: katex.renderToString(typeset(String(w.value ?? ''), names), {
          displayMode: true,
          throwOnError: false,
          output: 'htmlAndMathml',
        }),
        fault: undefined,
      };
    } catch (e) {
      if (!(e instanceof FormulaError)) throw e;
      return { html: undefined, fault: e.message };
    }
  }, [w.value, names]);
  const say = (v: number) => (hand ? formatQuantity(v, hand.dim, unit, 5) : '');
  return (
    <div>
      {html !== undefined ? (
        <div className="overflow-x-auto overflow-y-hidden" data-formula={w.name} dangerouslySetInnerHTML={{ __html: html }} />
      ) : (
        <p className="py-1 text-warn">{fault}</p>
      )}
      <dl className="grid grid-cols-[8rem_1fr] gap-x-3">
        <dt className="text-ink-2">By hand</dt>
        <dd className="font-mono">
          {hand ? say(hand.value) : <span className="font-sans text-ink-2">{row?.fault ?? 'known after a run'}</span>}
        </dd>
        {row?.measured !== undefined && (
          <>
            <dt className="text-ink-2">{String(w.score)}</dt>
            <dd className="font-mono">
              {say(row.measured)}{' '}
              <span
                data-difference={w.name}
                className={`ml-2 rounded px-1.5 ${row.bad ? 'bg-warn-soft text-warn' : 'bg-calm-soft text-calm'}`}
              >
                {(row.difference ?? 0) >= 0 ? '+' : ''}
                {(100 * (row.difference ?? 0)).toPrecision(2)} %
              </span>
            </dd>
          </>
        )}
        {row?.fault && hand && (
          <>
            <dt />
            <dd className="text-warn">{row.fault}</dd>
          </>
        )}
      </dl>
    </div>
  );
}

/** Parameters that the workings use. */
function KnownValues({ names }: { names: readonly string[] }) {
  const parameters = useDocument((s) => s.model?.parameters) ?? [];
  const live = useDocument((s) => s.live);
  if (names.length === 0) return null;
  return (
    <section aria-label="Known values" className="py-3">
      <h2 className="mb-1 font-semibold">Known values</h2>
      <table className="w-full">
        <tbody>
          {names.map((n) => {
            const i = parameters.findIndex((p) => p.name === n),
              p = parameters[i]!,
              v = live.get(`$.parameters[${i}].value`);
            return (
              <tr key={n} className="border-t border-line/60">
                <td className="py-0.5 pr-3">{n.replaceAll('_', ' ')}</td>
                <td className="pr-3 font-mono text-xs">{v ? formatQuantity(v.value, v.dim, undefined, 5) : String(p.value)}</td>
                <td className="text-ink-2">{p.note}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}

/** Moves a working by places up or down the page. */
const shift = (name: string, by: number) =>
  edit(`Move ${name}`, (m) => {
    const i = m.workings.findIndex((w) => w.name === name),
      [w] = m.workings.splice(i, 1);
    m.workings.splice(i + by, 0, w!);
  });

/** A working: its number, its note, its formula and what was measured. */
function Working({ w, i, row, names }: { w: RawElement; i: number; row: WorkingMeasured | undefined; names: ReadonlySet<string> }) {
  const count = useDocument((s) => s.model?.workings.length ?? 0);
  return (
    <li className={`border-t border-line py-3 ${w.off ? 'opacity-50' : ''}`}>
      <div className="flex items-baseline gap-2">
        <span className="text-ink-2">{i + 1}</span>
        <h2 className="flex-1 font-semibold">
          <button
            className="text-left hover:text-accent"
            title="Edit it on the Card"
            onClick={() => select({ family: 'workings', name: w.name })}
          >
            {w.name}
          </button>
        </h2>
        <button aria-label={`Move ${w.name} up`} disabled={i === 0} className={`${TOOL} print:hidden`} onClick={() => shift(w.name, -1)}>
          <ArrowUp size={14} aria-hidden="true" />
        </button>
        <button
          aria-label={`Move ${w.name} down`}
          disabled={i === count - 1}
          className={`${TOOL} print:hidden`}
          onClick={() => shift(w.name, 1)}
        >
          <ArrowDown size={14} aria-hidden="true" />
        </button>
      </div>
      {w.note && <p className="max-w-prose whitespace-pre-wrap py-1">{w.note}</p>}
      <Formula w={w} row={row} names={names} />
    </li>
  );
}
