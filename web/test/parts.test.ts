/** Parts read from every format that is read: a box of known volume, an assembly with holes on shared axes; and what damaged files say. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { describe, expect, it } from 'vitest';
import { geometryOf } from '@vim-pivot/core';
import { type Read, readParts } from '../workers/parts';
import { missing } from '../workers/round';

const wasm = () => createRequire(import.meta.url).resolve('occt-import-js/dist/occt-import-js.wasm');
const read = (name: string, bytes: Uint8Array | string): Promise<Read> => {
  const b = typeof bytes === 'string' ? new TextEncoder().encode(bytes) : bytes;
  return readParts(name, Uint8Array.from(b).buffer, () => undefined, { wasm });
};
const sortingGate = (facets?: number) =>
  readParts('sorting-gate.step', Uint8Array.from(readFileSync('examples/sorting-gate.step')).buffer, () => undefined, { wasm, facets });
const volume = (r: Read, i = 0) => geometryOf(r.parts[i]!.positions, r.parts[i]!.indices).mass.mass;

/** Corners and triangles of a box 2 by 3 by 4. */
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

const obj = `o Block\n${corners.map((c) => `v ${c.join(' ')}`).join('\n')}\n${triangles.map((t) => `f ${t.map((i) => i + 1).join(' ')}`).join('\n')}\n`;
const ply = `ply\nformat ascii 1.0\nelement vertex 8\nproperty float x\nproperty float y\nproperty float z\nelement face 12\nproperty list uchar int vertex_indices\nend_header\n${corners.map((c) => c.join(' ')).join('\n')}\n${triangles.map((t) => `3 ${t.join(' ')}`).join('\n')}\n`;
const stl = `solid block\n${triangles.map((t) => `facet normal 0 0 0\nouter loop\n${t.map((i) => `vertex ${corners[i]!.join(' ')}`).join('\n')}\nendloop\nendfacet`).join('\n')}\nendsolid block\n`;

/** A glTF with two nodes that share one mesh, the second shifted and half the size; `more` goes over what it says. */
const rack = (more: object = {}) => {
  const positions = Float32Array.from(corners.flat()),
    indices = Uint16Array.from(triangles.flat());
  const binary = new Uint8Array(positions.byteLength + indices.byteLength);
  binary.set(new Uint8Array(positions.buffer));
  binary.set(new Uint8Array(indices.buffer), positions.byteLength);
  return {
    binary,
    json: {
      asset: { version: '2.0' },
      scene: 0,
      scenes: [{ nodes: [0] }],
      nodes: [
        { name: 'Rack', children: [1, 2] },
        { name: 'Block', mesh: 0 },
        { name: 'Small block', mesh: 0, translation: [10, 0, 0], scale: [0.5, 0.5, 0.5] },
      ],
      materials: [{ pbrMetallicRoughness: { baseColorFactor: [1, 0, 0, 1] } }],
      meshes: [{ primitives: [{ attributes: { POSITION: 0 }, indices: 1, material: 0 }] }],
      buffers: [{ byteLength: binary.length }] as { byteLength: number; uri?: string }[],
      bufferViews: [
        { buffer: 0, byteLength: positions.byteLength },
        { buffer: 0, byteOffset: positions.byteLength, byteLength: indices.byteLength },
      ],
      accessors: [
        { bufferView: 0, componentType: 5126, count: 8, type: 'VEC3', min: [0, 0, 0], max: [2, 3, 4] },
        { bufferView: 1, componentType: 5123, count: 36, type: 'SCALAR' },
      ],
      ...more,
    },
  };
};
function glb(more: object = {}): Uint8Array {
  const { binary, json: said } = rack(more),
    json = JSON.stringify(said);
  const text = new TextEncoder().encode(json.padEnd(Math.ceil(json.length / 4) * 4));
  const out = new Uint8Array(12 + 8 + text.length + 8 + binary.length),
    view = new DataView(out.buffer);
  [0x46546c67, 2, out.length, text.length, 0x4e4f534a].forEach((x, i) => view.setUint32(4 * i, x, true));
  out.set(text, 20);
  view.setUint32(20 + text.length, binary.length, true);
  view.setUint32(24 + text.length, 0x004e4942, true);
  out.set(binary, 28 + text.length);
  return out;
}
/** The same as text, its places and its indices each in a buffer of its own within it, with a picture on it. */
function gltf(more: object = {}): string {
  const { binary, json } = rack(more),
    uri = (b: Uint8Array) => ({ byteLength: b.length, uri: `data:application/octet-stream;base64,${Buffer.from(b).toString('base64')}` });
  return JSON.stringify({
    ...json,
    buffers: [uri(binary.subarray(0, 96)), uri(binary.subarray(96))],
    bufferViews: [
      { buffer: 0, byteLength: 96 },
      { buffer: 1, byteLength: 72 },
    ],
    images: [{ uri: 'data:image/png;base64,AAAA' }],
    textures: [{ source: 0 }],
    materials: [{ pbrMetallicRoughness: { baseColorFactor: [1, 0, 0, 1], baseColorTexture: { index: 0 } } }],
    ...more,
  });
}

/** A bilinear patch between two lines, in millimetres, as IGES: fixed columns, entities 110 and 118. */
function iges(): string {
  const field = (x: number | string) => String(x).padStart(8);
  const parameters = ['110,0.,0.,0.,10.,0.,0.;', '110,0.,20.,0.,10.,20.,0.;', '118,1,3,0,0;'];
  const card = (text: string, section: string, n: number) => `${text.padEnd(72)}${section}${String(n).padStart(7)}`;
  const directory = [110, 110, 118].flatMap((type, i) => [
    [type, i + 1, 0, 0, 0, 0, 0, 0, '00000000'].map(field).join(''),
    [type, 0, 0, 1, type === 118 ? 1 : 0, 0, 0, '', 0].map(field).join(''),
  ]);
  const global = [
    '1H,,1H;,5Hpatch,9Hpatch.igs,5Hpivot,3H1.0,32,38,6,308,15,5Hpatch,1.,2,',
    '2HMM,1,0.1,15H20260101.000000,1.E-05,100.,4Hnone,4Hnone,11,0,',
    '15H20260101.000000;',
  ];
  return [
    card('made up', 'S', 1),
    ...global.map((g, i) => card(g, 'G', i + 1)),
    ...directory.map((d, i) => card(d, 'D', i + 1)),
    ...parameters.map((p, i) => `${p.padEnd(64)}${field(2 * i + 1)}P${String(i + 1).padStart(7)}`),
    card(`S${'1'.padStart(7)}G${String(global.length).padStart(7)}D${'6'.padStart(7)}P${'3'.padStart(7)}`, 'T', 1),
    '',
  ].join('\n');
}

describe('a box of 24 cubic units', () => {
  it.each<[string, Uint8Array | string]>([
    ['block.obj', obj],
    ['block.ply', ply],
    ['block.stl', stl],
  ])('from %s is closed and has its volume; the file has no unit', async (name, bytes) => {
    const r = await read(name, bytes);
    expect(r.metres).toBeUndefined();
    expect(r.parts.length).toBe(1);
    expect(r.parts[0]!.report.open).toBe(0);
    expect(r.parts[0]!.positions.length).toBe(24);
    expect(volume(r)).toBeCloseTo(24, 9);
  });
  it.each<[string, Uint8Array | string]>([
    ['rack.glb', glb()],
    ['rack.gltf', gltf()],
  ])('from %s with its tree, places, sizes and colour, in metres', async (name, bytes) => {
    const r = await read(name, bytes);
    expect(r.metres).toBe(1);
    expect(r.parts.map((p) => p.path.join('/'))).toEqual(['Rack/Block', 'Rack/Small_block']);
    expect(volume(r)).toBeCloseTo(24, 9);
    expect(volume(r, 1)).toBeCloseTo(3, 9);
    expect(Math.min(...r.parts[1]!.positions.filter((_, i) => i % 3 === 0))).toBeCloseTo(10, 9);
    expect(r.parts[0]!.colour).toBe('#ff0000');
  });
});

it('the sorting gate as STEP: parts, colours, closed, and six axes shared by the right pairs', async () => {
  const r = await read('sorting-gate.step', readFileSync('examples/sorting-gate.step'));
  const names = r.parts.map((p) => p.path.at(-1)!);
  expect(names).toEqual(['Frame', 'Crank', 'Coupler', 'Rocker with yoke', 'Push rod', 'Pusher']);
  expect(r.parts.every((p) => p.path[0] === 'Sorting gate' && p.report.open === 0)).toBe(true);
  expect(r.parts[1]!.colour).toBe('#b56b4a');
  expect(r.metres).toBe(1e-3);
  expect(
    r.axes
      .map((a) =>
        a.parts
          .map((i) => names[i])
          .sort()
          .join(' – '),
      )
      .sort(),
  ).toEqual([
    'Coupler – Crank',
    'Coupler – Rocker with yoke',
    'Crank – Frame',
    'Frame – Rocker with yoke',
    'Push rod – Pusher',
    'Push rod – Rocker with yoke',
  ]);
  for (const a of r.axes) {
    expect(a.radius).toBeCloseTo(4, 3);
    expect(Math.abs(a.axis[1])).toBeCloseTo(1, 5);
  }
  // the pusher is a plate 60 by 40 by 8 with a hole of radius 4, its facets inside the circle
  const hole = Math.PI * 16 * 8;
  expect(volume(r, 5)).toBeGreaterThan(60 * 40 * 8 - hole);
  expect(volume(r, 5)).toBeLessThan(60 * 40 * 8 - 0.9 * hole);
}, 60_000);

it('of round faces no more is missing than is told, holes have as many facets as asked for, and finer ones come closer', async () => {
  const arm = 60,
    exact = 8 * (arm * 24 + Math.PI * 12 ** 2 - 2 * Math.PI * 4 ** 2);
  const errors: number[] = [];
  for (const facets of [24, 96]) {
    const r = await sortingGate(facets);
    expect(r.empty).toEqual([]);
    expect(r.facets).toBe(facets);
    // the holes are too small by as much of their own section: what is told of a round solid holds for the whole of it
    // corners on the rim of the crank's first hole, at one face
    const { at } = r.axes.find((a) => a.parts.includes(1))!,
      { positions } = r.parts[1]!,
      rim = new Set<string>();
    for (let v = 0; v < positions.length; v += 3)
      if (Math.abs(Math.hypot(positions[v]! - at[0], positions[v + 2]! - at[2]) - 4) < 1e-3 && Math.abs(positions[v + 1]! - 10) < 1e-3)
        rim.add(`${positions[v]!.toFixed(4)} ${positions[v + 2]!.toFixed(4)}`);
    expect(rim.size).toBe(facets);
    errors.push(Math.abs(volume(r, 1) / exact - 1));
    expect(errors.at(-1)).toBeLessThan(missing(facets));
    expect(errors.at(-1)).toBeGreaterThan(0);
  }
  expect(errors[0]! / errors[1]!).toBeGreaterThan(3);
}, 120_000);

it('a patch as IGES: its area, and that it is open', async () => {
  const r = await read('patch.igs', iges());
  expect(r.metres).toBe(1e-3);
  const {
    positions,
    indices,
    report: { open },
  } = r.parts[0]!;
  let area = 0;
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => [0, 1, 2].map((j) => positions[3 * indices[t + k]! + j]!)) as [number[], number[], number[]];
    const [ux, uy, vx, vy] = [b[0]! - a[0]!, b[1]! - a[1]!, c[0]! - a[0]!, c[1]! - a[1]!];
    area += Math.abs(ux * vy - uy * vx) / 2;
  }
  expect(area).toBeCloseTo(200, 6);
  expect(open).toBeGreaterThanOrEqual(4);
}, 60_000);

describe('refused', () => {
  it.each<[string, string, Uint8Array | string, RegExp]>([
    ['a kind that is not read', 'part.xyz', 'x', /are not read here/],
    ['an OBJ without faces', 'empty.obj', 'v 0 0 0\n', /no surface|no triangle/],
    ['coordinates that are no numbers', 'bad.obj', 'v a b c\nv 1 0 0\nv 0 1 0\nf 1 2 3\n', /not numbers/],
    [
      'a glTF whose geometry is in another file',
      'rack.gltf',
      gltf({ buffers: [{ byteLength: 168, uri: '../rack.bin' }] }),
      /in a file of its own, “\.\.\/rack\.bin”/,
    ],
    ['a glTF that is compressed', 'rack.glb', glb({ extensionsRequired: ['KHR_draco_mesh_compression'] }), /KHR_draco_mesh_compression/],
    [
      'a glTF part that contains itself',
      'rack.glb',
      glb({
        nodes: [
          { name: 'A', children: [1] },
          { name: 'B', children: [0] },
        ],
      }),
      /contains itself/,
    ],
    [
      'a glTF that nests without end',
      'rack.glb',
      glb({ nodes: Array.from({ length: 400 }, (_, i) => ({ children: [i + 1] })) }),
      /more than 200 deep/,
    ],
    [
      'a glTF that claims two thousand million values',
      'rack.glb',
      glb({ accessors: [{ componentType: 5126, count: 2e9, type: 'VEC3' }] }),
      /claims 2000000000 values/,
    ],
    ['a glTF that is a list', 'rack.gltf', '[]', /no scene/],
    ['a STEP file cut short', 'cut.step', readFileSync('examples/sorting-gate.step').subarray(0, 3000), /damaged|no surface|no triangle/],
  ])(
    '%s',
    async (_what, name, bytes, words) => {
      await expect(read(name, bytes)).rejects.toThrow(words);
    },
    60_000,
  );
  it('names with markup and control characters are cleaned', async () => {
    const r = await read('n.obj', obj.replace('o Block', 'o <b>Block\u0007</b>'));
    expect(r.parts[0]!.path.at(-1)).toBe('b Block /b');
  });
});
