/** Elements set up one by one: what is refused is noted against its element, and the others go on. */
import { type Diagnosis, Refusal } from '../../diagnosis';
import type { ResolvedElement } from '../../model/resolve';

export class Attempts {
  readonly diagnoses: Diagnosis[];
  constructor(already: readonly Diagnosis[]) {
    this.diagnoses = [...already];
  }

  /** What `make` gives, or undefined where it refuses. */
  at<T>(e: ResolvedElement, make: () => T): T | undefined {
    try {
      return make();
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      for (const d of error.diagnoses)
        if (!this.known(d)) this.diagnoses.push({ path: [e.family, e.index], element: { family: e.family, name: e.name }, ...d });
      return undefined;
    }
  }

  /** What `make` gives for each element that it does not refuse. */
  each<T>(elements: readonly ResolvedElement[], make: (e: ResolvedElement) => T): T[] {
    return elements.flatMap((e): T[] => this.at(e, () => [make(e)]) ?? []);
  }

  get failed(): boolean {
    return this.diagnoses.some((d) => d.severity === 'error');
  }

  /** Several elements may meet the same fault in one that they refer to. */
  private known(d: Diagnosis): boolean {
    return (
      d.element !== undefined &&
      this.diagnoses.some((x) => x.code === d.code && x.message === d.message && x.element?.name === d.element!.name)
    );
  }
}

/** Values as the element's own declaration takes them: each has been checked against its field. */
export const valuesOf = (e: ResolvedElement) => e.values as Record<string, never>;
