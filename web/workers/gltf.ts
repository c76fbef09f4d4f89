/**
 * A glTF file made ready for its reader: in one binary piece (glTF 2.0, GLB), without pictures, which the reader would fetch, and looked over for
 * claims that would make it wait for ever or take all memory.
 */

interface Json {
  buffers?: { uri?: string; byteLength?: number }[];
  bufferViews?: { buffer: number; byteOffset?: number }[];
  accessors?: { count?: number }[];
  nodes?: { children?: number[] }[];
  materials?: { name?: string; pbrMetallicRoughness?: { baseColorFactor?: number[] } }[];
  extensionsRequired?: string[];
  [other: string]: unknown;
}

const GLTF = 0x46546c67,
  JSON_CHUNK = 0x4e4f534a,
  BIN_CHUNK = 0x004e4942;
const MOST_VALUES = 40_000_000;
const DEEPEST = 200;
/** What the reader understands without helpers of its own. */
const UNDERSTOOD = /^(KHR_mesh_quantization|KHR_materials_.*|KHR_texture_.*|KHR_lights_punctual|EXT_mesh_gpu_instancing|EXT_texture_.*)$/;

/** @throws Error in words, for files that cannot be read */
export function readyGltf(binary: boolean, bytes: ArrayBuffer): ArrayBuffer {
  const { json, own } = binary ? chunks(bytes) : { json: parsed(new TextDecoder().decode(bytes)), own: undefined };
  for (const x of json.extensionsRequired ?? [])
    if (!UNDERSTOOD.test(x)) throw new Error(`It needs “${x}”, which is not read here. Save it without compression`);
  for (const a of json.accessors ?? [])
    if (!(Number(a.count) >= 0 && Number(a.count) <= MOST_VALUES)) throw new Error(`It claims ${a.count} values in one list`);
  noCircles(json.nodes ?? []);
  json.images = json.textures = json.samplers = json.animations = json.skins = json.cameras = undefined;
  json.nodes = json.nodes?.map((n) => ({ ...n, skin: undefined, camera: undefined }));
  json.materials = json.materials?.map(({ name, pbrMetallicRoughness: p }) => ({
    ...(name ? { name } : {}),
    ...(p?.baseColorFactor ? { pbrMetallicRoughness: { baseColorFactor: p.baseColorFactor } } : {}),
  }));
  // all buffers behind one another, each on a multiple of four
  const parts = (json.buffers ?? []).map((b, i) => (b.uri === undefined ? (i === 0 && own) || new Uint8Array(0) : embedded(b.uri)));
  const starts: number[] = [];
  let length = 0;
  for (const p of parts) {
    starts.push(length);
    length += Math.ceil(p.length / 4) * 4;
  }
  const bin = new Uint8Array(length);
  parts.forEach((p, i) => bin.set(p, starts[i]));
  json.bufferViews = json.bufferViews?.map((v) => ({ ...v, buffer: 0, byteOffset: (v.byteOffset ?? 0) + (starts[v.buffer] ?? 0) }));
  if (parts.length > 0) json.buffers = [{ byteLength: length }];
  return packed(json, bin);
}

function parsed(text: string): Json {
  const json: unknown = JSON.parse(text);
  if (typeof json !== 'object' || json === null || Array.isArray(json)) throw new Error('It holds no scene');
  return json as Json;
}

/** The two chunks of a binary file. */
function chunks(bytes: ArrayBuffer): { json: Json; own: Uint8Array | undefined } {
  const view = new DataView(bytes),
    cut = () => new Error('It is cut short, or is no binary glTF');
  if (
    bytes.byteLength < 20 ||
    view.getUint32(0, true) !== GLTF ||
    view.getUint32(8, true) !== bytes.byteLength ||
    view.getUint32(16, true) !== JSON_CHUNK
  )
    throw cut();
  const size = view.getUint32(12, true),
    next = 20 + size;
  if (next > bytes.byteLength) throw cut();
  const json = parsed(new TextDecoder().decode(new Uint8Array(bytes, 20, size)));
  if (next + 8 > bytes.byteLength || view.getUint32(next + 4, true) !== BIN_CHUNK) return { json, own: undefined };
  if (next + 8 + view.getUint32(next, true) > bytes.byteLength) throw cut();
  return { json, own: new Uint8Array(bytes, next + 8, view.getUint32(next, true)) };
}

function embedded(uri: string): Uint8Array {
  const at = /^data:[^,]*;base64,/.exec(uri)?.[0].length;
  if (at === undefined)
    throw new Error(`It keeps its geometry in a file of its own, “${uri.slice(0, 80)}”. Save it in one piece, as a binary glTF (.glb)`);
  const text = atob(uri.slice(at)),
    out = new Uint8Array(text.length);
  for (let i = 0; i < text.length; i++) out[i] = text.charCodeAt(i);
  return out;
}

/** A node within itself would never be ready. */
function noCircles(nodes: readonly { children?: number[] }[]): void {
  const done = new Set<number>();
  const visit = (i: number, above: readonly number[]): void => {
    if (above.includes(i)) throw new Error('A part of it contains itself');
    if (above.length > DEEPEST) throw new Error(`It nests its parts more than ${DEEPEST} deep`);
    if (done.has(i)) return;
    for (const c of nodes[i]?.children ?? []) visit(c, [...above, i]);
    done.add(i);
  };
  nodes.forEach((_, i) => visit(i, []));
}

function packed(json: Json, bin: Uint8Array): ArrayBuffer {
  const text = new TextEncoder().encode(JSON.stringify(json)),
    room = Math.ceil(text.length / 4) * 4,
    total = 12 + 8 + room + 8 + bin.length;
  const out = new Uint8Array(total).fill(0x20, 20, 20 + room),
    view = new DataView(out.buffer);
  [GLTF, 2, total, room, JSON_CHUNK].forEach((x, i) => view.setUint32(4 * i, x, true));
  out.set(text, 20);
  view.setUint32(20 + room, bin.length, true);
  view.setUint32(24 + room, BIN_CHUNK, true);
  out.set(bin, 28 + room);
  return out.buffer;
}
