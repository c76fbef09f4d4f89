'use client';
import { useState } from 'react';
import { bundleOf, readUnit } from '@vim-pivot/core/page';
import { useDocument } from '@/state/document/document';
import { openCopies } from '@/state/asking';
import { freeName } from '@/state/document/elements';
import { makeKit, mirrorLive } from '@/state/adding/kits';
import { makeCopies, wordsOf } from '@/state/adding/copies';
import type { Motion } from '@/state/adding/reuse';
import { Button, Dialog } from '@/ui/dialog';
import { Segmented } from '@/ui/segmented';
import { CheckBox } from '@/ui/check';

type Way = 'row' | 'ring' | 'mirror';
const AXES = ['x', 'y', 'z'] as const;

/** A number with its unit as SI; the unit may be left out. */
function read(text: string, unit: string): number | undefined {
  const m = /^\s*([-−+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?)\s*([^\s\d].*)?$/i.exec(text);
  const factor = m && readUnit(m[2]?.trim() || unit);
  const base = readUnit(unit)!;
  return factor && factor.dim.every((x, i) => x === base.dim[i]) ? Number(m[1]!.replace('−', '-')) * factor.factor : undefined;
}

/** Copies in a row, round an axis, or mirrored. */
export function CopiesDialog() {
  const model = useDocument((s) => s.model);
  const picked = useDocument((s) => s.picked);
  const [way, setWay] = useState<Way>('row');
  const [count, setCount] = useState('1');
  const [step, setStep] = useState(['200 mm', '0 mm', '0 mm']);
  const [about, setAbout] = useState(['0 mm', '0 mm', '0 mm']);
  const [angle, setAngle] = useState('60 deg');
  const [axis, setAxis] = useState<0 | 1 | 2>(2);
  const [at, setAt] = useState('0 mm');
  const [linked, setLinked] = useState(false);
  const [fault, setFault] = useState<string>();
  if (!model) return null;
  const bundle = bundleOf(model, picked);
  const n = Math.min(200, Math.max(1, Math.round(Number(count)) || 1));
  const field = (label: string, value: string, onChange: (v: string) => void) => (
    <input
      aria-label={label}
      value={value}
      onChange={(e) => onChange(e.target.value)}
      className="w-24 rounded-md border border-line bg-sheet px-2 py-1 font-mono text-xs"
    />
  );
  const triple = (what: string, list: string[], onChange: (v: string[]) => void) => (
    <span className="flex gap-2">
      {AXES.map((k, i) => (
        <span key={k}>{field(`${what} ${k}`, list[i]!, (v) => onChange(list.map((x, j) => (j === i ? v : x))))}</span>
      ))}
    </span>
  );
  const make = () => {
    const lengths = (list: string[]) => list.map((x) => read(x, 'mm'));
    const [by, centre, turn, plane] = [lengths(step), lengths(about), read(angle, 'deg'), read(at, 'mm')];
    if (
      (way === 'row' && by.includes(undefined)) ||
      (way === 'ring' && (centre.includes(undefined) || turn === undefined)) ||
      (way === 'mirror' && plane === undefined)
    )
      return setFault('Lengths are written like 200 mm, angles like 60 deg.');
    if (linked) return void makeLinked(by as number[], centre as number[], turn!, plane!);
    const motions =
      way === 'mirror'
        ? [{ type: 'mirror', axis, at: plane! } as Motion]
        : Array.from({ length: n }, (_, i): Motion =>
            way === 'row'
              ? { type: 'shift', by: by.map((x) => x! * (i + 1)) as [number, number, number] }
              : {
                  type: 'turn',
                  about: centre as [number, number, number],
                  axis: AXES.map((_a, k) => (k === axis ? 1 : 0)) as [number, number, number],
                  angle: turn! * (i + 1),
                },
          );
    const why = makeCopies(picked, motions, way === 'mirror' ? 'mirrored' : 'copy');
    if (why) setFault(why);
    else openCopies(false);
  };
  const makeLinked = async (by: number[], centre: number[], turn: number, plane: number) => {
    if (way === 'mirror') {
      mirrorLive(picked, axis, plane);
      return openCopies(false);
    }
    const name = freeName('kits', picked.find((p) => p.family === 'bodies' || p.family === 'instances')?.name ?? 'Kit', model);
    const why = await makeKit(picked, name, (i) =>
      way === 'row'
        ? { ...i, kind: 'row', count: n + 1, step: by }
        : {
            ...i,
            kind: 'ring',
            count: n + 1,
            axis: AXES.map((_a, k) => (k === axis ? 1 : 0)),
            angle: turn,
            ...(centre.some((x) => x !== 0) ? { about: centre } : {}),
          },
    );
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
          onChange={(v) => setWay(v as Way)}
        />
        <div className="grid grid-cols-[auto_1fr] items-center gap-x-3 gap-y-2">
          {way !== 'mirror' && (
            <>
              <span className="text-ink-2">Copies</span>
              {field('Number of copies', count, setCount)}
            </>
          )}
          {way === 'row' && (
            <>
              <span className="text-ink-2">Each further by</span>
              {triple('Step', step, setStep)}
            </>
          )}
          {way === 'ring' && (
            <>
              <span className="text-ink-2">Each further by</span>
              {field('Angle', angle, setAngle)}
              <span className="text-ink-2">About the point</span>
              {triple('Middle', about, setAbout)}
            </>
          )}
          {way !== 'row' && (
            <>
              <span className="text-ink-2">{way === 'mirror' ? 'In the plane square to' : 'Axis'}</span>
              <Segmented
                label="Axis of the copies"
                value={AXES[axis]}
                options={AXES.map((a) => [a, a] as const)}
                onChange={(v) => setAxis(AXES.indexOf(v as 'x') as 0)}
              />
            </>
          )}
          {way === 'mirror' && (
            <>
              <span className="text-ink-2">at</span>
              {field('Plane at', at, setAt)}
            </>
          )}
        </div>
        <p className="text-xs text-ink-2">
          Comes along: {wordsOf(bundle)}. Parameters, tables and materials are shared; formulas stay formulas where the motion allows it.
        </p>
        <label className="flex items-start gap-2">
          <CheckBox checked={linked} onChange={setLinked} className="mt-0.5" />
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
          <Button primary disabled={picked.length === 0} onClick={make}>
            Make {way === 'mirror' ? 'the mirrored copy' : n === 1 ? 'the copy' : `${n} copies`}
          </Button>
        </div>
      </div>
    </Dialog>
  );
}
