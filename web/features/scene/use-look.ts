/** What the stage shows and how: the machine, colours of the theme, which way is up, the camera, overlays. */
import { useEffect } from 'react';
import { useDocument } from '@/state/document/document';
import { useDisplayed } from '@/state/scene/displayed';
import { useView } from '@/state/scene/view';
import { useTheme } from '@/state/theme';
import { inks } from '@/ui/ink';
import type { Picture } from '@/workers/protocol';
import type { View } from './stage';
import { useOverlaysIn } from './use-overlays';
import type { OnStage } from './use-stage';

export interface Camera {
  /** A picture without tools. */
  compact: boolean;
  from: View;
  /** A body the camera goes with, and whether it turns with it. */
  follow: string | undefined;
  turning: boolean;
}

export function useLook({ stage }: OnStage, picture: Picture | undefined, { compact, from, follow, turning }: Camera): void {
  const project = useDocument((s) => s.id);
  const up = useDocument((s) => s.model?.up ?? 'z');
  const theme = useTheme((s) => s.dark);
  const seen = useView();
  useEffect(() => stage.current?.theme(inks()), [stage, theme]);
  useEffect(() => stage.current?.erect(up), [stage, up]);
  useEffect(() => {
    stage.current?.show(picture, project ?? '');
    useDisplayed.setState({ picture: picture });
  }, [stage, picture, project]);
  useEffect(() => {
    if (from !== 'iso' || compact) stage.current?.fit(from);
  }, [stage, from, compact]);
  useOverlaysIn(stage, picture);
  useEffect(() => stage.current?.ride(follow, turning), [stage, follow, turning, picture]);
  useEffect(() => stage.current?.see(compact ? { ...seen, cut: undefined } : seen), [stage, seen, picture, compact]);
}
