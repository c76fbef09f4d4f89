/**
 * Solids joined and cut: the surfaces by a library for robust solids that is handed in, the mass by the integrals of meshes, all in double
 * precision. Faces nearer to each other than about 1e-7 of the size are taken as one. */
import { refuse } from '../diagnosis';
import { sameCorners } from './corners';
import { massOf, creased } from './mesh';
import { IDENTITY } from './vector';
import type { Solid } from './solid';

/** A closed surface: corners (m), and triangles turned outwards. */
export interface Surface {
  positions: Float64Array;
  indices: Uint32Array;
}

/** Joins and cuts closed surfaces. Undefined when one of them does not enclose a volume cleanly. */
export type Kernel = (joined: readonly Surface[], less: readonly Surface[]) => Surface | undefined;

/** Corners at one place made one, triangles without area left out. */
export function welded({ positions, indices }: Surface): Surface {
  const { one, kept } = sameCorners(positions);
  const out = new Float64Array(3 * kept.length);
  kept.forEach((i, v) => out.set(positions.subarray(3 * i, 3 * i + 3), 3 * v));
  const triangles: number[] = [];
  for (let t = 0; t + 2 < indices.length; t += 3) {
    const [p, q, r] = [one[indices[t]!]!, one[indices[t + 1]!]!, one[indices[t + 2]!]!];
    if (p !== q && q !== r && r !== p) triangles.push(p, q, r);
  }
  return { positions: out, indices: Uint32Array.from(triangles) };
}

const known = new Map<string, Surface>();
const MOST_KNOWN = 200;

/** What a surface is, in few characters: 64 bits of FNV-1a over all its numbers. */
function digest(s: Surface): string {
  let a = 0x811c9dc5,
    b = 0x01234567;
  for (const words of [new Uint32Array(s.positions.buffer, s.positions.byteOffset, 2 * s.positions.length), s.indices]) {
    for (let i = 0; i < words.length; i++) {
      a = Math.imul(a ^ words[i]!, 0x01000193);
      b = Math.imul(b ^ words[i]! ^ (a >>> 15), 0x85ebca6b);
    }
  }
  return `${s.positions.length}.${s.indices.length}.${(a >>> 0).toString(36)}.${(b >>> 0).toString(36)}`;
}

/**
 * The union of solids less others, as a solid of its own whose round sides have so many facets.
 * @throws Refusal when a surface is open, or nothing is left
 */
export function joinedSolid(kernel: Kernel, joined: readonly Solid[], less: readonly Solid[], round: number): Solid {
  const of = (list: readonly Solid[]) => list.map((s) => welded(s.surface(round)));
  const [plus, minus] = [of(joined), of(less)];
  const key = `${plus.map(digest).join('+')}-${minus.map(digest).join('-')}`;
  let surface = known.get(key);
  if (!surface) {
    surface = kernel(plus, minus);
    if (!surface)
      return refuse({
        code: 'solid-open',
        message: 'The surface of one of its shapes is open or crosses itself.',
        remedy: 'Use shapes that enclose a volume cleanly.',
      });
    if (known.size >= MOST_KNOWN) known.clear();
    known.set(key, surface);
  }
  if (surface.indices.length === 0) return refuse({ code: 'solid-empty', message: 'Nothing is left of it.', remedy: 'Take less away.' });
  const whole = surface;
  return {
    forms: [{ form: { type: 'facets', positions: whole.positions, indices: whole.indices }, turn: IDENTITY, shift: [0, 0, 0] }],
    mass: massOf(whole.positions, whole.indices),
    mesh: () => creased(Float32Array.from(whole.positions), whole.indices),
    surface: () => whole,
  };
}
