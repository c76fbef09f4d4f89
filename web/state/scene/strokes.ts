/** Strokes of joint symbols as points, for the skeleton and for the Card. */
import type { Stroke } from '@vim-pivot/core/page';

/** The points of a stroke in the axes of its joint, in units of the symbol's size. */
export function spotsOf(s: Stroke): [number, number, number][] {
  if ('path' in s) return s.path.map((p) => [...p]);
  const [from, to] = s.arc ?? [0, 360],
    n = Math.max(6, Math.round((to - from) / 15));
  const [cx, cy, cz] = s.at ?? [0, 0, 0];
  return Array.from({ length: n + 1 }, (_, k) => {
    const a = ((from + ((to - from) * k) / n) * Math.PI) / 180,
      c = s.ring * Math.cos(a),
      d = s.ring * Math.sin(a);
    return s.round === 'z' ? [cx + c, cy + d, cz] : s.round === 'x' ? [cx, cy + c, cz + d] : [cx + d, cy, cz + c];
  });
}
