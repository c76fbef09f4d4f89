/** Choices of the run settings. */
export const ANALYSIS_NAMES = ['dynamic', 'kinematic', 'quasi-static', 'static'] as const;
export type Analysis = (typeof ANALYSIS_NAMES)[number];

export const METHOD_NAMES = ['auto', 'explicit', 'implicit'] as const;
export type Method = (typeof METHOD_NAMES)[number];

/** Whether bodies that their joints hold in a plane are computed in that plane. */
export const PLANAR_NAMES = ['auto', 'off'] as const;
export type Planar = (typeof PLANAR_NAMES)[number];

/** Settings that are formulas. */
export const RUN_FORMULAS = ['until', 'every', 'accuracy', 'longest'] as const;
export type RunFormula = (typeof RUN_FORMULAS)[number];

/** What each analysis is; `rest`: of a machine at rest, whose drives stand where they are asked to be. */
export const ANALYSIS_WORDS: Readonly<Record<Analysis, { label: string; help: string; rest?: true }>> = {
  dynamic: { label: 'Dynamic', help: 'Motion under drives, loads and inertia.' },
  kinematic: {
    label: 'Kinematic',
    help: 'Drives alone set the motion; loads follow by inverse dynamics. No degree of freedom may be left.',
  },
  'quasi-static': { label: 'Quasi-static', help: 'Equilibrium of all loads at every time, without inertia.', rest: true },
  static: { label: 'Static', help: 'The posture in which all loads are in equilibrium.', rest: true },
};

export const PLANAR_WORDS: Readonly<Record<Planar, string>> = {
  auto: 'found by itself',
  off: 'all computed in space',
};

export const METHOD_WORDS: Readonly<Record<Method, string>> = {
  auto: 'chosen by the solver',
  explicit: 'explicit, order 8',
  implicit: 'implicit, order 5',
};
