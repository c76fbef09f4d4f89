'use client';
import dynamic from 'next/dynamic';
import { useEffect, useState } from 'react';
import { useLine } from '@/state/adding/line';
import { useCopies, useHelp, useImporting, useKits, useScripts } from '@/state/asking';
import { start, useDocument } from '@/state/document/document';
import { importFile } from '@/state/files/files';
import { showRunsOf } from '@/state/runs/runs';
import { readTheme } from '@/state/theme';
import { RunBar } from '../runs/run-bar';
import { BuildStage } from './build-stage';
import type { StageName } from './stages';
import { TopBar } from './top-bar';
import { useKeys } from './use-keys';

const Help = dynamic(() => import('./help').then((m) => m.Help), { ssr: false });
const CommandLine = dynamic(() => import('./command-line').then((m) => m.CommandLine), { ssr: false });
const ImportDialog = dynamic(() => import('../import/import-dialog').then((m) => m.ImportDialog), { ssr: false });
const CopiesDialog = dynamic(() => import('../reuse/copies-dialog').then((m) => m.CopiesDialog), { ssr: false });
const KitsDialog = dynamic(() => import('../reuse/kits-dialog').then((m) => m.KitsDialog), { ssr: false });
const InsideKit = dynamic(() => import('../reuse/inside-kit').then((m) => m.InsideKit), { ssr: false });
const ScriptsDialog = dynamic(() => import('../scripts/scripts-dialog').then((m) => m.ScriptsDialog), { ssr: false });
const RefusedFile = dynamic(() => import('../projects/project-dialogs').then((m) => m.RefusedFile), { ssr: false });
const Workings = dynamic(() => import('../workings/workings').then((m) => m.Workings), { ssr: false });
const Readings = dynamic(() => import('../readings/readings').then((m) => m.Readings), { ssr: false });

/** The bench: the stages, with one run bar at the bottom of all of them. */
export function Workbench() {
  const [stage, setStage] = useState<StageName>('Build');
  const [map, setMap] = useState(false);
  const project = useDocument((s) => s.id);
  const known = useDocument((s) => !!s.model);
  const inside = useDocument((s) => s.inside !== undefined);
  const measured = useDocument((s) => (s.model?.scores.length ?? 0) + (s.model?.limits.length ?? 0) + (s.model?.workings.length ?? 0) > 0);
  // another project opens where its machine is
  const [opened, setOpened] = useState(project);
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
    if (measured) void import('@/state/readings/measured').then((m) => m.watch());
  }, [measured]);
  useEffect(() => {
    // not before there is something to be seen
    const soon = known && setTimeout(() => void import('@/state/runs/ready').then((m) => m.watch()), 1000);
    return () => clearTimeout(soon || undefined);
  }, [known]);
  useKeys();
  return (
    <DropTarget>
      <TopBar stage={stage} setStage={setStage} />
      {inside && <InsideKit />}
      <main className="flex min-h-0 flex-1 flex-col">
        {known && stage === 'Build' && <BuildStage map={map} onMap={setMap} />}
        {known && stage === 'Readings' && (
          <>
            <div className="min-h-0 flex-1">
              <Readings />
            </div>
            <RunBar />
          </>
        )}
        {known && stage === 'Workings' && (
          <>
            <div className="flex min-h-0 flex-1">
              <Workings />
            </div>
            <RunBar />
          </>
        )}
      </main>
      <Asked />
    </DropTarget>
  );
}

/** What has been asked for and stands over the bench. */
function Asked() {
  const line = useLine((s) => s.open);
  const importing = useImporting();
  const copies = useCopies((s) => s.open);
  const kits = useKits((s) => s.open);
  const scripts = useScripts((s) => s.open);
  const help = useHelp((s) => s.open);
  const refused = useDocument((s) => !!s.refused);
  return (
    <>
      {line && <CommandLine />}
      {importing && <ImportDialog />}
      {copies && <CopiesDialog />}
      {kits && <KitsDialog />}
      {scripts && <ScriptsDialog />}
      {help && <Help />}
      {refused && <RefusedFile />}
    </>
  );
}

/** Files are dropped anywhere. */
function DropTarget({ children }: { children: React.ReactNode }) {
  const [dropping, setDropping] = useState(false);
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
      {children}
      {dropping && (
        <div className="pointer-events-none fixed inset-3 z-40 grid place-items-center rounded-2xl border-2 border-dashed border-accent bg-paper/80 text-base font-semibold">
          Drop a model or project file to open it as another project, or a part (STEP, IGES, STL, OBJ, PLY, glTF) to import it
        </div>
      )}
    </div>
  );
}
