'use client';
import { Play, Square, X } from 'lucide-react';
import { useState } from 'react';
import { useDocument } from '@/state/document/document';
import { findOut, openMotion, setLetGo, show, useMotion } from '@/state/scene/motion';
import type { Checked, Exploration, Explored } from '@/workers/protocol';
import { CheckBox } from '@/ui/check';
import { Choice } from '@/ui/choice';

/** What the machine can do apart from running: its freedoms, loops, balances, modes and ranges, each shown in the scene. */
export function MotionPanel() {
  const mobility = useDocument((s) => s.mobility);
  const joints = useDocument((s) => s.model?.joints) ?? [];
  const drives = useDocument((s) => s.model?.drives.filter((d) => !d.off).length ?? 0);
  const letGo = useMotion((s) => s.letGo);
  const [joint, setJoint] = useState<string>();
  const chosen = joints.some((j) => j.name === joint) ? joint : joints[0]?.name;
  if (!mobility) return null;
  return (
    <section aria-label="Motion" className="flex h-full flex-col overflow-auto">
      <header className="flex items-center border-b border-line px-3 py-1.5">
        <h2 className="flex-1 text-base font-semibold">Motion</h2>
        <button
          aria-label="Close Motion"
          title="Back to the Card"
          onClick={() => openMotion(false)}
          className="grid h-7 w-7 place-items-center rounded text-ink-2 hover:text-ink"
        >
          <X size={16} aria-hidden="true" />
        </button>
      </header>
      <Counts mobility={mobility} />
      {drives > 0 && (
        <label className="flex items-center gap-2 border-t border-line px-3 py-1.5">
          <CheckBox checked={letGo} onChange={setLetGo} /> Without the drives
        </label>
      )}
      <Section
        what="motions"
        title="Degrees of freedom"
        ask="Find"
        teach="Every motion that is left free, played by itself. Names tell which joint or body leads."
      />
      <Section
        what="equilibria"
        title="Equilibria"
        ask="Find"
        teach="Postures in which all loads are in equilibrium, with their stability: all where there is one degree of freedom, else those found from several starts."
      />
      <Section
        what="modes"
        title="Modes"
        ask="Find"
        teach="Natural vibrations about the equilibrium: frequency, damping, and where the energy is."
      />
      <Section
        what="range"
        title="Range"
        ask="Follow"
        {...(chosen ? { argument: chosen } : {})}
        teach="How far a joint goes either way, without the drives, and what ends it: a dead centre, a stop, a lock."
      >
        <Choice
          label="Joint to follow"
          value={chosen ?? ''}
          options={joints.map((j) => ({ value: j.name, label: j.name }))}
          onChange={setJoint}
          className="h-[24px] flex-1 border-line bg-sheet"
        />
      </Section>
    </section>
  );
}

function Section({
  what,
  title,
  ask,
  teach,
  argument,
  children,
}: {
  what: Exploration;
  title: string;
  ask: string;
  teach: string;
  argument?: string;
  children?: React.ReactNode;
}) {
  const items = useMotion((s) => s.found[what]);
  const told = useMotion((s) => s.told[what]);
  const busy = useMotion((s) => s.busy);
  return (
    <div className="border-t border-line px-3 py-1.5">
      <div className="flex items-center gap-2">
        <h3 className="font-semibold">{title}</h3>
        {children}
        <span className={children ? '' : 'flex-1'} />
        <button
          disabled={!!busy}
          onClick={() => void findOut(what, argument)}
          aria-label={`${ask} ${title.toLowerCase()}`}
          className="rounded-md border border-line px-2 py-0.5 font-medium hover:border-ink-2 disabled:opacity-45"
        >
          {busy === what ? 'Working…' : ask}
        </button>
      </div>
      {!items && <p className="pt-0.5 text-xs text-ink-2">{teach}</p>}
      {items?.length === 0 && <p className="pt-0.5 text-ink-2">None.</p>}
      {told?.map((d, i) => (
        <p
          key={i}
          role="status"
          className={`mt-1 rounded-md px-2.5 py-1.5 ${d.severity === 'note' ? 'bg-paper' : 'bg-warn-soft text-warn'}`}
        >
          {d.element ? <b>{d.element.name}: </b> : null}
          {d.message}{' '}
          <span className="text-ink-2">
            {d.why} {d.remedy}
          </span>
        </p>
      ))}
      <ul className="pt-1">
        {items?.map((x) => (
          <Item key={x.label} item={x} />
        ))}
      </ul>
    </div>
  );
}

function Item({ item }: { item: Explored }) {
  const on = useMotion((s) => s.shown === item);
  return (
    <li>
      <button
        aria-pressed={on}
        onClick={() => show(item)}
        className={`flex w-full items-start gap-2 rounded-md px-1.5 py-1 text-left ${on ? 'bg-accent-soft' : 'hover:bg-paper'}`}
        title={on ? 'Put the machine back' : 'Show in the scene'}
      >
        {on ? (
          <Square size={13} className="mt-0.5 shrink-0 text-accent" aria-hidden="true" />
        ) : (
          <Play size={13} className="mt-0.5 shrink-0 text-ink-2" aria-hidden="true" />
        )}
        <span>
          <span className="font-medium">{item.label}</span>
          {item.detail && <span className="block text-xs text-ink-2">{item.detail}</span>}
        </span>
      </button>
    </li>
  );
}

/** What the joints leave free, by rank and by counting. */
function Counts({ mobility }: { mobility: NonNullable<Checked['mobility']> }) {
  return (
    <>
      <dl className="grid grid-cols-[1fr_auto] gap-y-0.5 px-3 py-2">
        <dt className="text-ink-2">Degrees of freedom, by rank</dt>
        <dd className="font-mono">{mobility.joints}</dd>
        <dt className="text-ink-2">by counting (six a body less what joints hold)</dt>
        <dd className="font-mono">{mobility.counted}</dd>
        <dt className="text-ink-2">left free by the drives</dt>
        <dd className="font-mono">{mobility.free}</dd>
        <dt className="text-ink-2">redundant constraints</dt>
        <dd className="font-mono">{mobility.redundant}</dd>
      </dl>
      {mobility.details.length > 0 && (
        <details className="border-t border-line px-3 py-1.5">
          <summary className="cursor-pointer font-semibold">
            Redundant constraints <span className="font-mono text-xs text-ink-2">{mobility.redundant}</span>
          </summary>
          <ul className="py-1 text-ink-2">
            {mobility.details.map((d) => (
              <li key={d} className="py-0.5">
                {d}
              </li>
            ))}
          </ul>
        </details>
      )}
      {mobility.loops.length > 0 && (
        <details className="border-t border-line px-3 py-1.5">
          <summary className="cursor-pointer font-semibold">
            Loops <span className="font-mono text-xs text-ink-2">{mobility.loops.length}</span>
          </summary>
          <ul className="py-1">
            {mobility.loops.map((l) => (
              <li key={l.joints.join('/')} className="py-0.5">
                <span className="font-mono">{l.rank}</span> <span className="text-ink-2">by rank, {l.counted} by counting:</span>{' '}
                {l.joints.join(', ')}
              </li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}
