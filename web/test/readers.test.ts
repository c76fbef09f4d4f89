/**
 * Files of geometry that are damaged at random: each reader ends, with parts or in words; what it gives is whole numbers of triangles between finite
 * corners.
 */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { stepLeaves } from '../workers/step-tree';
import { readParts } from '../workers/parts';
import { writeStep } from '../../examples/tools/step';
import { piecesOf } from '../workers/step-pieces';

const corners = Array.from({ length: 8 }, (_, i) => [i & 1 ? 2 : 0, i & 2 ? 3 : 0, i & 4 ? 4 : 0]);
const triangles = [
  [0, 2, 3, 1],
  [4, 5, 7, 6],
  [0, 1, 5, 4],
  [2, 6, 7, 3],
  [0, 4, 6, 2],
  [1, 3, 7, 5],
].flatMap(([a, b, d, e]) => [
  [a!, b!, d!],
  [a!, d!, e!],
]);
const text = (s: string) => new TextEncoder().encode(s);
function binaryStl(): Uint8Array {
  const out = new Uint8Array(84 + 50 * triangles.length),
    view = new DataView(out.buffer);
  view.setUint32(80, triangles.length, true);
  triangles.forEach((t, i) =>
    t.forEach((v, k) => corners[v]!.forEach((x, j) => view.setFloat32(84 + 50 * i + 12 + 12 * k + 4 * j, x, true))),
  );
  return out;
}
function glb(): Uint8Array {
  const places = Float32Array.from(corners.flat()),
    indices = Uint16Array.from(triangles.flat()),
    size = places.byteLength + indices.byteLength;
  const json = JSON.stringify({
    asset: { version: '2.0' },
    scene: 0,
    scenes: [{ nodes: [0] }],
    nodes: [
      { name: 'Rack', children: [1] },
      { name: 'Block', mesh: 0 },
    ],
    materials: [{}],
    meshes: [{ primitives: [{ attributes: { POSITION: 0 }, indices: 1, material: 0 }] }],
    buffers: [{ byteLength: size }],
    bufferViews: [
      { buffer: 0, byteLength: places.byteLength },
      { buffer: 0, byteOffset: places.byteLength, byteLength: indices.byteLength },
    ],
    accessors: [
      { bufferView: 0, componentType: 5126, count: 8, type: 'VEC3' },
      { bufferView: 1, componentType: 5123, count: 36, type: 'SCALAR' },
    ],
  });
  const head = text(json.padEnd(Math.ceil(json.length / 4) * 4)),
    out = new Uint8Array(28 + head.length + size),
    view = new DataView(out.buffer);
  [0x46546c67, 2, out.length, head.length, 0x4e4f534a].forEach((x, i) => view.setUint32(4 * i, x, true));
  out.set(head, 20);
  view.setUint32(20 + head.length, size, true);
  view.setUint32(24 + head.length, 0x004e4942, true);
  out.set(new Uint8Array(places.buffer), 28 + head.length);
  out.set(new Uint8Array(indices.buffer), 28 + head.length + places.byteLength);
  return out;
}
const files: readonly [string, Uint8Array][] = [
  ['block.stl', binaryStl()],
  [
    'words.stl',
    text(
      `solid block\n${triangles.map((t) => `facet normal 0 0 0\nouter loop\n${t.map((i) => `vertex ${corners[i]!.join(' ')}`).join('\n')}\nendloop\nendfacet`).join('\n')}\nendsolid block\n`,
    ),
  ],
  [
    'block.obj',
    text(
      `o Block\n${corners.map((c) => `v ${c.join(' ')}`).join('\n')}\n${triangles.map((t) => `f ${t.map((i) => i + 1).join(' ')}`).join('\n')}\n`,
    ),
  ],
  [
    'block.ply',
    text(
      `ply\nformat ascii 1.0\nelement vertex 8\nproperty float x\nproperty float y\nproperty float z\nelement face 12\nproperty list uchar int vertex_indices\nend_header\n${corners.map((c) => c.join(' ')).join('\n')}\n${triangles.map((t) => `3 ${t.join(' ')}`).join('\n')}\n`,
    ),
  ],
  ['block.glb', glb()],
];
/** Bytes changed, taken out, or the end cut off. */
const blows = fc.array(
  fc.record({ at: fc.nat(), how: fc.constantFrom('change', 'take', 'cut', 'double'), to: fc.integer({ min: 0, max: 255 }) }),
  { minLength: 1, maxLength: 5 },
);
const struck = (bytes: Uint8Array, hits: readonly { at: number; how: string; to: number }[]): Uint8Array =>
  hits.reduce((b, { at, how, to }) => {
    if (b.length === 0) return b;
    const i = at % b.length;
    if (how === 'cut') return b.slice(0, i);
    if (how === 'take') return Uint8Array.from([...b.subarray(0, i), ...b.subarray(i + 1)]);
    if (how === 'double') return Uint8Array.from([...b.subarray(0, i), ...b.subarray(i, i + 20), ...b.subarray(i)]);
    const out = b.slice();
    out[i] = to;
    return out;
  }, bytes);

describe('a damaged file', () => {
  it.each(files)('%s', async (name, bytes) => {
    await fc.assert(
      fc.asyncProperty(blows, async (hits) => {
        const damaged = struck(bytes, hits);
        const r = await readParts(name, Uint8Array.from(damaged).buffer, () => undefined, { wasm: () => '' }).catch((e: unknown) => {
          expect(e).toBeInstanceOf(Error);
          expect((e as Error).message.length).toBeGreaterThan(3);
          return undefined;
        });
        for (const p of r?.parts ?? []) {
          expect(p.indices.length % 3).toBe(0);
          expect(p.indices.every((i) => i < p.positions.length / 3)).toBe(true);
          expect(p.positions.every(Number.isFinite)).toBe(true);
          expect(p.path.at(-1)).toMatch(/^[^<>"\u0000-\u001f]+$/);
        }
      }),
      { numRuns: 150 },
    );
  });
  it('a face that refers to a corner that is not there is named, in every format that has such references', async () => {
    const read = (name: string, bytes: Uint8Array) => readParts(name, Uint8Array.from(bytes).buffer, () => undefined, { wasm: () => '' });
    const swap = (name: string, from: string, to: string) =>
      text(new TextDecoder().decode(files.find((f) => f[0] === name)![1]).replace(from, to));
    await expect(read('block.ply', swap('block.ply', '3 0 2 3', '3 0 2 9999'))).rejects.toThrow(/refers to corner 9999, and there are 8/);
    await expect(read('block.obj', swap('block.obj', 'f 1 3 4', 'f 1 3 9999'))).rejects.toThrow(/not numbers|refers to corner/);
    const broken = glb();
    broken[broken.length - 2] = 200;
    await expect(read('block.glb', broken)).rejects.toThrow(/refers to corner 200/);
  });
  it('STEP: its tree is followed or not, its pieces are whole or none', () => {
    const corner = [0, 0] as const,
      plate = (name: string, y: number) => ({
        name,
        colour: [0.3, 0.5, 0.4] as const,
        start: corner,
        sides: [{ to: [40, 0] as const }, { to: [40, 30] as const }, { to: [0, 30] as const }, { to: corner }],
        holes: [],
        from: y,
        to: y + 6,
      });
    const step = text(writeStep('Rack', [plate('One', 0), { name: 'Inner', of: [plate('Two', 10), plate('Three', 20)] }]));
    fc.assert(
      fc.property(blows, (hits) => {
        const damaged = struck(step, hits),
          leaves = stepLeaves(damaged);
        for (const l of leaves ?? []) expect(l.path.length).toBe(l.nodes.length);
        const pieces = piecesOf(damaged, 4000);
        for (let i = 0; i < (pieces?.count ?? 0); i++) expect(pieces!.piece(i).length).toBeGreaterThan(0);
      }),
      { numRuns: 150 },
    );
  });
});
