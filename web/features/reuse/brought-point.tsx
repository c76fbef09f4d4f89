'use client';
import { homeOf } from '@vim-pivot/core/page';
import { openKit, select, useDocument } from '@/state/document/document';
import { Offers } from '../card/selection';

/** On the Card: a point that an instance brings. It is changed where it comes from, and used like any other. */
export function BroughtPoint({ name }: { name: string }) {
  const model = useDocument((s) => s.model);
  const body = useDocument((s) => s.within.homes[name]);
  const home = model && homeOf(model, 'points', name);
  if (!model || !home) return null;
  const instance = model.instances.find((i) => i.name === home.name);
  const kit = typeof instance?.kit === 'string' && model.kits.some((k) => k.name === instance.kit) ? instance.kit : undefined;
  return (
    <section aria-label="Card" className="flex h-full flex-col overflow-auto">
      <header className="flex items-center border-b border-line px-3 py-1.5">
        <h2 className="flex-1 truncate text-base font-semibold" title={name}>
          {name}
        </h2>
        <span className="text-ink-2">point</span>
      </header>
      <p className="px-3 py-2 text-ink-2">
        Brought by{' '}
        <button className="underline hover:text-ink" onClick={() => select(home)}>
          {home.name}
        </button>
        , fixed in {body}. Loads, joints and gauges take it like any point; where it is, is set
        {kit ? (
          <>
            {' '}
            in{' '}
            <button className="underline hover:text-ink" onClick={() => openKit(kit)}>
              its kit
            </button>
            .
          </>
        ) : (
          ' where it comes from.'
        )}
      </p>
      <Offers />
    </section>
  );
}
