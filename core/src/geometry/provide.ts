import { type Enclosure, LOOKED_AT, enclosure } from './crossing';
import { meshFaults } from './faults';
import { geometryOf } from './mesh';
import { type Kept, geometryNamed, keepGeometry } from './store';

/** @param id name of the content @param positions welded corners, m @param indices three a triangle */
export function provideGeometry(id: string, positions: Float32Array, indices: Uint32Array): Kept {
  const known = geometryNamed(id);
  if (known) return known;
  const made = geometryOf(positions, indices);
  // held until it has been looked at, where it will be
  let surface = made.report.triangles <= LOOKED_AT ? { positions, indices } : undefined,
    found: Enclosure | undefined;
  const kept: Kept = {
    ...made,
    faults(most) {
      const look = surface && made.report.triangles <= most ? surface : undefined;
      if (look) {
        found = enclosure(look.positions, look.indices);
        surface = undefined;
      }
      return { faults: meshFaults(made.report, found), looked: look ? made.report.triangles : 0 };
    },
  };
  keepGeometry(id, kept);
  return kept;
}
