/**
 * Parts from files. Parsing is done by libraries; here files are looked at before they are trusted, corners are welded, and axes that two parts
 * share are found.
 */
import { BufferAttribute, type BufferGeometry, Color, Mesh, type Object3D } from 'three';
import {
  type Enclosure,
  LOOKED_AT,
  type MeshReport,
  doubt,
  enclosure,
  inspect,
  massOf,
  meshFaults,
  sidesOf,
  weld,
} from '@vim-pivot/core/meshes';
import { findFeatures } from '@vim-pivot/core/features';
import { readyGltf } from './gltf';
import { FACETS, FINENESS } from './round';
import { piecesOf } from './step-pieces';
import { place, stepLeaves } from './step-tree';

export interface ImportedPart {
  /** Names from the top of the assembly down to the part. */
  path: string[];
  /** Nodes of the assembly for the names of the path. */
  nodes: number[];
  /** One of several solids of a part. */
  solid?: true;
  positions: Float32Array;
  indices: Uint32Array;
  colour?: string;
  report: MeshReport;
}

/** An axis on which a hole of one part and a round of another lie. */
export interface SharedAxis {
  parts: [number, number];
  at: [number, number, number];
  axis: [number, number, number];
  radius: number;
}

const MOST_PARTS = 5000;
/** Memory the STEP reader can have is 2 GiB; from here on it has run out when something is missing, bytes. */
const FULL = 1.9e9;
const MOST_TRIANGLES = 12_000_000;
/** Bytes of a STEP file that are read at once: the reader takes a hundred times as many. */
const PIECE = 4e6;
/** Axes are sought in parts of at most this many triangles. */
const FELT = 150_000;

/** Why a file is not read, in words. */
export class Refused extends Error {}
const refuse = (message: string): never => {
  throw new Refused(message);
};

export interface Read {
  parts: ImportedPart[];
  axes: SharedAxis[];
  /** A unit of the file in metres; undefined when the file has none. */
  metres: number | undefined;
  /** Names of parts that hold no surface. */
  empty: string[];
  /** Facets to a turn of round faces, where the file has faces that are round; undefined where it has triangles. */
  facets?: number;
}

/** Is told what is being done, and how much of it is done where that is known, 0 to 1. */
export type Tell = (text: string, done?: number) => void;

export interface Ways {
  /** Where the compiled STEP reader is. */
  wasm: () => string;
  /** To a turn of round faces. */
  facets?: number | undefined;
  /** Bytes of a STEP file that are read at once. */
  piece?: number;
  /** Does for pieces what `triangulated` does, `many` of them at a time. */
  beside?: { many: number; triangulated(bytes: Uint8Array, facets: number): Promise<Raw[]> };
}

/** @param tell is told what is being done @throws Refused, or what a library throws at a damaged file */
export async function readParts(name: string, bytes: ArrayBuffer, tell: Tell, ways: Ways): Promise<Read> {
  const kind = /\.([a-z0-9]+)$/i.exec(name)?.[1]?.toLowerCase() ?? '';
  tell('Reading the file');
  const { raw, metres, round } = await parse(kind, bytes, tell, ways);
  if (raw.length === 0) refuse('The file holds no surface.');
  if (raw.length > MOST_PARTS) refuse(`The file holds ${raw.length} parts; at most ${MOST_PARTS} are read.`);
  const parts: ImportedPart[] = [],
    empty: string[] = [];
  nameSolids(raw);
  let total = 0;
  for (const [i, r] of raw.entries()) {
    if (i % 20 === 0) tell(`Part ${i + 1} of ${raw.length}`, i / raw.length);
    if (!finite(r.positions)) refuse(`“${r.path.at(-1)}” has coordinates that are not numbers.`);
    const beyond = r.indices?.find((k) => 3 * k >= r.positions.length);
    if (beyond !== undefined)
      refuse(
        `The file is damaged: a face of “${clean(r.path.at(-1) ?? 'Part')}” refers to corner ${beyond}, and there are ${r.positions.length / 3}, counted from 0.`,
      );
    const { positions, indices } = weld(r.positions, r.indices);
    total += indices.length / 3;
    if (total > MOST_TRIANGLES) refuse(`The file holds more than ${MOST_TRIANGLES / 1e6} million triangles.`);
    if (indices.length === 0) {
      empty.push(clean(r.path.at(-1) ?? 'Part'));
      continue;
    }
    parts.push({
      path: r.path.map(clean),
      nodes: r.nodes ?? [],
      positions,
      indices,
      report: inspect(indices, sidesOf(indices, positions.length / 3)),
      ...(r.solid ? { solid: true as const } : {}),
      ...(r.colour ? { colour: r.colour } : {}),
    });
  }
  if (parts.length === 0) refuse('The file holds no triangle with an area.');
  return { parts, axes: sharedAxes(parts, tell), empty, metres, ...(round ? { facets: ways.facets ?? FACETS } : {}) };
}

function finite(list: Float32Array): boolean {
  for (let i = 0; i < list.length; i++) if (!Number.isFinite(list[i])) return false;
  return true;
}

/** Names appear in pictures, files and messages. */
const clean = (name: string): string =>
  name
    .replace(/[\p{C}<>"“”]/gu, ' ')
    .replace(/\s+/g, ' ')
    .trim()
    .slice(0, 60) || 'Part';

/** Solids of one part, which may come from several pieces of a file, get names of their own below it. */
function nameSolids(raw: readonly Raw[]): void {
  const of = new Map<string, Raw[]>();
  for (const r of raw) if (r.nodes?.length === r.path.length) of.set(r.nodes.join(), [...(of.get(r.nodes.join()) ?? []), r]);
  for (const list of of.values())
    if (list.length > 1)
      list.forEach((r, k) => {
        r.path = [...r.path, `${r.path.at(-1)} ${k + 1}`];
        r.solid = true;
      });
}

/** What is wrong with a part, in words; `e` where it was looked at. */
export function faultsOf({ report, positions, indices }: ImportedPart, e: Enclosure | undefined) {
  const { mass } = massOf(positions, indices);
  return meshFaults({ ...report, inverted: mass < 0, doubt: report.open > 0 ? doubt(positions, indices, mass) : 0 }, e);
}

/** How a part encloses its volume, as long as the budget of triangles lasts. */
export function looker(budget = 4 * LOOKED_AT): (p: ImportedPart) => Enclosure | undefined {
  return ({ positions, indices }) => ((budget -= indices.length / 3) < 0 ? undefined : enclosure(positions, indices));
}

export interface Raw {
  path: string[];
  nodes?: number[];
  solid?: true;
  positions: Float32Array;
  indices?: Uint32Array;
  colour?: string;
}

async function parse(
  kind: string,
  bytes: ArrayBuffer,
  tell: Tell,
  ways: Ways,
): Promise<{ raw: Raw[]; metres: number | undefined; round?: boolean }> {
  switch (kind) {
    case 'stl': {
      checkStl(bytes);
      const { STLLoader } = await import('three/addons/loaders/STLLoader.js');
      return { raw: [fromGeometry(new STLLoader().parse(bytes), ['Part'])], metres: undefined };
    }
    case 'obj': {
      const { OBJLoader } = await import('three/addons/loaders/OBJLoader.js');
      return { raw: fromTree(new OBJLoader().parse(new TextDecoder().decode(bytes))), metres: undefined };
    }
    case 'ply': {
      checkPly(bytes);
      const { PLYLoader } = await import('three/addons/loaders/PLYLoader.js');
      return { raw: [fromGeometry(new PLYLoader().parse(bytes), ['Part'])], metres: undefined };
    }
    case 'glb':
    case 'gltf': {
      let ready: ArrayBuffer;
      try {
        ready = readyGltf(kind === 'glb', bytes);
      } catch (e) {
        return refuse(`The file cannot be read. ${(e as Error).message}.`);
      }
      const { GLTFLoader } = await import('three/addons/loaders/GLTFLoader.js');
      const { scene } = await new GLTFLoader().parseAsync(ready, '');
      return { raw: fromTree(scene), metres: 1 };
    }
    case 'step':
    case 'stp':
    case 'iges':
    case 'igs':
      return fromBrep(kind.startsWith('i'), bytes, tell, ways);
    default:
      return refuse(`Files that end in “.${kind}” are not read here. STEP, IGES, STL, OBJ, PLY and glTF are.`);
  }
}

/** A binary file says how many triangles follow: the claim must fit what is there. */
function checkStl(bytes: ArrayBuffer): void {
  const head = new TextDecoder('latin1').decode(bytes.slice(0, 512));
  if (/^\s*solid\b/.test(head) && /\bfacet\b|\bendsolid\b/.test(head)) return;
  if (bytes.byteLength < 84) refuse('The file is too short for an STL file.');
  const claimed = new DataView(bytes).getUint32(80, true);
  if (84 + 50 * claimed !== bytes.byteLength)
    refuse(
      `The file is damaged: it claims ${claimed} triangles but has room for ${Math.max(0, Math.floor((bytes.byteLength - 84) / 50))}.`,
    );
}
function checkPly(bytes: ArrayBuffer): void {
  const head = new TextDecoder('latin1').decode(bytes.slice(0, 20_000));
  if (!head.startsWith('ply') || !head.includes('end_header')) refuse('The file is no PLY file, or its header is cut short.');
  for (const [, , n] of head.matchAll(/element (\w+) (\d+)/g))
    if (Number(n) > bytes.byteLength) refuse(`The file is damaged: it claims ${n} elements in ${bytes.byteLength} bytes.`);
}

function fromGeometry(g: BufferGeometry, path: string[], colour?: string): Raw {
  const at = g.getAttribute('position') as BufferGeometry['attributes'][string] | undefined;
  if (!at) return { path, positions: new Float32Array(0) };
  const positions = at.array instanceof Float32Array && at instanceof BufferAttribute && at.itemSize === 3 ? at.array : gathered(at);
  return { path, positions, ...(g.index ? { indices: Uint32Array.from(g.index.array) } : {}), ...(colour ? { colour } : {}) };
}

/** Coordinates that lie among others, or in small whole numbers. */
function gathered(at: BufferGeometry['attributes'][string]): Float32Array {
  const out = new Float32Array(3 * at.count);
  for (let i = 0; i < at.count; i++) {
    out[3 * i] = at.getX(i);
    out[3 * i + 1] = at.getY(i);
    out[3 * i + 2] = at.getZ(i);
  }
  return out;
}

function fromTree(root: Object3D): Raw[] {
  root.updateMatrixWorld(true);
  const out: Raw[] = [];
  const visit = (o: Object3D, path: string[], nodes: number[], depth: number): void => {
    if (depth > 200) refuse('The file nests its parts more than 200 deep.');
    const here = o.name ? [...path, o.name] : path,
      ids = o.name ? [...nodes, o.id] : nodes;
    if (o instanceof Mesh) {
      const material = (Array.isArray(o.material) ? o.material[0] : o.material) as { color?: { getHexString(): string } } | undefined;
      out.push({
        ...fromGeometry(
          (o.geometry as BufferGeometry).clone().applyMatrix4(o.matrixWorld),
          here.length > 0 ? here : ['Part'],
          material?.color ? `#${material.color.getHexString()}` : undefined,
        ),
        nodes: ids,
      });
    }
    for (const c of o.children) visit(c, here, ids, depth + 1);
  };
  visit(root, [], [], 0);
  return out;
}

interface BrepNode {
  name: string;
  meshes: number[];
  children: BrepNode[];
}
interface BrepResult {
  success: boolean;
  root: BrepNode;
  meshes: { name: string; color?: [number, number, number]; attributes: { position: { array: number[] } }; index: { array: number[] } }[];
}

/** STEP and IGES: solids are turned into triangles by the library, assembled as their file says, in millimetres. */
async function fromBrep(
  iges: boolean,
  bytes: ArrayBuffer,
  tell: Tell,
  { wasm, facets = FACETS, piece = PIECE, beside }: Ways,
): Promise<{ raw: Raw[]; metres: number; round: true }> {
  const head = new TextDecoder('latin1').decode(bytes.slice(0, 4000));
  if (!iges && !/ISO-10303-21/.test(head)) refuse('The file is no STEP file: it does not begin with ISO-10303-21.');
  if (iges && head.length < 80) refuse('The file is too short for an IGES file.');
  tell('Turning solids into triangles');
  const whole = new Uint8Array(bytes),
    pieces = iges ? undefined : piecesOf(whole, piece);
  const leaves = iges ? undefined : stepLeaves(whole);
  if (!pieces) {
    const raw = await triangulated(iges, whole, wasm, facets);
    place(raw, leaves);
    return { raw, metres: 1e-3, round: true };
  }
  const raw: Raw[][] = [],
    { count } = pieces;
  let next = 0,
    done = 0;
  const work = async (): Promise<void> => {
    for (let i = next++; i < count; i = next++) {
      const bytes = pieces.piece(i);
      raw[i] = await (beside ? beside.triangulated(bytes, facets) : triangulated(false, bytes, wasm, facets));
      place(raw[i]!, leaves);
      tell(`Turning solids into triangles: ${++done} of ${count}`, done / count);
    }
  };
  tell(`Turning solids into triangles: 0 of ${count}`, 0);
  await Promise.all(Array.from({ length: Math.min(count, beside?.many ?? 1) }, work));
  return { raw: raw.flat(), metres: 1e-3, round: true };
}

/** What the library makes of one file. */
export async function triangulated(iges: boolean, bytes: Uint8Array, wasm: () => string, facets: number): Promise<Raw[]> {
  const { default: load } = (await import('occt-import-js')) as unknown as {
    default: (o: object) => Promise<{
      HEAPU8: Uint8Array;
      ReadStepFile(b: Uint8Array, o: object): BrepResult;
      ReadIgesFile(b: Uint8Array, o: object): BrepResult;
    }>;
  };
  const occt = await load({ locateFile: wasm });
  // the library goes half as far from facet to facet as it is told to, and keeps to that wherever the linear deflection is smaller than the radius
  const options = {
    linearUnit: 'millimeter',
    linearDeflectionType: 'bounding_box_ratio',
    linearDeflection: 0.0003,
    angularDeflection: (4 * Math.PI) / facets,
  };
  const r = iges ? occt.ReadIgesFile(bytes, options) : occt.ReadStepFile(bytes, options);
  // it says nothing when its memory runs out: parts then come without a surface
  if (occt.HEAPU8.byteLength > FULL && (!r.success || r.meshes.some((m) => m.index.array.length === 0)))
    refuse(
      `The file is too large: the reader ran out of its 2 GB of memory. Save the assembly in several files${facets > FINENESS[0]! ? `, or choose fewer than ${facets} facets to a turn` : ''}.`,
    );
  if (!r.success) refuse('The file cannot be read: it is damaged or cut short.');
  const raw: Raw[] = [];
  // every piece of a file has the whole assembly: a node has the same number in each
  let count = 0;
  const visit = (n: BrepNode, path: string[], nodes: number[], depth: number): void => {
    if (depth > 200) refuse('The file nests its parts more than 200 deep.');
    const here = n.name ? [...path, n.name] : path,
      id = count++,
      ids = n.name ? [...nodes, id] : nodes;
    for (const i of n.meshes) {
      const m = r.meshes[i]!;
      const name = m.name && m.name !== here.at(-1) ? [...here, m.name] : here;
      raw.push({
        path: name.length > 0 ? name : ['Part'],
        nodes: ids,
        positions: Float32Array.from(m.attributes.position.array),
        indices: Uint32Array.from(m.index.array),
        ...(m.color ? { colour: `#${new Color().setRGB(...m.color).getHexString()}` } : {}),
      }); // linear light
    }
    for (const c of n.children) visit(c, here, ids, depth + 1);
  };
  visit(r.root, [], [], 0);
  return raw;
}

/** Holes and rounds of different parts on one axis, of nearly one radius, beside each other. */
function sharedAxes(parts: readonly ImportedPart[], tell: Tell): SharedAxis[] {
  const rounds = parts.flatMap((p, part) => {
    if (part % 20 === 0) tell('Looking for shared axes', part / parts.length);
    return p.indices.length / 3 > FELT
      ? []
      : findFeatures(p.positions, p.indices)
          .faces.filter((f) => f.type === 'cylinder')
          .map((f) => ({
            part,
            at: f.at,
            axis: f.axis!,
            radius: f.radius!,
            hollow: !!f.hollow,
            length: f.area / (2 * Math.PI * f.radius!),
          }));
  });
  const out: SharedAxis[] = [],
    met = new Set<string>();
  for (const a of rounds) {
    if (!a.hollow) continue;
    for (const b of rounds) {
      if (b.part === a.part || (b.hollow && b.part < a.part)) continue;
      const along = Math.abs(a.axis[0] * b.axis[0] + a.axis[1] * b.axis[1] + a.axis[2] * b.axis[2]);
      if (along < 0.9999 || Math.abs(a.radius - b.radius) > 0.15 * a.radius) continue;
      const d = [b.at[0] - a.at[0], b.at[1] - a.at[1], b.at[2] - a.at[2]],
        s = d[0]! * a.axis[0] + d[1]! * a.axis[1] + d[2]! * a.axis[2];
      const off = Math.sqrt(Math.max(0, d[0]! ** 2 + d[1]! ** 2 + d[2]! ** 2 - s * s));
      if (off > 0.05 * a.radius || Math.abs(s) > 0.55 * (a.length + b.length) + 0.5 * a.radius) continue;
      const pair = `${Math.min(a.part, b.part)} ${Math.max(a.part, b.part)}`;
      if (met.has(pair)) continue;
      met.add(pair);
      out.push({ parts: [a.part, b.part], at: [...a.at], axis: [...a.axis], radius: a.radius });
    }
  }
  return out.slice(0, 500);
}
