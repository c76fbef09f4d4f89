/** Colours of the theme at hand, for what is not drawn by style sheets. */
export const token = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(`--color-${name}`).trim();
export const inks = () => ({ ink: token('ink'), sheet: token('sheet'), accent: token('accent'), calm: token('calm'), line: token('line') });
