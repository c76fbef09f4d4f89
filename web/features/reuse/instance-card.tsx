'use client';
import { useState } from 'react';
import type { RawElement } from '@vim-pivot/core/page';
import { openKit, useDocument } from '@/state/document/document';
import { askedOf, give, givenTo, makeIndependent } from '@/state/adding/kits';
import { Choice } from '@/ui/choice';

const QUIET = 'rounded-md border border-line px-2 py-0.5 hover:border-ink-2';

/** On the Card of an instance: its values and mounts one by one, and what can be done with it. */
export function InstanceCard({ element }: { element: RawElement }) {
  const model = useDocument((s) => s.model);
  const brought = useDocument((s) => s.brought.bodies);
  const [fault, setFault] = useState<string>();
  if (!model) return null;
  const { parameters, mounts } = askedOf(model, element);
  const kit = typeof element.kit === 'string' && model.kits.some((k) => k.name === element.kit) ? element.kit : undefined;
  const bodies = [model.ground, ...model.bodies.map((b) => b.name), ...(brought ?? []).filter((b) => !b.startsWith(`${element.name}/`))];
  return (
    <div className="border-b border-line px-3 py-2">
      {parameters.length > 0 && <h3 className="pb-1 text-xs text-ink-2">Values here; empty is as in the kit</h3>}
      <div className="grid grid-cols-[auto_minmax(0,1fr)] items-center gap-x-3 gap-y-1">
        {parameters.map((p) => (
          <div key={p.name} className="contents">
            <span className="font-mono text-xs">{p.name}</span>
            <Value
              key={givenTo(element, 'values', p.name)}
              label={`${p.name} here`}
              value={givenTo(element, 'values', p.name)}
              usual={p.usual}
              onDone={(v) => give(element.name, 'values', p.name, v)}
            />
          </div>
        ))}
        {mounts.map((m) => (
          <div key={m} className="contents">
            <span>{m} is</span>
            <Choice
              label={`${m} is`}
              value={givenTo(element, 'on', m)}
              options={[
                ...(bodies.includes(givenTo(element, 'on', m))
                  ? []
                  : [{ value: givenTo(element, 'on', m), label: givenTo(element, 'on', m) || model.ground }]),
                ...bodies.map((b) => ({ value: b, label: b })),
              ]}
              onChange={(v) => give(element.name, 'on', m, v === model.ground ? '' : v)}
              className="h-[24px] w-full border-line bg-sheet"
            />
          </div>
        ))}
      </div>
      <div className="mt-2 flex flex-wrap gap-2">
        {kit !== undefined && (
          <button className={QUIET} onClick={() => openKit(kit)}>
            Open its kit
          </button>
        )}
        <button
          className={QUIET}
          title="Its parts become parts of the machine itself and no longer follow"
          onClick={() => void makeIndependent(element.name).then(setFault)}
        >
          Make independent
        </button>
      </div>
      {fault && (
        <p role="alert" className="mt-2 rounded-md bg-warn-soft px-2.5 py-1.5 text-warn">
          {fault}
        </p>
      )}
    </div>
  );
}

function Value({ label, value, usual, onDone }: { label: string; value: string; usual: string; onDone: (v: string) => void }) {
  const [text, setText] = useState(value);
  return (
    <input
      aria-label={label}
      value={text}
      placeholder={usual}
      spellCheck={false}
      onChange={(e) => setText(e.target.value)}
      onBlur={() => text.trim() !== value && onDone(text)}
      onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
      className="h-[24px] w-full min-w-0 rounded border border-line bg-sheet px-1.5 font-mono text-xs"
    />
  );
}
