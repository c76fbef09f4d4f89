/** What is wrong with contact: shapes that begin deep in one another, and those that take no part. */
import type { Diagnosis } from '../diagnosis';
import { where } from '../model/where';
import { D } from '../quantity/dimension';
import { formatQuantity } from '../quantity/units';
import type { Mechanism } from '../system/mechanism';
import { bodiesOf } from './bodies-of';

/** Speed at which what overlaps is thrown apart, m/s, from which on that is told. */
const THROWN = 0.02;

/** Contact that starts deep. */
function overlapping({ assembly, system, model }: Mechanism): Diagnosis[] {
  return assembly.forces.flatMap(({ name, force }) => {
    const deep = [...(force.touches?.overlaps(system.K) ?? [])].filter((x) => x.speed > THROWN).sort((a, b) => b.speed - a.speed),
      [first] = deep;
    if (!first) return [];
    const others = deep.length > 1 ? `, and ${deep.length - 1} more pairs` : '';
    return [
      {
        code: 'contact-deep',
        severity: 'warning',
        message: `“${first.shapes[0]}” and “${first.shapes[1]}” overlap by ${formatQuantity(first.depth, D.length, undefined, 3)} at the start${others}.`,
        why: `What holds them apart would throw them at ${formatQuantity(first.speed, D.speed, 'm/s', 2)}.`,
        remedy: 'Move them apart, or leave one of them out of this contact.',
        ...where(model, 'loads', name),
      },
    ];
  });
}

/** Shapes of bodies in contact that are no more than facets. */
function faceted({ resolution, shapes, model }: Mechanism): Diagnosis[] {
  return resolution.elements.loads.flatMap((l) => {
    const names = l.kind.touches ? shapes.filter((s) => !s.forms && bodiesOf(l).includes(s.body)).map((s) => `“${s.name}”`) : [];
    if (names.length === 0) return [];
    return [
      {
        code: 'contact-facets',
        severity: 'warning',
        message: `${names.slice(0, 3).join(', ')}${names.length > 3 ? ` and ${names.length - 3} more` : ''} ${names.length === 1 ? 'takes' : 'take'} no part in it.`,
        why: 'What is imported, joined or cut is known by its facets alone, and contact does not look at those.',
        remedy: 'Give the body a plain shape there: a box, a cylinder, a profile.',
        ...where(model, 'loads', l.name),
      },
    ];
  });
}

/** Of an assembled machine. */
export const faultsOfContact = (m: Mechanism): Diagnosis[] => [...overlapping(m), ...faceted(m)];
