/** What is wrong with a surface from outside, and what that does to its mass, in words: the same when a file is read and in the checks. */
import type { Diagnosis } from '../diagnosis';
import { formatNumber } from '../quantity/units';
import type { Enclosure } from './crossing';
import type { MeshReport } from './mesh';

export type MeshFault = Pick<Diagnosis, 'code' | 'severity' | 'message'> & { why: string; remedy: string };

const many = (n: number, one: string): string => `${n.toLocaleString('en')} ${one}${n === 1 ? '' : 's'}`;

/** What is wrong with a surface, in words. @param e how often places beside it are enclosed, where that was looked at */
export function meshFaults({ open, touching, inverted, doubt }: Omit<MeshReport, 'triangles'>, e: Enclosure | undefined): MeshFault[] {
  const out: MeshFault[] = [];
  if (open > 0)
    out.push({
      code: 'mesh-open',
      severity: 'warning',
      message: `Its surface is open along ${many(open, 'side')} of triangles.`,
      why: `Volume, mass and inertia are not those of a solid${doubt < 10 ? `: the mass depends by up to ${formatNumber(100 * doubt, 2)} % on the place from which it is reckoned` : ''}.`,
      remedy: 'Mend the part where it was made, or type in mass and inertia of the body.',
    });
  if (touching > 0)
    out.push({
      code: 'mesh-touching',
      severity: 'note',
      message: `Its surface touches itself along ${many(touching, 'side')}.`,
      why: 'Where parts overlap their mass counts twice.',
      remedy: 'Join the solids where the part was made.',
    });
  if (inverted)
    out.push({
      code: 'mesh-inverted',
      severity: 'note',
      message: 'Its surface is inside out; it was turned over.',
      why: 'The volume would be negative.',
      remedy: 'Nothing, if it looks right.',
    });
  if (open > 0 || !e) return out;
  // the whole was turned over: winding numbers are those of the file
  const [low, high] = inverted ? [-e.windings[1], -e.windings[0]] : e.windings;
  if (high > 1)
    out.push({
      code: 'mesh-twice',
      severity: 'warning',
      message: `Parts of its surface lie within one another${e.crossing > 0 ? ` and cross in ${many(e.crossing, 'place')}` : ''}.`,
      why: 'What they both enclose counts twice in volume, mass and inertia.',
      remedy: 'Join the solids where the part was made, or type in mass and inertia of the body.',
    });
  else if (low < 0)
    out.push({
      code: 'mesh-partly-inverted',
      severity: 'warning',
      message: 'A part of its surface is inside out.',
      why: 'What that part encloses is taken away from volume, mass and inertia.',
      remedy: 'Turn it over where the part was made, or type in mass and inertia of the body.',
    });
  else if (e.crossing > 0)
    out.push({
      code: 'mesh-crossing',
      severity: 'warning',
      message: `Its surface crosses itself in ${many(e.crossing, 'place')}.`,
      why: 'Where it lies within itself, volume, mass and inertia count twice or not at all.',
      remedy: 'Mend the part where it was made, or type in mass and inertia of the body.',
    });
  return out;
}
