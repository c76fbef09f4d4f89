'use client';
import { fixed } from '@vim-pivot/core/page';
import { useEffect, useState } from 'react';
import type { Model } from '@vim-pivot/core/page';
import type { Shelf } from '@/state/asking';
import { type ProjectRow, db } from '@/state/kept/db';
import {
  addProject,
  deleteProject,
  duplicateProject,
  nameOfRow,
  openProject,
  rawProject,
  saveNow,
  useDocument,
} from '@/state/document/document';
import { download, fileName } from '@/state/files/download';
import { isSound } from '@/state/kept/sound';
import { ALL_EXAMPLES } from '@/state/adding/more-examples';
import { useStorage, lookAtStorage, WARN_AT } from '@/state/kept/storage';
import { TEMPLATES } from '@/state/adding/templates';
import { Button, Dialog } from '@/ui/dialog';
import { Segmented } from '@/ui/segmented';

/** A project, and how many runs it has. */
type Counted = ProjectRow & { runs: number };

/** Your projects with their pictures, the examples, and machines to begin from. */
export function ProjectBrowser({ first, onClose }: { first: Shelf; onClose: () => void }) {
  const open = useDocument((s) => s.id);
  const [shelf, setShelf] = useState<Shelf>(first);
  const [rows, setRows] = useState<Counted[]>();
  const [search, setSearch] = useState('');
  const store = useStorage();
  const load = async () => {
    const list = (await db.projects.toArray()).sort((a, b) => Number(b.changed) - Number(a.changed));
    setRows(await Promise.all(list.map(async (r) => ({ ...r, runs: await db.runs.where('project').equals(r.id).count() }))));
  };
  useEffect(() => {
    void (async () => {
      await saveNow();
      await load();
      await lookAtStorage(true);
    })();
  }, []);
  const hit = (name: string) => name.toLowerCase().includes(search.trim().toLowerCase());
  const begin = (model: Model) => {
    onClose();
    void addProject(model);
  };
  return (
    <Dialog open wide onClose={onClose} title="Projects">
      <div className="mb-3 flex items-center gap-3">
        <Segmented
          label="Shelf"
          value={shelf}
          options={[
            ['projects', 'Yours'],
            ['examples', 'Examples'],
            ['templates', 'Begin from'],
          ]}
          onChange={(v) => setShelf(v as Shelf)}
        />
        <input
          aria-label="Search projects"
          placeholder="Search"
          value={search}
          onChange={(e) => setSearch(e.target.value)}
          className="w-48 rounded-md border border-line bg-sheet px-2 py-1"
        />
        <span className="flex-1" />
        {store.quota > 0 && (
          <span className={`text-xs ${store.used > WARN_AT * store.quota ? 'text-warn' : 'text-ink-2'}`}>
            {fixed(store.used / 1e6, 1)} MB of {fixed(store.quota / 1e6, 0)} MB used in this browser
          </span>
        )}
      </div>
      <ul className="grid grid-cols-3 gap-3" aria-label="Shelf">
        {shelf === 'projects' &&
          rows
            ?.filter((r) => hit(nameOfRow(r)))
            .map((r) =>
              !isSound(r.model) ? (
                <Damaged key={r.id} row={r} onDelete={() => void deleteProject(r.id).then(load)} />
              ) : (
                <Project key={r.id} row={r} open={r.id === open} onOpen={onClose} onChange={() => void load()} />
              ),
            )}
        {shelf === 'examples' &&
          ALL_EXAMPLES.filter((m) => hit(m.name)).map((m) => <Offer key={m.name} model={m} about={m.note ?? ''} onBegin={begin} />)}
        {shelf === 'templates' &&
          TEMPLATES.filter((t) => hit(t.model.name)).map((t) => (
            <Offer key={t.model.name} model={t.model} about={t.about} onBegin={begin} />
          ))}
      </ul>
      <p className="mt-4 text-xs text-ink-2">
        Projects stay in this browser. Export a project file to keep it elsewhere or to hand it over.
      </p>
    </Dialog>
  );
}

/** A project of which the store holds something else than a model: the rest goes on without it. */
function Damaged({ row, onDelete }: { row: ProjectRow; onDelete: () => void }) {
  const [sure, setSure] = useState(false);
  return (
    <li className="flex flex-col gap-1 rounded-lg border border-warn p-2.5">
      <b className="truncate">{nameOfRow(row)}</b>
      <p className="flex-1 text-xs text-warn">Damaged: what is kept of it is no model. Its revisions may still hold one.</p>
      <div className="flex gap-2">
        <Button
          onClick={() =>
            void rawProject(row.id).then((text) => download(`${fileName(nameOfRow(row))}-damaged.json`, text, 'application/json'))
          }
        >
          Export what is there
        </Button>
        <button
          className={`rounded px-1.5 underline ${sure ? 'font-medium text-accent' : 'text-ink-2 hover:text-accent'}`}
          onClick={() => (sure ? onDelete() : setSure(true))}
        >
          {sure ? 'Delete for good' : 'Delete…'}
        </button>
      </div>
    </li>
  );
}

function Picture({ src }: { src?: string | undefined }) {
  return src ? (
    <img src={src} alt="" className="block h-28 w-full bg-stage object-cover" />
  ) : (
    <span className="grid h-28 w-full place-items-center bg-stage text-xs text-ink-2">No picture yet</span>
  );
}

function Offer({ model, about, onBegin }: { model: Model; about: string; onBegin: (m: Model) => void }) {
  return (
    <li className="flex flex-col gap-1 rounded-lg border border-line p-2.5">
      <b>{model.name}</b>
      <p className="flex-1 text-xs text-ink-2">{about}</p>
      <p className="text-xs text-ink-2">
        {model.bodies.length} bodies, {model.joints.length} joints
      </p>
      <Button onClick={() => onBegin(model)} title={`A project of your own from ${model.name}`}>
        Begin with it
      </Button>
    </li>
  );
}

function Project({ row, open, onOpen, onChange }: { row: Counted; open: boolean; onOpen: () => void; onChange: () => void }) {
  const [sure, setSure] = useState(false);
  return (
    <li className={`flex flex-col overflow-hidden rounded-lg border ${open ? 'border-calm' : 'border-line'}`}>
      <button
        aria-label={`Open ${row.name}`}
        onClick={() => {
          onOpen();
          void openProject(row.id);
        }}
        className="block hover:opacity-90"
      >
        <Picture src={row.picture} />
        <span className="block truncate px-2.5 pt-1.5 text-left font-semibold">
          {row.name}
          {open && <span className="font-normal text-calm"> open</span>}
        </span>
      </button>
      <p className="px-2.5 text-xs text-ink-2">
        {row.model.bodies?.length ?? 0} bodies, {row.runs === 1 ? '1 run' : `${row.runs} runs`} ·{' '}
        {new Date(row.changed).toLocaleString([], { dateStyle: 'medium', timeStyle: 'short' })}
      </p>
      <div className="flex gap-2 px-2 py-1.5">
        <button className="rounded px-1.5 text-ink-2 underline hover:text-ink" onClick={() => void duplicateProject(row.id).then(onChange)}>
          Duplicate
        </button>
        {sure ? (
          <button className="rounded px-1.5 font-medium text-accent underline" onClick={() => void deleteProject(row.id).then(onChange)}>
            Delete for good
          </button>
        ) : (
          <button className="rounded px-1.5 text-ink-2 underline hover:text-accent" onClick={() => setSure(true)}>
            Delete…
          </button>
        )}
      </div>
    </li>
  );
}
