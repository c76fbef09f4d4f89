/** Ralston's method of order 3 (Mathematics of Computation 16, 1962): each stage follows from the one before alone, and no step is looked at at its end. */
export const RALSTON = { nodes: [0, 1 / 2, 3 / 4], weights: [2 / 9, 1 / 3, 4 / 9] } as const;
