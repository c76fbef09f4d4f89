'use client';
import { useRef } from 'react';
import { openShelf, sketch, useHelp, useSketch, walk } from '@/state/asking';
import { useDocument } from '@/state/document/document';
import { importFile } from '@/state/files/files';
import { openLine } from '@/state/adding/line';

function Offer({ title, about, onTake }: { title: string; about: string; onTake: () => void }) {
  return (
    <button onClick={onTake} className="rounded-lg border border-line bg-sheet px-3 py-2.5 text-left hover:border-ink-2">
      <b className="block">{title}</b>
      <span className="text-ink-2">{about}</span>
    </button>
  );
}

/** What a scene with nothing in it offers: ways to begin. */
export function EmptyScene() {
  const empty = useDocument(
    (s) => !!s.model && s.inside === undefined && s.model.bodies.length + s.model.points.length + s.model.instances.length === 0,
  );
  const walking = useHelp((s) => s.walking);
  const file = useRef<HTMLInputElement>(null);
  const sketching = useSketch((s) => s.on);
  if (!empty || walking || sketching) return null;
  return (
    <section aria-label="Ways to begin" className="pointer-events-none absolute inset-0 grid place-items-center p-6">
      <div className="pointer-events-auto grid w-full max-w-[560px] grid-cols-2 gap-2 rounded-xl border border-line bg-paper/90 p-4">
        <h2 className="col-span-2 text-base font-semibold">An empty machine. Begin…</h2>
        <Offer
          title="From a prepared machine"
          about="A four-bar, a slider-crank and others, to be changed."
          onTake={() => openShelf('templates')}
        />
        <Offer title="By drawing" about="Press and drag, as on paper: bars, pins, bearings and slides." onTake={() => sketch(true)} />
        <Offer
          title="From a file"
          about="STEP, IGES, STL, OBJ, PLY, glTF, URDF or a model. Dropping it here does as well."
          onTake={() => file.current?.click()}
        />
        <Offer title="By saying it" about="Press / and write: link Crank from A to B." onTake={() => openLine(true)} />
        <button
          onClick={() => walk(true)}
          className="col-span-2 rounded-lg border border-accent bg-accent-soft px-3 py-2.5 text-left hover:border-ink-2"
        >
          <b className="block text-accent">Show me: a first machine in three minutes</b>
          <span className="text-ink-2">You do each step yourself, here on the real thing.</span>
        </button>
        <input
          ref={file}
          type="file"
          className="hidden"
          aria-label="File to begin from"
          onChange={(e) => e.target.files?.[0] && void importFile(e.target.files[0])}
        />
      </div>
    </section>
  );
}
