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

/** @returns undefined when it does not fit together */
export function geometryFrom({ id, data }: { id: string; data: Uint8Array }): StoredGeometry | undefined {
  if (data.length < 4) return undefined;
  const n = new DataView(data.buffer, data.byteOffset).getUint32(0, true);
  const rest = data.length - 4 - 4 * n;
  if (n % 3 !== 0 || rest < 0 || rest % 12 !== 0) return undefined;
  const copy = data.slice(4);
  const positions = new Float32Array(copy.buffer, 0, n), indices = new Uint32Array(copy.buffer, 4 * n, rest / 4);
  return positions.every(Number.isFinite) && indices.every((i) => 3 * i < n) ? { id, positions: positions.slice(), indices: indices.slice() } : undefined;
}
