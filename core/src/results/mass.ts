/** Mass, centre and inertia of a body or a shape as they count in the machine, for looking at and for typing in. */
import { type MassProperties, place } from '../geometry/mass';
import { principalMoments } from '../geometry/principal';
import { type Vec3, apply, scale, transpose } from '../geometry/vector';
import type { Built } from '../system/mechanism';

export interface MassFound {
  /** kg. */
  mass: number;
  /** In the axes of the body, m. */
  centre: Vec3;
  /** About the centre along the axes of the body, kg·m²: xx yy zz, and the entries xy yz zx of the tensor. */
  inertia: Vec3;
  products: Vec3;
  /** Smallest first, kg·m². */
  principal: Vec3;
  /** What its shapes alone come to, where it has any. */
  shapes?: Omit<MassFound, 'shapes' | 'volume'>;
  /** Of a shape, m³. */
  volume?: number;
}

function told({ mass, centre, inertia }: MassProperties): Omit<MassFound, 'shapes' | 'volume'> {
  const [xx, xy, xz, , yy, yz, , , zz] = inertia;
  return { mass, centre, inertia: [xx, yy, zz], products: [xy, yz, xz], principal: principalMoments(inertia) };
}

/** @returns undefined when the element is in error, or none of a body's */
export function massFound({ bodies, shapes, layout, ground }: Built, family: 'bodies' | 'shapes', name: string): MassFound | undefined {
  if (family === 'bodies') {
    const b = bodies.find((x) => x.name === name);
    return b && { ...told(b), ...(b.shapes.mass > 0 ? { shapes: told(b.shapes) } : {}) };
  }
  const s = shapes.find((x) => x.name === name);
  if (!s) return undefined;
  const b = bodies.find((x) => x.name === s.body),
    turn = transpose(b?.turn ?? layout.body(ground).turn);
  return { ...told(place(s.mass, turn, scale(apply(turn, b?.origin ?? [0, 0, 0]), -1))), volume: s.volume };
}
