import { useCallback, useState } from 'react';

/** How much room an element has, px; nothing before it is there. */
export function useRoom(): [watch: (element: HTMLElement | null) => (() => void) | undefined, room: { width: number; height: number }] {
  const [room, setRoom] = useState({ width: 0, height: 0 });
  const watch = useCallback((element: HTMLElement | null) => {
    if (!element) return undefined;
    const observer = new ResizeObserver(([e]) => e && setRoom({ width: e.contentRect.width, height: e.contentRect.height }));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return [watch, room];
}
