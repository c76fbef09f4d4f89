/**
 * The families of elements, in the order in which a model is built and a file is written. `plain`: an element that names no kind is of the first.
 * `shows`: it only shows what was read, so an error in it stops no run, and it is arranged in Readings and not in the Ledger. `reads`: it only reads
 * a run, so one in error is left out and stops nothing.
 */
export const FAMILIES = [
  { key: 'parameters', one: 'parameter', label: 'Parameters' },
  { key: 'tables', one: 'table', label: 'Tables' },
  { key: 'points', one: 'point', label: 'Points' },
  { key: 'materials', one: 'material', label: 'Materials' },
  { key: 'bodies', one: 'body', label: 'Bodies', plain: true },
  { key: 'shapes', one: 'shape', label: 'Shapes' },
  { key: 'joints', one: 'joint', label: 'Joints' },
  { key: 'couplings', one: 'coupling', label: 'Couplings', plain: true },
  { key: 'starts', one: 'start value', label: 'Start values' },
  { key: 'drives', one: 'drive', label: 'Drives' },
  { key: 'loads', one: 'load', label: 'Loads' },
  { key: 'gauges', one: 'gauge', label: 'Gauges', reads: true },
  { key: 'scores', one: 'score', label: 'Scores', reads: true },
  { key: 'limits', one: 'limit', label: 'Limits', reads: true },
  { key: 'workings', one: 'working', label: 'Workings', reads: true },
  { key: 'sheets', one: 'sheet', label: 'Sheets', shows: true },
  { key: 'tiles', one: 'tile', label: 'Tiles', shows: true },
  { key: 'kits', one: 'kit', label: 'Kits' },
  { key: 'instances', one: 'instance', label: 'Instances' },
] as const;

export type Family = (typeof FAMILIES)[number]['key'];

/** The declaration of a family. */
export const familyOf = (key: Family) => FAMILIES.find((f) => f.key === key)!;

/** Whether elements of a family only show what was read. */
export const onlyShows = (key: string): boolean => FAMILIES.some((f) => f.key === key && 'shows' in f);

/** Whether elements of a family take no part in the motion. */
export const onlyReads = (key: string): boolean => FAMILIES.some((f) => f.key === key && ('reads' in f || 'shows' in f));
