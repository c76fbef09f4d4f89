/** The motion of a run as one animated file (glTF 2.0, binary), and curves as Parquet. */
import type { ReadCurve } from '../runs/curves';
import { useRuns } from '../runs/runs';
import { bodyColour } from '../document/colours';
import { useDisplayed } from '../scene/displayed';

/** Frames that an animated file holds at most. */
const MOST_FRAMES = 1200;

/** @param span part of the run, s; left out: all of it @returns undefined when there is no run shown */
export async function motionGlb(span?: readonly [number, number]): Promise<ArrayBuffer | undefined> {
  const { picture } = useDisplayed.getState(),
    { current, tracks } = useRuns.getState(),
    track = current ? tracks.get(current) : undefined;
  if (!picture || !track || track.count < 2 || track.bodies !== picture.bodies.length) return undefined;
  const THREE = await import('three'),
    { GLTFExporter } = await import('three/addons/exporters/GLTFExporter.js');
  const { mesh } = picture,
    scene = new THREE.Scene();
  const nodes = [...picture.bodies, ''].map((name, i, all) => {
    const node = new THREE.Object3D();
    node.name = name || 'Ground';
    // names of nodes carry the tracks, which take no special characters
    node.userData = { body: i === all.length - 1 ? -1 : i };
    scene.add(node);
    return node;
  });
  for (const s of picture.shapes) {
    const g = new THREE.BufferGeometry(),
      [from, count] = s.vertex;
    g.setAttribute('position', new THREE.BufferAttribute(mesh.position.slice(3 * from, 3 * (from + count)), 3));
    g.setAttribute('normal', new THREE.BufferAttribute(mesh.normal.slice(3 * from, 3 * (from + count)), 3));
    g.setIndex(
      new THREE.BufferAttribute(
        mesh.triangles.slice(s.triangle[0], s.triangle[0] + s.triangle[1]).map((k) => k - from),
        1,
      ),
    );
    const colour = s.colour ?? picture.colours[s.body] ?? bodyColour(s.body);
    const part = new THREE.Mesh(g, new THREE.MeshStandardMaterial({ color: colour, roughness: 0.7, metalness: 0.1 }));
    part.name = s.name;
    (s.body < 0 ? nodes.at(-1)! : nodes[s.body]!).add(part);
  }
  const from = Math.max(0, span?.[0] ?? 0),
    length = Math.min(track.end, span?.[1] ?? track.end) - from;
  const n = Math.max(2, Math.min(MOST_FRAMES, Math.ceil((track.count * length) / track.end))),
    times = Float32Array.from({ length: n }, (_, i) => (length * i) / (n - 1)),
    out = new Float64Array(7 * picture.bodies.length);
  const places = picture.bodies.map(() => new Float32Array(3 * n)),
    turns = picture.bodies.map(() => new Float32Array(4 * n));
  for (let i = 0; i < n; i++) {
    track.at(from + times[i]!, out);
    for (let b = 0; b < picture.bodies.length; b++) {
      places[b]!.set(out.subarray(7 * b, 7 * b + 3), 3 * i);
      turns[b]!.set([out[7 * b + 4]!, out[7 * b + 5]!, out[7 * b + 6]!, out[7 * b + 3]!], 4 * i);
    }
  }
  const clip = new THREE.AnimationClip(
    'Run',
    length,
    picture.bodies.flatMap((_, b) => [
      new THREE.VectorKeyframeTrack(`${nodes[b]!.uuid}.position`, times, places[b]!),
      new THREE.QuaternionKeyframeTrack(`${nodes[b]!.uuid}.quaternion`, times, turns[b]!),
    ]),
  );
  return (await new GLTFExporter().parseAsync(scene, { binary: true, animations: [clip] })) as ArrayBuffer;
}

/** A column of times, s, and one for each curve in the unit of its name. */
export async function curvesParquet(curves: readonly ReadCurve[]): Promise<ArrayBuffer> {
  const [{ parquetWriteBuffer }, { readUnit }] = await Promise.all([import('hyparquet-writer'), import('@vim-pivot/core/page')]);
  return parquetWriteBuffer({
    columnData: [
      { name: 'Time [s]', data: curves[0]?.time ?? new Float64Array(0), type: 'DOUBLE' },
      ...curves.map((c) => {
        const factor = readUnit(c.unit)?.factor ?? 1;
        return { name: c.unit ? `${c.gauge} [${c.unit}]` : c.gauge, data: c.values.map((v) => v / factor), type: 'DOUBLE' as const };
      }),
    ],
  });
}
