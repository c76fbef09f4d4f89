'use client';
import { useEffect, useState } from 'react';
import { jsonPath, fixed } from '@vim-pivot/core/page';
import type { RevisionRow } from '@/state/kept/db';
import { addProject, deleteProject, dismissRefusal, replaceWhole, useDocument } from '@/state/document/document';
import { goBackTo, revisionsOf, storageUse } from '@/state/kept/revisions';
import { Button, Dialog } from '@/ui/dialog';

export type Asked = 'rename' | 'delete' | 'revisions' | 'about';

/** What the project menu asks about. */
export function ProjectDialog({ asked, onClose }: { asked: Asked; onClose: () => void }) {
  const model = useDocument((s) => s.whole);
  const id = useDocument((s) => s.id);
  if (!model || !id) return null;
  if (asked === 'rename') return <Rename name={model.name} onClose={onClose} />;
  if (asked === 'about') return <About onClose={onClose} />;
  if (asked === 'revisions') return <Revisions project={id} onClose={onClose} />;
  return (
    <Dialog open onClose={onClose} title={`Delete “${model.name}”?`}>
      <p className="mb-4">
        The project and its runs are removed from this browser. This cannot be undone; export the model first if you may need it.
      </p>
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Keep it</Button>
        <Button
          primary
          onClick={() => {
            onClose();
            void deleteProject(id);
          }}
        >
          Delete
        </Button>
      </div>
    </Dialog>
  );
}

function Rename({ name, onClose }: { name: string; onClose: () => void }) {
  const [text, setText] = useState(name);
  return (
    <Dialog open onClose={onClose} title="Rename project">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          const next = text.trim().slice(0, 80);
          if (next)
            replaceWhole('Rename project', (m) => {
              m.name = next;
            });
          onClose();
        }}
        className="flex gap-2"
      >
        <input
          aria-label="Project name"
          autoFocus
          maxLength={80}
          value={text}
          onChange={(e) => setText(e.target.value)}
          className="flex-1 rounded-md border border-line bg-sheet px-2 py-1"
        />
        <button type="submit" className="rounded-md bg-accent px-3 py-1 font-medium text-on-accent">
          Rename
        </button>
      </form>
    </Dialog>
  );
}

/** Earlier states of the project; going back to one is an edit like any other. */
function Revisions({ project, onClose }: { project: string; onClose: () => void }) {
  const [rows, setRows] = useState<RevisionRow[]>();
  const [use, setUse] = useState<{ used: number; quota: number }>();
  useEffect(() => {
    void revisionsOf(project).then(setRows);
    void storageUse().then(setUse);
  }, [project]);
  const count = (r: RevisionRow) =>
    `${r.model.bodies?.length ?? 0} bodies, ${r.model.joints?.length ?? 0} joints, ${r.model.parameters?.length ?? 0} parameters`;
  return (
    <Dialog open onClose={onClose} title="Revisions">
      <p className="mb-2 text-ink-2">
        Kept every minute of work, and before a change from another window takes over. Going back can itself be undone.
      </p>
      {rows?.length === 0 && <p className="py-2">None yet.</p>}
      <ul className="max-h-80 overflow-auto">
        {rows?.map((r) => (
          <li key={r.key} className="flex items-center gap-3 border-b border-line py-1">
            <span className="font-mono text-xs">{new Date(r.made).toLocaleString([], { dateStyle: 'short', timeStyle: 'medium' })}</span>
            <span className="min-w-0 flex-1 truncate">
              {r.label} <span className="text-ink-2">{count(r)}</span>
            </span>
            <Button
              onClick={() => {
                goBackTo(r);
                onClose();
              }}
            >
              Go back
            </Button>
          </li>
        ))}
      </ul>
      {use && use.quota > 0 && (
        <p className={`mt-3 text-xs ${use.used > 0.8 * use.quota ? 'text-warn' : 'text-ink-2'}`}>
          This browser keeps {fixed(use.used / 1e6, 1)} MB of at most {fixed(use.quota / 1e6, 0)} MB.{' '}
          {use.used > 0.8 * use.quota ? 'Delete old runs or projects soon.' : ''}
        </p>
      )}
    </Dialog>
  );
}

/** Why a file was not opened; what was open stays as it is. */
/** What this is, and what it is made with. */
function About({ onClose }: { onClose: () => void }) {
  const [notices, setNotices] = useState<string>();
  useEffect(() => {
    void fetch('/engine/notices.txt')
      .then(
        (r) => (r.ok ? r.text() : Promise.reject(new Error())),
        () => Promise.reject(new Error()),
      )
      .then(setNotices, () => setNotices('The notices could not be loaded. They stand in THIRD-PARTY-NOTICES.md beside the program.'));
  }, []);
  return (
    <Dialog open wide onClose={onClose} title="About Vim Pivot">
      <p className="mb-2">
        Multibody models of mechanisms and machines. Everything is computed on this machine; nothing is sent anywhere. MIT licence.
      </p>
      <p className="mb-2 text-ink-2">
        It is made with the packages and fonts below. Those under copyleft licences stand first, with where their source is.
      </p>
      <pre
        aria-label="Third-party notices"
        tabIndex={0}
        className="max-h-[52vh] overflow-auto whitespace-pre-wrap rounded-md border border-line p-3 font-mono text-xs"
      >
        {notices ?? 'Loading…'}
      </pre>
    </Dialog>
  );
}

export function RefusedFile() {
  const refused = useDocument((s) => s.refused);
  return (
    <Dialog open={!!refused} onClose={dismissRefusal} title={`${refused?.file ?? 'The file'} was not opened`}>
      <p className="mb-3 text-ink-2">Your open project is unchanged.</p>
      <ul className="mb-4 space-y-2">
        {refused?.diagnoses.map((d, i) => (
          <li key={i} className="rounded-md bg-warn-soft px-3 py-2">
            <span className="font-mono text-xs text-warn">{d.path ? jsonPath(d.path) : ''}</span>
            <p>
              {d.element && <b>{d.element.name}: </b>}
              {d.message} {d.remedy}
            </p>
          </li>
        ))}
      </ul>
      <div className="flex justify-end gap-2">
        {refused?.model && (
          <Button
            title="As a project of its own, with these findings marked"
            onClick={() => {
              const { model } = refused;
              dismissRefusal();
              if (model) void addProject(model);
            }}
          >
            Open it all the same, to mend it
          </Button>
        )}
        <Button primary onClick={dismissRefusal}>
          Close
        </Button>
      </div>
    </Dialog>
  );
}
