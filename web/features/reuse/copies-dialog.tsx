'use client';
import { useState } from 'react';
import { bundleOf } from '@vim-pivot/core/page';
import { openCopies } from '@/state/asking';
import { makeCopies, wordsOf } from '@/state/adding/copies';
import { makeKit, mirrorLive } from '@/state/adding/kits';
import { useDocument } from '@/state/document/document';
import { freeName } from '@/state/document/elements';
import { CheckBox } from '@/ui/check';
import { Button, Dialog } from '@/ui/dialog';
import { Segmented } from '@/ui/segmented';
import { AXES, type Asked, FIRST, type Way, countOf, linked, meant, motionsOf } from './copies-asked';

/** Copies in a row, round an axis, or mirrored. */
export function CopiesDialog() {
  const model = useDocument((s) => s.model);
  const picked = useDocument((s) => s.picked);
  const [asked, setAsked] = useState(FIRST);
  const [keepLinked, setLinked] = useState(false);
  const [fault, setFault] = useState<string>();
  if (!model) return null;
  const { way } = asked;
  const n = countOf(asked);
  const make = async () => {
    const m = meant(asked);
    if (!m) return setFault('Lengths are written like 200 mm, angles like 60 deg.');
    if (keepLinked && way === 'mirror') {
      mirrorLive(picked, asked.axis, m.at);
      return openCopies(false);
    }
    const name = () => freeName('kits', picked.find((p) => p.family === 'bodies' || p.family === 'instances')?.name ?? 'Kit', model);
    const why = keepLinked
      ? await makeKit(picked, name(), (i) => linked(asked, m, i))
      : makeCopies(picked, motionsOf(asked, m), way === 'mirror' ? 'mirrored' : 'copy');
    if (why) setFault(why);
    else openCopies(false);
  };
  return (
    <Dialog open onClose={() => openCopies(false)} title={`Copies of ${picked.map((p) => p.name).join(', ') || 'nothing'}`}>
      <div className="grid gap-3">
        <Segmented
          label="How"
          value={way}
          options={[
            ['row', 'In a row'],
            ['ring', 'Round an axis'],
            ['mirror', 'Mirrored'],
          ]}
          onChange={(v) => setAsked({ ...asked, way: v as Way })}
        />
        <Fields asked={asked} onChange={(some) => setAsked({ ...asked, ...some })} />
        <p className="text-xs text-ink-2">
          Comes along: {wordsOf(bundleOf(model, picked))}. Parameters, tables and materials are shared; formulas stay formulas where the
          motion allows it.
        </p>
        <label className="flex items-start gap-2">
          <CheckBox checked={keepLinked} onChange={setLinked} className="mt-0.5" />
          <span>
            Keep them linked:{' '}
            {way === 'mirror' ? 'the image follows every change of the original' : 'a kit is made of what is picked, and all follow it'}
          </span>
        </label>
        {fault && (
          <p role="alert" className="rounded-md bg-warn-soft px-3 py-1.5 text-warn">
            {fault}
          </p>
        )}
        <div className="flex justify-end gap-2">
          <Button onClick={() => openCopies(false)}>Cancel</Button>
          <Button primary disabled={picked.length === 0} onClick={() => void make()}>
            Make {way === 'mirror' ? 'the mirrored copy' : n === 1 ? 'the copy' : `${n} copies`}
          </Button>
        </div>
      </div>
    </Dialog>
  );
}

function Fields({ asked, onChange }: { asked: Asked; onChange: (some: Partial<Asked>) => void }) {
  const { way, count, step, about, angle, axis, at } = asked;
  return (
    <div className="grid grid-cols-[auto_1fr] items-center gap-x-3 gap-y-2">
      {way !== 'mirror' && (
        <>
          <span className="text-ink-2">Copies</span>
          <Field label="Number of copies" value={count} onChange={(v) => onChange({ count: v })} />
        </>
      )}
      {way === 'row' && (
        <>
          <span className="text-ink-2">Each further by</span>
          <Triple what="Step" list={step} onChange={(v) => onChange({ step: v })} />
        </>
      )}
      {way === 'ring' && (
        <>
          <span className="text-ink-2">Each further by</span>
          <Field label="Angle" value={angle} onChange={(v) => onChange({ angle: v })} />
          <span className="text-ink-2">About the point</span>
          <Triple what="Middle" list={about} onChange={(v) => onChange({ about: v })} />
        </>
      )}
      {way !== 'row' && (
        <>
          <span className="text-ink-2">{way === 'mirror' ? 'In the plane square to' : 'Axis'}</span>
          <Segmented
            label="Axis of the copies"
            value={AXES[axis]}
            options={AXES.map((a) => [a, a] as const)}
            onChange={(v) => onChange({ axis: AXES.indexOf(v as 'x') as 0 })}
          />
        </>
      )}
      {way === 'mirror' && (
        <>
          <span className="text-ink-2">at</span>
          <Field label="Plane at" value={at} onChange={(v) => onChange({ at: v })} />
        </>
      )}
    </div>
  );
}

function Field({ label, value, onChange }: { label: string; value: string; onChange: (v: string) => void }) {
  return (
    <input
      aria-label={label}
      value={value}
      onChange={(e) => onChange(e.target.value)}
      className="w-24 rounded-md border border-line bg-sheet px-2 py-1 font-mono text-xs"
    />
  );
}

function Triple({ what, list, onChange }: { what: string; list: readonly string[]; onChange: (v: string[]) => void }) {
  return (
    <span className="flex gap-2">
      {AXES.map((k, i) => (
        <Field key={k} label={`${what} ${k}`} value={list[i]!} onChange={(v) => onChange(list.map((x, j) => (j === i ? v : x)))} />
      ))}
    </span>
  );
}
