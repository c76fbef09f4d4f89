import { type Enclosure, enclosure } from './crossing';
import { meshFaults } from './faults';
import { geometryOf } from './mesh';
import { type Kept, geometryNamed, keepGeometry } from './store';

/** @param id name of the content @param positions welded corners, m @param indices three a triangle */
export function provideGeometry(id: string, positions: Float32Array, indices: Uint32Array): Kept {
  const known = geometryNamed(id);
  if (known) return known;
  const made = geometryOf(positions, indices);
  let found: { e: Enclosure | undefined } | undefined;
  const kept: Kept = {
    ...made,
    faults(most) {
      const look = !found && made.report.triangles <= most;
      if (look) found = { e: enclosure(positions, indices) };
      return { faults: meshFaults(made.report, found?.e), looked: look ? made.report.triangles : 0 };
    },
  };
  keepGeometry(id, kept);
  return kept;
}
