'use client';
import { Moon, Redo2, Sun, Undo2 } from 'lucide-react';
import dynamic from 'next/dynamic';
import { useEffect, useState } from 'react';
import { redo, start, undo, useDocument } from '@/state/document/document';
import { importFile } from '@/state/files/files';
import { cancelRun, showRunsOf, startRun, togglePlay, useRuns } from '@/state/runs/runs';
import { readTheme, toggleTheme, useTheme } from '@/state/theme';
import { select } from '@/state/document/document';
import { Checks } from '../checks/checks';
import { Ledger } from '../ledger/ledger';
import { ProjectMenu } from '../projects/project-menu';
import { RunBar } from '../runs/run-bar';
import { Divider, Pane, Panes, useFold } from '@/ui/panes';
import { Segmented } from '@/ui/segmented';
import { forgetPlaces, usePlaces } from '@/state/scene/places';
import { openLine, useLine } from '@/state/adding/line';
import { openHelp, useCopies, useHelp, sketch, useImporting, useKits, useScripts, useSketch } from '@/state/asking';
import { Mobility } from './mobility';
import { Side, sideWidth } from './side';

const Scene = dynamic(() => import('../scene/scene').then((m) => m.Scene), { ssr: false });
const EmptyScene = dynamic(() => import('./empty-scene').then((m) => m.EmptyScene), { ssr: false });
const Walk = dynamic(() => import('./walk').then((m) => m.Walk), { ssr: false });
const Help = dynamic(() => import('./help').then((m) => m.Help), { ssr: false });
const CommandLine = dynamic(() => import('./command-line').then((m) => m.CommandLine), { ssr: false });
const MechanismMap = dynamic(() => import('../map/map').then((m) => m.MechanismMap), { ssr: false });
const ImportDialog = dynamic(() => import('../import/import-dialog').then((m) => m.ImportDialog), { ssr: false });
const CopiesDialog = dynamic(() => import('../reuse/copies-dialog').then((m) => m.CopiesDialog), { ssr: false });
const KitsDialog = dynamic(() => import('../reuse/kits-dialog').then((m) => m.KitsDialog), { ssr: false });
const InsideKit = dynamic(() => import('../reuse/inside-kit').then((m) => m.InsideKit), { ssr: false });
const ScriptsDialog = dynamic(() => import('../scripts/scripts-dialog').then((m) => m.ScriptsDialog), { ssr: false });
const RefusedFile = dynamic(() => import('../projects/project-dialogs').then((m) => m.RefusedFile), { ssr: false });
const Workings = dynamic(() => import('../workings/workings').then((m) => m.Workings), { ssr: false });
const Readings = dynamic(() => import('../readings/readings').then((m) => m.Readings), { ssr: false });

type StageName = 'Build' | 'Readings' | 'Workings';
const STAGES: readonly StageName[] = ['Build', 'Readings', 'Workings'];

/** The bench: the stages, with one run bar at the bottom of all of them. */
export function Workbench() {
  const [stage, setStage] = useState<StageName>('Build');
  const [dropping, setDropping] = useState(false);
  const [map, setMap] = useState(false);
  const project = useDocument((s) => s.id);
  const model = useDocument((s) => s.model);
  const refused = useDocument((s) => !!s.refused);
  const importing = useImporting();
  const scripts = useScripts((s) => s.open);
  const copies = useCopies((s) => s.open);
  const kits = useKits((s) => s.open);
  const measured = useDocument((s) => (s.model?.scores.length ?? 0) + (s.model?.limits.length ?? 0) + (s.model?.workings.length ?? 0) > 0);
  useEffect(() => {
    if (measured) void import('@/state/readings/measured').then((m) => m.watch());
  }, [measured]);
  const inside = useDocument((s) => s.inside !== undefined);
  const side = useFold(),
    ledger = useFold();
  const [width, setWidth] = useState(0);
  const line = useLine((s) => s.open);
  const help = useHelp((s) => s.open);
  const walking = useHelp((s) => s.walking);
  const empty = useDocument((s) => !!s.model && s.model.bodies.length + s.model.points.length === 0);
  const [opened, setOpened] = useState(project);
  // another project opens where its machine is
  if (opened !== project) {
    setOpened(project);
    if (opened !== undefined) {
      setStage('Build');
      setMap(false);
    }
  }

  useEffect(() => {
    readTheme();
    void start();
  }, []);
  useEffect(() => {
    if (project) void showRunsOf(project);
  }, [project]);
  useEffect(() => {
    const keys = (e: KeyboardEvent) => {
      const typing = e.target instanceof HTMLElement && e.target.closest('input, textarea, select, [role="menu"], [role="dialog"]');
      const command = e.ctrlKey || e.metaKey;
      // rows of the Ledger go to and from the clipboard as text
      const ledger = e.target instanceof HTMLElement && e.target.closest('[aria-label="Ledger"]');
      if (command && e.key === 'Enter') startRun();
      else if (command && !typing && e.key.toLowerCase() === 'z') (e.shiftKey ? redo : undo)();
      else if (command && !typing && e.key.toLowerCase() === 'y') redo();
      else if (command && !typing && !ledger && e.key.toLowerCase() === 'c')
        void import('@/state/adding/copies').then((c) => c.copyPicked());
      else if (command && !typing && !ledger && e.key.toLowerCase() === 'v')
        void import('@/state/adding/copies').then((c) => c.pasteCopied());
      else if (e.key === '/' && !typing) openLine(true);
      else if (e.key === '?' && !typing) openHelp(true);
      else if (e.key === 'Escape' && !typing) {
        if (useRuns.getState().running) cancelRun();
        else if (useSketch.getState().on) sketch(false);
        else if (usePlaces.getState().picked.length > 0) forgetPlaces();
        else select(undefined);
      } else if (e.key === ' ' && !typing && !(e.target instanceof HTMLButtonElement)) togglePlay();
      else return;
      e.preventDefault();
    };
    addEventListener('keydown', keys);
    return () => removeEventListener('keydown', keys);
  }, []);

  return (
    <div
      className="flex h-dvh min-w-[1000px] flex-col"
      onDragOver={(e) => {
        e.preventDefault();
        setDropping(true);
      }}
      onDragLeave={(e) => e.currentTarget === e.target && setDropping(false)}
      onDrop={(e) => {
        e.preventDefault();
        setDropping(false);
        const file = e.dataTransfer.files[0];
        if (file) void importFile(file);
      }}
    >
      <TopBar stage={stage} setStage={setStage} />
      {inside && <InsideKit />}
      <main className="flex min-h-0 flex-1 flex-col">
        {model && stage === 'Build' && (
          <>
            <Panes id="build" ids={['machine', 'ledger']} down>
              <Pane id="machine" min="120px" className="flex flex-col">
                <Panes id="machine" ids={['scene', 'side']}>
                  <Pane id="scene" min="280px" className="@container relative h-full">
                    {map ? <MechanismMap /> : <Scene />}
                    {!map && empty && <EmptyScene />}
                    {walking && <Walk />}
                    <Mobility>
                      <Segmented
                        label="View of the machine"
                        value={map ? 'map' : 'scene'}
                        options={[
                          ['scene', 'Scene'],
                          ['map', 'Map'],
                        ]}
                        onChange={(v) => setMap(v === 'map')}
                      />
                    </Mobility>
                  </Pane>
                  <Divider of={side} label="the Card" />
                  <Pane id="side" size={sideWidth()} min="240px" fold={side} onWidth={setWidth} className="h-full bg-sheet">
                    <Side width={width} />
                  </Pane>
                </Panes>
                <RunBar />
              </Pane>
              <Divider of={ledger} label="the Ledger" down />
              <Pane id="ledger" size="27.5vh" min="110px" fold={ledger} className="h-full">
                <Ledger />
              </Pane>
            </Panes>
            <Checks />
          </>
        )}
        {model && stage === 'Readings' && (
          <>
            <div className="min-h-0 flex-1">
              <Readings />
            </div>
            <RunBar />
          </>
        )}
        {model && stage === 'Workings' && (
          <>
            <div className="flex min-h-0 flex-1">
              <Workings />
            </div>
            <RunBar />
          </>
        )}
      </main>
      {line && <CommandLine />}
      {dropping && (
        <div className="pointer-events-none fixed inset-3 z-40 grid place-items-center rounded-2xl border-2 border-dashed border-accent bg-paper/80 text-base font-semibold">
          Drop a model or project file to open it as another project, or a part (STEP, IGES, STL, OBJ, PLY, glTF) to import it
        </div>
      )}
      {importing && <ImportDialog />}
      {copies && <CopiesDialog />}
      {kits && <KitsDialog />}
      {scripts && <ScriptsDialog />}
      {help && <Help />}
      {refused && <RefusedFile />}
    </div>
  );
}

function TopBar({ stage, setStage }: { stage: StageName; setStage: (s: StageName) => void }) {
  const past = useDocument((s) => s.past);
  const future = useDocument((s) => s.future);
  const dark = useTheme((s) => s.dark);
  const icon = 'grid h-8 w-8 place-items-center rounded-md text-ink-2 hover:text-ink disabled:opacity-35';
  return (
    <header className="flex h-[46px] shrink-0 items-center gap-3 border-b border-line bg-sheet px-3">
      <span className="flex items-center gap-2 text-base font-bold">
        <svg viewBox="0 0 24 24" width="22" height="22" aria-hidden="true">
          <path d="M4 5 12 19 20 5" fill="none" stroke="currentColor" strokeWidth="2.4" strokeLinecap="round" strokeLinejoin="round" />
          <circle cx="4" cy="5" r="2.2" fill="currentColor" />
          <circle cx="20" cy="5" r="2.2" fill="currentColor" />
          <circle cx="12" cy="19" r="3.2" fill="var(--color-accent)" />
        </svg>
        Vim Pivot
      </span>
      <span className="h-5 w-px bg-line" />
      <ProjectMenu />
      <nav aria-label="Stages" className="ml-4 flex gap-1">
        {STAGES.map((s) => (
          <button
            key={s}
            aria-current={stage === s ? 'page' : undefined}
            onClick={() => setStage(s)}
            className={`rounded-md px-3.5 py-1.5 font-semibold ${stage === s ? 'bg-ink text-paper' : 'text-ink-2 hover:text-ink'}`}
          >
            {s}
          </button>
        ))}
      </nav>
      <span className="flex-1" />
      <button
        onClick={() => openLine(true)}
        title="Find anything, or say what to add (/)"
        className="flex w-64 items-center gap-2 rounded-md border border-line px-2.5 py-1 text-left text-ink-2 hover:border-ink-2"
      >
        <kbd className="rounded border border-line px-1 font-mono text-xs">/</kbd> Find or add…
      </button>
      <button
        className={icon}
        aria-label="Undo"
        disabled={past.length === 0}
        title={past.length > 0 ? `Undo: ${past.at(-1)!.label} (Ctrl+Z)` : 'Nothing to undo'}
        onClick={undo}
      >
        <Undo2 size={17} aria-hidden="true" />
      </button>
      <button
        className={icon}
        aria-label="Redo"
        disabled={future.length === 0}
        title={future.length > 0 ? `Redo: ${future[0]!.label} (Ctrl+Y)` : 'Nothing to redo'}
        onClick={redo}
      >
        <Redo2 size={17} aria-hidden="true" />
      </button>
      <button
        className={`${icon} font-semibold`}
        aria-label="Help"
        title="Keys, picking, formulas, units (?)"
        onClick={() => openHelp(true)}
      >
        ?
      </button>
      <button
        className={icon}
        aria-label={dark ? 'Light theme' : 'Dark theme'}
        title={dark ? 'Light theme' : 'Dark theme'}
        onClick={toggleTheme}
      >
        {dark ? <Sun size={17} aria-hidden="true" /> : <Moon size={17} aria-hidden="true" />}
      </button>
    </header>
  );
}
