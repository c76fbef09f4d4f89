/** Stored geometry as bytes, as project files hold it. */
export interface StoredGeometry {
  id: string;
  positions: Float32Array;
  indices: Uint32Array;
}

/** Number of corners, then corners and triangles as they are kept. */
export function bytesOf(g: StoredGeometry): Uint8Array {
  const out = new Uint8Array(4 + g.positions.byteLength + g.indices.byteLength);
  new DataView(out.buffer).setUint32(0, g.positions.length, true);
  out.set(new Uint8Array(g.positions.buffer, g.positions.byteOffset, g.positions.byteLength), 4);
  out.set(new Uint8Array(g.indices.buffer, g.indices.byteOffset, g.indices.byteLength), 4 + g.positions.byteLength);
  return out;
}

/** Named by its content, whatever it was called where it came from. @returns undefined when it does not fit together */
export function geometryFrom(data: Uint8Array): StoredGeometry | undefined {
  if (data.length < 4) return undefined;
  const n = new DataView(data.buffer, data.byteOffset).getUint32(0, true);
  const rest = data.length - 4 - 4 * n;
  if (n % 3 !== 0 || rest < 0 || rest % 12 !== 0) return undefined;
  const copy = data.slice(4);
  const positions = new Float32Array(copy.buffer, 0, n),
    indices = new Uint32Array(copy.buffer, 4 * n, rest / 4);
  return positions.every(Number.isFinite) && indices.every((i) => 3 * i < n)
    ? { id: contentName(positions, indices), positions: positions.slice(), indices: indices.slice() }
    : undefined;
}

/** A name made of the content, so that the same part is kept once. */
export function contentName(...lists: (Float32Array | Uint32Array)[]): string {
  const h = [0xdeadbeef, 0x41c6ce57, 0x9e3779b9, 0x85ebca6b];
  let [a, b, c, d] = h as [number, number, number, number];
  for (const list of lists) {
    const bits = new Uint32Array(list.buffer, list.byteOffset, list.length);
    for (let i = 0; i < bits.length; i++) {
      const x = bits[i]!;
      a = Math.imul(a ^ x, 2654435761) ^ (a >>> 15);
      b = Math.imul(b ^ (x + 1), 1597334677) ^ (b >>> 15);
      c = Math.imul(c ^ (x + 2), 2246822507) ^ (c >>> 15);
      d = Math.imul(d ^ (x + 3), 3266489909) ^ (d >>> 15);
    }
  }
  return [a, b, c, d].map((x) => (x >>> 0).toString(16).padStart(8, '0')).join('');
}
