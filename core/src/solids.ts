/** Loads the library for robust solids and hands it to the geometry. Apart from the rest, because it is large and seldom needed. */
import Module, { type Manifold as ManifoldOf, type ManifoldToplevel } from 'manifold-3d';
import { provideCombiner } from './geometry/combine';
import { type Surface, joinedSolid } from './geometry/joined';

let loading: Promise<void> | undefined;

/** @param locate where its compiled part lies; left out: beside the library */
export function loadSolids(locate?: () => string): Promise<void> {
  loading ??= Module(locate ? ({ locateFile: locate } as never) : undefined).then((library) => {
    library.setup();
    provideCombiner((joined, less, round) => joinedSolid((plus, minus) => combine(library, plus, minus), joined, less, round));
  });
  return loading;
}

function combine(library: ManifoldToplevel, joined: readonly Surface[], less: readonly Surface[]): Surface | undefined {
  const held: ManifoldOf[] = [];
  const keep = (m: ManifoldOf) => (held.push(m), m);
  try {
    const union = (list: readonly Surface[]) => keep(library.Manifold.union(list.map((s) => keep(solidOf(library, s, keep)))));
    const whole = less.length > 0 ? keep(library.Manifold.difference(union(joined), union(less))) : union(joined);
    if (whole.status() !== 'NoError') return undefined;
    const { triVerts } = whole.getMesh();
    // the library works in double precision and hands meshes out in single: the places are read where they are changed
    let positions = new Float64Array(0);
    keep(whole.warpBatch((verts) => void (positions = verts.slice())));
    return { positions, indices: Uint32Array.from(triVerts) };
  } catch (e) {
    if (e instanceof Error && e.name === 'ManifoldError') return undefined;
    throw e;
  } finally {
    for (const m of held) m.delete();
  }
}

/** Meshes go in in single precision; each corner is then put where it is in double. */
function solidOf(library: ManifoldToplevel, { positions, indices }: Surface, keep: (m: ManifoldOf) => ManifoldOf): ManifoldOf {
  const single = Float32Array.from(positions);
  const at = new Map<string, number>();
  for (let i = 0; i < positions.length; i += 3) at.set(`${single[i]},${single[i + 1]},${single[i + 2]}`, i);
  const rough = keep(new library.Manifold(new library.Mesh({ numProp: 3, vertProperties: single, triVerts: indices })));
  return rough.warpBatch((verts) => {
    for (let i = 0; i < verts.length; i += 3) {
      const from = at.get(`${verts[i]},${verts[i + 1]},${verts[i + 2]}`);
      if (from !== undefined) verts.set(positions.subarray(from, from + 3), i);
    }
  });
}
