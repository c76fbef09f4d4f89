/** A part as a file. */

/** A box in millimetres as a binary STL; a side can be left open. */
export function boxStl([x, y, z]: [number, number, number], open = false): Buffer {
  const c = [0, 1, 2, 3, 4, 5, 6, 7].map((i) => [i & 1 ? x : 0, i & 2 ? y : 0, i & 4 ? z : 0]);
  const quads = [
    [0, 2, 3, 1],
    [4, 5, 7, 6],
    [0, 1, 5, 4],
    [2, 6, 7, 3],
    [0, 4, 6, 2],
    [1, 3, 7, 5],
  ].slice(open ? 1 : 0);
  const triangles = quads.flatMap(
    ([a, b, d, e]) =>
      [
        [a, b, d],
        [a, d, e],
      ] as number[][],
  );
  const out = Buffer.alloc(84 + 50 * triangles.length);
  out.writeUInt32LE(triangles.length, 80);
  triangles.forEach((t, i) => t.forEach((v, k) => c[v!]!.forEach((w, j) => out.writeFloatLE(w, 84 + 50 * i + 12 + 12 * k + 4 * j))));
  return out;
}
