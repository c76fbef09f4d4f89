/** All that lies below a plane: without end, so without mass. It is drawn as a square, and measured as a slab under that. */
import { NO_MASS } from './mass';
import { MeshBuilder, type Solid, box, moved, movedSurface } from './solid';
import type { Mat3, Vec3 } from './vector';

/** Thickness of the slab, in parts of its width. */
const SLAB = 0.1;

/** @param frame its z points out of it @param span width of the square, m */
export function halfSpace(at: Vec3, frame: Mat3, span: number): Solid {
  const h = span / 2;
  return {
    forms: [{ form: { type: 'half-space' }, turn: frame, shift: at }],
    mass: NO_MASS,
    mesh() {
      const m = new MeshBuilder();
      for (const up of [1, -1] as const) {
        const [a, b, c, d] = [
          [-h, -h],
          [h, -h],
          [h, h],
          [-h, h],
        ].map(([x, y]) => m.vertex([x!, y!, 0], [0, 0, up])) as [number, number, number, number];
        if (up > 0) m.quad(a, b, c, d);
        else m.quad(a, d, c, b);
      }
      return moved(m.build(), frame, at);
    },
    surface() {
      const { positions, indices } = box([0, 0, (-SLAB * span) / 2], [span, span, SLAB * span]).surface();
      return movedSurface({ positions, indices }, frame, at);
    },
  };
}
