/**
 * Every failure and every finding of the core is data: what, where, why, what to do.
 */
export type Severity = 'error' | 'warning' | 'note';

export interface ElementRef {
  family: string;
  name: string;
}

/** A remedy as data: changes to the document that make one undo step. */
export interface Fix {
  label: string;
  /** Draws the machine with this axis up. */
  up?: 'x' | 'y' | 'z';
  changes: readonly { family: string; name: string; remove?: true; add?: Readonly<Record<string, unknown>>; field?: string; value?: unknown }[];
}

export interface Diagnosis {
  /** Stable identifier, e.g. `formula-dimension`. */
  code: string;
  severity: Severity;
  /** What is so, in one sentence. */
  message: string;
  /** Place in the model file, e.g. `['joints', 2, 'axis', 1]`. */
  path?: readonly (string | number)[];
  element?: ElementRef;
  /** Further elements concerned. */
  others?: readonly ElementRef[];
  /** Why it matters. */
  why?: string;
  /** What can be done about it. */
  remedy?: string;
  /** A change that would remedy it. */
  fix?: Fix;
  /** Time in the run, s. */
  time?: number;
}

/** Thrown where a computation cannot go on; carries the findings that say why. */
export class Refusal extends Error {
  readonly diagnoses: readonly Diagnosis[];
  constructor(diagnoses: readonly Diagnosis[]) {
    super(diagnoses.map((d) => d.message).join('\n'));
    this.name = 'Refusal';
    this.diagnoses = diagnoses;
  }
}

export function refuse(d: Omit<Diagnosis, 'severity'>): never {
  throw new Refusal([{ severity: 'error', ...d }]);
}

/** `['joints', 2, 'axis', 1]` as the JSON path `$.joints[2].axis[1]`. */
export function jsonPath(path: readonly (string | number)[]): string {
  let text = '$';
  for (const p of path) text += typeof p === 'number' ? `[${p}]` : `.${p}`;
  return text;
}

/** One line for a terminal or a log. */
export function describe(d: Diagnosis): string {
  const where = d.path ? ` (${jsonPath(d.path)})` : '';
  const who = d.element ? `${d.element.name}: ` : '';
  return `${d.severity}: ${who}${d.message}${where}${d.remedy ? ` ${d.remedy}` : ''}`;
}
