'use client';
/** What moves a score: numbers of the model, the one with the largest effect first. */
import { useEffect, useState } from 'react';
import { formatNumber, readUnit } from '@vim-pivot/core/page';
import type { Moves as Moved, NumberMoves } from '@vim-pivot/core/sensitivity';
import { useDocument } from '@/state/document/document';
import { askAll, choose, leave, useMoves, watchMoves, workOut } from '@/state/readings/moves';

/** Numbers listed at first. */
const FIRST = 6;

export function Moves({ score }: { score: string }) {
  const { found, part, told, all } = useMoves();
  const model = useDocument((s) => s.model);
  useEffect(watchMoves, []);
  const nth = found?.scores.findIndex((s) => s.name === score) ?? -1;
  return (
    <div
      role="region"
      aria-label={`What moves ${score}`}
      aria-busy={part !== undefined}
      className="-mx-1 mb-2 rounded-md border border-line bg-paper"
    >
      {part !== undefined && (
        <div className="flex items-center gap-2 px-2 py-1 text-xs text-ink-2">
          <progress aria-label="Worked out so far" className="h-1 flex-1" value={part} max={1} />
          <button className="underline" onClick={leave}>
            Stop
          </button>
        </div>
      )}
      {told.map((d) => (
        <p key={d.message} className="px-2 py-1 text-xs text-warn">
          {d.message} {d.remedy}
        </p>
      ))}
      {!found && part === undefined && told.length === 0 && (
        <button className="px-2 py-1 text-xs text-ink-2 underline hover:text-accent" onClick={workOut}>
          Work it out
        </button>
      )}
      {found && nth >= 0 && <List key={score} found={found} nth={nth} stale={found.model !== model} />}
      {found && nth < 0 && part === undefined && <p className="px-2 py-1 text-xs text-ink-2">The score is not measured in this model.</p>}
      {found && part === undefined && !all && found.count > found.numbers.length && (
        <p className="flex items-baseline gap-2 px-2 pb-1 text-xs text-ink-2">
          <span className="flex-1">
            {found.numbers.length} of {found.count} numbers of the model.
          </span>
          <button className="underline hover:text-accent" onClick={askAll}>
            Ask all
          </button>
        </p>
      )}
    </div>
  );
}

type Known = NonNullable<ReturnType<typeof useMoves.getState>['found']>;

function List({ found, nth, stale }: { found: Known; nth: number; stale: boolean }) {
  const [open, setOpen] = useState(false);
  const score = found.scores[nth]!,
    rows = found.numbers
      .flatMap(({ number, moves }) => (moves?.[nth] && counts(moves[nth]) ? [{ number, m: moves[nth] }] : []))
      .sort((a, b) => size(b.m) - size(a.m)),
    most = rows.length > 0 ? size(rows[0]!.m) : 1,
    shown = open ? rows : rows.slice(0, FIRST),
    faults = found.numbers.filter((n) => n.fault),
    coordinates = shown.some((r) => r.number.against === 'size');
  return (
    <div className={stale ? 'opacity-60' : ''}>
      {rows.length === 0 && <p className="px-2 py-1 text-xs text-ink-2">None of these numbers moves it.</p>}
      {rows.length > 0 && (
        <p className="px-2 pt-1 text-xs text-ink-2" title="Change of the score in percent when the number alone is one percent more">
          percent for one percent more
        </p>
      )}
      <ol>
        {shown.map((r) => (
          <Row key={r.number.path.join('/') + (r.number.part?.join('-') ?? '')} {...r} unit={score.unit ?? ''} share={size(r.m) / most} />
        ))}
      </ol>
      {rows.length > FIRST && (
        <button className="px-2 pb-1 text-xs text-ink-2 underline hover:text-accent" onClick={() => setOpen(!open)}>
          {open ? 'The first ones only' : `${rows.length - FIRST} more`}
        </button>
      )}
      {coordinates && <p className="px-2 pb-1 text-xs text-ink-2">† one percent of the machine’s size</p>}
      {faults.length > 0 && (
        <details className="px-2 pb-1 text-xs text-ink-2">
          <summary>
            Nothing can be said of {faults.length} {faults.length === 1 ? 'number' : 'numbers'}
          </summary>
          <ul className="pl-3">
            {faults.map(({ number, fault }) => (
              <li key={number.path.join('/')}>
                {number.name}: {fault!.why ?? fault!.message}
              </li>
            ))}
          </ul>
        </details>
      )}
    </div>
  );
}

/** Percent for one percent from which on a number is listed. */
const LEAST = 1e-4;
const counts = (m: Moved): boolean => (m.percent === undefined ? m.whole !== 0 : Math.abs(m.percent) >= LEAST);
/** By which they are ranked. */
const size = (m: Moved): number => Math.abs(m.percent ?? m.whole);
const signed = (x: number): string => `${x < 0 ? '−' : '+'}${formatNumber(Math.abs(x), 3)}`;

function Row({ number, m, unit, share }: { number: NumberMoves['number']; m: Moved; unit: string; share: number }) {
  const factor = readUnit(unit)?.factor ?? 1,
    per = (x: number) => `${signed(x / factor)} ${unit}${number.unit ? `/${number.unit}` : ' per 1'}`;
  return (
    <li className="relative px-2 py-0.5" data-number={number.name}>
      <span
        aria-hidden="true"
        className={`absolute bottom-0 left-2 h-0.5 ${m.slope < 0 ? 'bg-warn' : 'bg-calm'}`}
        style={{ width: `calc(${Math.max(2, 100 * share)}% - 1rem)` }}
      />
      <span className="flex items-baseline gap-2 text-xs">
        <button className="min-w-0 flex-1 truncate text-left hover:text-accent" title={number.name} onClick={() => choose(number.element)}>
          {number.name}
        </button>
        <span className="font-mono">
          {m.percent === undefined ? '' : `${signed(m.percent)} %`}
          {number.against === 'size' ? '†' : ''}
        </span>
      </span>
      <span className="flex justify-between gap-2 font-mono text-xs text-ink-2">
        <span className="shrink-0">{number.text}</span>
        {!m.sides && <span className="truncate">{per(m.slope)}</span>}
      </span>
      {m.sides && (
        <span
          className="block text-right font-mono text-xs text-ink-2"
          title="The score has a kink here: less of it does not undo what more of it does"
        >
          less {per(m.sides[0])}
          <br />
          more {per(m.sides[1])}
        </span>
      )}
    </li>
  );
}
