/** Colours of curves, in order; the first two are the theme's own. */
const COLOURS = ['var(--color-calm)', 'var(--color-accent)', '#84618D', '#6F8A50', '#B8862D', '#5C7B94', '#B56A4A', '#8A8A8A'] as const;
export const curveColour = (i: number): string => {
  const c = COLOURS[i % COLOURS.length]!;
  return c.startsWith('var') ? getComputedStyle(document.documentElement).getPropertyValue(c.slice(4, -1)).trim() : c;
};
