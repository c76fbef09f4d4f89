/** Round faces as facets: how many, and what that costs. */

/** Facets to a turn of round faces, where nothing else is asked for. */
export const FACETS = 48;
/** Numbers that are offered. */
export const FINENESS: readonly number[] = [24, 48, 96, 192];
/** What is missing from the section of a round solid at most when it is drawn with so many: a circle less a polygon in it. */
export const missing = (facets: number): number => 1 - Math.sin((2 * Math.PI) / facets) / ((2 * Math.PI) / facets);
