/** Body colours: muted, and distinct also for colour-blind eyes. */
export const BODY_COLOURS = ['#B56A4A', '#6F8A50', '#5C7B94', '#C2953B', '#84618D', '#4A938C', '#9B4540'] as const;
export const GROUND_COLOUR = '#A9A498';

export const bodyColour = (index: number): string => (index < 0 ? GROUND_COLOUR : BODY_COLOURS[index % BODY_COLOURS.length]!);
