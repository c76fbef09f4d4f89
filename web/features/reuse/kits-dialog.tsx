'use client';
import { useEffect, useState } from 'react';
import { type Model, type RawElement, contentOf, kindOf, withNeeded } from '@vim-pivot/core/page';
import { openKits, useKits } from '@/state/asking';
import type { KitRow } from '@/state/kept/db';
import { download, fileName } from '@/state/files/download';
import { openKit, select, useDocument } from '@/state/document/document';
import { freeName, removeElement } from '@/state/document/elements';
import { importFile } from '@/state/files/files';
import { dropFromLibrary, instancesOf, keepInLibrary, kitFile, library, makeKit, newKit, putIn, takeKits } from '@/state/adding/kits';
import { Button, Dialog } from '@/ui/dialog';
import { Segmented } from '@/ui/segmented';

const QUIET = 'rounded-md border border-line px-2 py-0.5 hover:border-ink-2';
const done = () => openKits(undefined);

const save = (name: string, text: string): void => download(`${fileName(name)}.kit.json`, text, 'application/json');

/** What a kit has, in words. */
function contents(kit: RawElement): string {
  const c = contentOf(kit),
    mounts = c.bodies.filter((b) => kindOf('bodies', b)?.standsIn).length;
  const count = (n: number, one: string, many = `${one}s`) => (n === 0 ? [] : [`${n} ${n === 1 ? one : many}`]);
  return (
    [
      ...count(c.bodies.length - mounts, 'body', 'bodies'),
      ...count(c.joints.length, 'joint'),
      ...count(c.instances.length, 'instance'),
      ...count(c.parameters.length, 'parameter'),
      ...count(mounts, 'mount'),
    ].join(', ') || 'empty'
  );
}

export function KitsDialog() {
  const open = useKits((s) => s.open);
  return open === 'make' ? <MakeKit /> : <Shelf />;
}

/** A kit of what is picked. */
function MakeKit() {
  const picked = useDocument((s) => s.picked);
  const model = useDocument((s) => s.model);
  const [name, setName] = useState(() => (model ? freeName('kits', picked[0]?.name ?? 'Kit', model) : 'Kit'));
  const [fault, setFault] = useState<string>();
  return (
    <Dialog open onClose={done} title={`A kit of ${picked.map((p) => p.name).join(', ')}`}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          void makeKit(picked, name.trim()).then((why) => (why ? setFault(why) : done()));
        }}
      >
        <label className="flex items-center gap-3">
          <span className="text-ink-2">Name</span>
          <input
            aria-label="Name of the kit"
            autoFocus
            maxLength={60}
            value={name}
            onChange={(e) => setName(e.target.value)}
            className="flex-1 rounded-md border border-line bg-sheet px-2 py-1"
          />
        </label>
        <p className="my-3 text-ink-2">
          It takes its shapes, points, joints, loads, drives and gauges along. Other bodies it hangs on become its mounts, parameters it
          uses become its own. An instance of it stays in its place, driven by the machine’s parameters as before.
        </p>
        {fault && (
          <p role="alert" className="mb-3 rounded-md bg-warn-soft px-3 py-1.5 text-warn">
            {fault}
          </p>
        )}
        <div className="flex justify-end gap-2">
          <Button onClick={done}>Cancel</Button>
          <button
            type="submit"
            disabled={name.trim() === ''}
            className="rounded-md border border-accent bg-accent px-3 py-1 font-medium text-on-accent disabled:opacity-45"
          >
            Make the kit
          </button>
        </div>
      </form>
    </Dialog>
  );
}

/** The kits of this project, and those kept for all. */
function Shelf() {
  const model = useDocument((s) => s.model);
  const whole = useDocument((s) => s.whole);
  const inside = useDocument((s) => s.inside);
  const picked = useDocument((s) => s.picked);
  const [shelf, setShelf] = useState<'project' | 'library'>('project');
  const [rows, setRows] = useState<KitRow[]>([]);
  const load = () => void library().then(setRows);
  useEffect(load, []);
  if (!model || !whole) return null;
  const movable = picked.some((p) => p.family === 'bodies' || p.family === 'instances');
  return (
    <Dialog open wide onClose={done} title="Kits">
      <div className="mb-3 flex items-center gap-2">
        <Segmented
          label="Shelf of kits"
          value={shelf}
          options={[
            ['project', 'In this project'],
            ['library', 'Library'],
          ]}
          onChange={(v) => setShelf(v as 'project')}
        />
        <span className="flex-1" />
        <label className={`${QUIET} cursor-pointer`}>
          Take in a file…
          <input
            type="file"
            accept=".json"
            aria-label="File of kits"
            className="sr-only"
            onChange={(e) => {
              const file = e.target.files?.[0];
              if (file) void importFile(file).then(done);
            }}
          />
        </label>
        <Button disabled={!movable} title={movable ? '' : 'Pick bodies first'} onClick={() => openKits('make')}>
          Kit of what is picked…
        </Button>
        <Button
          onClick={() => {
            done();
            newKit();
          }}
        >
          New empty kit
        </Button>
      </div>
      <ul aria-label="Kits" className="grid gap-2">
        {shelf === 'project' &&
          model.kits.map((k) => (
            <KitLine key={k.name} kit={k} whole={whole} open={inside === k.name} kept={rows.some((r) => r.name === k.name)} onKeep={load} />
          ))}
        {shelf === 'library' && rows.map((r) => <KeptLine key={r.name} row={r} onChange={load} />)}
      </ul>
      {shelf === 'project' && model.kits.length === 0 && (
        <p className="text-ink-2">
          There is no kit yet. Pick the bodies of a mechanism that occurs more than once and make a kit of them: instances have values of
          their own and follow every change of the kit.
        </p>
      )}
      {shelf === 'library' && rows.length === 0 && (
        <p className="text-ink-2">
          The library is empty. Kits kept here can be put into every project in this browser; export them to hand them on.
        </p>
      )}
    </Dialog>
  );
}

/** On the Card of a kit. */
export function KitCard({ name }: { name: string }) {
  const model = useDocument((s) => s.model);
  const kit = model?.kits.find((k) => k.name === name);
  if (!model || !kit) return null;
  return (
    <div className="grid gap-2 border-b border-line px-3 py-2">
      <p>{contents(kit)}.</p>
      <div className="flex flex-wrap gap-2">
        <button className={QUIET} onClick={() => openKit(name)}>
          Open the kit
        </button>
        <button className={QUIET} onClick={() => putIn(name)}>
          Put in an instance
        </button>
        <button className={QUIET} onClick={() => openKits('list')}>
          All kits…
        </button>
      </div>
      {model.instances
        .filter((i) => i.kit === name)
        .map((i) => (
          <button key={i.name} className="text-left underline" onClick={() => select({ family: 'instances', name: i.name })}>
            {i.name}
          </button>
        ))}
    </div>
  );
}

/** A kit of the project. @param whole the model with all kits; @param onKeep called once it is in the library */
function KitLine({ kit, whole, open, kept, onKeep }: { kit: RawElement; whole: Model; open: boolean; kept: boolean; onKeep: () => void }) {
  const made = instancesOf(whole, kit.name);
  return (
    <li className="flex items-center gap-2 rounded-lg border border-line px-3 py-2">
      <span className="min-w-0 flex-1">
        <b className="block truncate">{kit.name}</b>
        <span className="text-xs text-ink-2">
          {contents(kit)}; {made} made of it
        </span>
      </span>
      <button
        className={QUIET}
        disabled={open}
        onClick={() => {
          done();
          putIn(kit.name);
        }}
      >
        Put in
      </button>
      <button
        className={QUIET}
        onClick={() => {
          done();
          openKit(kit.name);
        }}
      >
        Open
      </button>
      <button
        className={QUIET}
        title="Keep it in the library of this browser, for all projects"
        onClick={() => void keepInLibrary(kit.name).then(onKeep)}
      >
        {kept ? 'Keep anew' : 'Keep in library'}
      </button>
      <button className={QUIET} onClick={() => save(kit.name, kitFile(withNeeded(useDocument.getState().model!.kits, kit.name)))}>
        Export
      </button>
      <button
        className={`${QUIET} text-warn disabled:opacity-40`}
        disabled={made > 0}
        title={made > 0 ? 'Instances are made of it' : 'Undo brings it back'}
        onClick={() => removeElement('kits', kit.name)}
      >
        Delete
      </button>
    </li>
  );
}

/** A kit kept for all projects. */
function KeptLine({ row, onChange }: { row: KitRow; onChange: () => void }) {
  return (
    <li className="flex items-center gap-2 rounded-lg border border-line px-3 py-2">
      <span className="min-w-0 flex-1">
        <b className="block truncate">{row.name}</b>
        <span className="text-xs text-ink-2">
          {contents(row.kits[0]!)}; kept {new Date(row.changed).toLocaleString([], { dateStyle: 'medium', timeStyle: 'short' })}
        </span>
      </span>
      <button
        className={QUIET}
        onClick={() => {
          done();
          void takeKits(row.kits).then(() => {
            const { selected } = useDocument.getState();
            if (selected?.family === 'kits') putIn(selected.name);
          });
        }}
      >
        Put in
      </button>
      <button className={QUIET} onClick={() => save(row.name, kitFile(row.kits))}>
        Export
      </button>
      <button className={`${QUIET} text-warn`} onClick={() => void dropFromLibrary(row.name).then(onChange)}>
        Remove
      </button>
    </li>
  );
}
