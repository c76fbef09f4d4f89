'use client';
import { useEffect } from 'react';
import { nextFrame, useMotion } from '@/state/scene/motion';
import { advance, useRuns } from '@/state/runs/runs';

/** Runs the playback clock while something plays, and nothing otherwise. */
export function Clock() {
  const playing = useRuns((s) => s.playing);
  useEffect(() => {
    if (!playing) return;
    let last = performance.now(),
      handle = 0;
    const frame = (now: number) => {
      advance(Math.min(0.1, (now - last) / 1000));
      last = now;
      handle = requestAnimationFrame(frame);
    };
    handle = requestAnimationFrame(frame);
    return () => cancelAnimationFrame(handle);
  }, [playing]);
  const shown = useMotion((s) => s.shown);
  useEffect(() => {
    if (!shown || (!shown.swing && !shown.home)) return;
    const timer = setInterval(nextFrame, 40);
    return () => clearInterval(timer);
  }, [shown]);
  return null;
}
