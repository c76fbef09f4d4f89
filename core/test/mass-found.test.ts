/** Mass properties as they are told of bodies and shapes, and what typing one of them in does to the others. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type RawElement, build } from '../src';
import { principalMoments } from '../src/geometry/principal';
import { type Mat3, mul, transpose } from '../src/geometry/vector';
import { fromRollPitchYaw } from '../src/drawn';
import { massFound } from '../src/on-demand';
import { model } from './models';

const e = (list: object[]) => list as RawElement[];
/** A steel box 0.1 by 0.2 by 0.3 on a body that is drawn elsewhere and turned; its edges are along the body’s axes. */
const block = (body: object) =>
  build(
    model('Block', {
      points: e([
        { name: 'Home', at: [1, 2, 3] },
        { name: 'Middle', at: [1.5, 2, 3] },
      ]),
      materials: e([{ name: 'Steel', density: 7850 }]),
      bodies: e([{ name: 'Block', origin: 'Home', material: 'Steel', ...body }]),
      shapes: e([{ name: 'Box', kind: 'box', body: 'Block', centre: 'Middle', length: 0.1, depth: 0.2, height: 0.3 }]),
    }),
  );
const mass = 7850 * 0.006,
  I = [(mass * 0.13) / 12, (mass * 0.1) / 12, (mass * 0.05) / 12];
const close = (a: readonly number[], b: readonly number[]) => a.forEach((x, i) => expect(x).toBeCloseTo(b[i]!, 9));

describe('mass properties that are told', () => {
  it('of a body: those of its shape, in the body’s axes', () => {
    const m = massFound(block({ rotation: [0, 0, Math.PI / 2] }), 'bodies', 'Block')!;
    expect(m.mass).toBeCloseTo(mass, 9);
    close(m.centre, [0, -0.5, 0]); // ground x is the body's −y
    close(m.inertia, I);
    close(m.products, [0, 0, 0]);
    close(m.principal, [I[2]!, I[1]!, I[0]!]);
    close(m.shapes!.centre, m.centre);
  });
  it('of a shape: volume, and mass in the axes of its body', () => {
    const m = massFound(block({}), 'shapes', 'Box')!;
    expect(m.volume).toBeCloseTo(0.006, 12);
    expect(m.mass).toBeCloseTo(mass, 9);
    close(m.centre, [0.5, 0, 0]);
    expect(m.shapes).toBeUndefined();
  });
  it('of what is not there: none', () => {
    expect(massFound(block({}), 'bodies', 'Nobody')).toBeUndefined();
    expect(massFound(block({}), 'shapes', 'Nothing')).toBeUndefined();
  });
  it('a mass typed in scales the inertia; what the shapes come to is told beside it', () => {
    const m = massFound(block({ mass: 10 }), 'bodies', 'Block')!;
    close(
      m.inertia,
      I.map((x) => (x * 10) / mass),
    );
    expect(m.shapes!.mass).toBeCloseTo(mass, 9);
    close(m.shapes!.inertia, I);
  });
  it('centre, moments and products can each be typed in, and the rest stays', () => {
    close(massFound(block({ centre: [0.01, 0.02, 0.03] }), 'bodies', 'Block')!.centre, [0.01, 0.02, 0.03]);
    const moments = massFound(block({ rotation: [0, 0, 0.5], inertia: [3, 4, 5] }), 'bodies', 'Block')!;
    close(moments.inertia, [3, 4, 5]);
    close(moments.products, [0, 0, 0]);
    // products alone stand beside the moments of the shapes
    const products = massFound(block({ products: [0.01, 0.02, -0.03] }), 'bodies', 'Block')!;
    close(products.inertia, I);
    close(products.products, [0.01, 0.02, -0.03]);
  });
});

it('principal moments are those of the tensor before it was turned', () => {
  fc.assert(
    fc.property(
      fc.array(fc.double({ min: 0.01, max: 100, noNaN: true }), { minLength: 3, maxLength: 3 }),
      fc.array(fc.double({ min: -3, max: 3, noNaN: true }), { minLength: 3, maxLength: 3 }),
      (d, rpy) => {
        const turn = fromRollPitchYaw(rpy as never),
          whole = mul(mul(turn, [d[0]!, 0, 0, 0, d[1]!, 0, 0, 0, d[2]!] as Mat3), transpose(turn));
        principalMoments(whole).forEach((x, k) =>
          expect(Math.abs(x - [...d].sort((a, b) => a - b)[k]!)).toBeLessThan(1e-12 * Math.max(...d)),
        );
      },
    ),
  );
});
