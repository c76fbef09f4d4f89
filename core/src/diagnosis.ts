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
  /** The model then runs again. */
  again?: true;
  changes: readonly {
    family: string;
    name: string;
    remove?: true;
    add?: Readonly<Record<string, unknown>>;
    field?: string;
    value?: unknown;
  }[];
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

/** Longest message, characters. */
const LONGEST = 300;
/** A message of bearable length: what is cut off is told by number. */
export const bounded = <T extends { message: string }>(d: T): T =>
  d.message.length <= LONGEST
    ? d
    : { ...d, message: `${d.message.slice(0, LONGEST - 40).trimEnd()}… (and ${d.message.length - LONGEST + 40} characters more)` };
/** Names, the first of them in full and the rest by number. */
export const listed = (names: readonly string[], most = 6): string =>
  names.length <= most + 1 ? names.join(', ') : `${names.slice(0, most).join(', ')} and ${names.length - most} more`;

/** Thrown where a computation cannot go on; carries the findings that say why. */
export class Refusal extends Error {
  readonly diagnoses: readonly Diagnosis[];
  constructor(diagnoses: readonly Diagnosis[]) {
    super(
      diagnoses
        .slice(0, 20)
        .map((d) => bounded(d).message)
        .join('\n'),
    );
    this.name = 'Refusal';
    this.diagnoses = diagnoses.map(bounded);
  }
}

/** Stops what is being computed, with one finding that says why. @throws Refusal always */
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
  const name = d.element?.name ?? '',
    who = d.element ? `${name.length > 80 ? `${name.slice(0, 70)}… (${name.length} characters)` : name}: ` : '';
  return `${d.severity}: ${who}${d.message}${where}${d.remedy ? ` ${d.remedy}` : ''}`;
}
