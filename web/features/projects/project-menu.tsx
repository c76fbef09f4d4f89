'use client';
import { ChevronDown } from 'lucide-react';
import { useRef, useState } from 'react';
import { type Model, jsonPath, writeModel } from '@vim-pivot/core/page';
import { addProject, blank, deleteProject, dismissRefusal, edit, importFile, openProject, useDocument } from '@/state/document';
import { EXAMPLES } from '@/state/examples';
import { fetchRun, useRuns } from '@/state/runs';
import { runWorker } from '@/workers/client';
import { Button, Dialog } from '@/ui/dialog';
import { Menu, MenuItem, MenuLabel, MenuRule } from '@/ui/menu';

function download(name: string, text: string, type: string): void {
  const url = URL.createObjectURL(new Blob([text], { type }));
  const a = document.createElement('a');
  a.href = url;
  a.download = name;
  a.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}

const fileName = (model: Model) => model.name.toLowerCase().replace(/[^\p{L}\p{N}]+/gu, '-').replace(/^-|-$/g, '') || 'model';

async function exportCurves(model: Model): Promise<void> {
  const { current } = useRuns.getState();
  if (!current) return;
  await fetchRun(current);
  const { writeCsv } = await import('@vim-pivot/core/csv');
  const gauges = model.gauges.filter((g) => !g.off).map((g) => g.name);
  const r = await runWorker().ask({ type: 'read', run: current, now: model, gauges, from: 0 }, 'read');
  download(`${fileName(model)}.csv`, writeCsv(r.time, r.curves.map((c) => ({ name: c.gauge, dim: c.dim, unit: c.unit, values: c.values }))), 'text/csv');
}

export function ProjectMenu() {
  const model = useDocument((s) => s.model);
  const id = useDocument((s) => s.id);
  const projects = useDocument((s) => s.projects);
  const savedAt = useDocument((s) => s.savedAt);
  const hasRun = useRuns((s) => !!s.current && !s.running);
  const input = useRef<HTMLInputElement>(null);
  const [renaming, setRenaming] = useState<string>();
  const [deleting, setDeleting] = useState(false);
  if (!model) return null;
  return (
    <>
      <Menu
        trigger={
          <button className="flex items-center gap-1.5 rounded-md px-2 py-1 hover:bg-paper" aria-label={`Project ${model.name}`}>
            <span className="max-w-64 truncate font-semibold">{model.name}</span>
            <ChevronDown size={14} aria-hidden="true" />
          </button>
        }
      >
        <MenuItem onSelect={() => void addProject(blank('Untitled machine'))}>New empty project</MenuItem>
        {EXAMPLES.map((x) => <MenuItem key={x.name} onSelect={() => void addProject(x)}>New from example: {x.name}</MenuItem>)}
        <MenuItem onSelect={() => input.current?.click()}>Open a model file…</MenuItem>
        <MenuRule />
        <MenuItem onSelect={() => setRenaming(model.name)}>Rename project…</MenuItem>
        <MenuItem onSelect={() => void addProject({ ...model, name: `${model.name} copy` })}>Duplicate project</MenuItem>
        <MenuItem danger onSelect={() => setDeleting(true)}>Delete project…</MenuItem>
        <MenuRule />
        <MenuItem onSelect={() => download(`${fileName(model)}.pivot.json`, writeModel(model), 'application/json')}>Export model</MenuItem>
        <MenuItem disabled={!hasRun} onSelect={() => void exportCurves(model)} hint={hasRun ? '' : 'run first'}>Export curves as CSV</MenuItem>
        {projects.length > 1 && (
          <>
            <MenuRule />
            <MenuLabel>Other projects</MenuLabel>
            {projects.filter((p) => p.id !== id).map((p) => <MenuItem key={p.id} onSelect={() => void openProject(p.id)}>{p.name}</MenuItem>)}
          </>
        )}
      </Menu>
      <span className="hidden text-ink-2 lg:inline" role="status">{savedAt ? `saved here ${new Date(savedAt).toLocaleTimeString([], { hour: '2-digit', minute: '2-digit' })}` : ''}</span>
      <input
        ref={input}
        type="file"
        accept=".json,application/json"
        aria-label="Open a model file"
        className="hidden"
        onChange={(e) => {
          const file = e.target.files?.[0];
          if (file) void importFile(file);
          e.target.value = '';
        }}
      />
      <Dialog open={renaming !== undefined} onClose={() => setRenaming(undefined)} title="Rename project">
        <form
          onSubmit={(e) => {
            e.preventDefault();
            const name = (renaming ?? '').trim().slice(0, 80);
            if (name) edit('Rename project', (m) => {
              m.name = name;
            });
            setRenaming(undefined);
          }}
          className="flex gap-2"
        >
          <input aria-label="Project name" autoFocus maxLength={80} value={renaming ?? ''} onChange={(e) => setRenaming(e.target.value)} className="flex-1 rounded-md border border-line bg-sheet px-2 py-1" />
          <button type="submit" className="rounded-md bg-accent px-3 py-1 font-medium text-on-accent">Rename</button>
        </form>
      </Dialog>
      <Dialog open={deleting} onClose={() => setDeleting(false)} title={`Delete “${model.name}”?`}>
        <p className="mb-4">The project and its runs are removed from this browser. This cannot be undone; export the model first if you may need it.</p>
        <div className="flex justify-end gap-2">
          <Button onClick={() => setDeleting(false)}>Keep it</Button>
          <Button
            primary
            onClick={() => {
              setDeleting(false);
              if (id) void deleteProject(id);
            }}
          >
            Delete
          </Button>
        </div>
      </Dialog>
    </>
  );
}

/** Why a file was not opened; what was open stays as it is. */
export function RefusedFile() {
  const refused = useDocument((s) => s.refused);
  return (
    <Dialog open={!!refused} onClose={dismissRefusal} title={`${refused?.file ?? 'The file'} was not opened`}>
      <p className="mb-3 text-ink-2">Your open project is unchanged.</p>
      <ul className="mb-4 space-y-2">
        {refused?.diagnoses.map((d, i) => (
          <li key={i} className="rounded-md bg-warn-soft px-3 py-2">
            <span className="font-mono text-xs text-warn">{d.path ? jsonPath(d.path) : ''}</span>
            <p>{d.element && <b>{d.element.name}: </b>}{d.message} {d.remedy}</p>
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
        <Button primary onClick={dismissRefusal}>Close</Button>
      </div>
    </Dialog>
  );
}
