/** A model whose instances are being written out: what has been brought so far, and what stood in the way. */
import type { Diagnosis } from '../diagnosis';
import { mapAssigned } from './assigned';
import type { Model, RawElement, RawValue } from './document';
import { FAMILIES, type Family } from './families';
import { type RefField, takesFormula } from './fields';
import { type Placing, placed } from './instances';
import { kindOf } from './kinds';

/** Elements that instances may bring altogether. */
const MOST = 100_000;

export class Expansion {
  /** Grows; lists of its own. */
  readonly model: Model;
  readonly diagnoses: Diagnosis[] = [];
  /** Members of each instance, by name. */
  readonly counts = new Map<string, number>();
  private brought = 0;

  constructor(private readonly given: Model) {
    this.model = { ...given, ...Object.fromEntries(FAMILIES.map(({ key }) => [key, [...(given[key] ?? [])]])) } as Model;
  }

  get tooLarge(): boolean {
    return this.brought > MOST;
  }
  /** Noted once an instance would go on. */
  refuseSize(instance: string): void {
    this.fault(instance, 'kit-size', `The instances bring more than ${MOST} elements.`, 'Make fewer of them.');
  }

  bring(family: Family, e: RawElement, placings: readonly Placing[]): void {
    this.model[family].push(placed(e, placings));
    this.brought++;
  }

  /** Of an instance that stands in the document, or of one that it brings. */
  fault(instance: string, code: string, message: string, remedy?: string): void {
    const { instances } = this.given;
    const index = instances.findIndex((x) => instance === x.name || instance.startsWith(`${x.name}/`) || instance.startsWith(`${x.name} `));
    this.diagnoses.push({
      code,
      severity: 'error',
      message,
      path: ['instances', Math.max(0, index)],
      element: { family: 'instances', name: instances[index]?.name ?? instance },
      ...(remedy ? { remedy } : {}),
    });
  }
}

/** How what an element refers to is called where it is brought. */
export interface Renaming {
  name(family: Family, n: string): string;
  formula(text: string): string;
  /** A single reference; undefined where it falls away. Left out: as by `name`. */
  ref?(f: RefField, n: string): string | undefined;
}

/** An element under another name, with all that it refers to. */
export function rewritten(family: Family, e: RawElement, name: string, to: Renaming): RawElement {
  const copy: RawElement = { ...e, name };
  for (const [key, f] of Object.entries(kindOf(family, e)?.fields ?? {})) {
    const v = copy[key] as RawValue;
    if (v === undefined) continue;
    if (f.type === 'ref' && typeof v === 'string') copy[key] = to.ref ? to.ref(f, v) : to.name(f.family, v);
    else if (f.type === 'refs' && Array.isArray(v)) copy[key] = v.map((n) => to.name(f.family, String(n)));
    else if (takesFormula(f) && typeof v === 'string') copy[key] = to.formula(v);
    else if (f.type === 'vector' && Array.isArray(v)) copy[key] = v.map((x) => (typeof x === 'string' ? to.formula(x) : x)) as RawValue;
    else if (f.type === 'assigned' && typeof v === 'string')
      copy[key] = mapAssigned(
        v,
        (n) => n,
        (x) => (f.to === 'parameters' ? to.formula(x) : to.name('bodies', x)),
      );
  }
  return copy;
}
