'use client';
import { ChevronDown } from 'lucide-react';
import { useRef, useState } from 'react';
import dynamic from 'next/dynamic';
import { UNIT_SYSTEMS, type UnitSystem, writeModel } from '@vim-pivot/core/page';
import { download, fileName } from '@/state/files/download';
import { addProject, blank, openProject, replaceWhole, useDocument } from '@/state/document/document';
import { openHelp, openKits, openScripts, openShelf, useShelf } from '@/state/asking';
import { importFile } from '@/state/files/files';
import { useRuns } from '@/state/runs/runs';
import { Menu, MenuItem, MenuLabel, MenuRule } from '@/ui/menu';
import type { Asked } from './project-dialogs';

// dialogs and their library come when they are asked for
const ProjectBrowser = dynamic(() => import('./project-browser').then((m) => m.ProjectBrowser), { ssr: false });
const ProjectDialog = dynamic(() => import('./project-dialogs').then((m) => m.ProjectDialog), { ssr: false });

/** What writes files comes when one is asked for. */
const exports = () => import('@/state/files/exports');

/** Whether what stands here is in the browser's store; if not, why, and a way out. */
function SavedState() {
  const savedAt = useDocument((s) => s.savedAt);
  const unsaved = useDocument((s) => s.unsaved);
  if (unsaved === undefined)
    return (
      <span className="hidden text-ink-2 lg:inline" role="status">
        {savedAt ? `saved here ${new Date(savedAt).toLocaleTimeString([], { hour: '2-digit', minute: '2-digit' })}` : ''}
      </span>
    );
  const exported = () => {
    const { whole } = useDocument.getState();
    if (whole) download(`${fileName(whole.name)}.pivot.json`, writeModel(whole), 'application/json');
  };
  return (
    <span
      className="flex items-center gap-2 rounded-md bg-accent-soft px-2 py-0.5 text-accent"
      role="status"
      title={`${unsaved} It is tried again every few seconds. Make room by deleting runs or projects.`}
    >
      not saved, trying again
      <button className="rounded border border-accent px-1.5 font-medium" onClick={exported}>
        Export model
      </button>
    </span>
  );
}

export function ProjectMenu() {
  const model = useDocument((s) => s.whole);
  const id = useDocument((s) => s.id);
  const projects = useDocument((s) => s.projects);
  const hasRun = useRuns((s) => !!s.current && !s.running);
  const input = useRef<HTMLInputElement>(null);
  const [asked, setAsked] = useState<Asked>();
  const browsing = useShelf((s) => s.open);
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
        <MenuItem onSelect={() => openShelf('projects')}>Projects, examples, beginnings…</MenuItem>
        <MenuItem onSelect={() => input.current?.click()}>Open or import a file…</MenuItem>
        <MenuRule />
        <MenuItem onSelect={() => setAsked('rename')}>Rename project…</MenuItem>
        <MenuItem onSelect={() => void addProject({ ...model, name: `${model.name} copy`.slice(0, 80) })}>Duplicate project</MenuItem>
        <MenuItem onSelect={() => openKits('list')}>Kits…</MenuItem>
        <MenuItem onSelect={() => openScripts(true)}>Scripts…</MenuItem>
        <MenuItem onSelect={() => setAsked('revisions')}>Revisions…</MenuItem>
        <MenuItem danger onSelect={() => setAsked('delete')}>
          Delete project…
        </MenuItem>
        <MenuRule />
        <MenuLabel>Quantities are shown in</MenuLabel>
        {(Object.keys(UNIT_SYSTEMS) as UnitSystem[]).map((u) => (
          <MenuItem
            key={u}
            onSelect={() => replaceWhole('Units', (m) => void (u === 'mm' ? delete m.units : (m.units = u)))}
            {...((model.units ?? 'mm') === u ? { hint: '✓' } : {})}
          >
            {UNIT_SYSTEMS[u]}
          </MenuItem>
        ))}
        <MenuRule />
        <MenuItem onSelect={() => download(`${fileName(model.name)}.pivot.json`, writeModel(model), 'application/json')}>
          Export model
        </MenuItem>
        <MenuItem onSelect={() => id && void exports().then((x) => x.packed(id, fileName(model.name)))} hint="with runs">
          Export project file
        </MenuItem>
        <MenuItem onSelect={() => void exports().then((x) => x.exportUrdf(model))} hint="trees only">
          Export as URDF
        </MenuItem>
        <MenuItem disabled={!hasRun} onSelect={() => void exports().then((x) => x.exportCurves(model))} hint={hasRun ? '' : 'run first'}>
          Export curves as CSV
        </MenuItem>
        <MenuItem onSelect={() => openHelp(true)} hint="?">
          Help…
        </MenuItem>
        <MenuItem onSelect={() => setAsked('about')}>About and licences…</MenuItem>
        {projects.length > 1 && (
          <>
            <MenuRule />
            <MenuLabel>Other projects</MenuLabel>
            {projects
              .filter((p) => p.id !== id)
              .map((p) => (
                <MenuItem key={p.id} onSelect={() => void openProject(p.id)} {...(p.damaged ? { hint: 'damaged' } : {})}>
                  {p.name}
                </MenuItem>
              ))}
          </>
        )}
      </Menu>
      <SavedState />
      <input
        ref={input}
        type="file"
        accept=".json,.zip,.urdf,.step,.stp,.iges,.igs,.stl,.obj,.ply,.glb,.gltf"
        aria-label="Open a model file"
        className="hidden"
        onChange={(e) => {
          const file = e.target.files?.[0];
          if (file) void importFile(file);
          e.target.value = '';
        }}
      />
      {browsing && <ProjectBrowser first={browsing} onClose={() => openShelf(undefined)} />}
      {asked && <ProjectDialog asked={asked} onClose={() => setAsked(undefined)} />}
    </>
  );
}
