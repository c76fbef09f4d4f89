import { type RefObject, useEffect } from 'react';
import { useDocument } from '@/state/document/document';
import { useRuns } from '@/state/runs/runs';
import { token } from '@/ui/ink';
import type { Stage } from './stage';

/** The project's picture for its shelf, taken in a quiet moment after it was kept. */
export function usePhotograph(stage: RefObject<Stage | null>, wanted: boolean): void {
  const project = useDocument((s) => s.id);
  const savedAt = useDocument((s) => s.savedAt);
  const busy = useRuns((s) => !!s.running || s.playing || s.live);
  useEffect(() => {
    if (!wanted || busy || !project || !savedAt) return;
    const timer = setTimeout(() => {
      void import('./photograph')
        .then((p) => stage.current && p.photograph(stage.current, 320, 150, token('stage')))
        .then(async (picture) => {
          if (picture) await (await import('@/state/kept/db')).db.projects.update(project, { picture });
        })
        .catch(() => undefined); // a picture that cannot be taken is no loss
    }, 2500);
    return () => clearTimeout(timer);
  }, [stage, savedAt, project, busy, wanted]);
}
